export * from './land'
