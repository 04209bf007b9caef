export * from './findings'
export * from './checker'
export { crossRules } from './crossRules'
