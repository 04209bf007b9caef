export * from './findings'
export { crossRules } from './crossRules'
