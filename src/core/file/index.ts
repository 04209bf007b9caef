export { type Fault } from './check'
export * from './workspaceFile'
export * from './steps'
export { readThemeFile, themeSchema, writeTheme } from './themeFile'
