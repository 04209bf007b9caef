export { type Fault } from './check'
export * from './workspaceFile'
export * from './steps'
