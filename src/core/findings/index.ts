export * from './findings'
export * from './checker'
export { mendAll } from './mend'
export { crossRules } from './crossRules'
