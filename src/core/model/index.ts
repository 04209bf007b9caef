export * from './ids'
export * from './day'
export * from './facts'
export * from './model'
export * from './sorts'
export {
  actOf,
  addStep,
  ModelError,
  removeStep,
  setStep,
  STEPS,
  touchedBy,
  type Step,
  type StepValue,
  type Touched,
} from './step'
export * from './change'
export * from './asOf'
export * from './difference'
export { stepsBetween } from './restore'
export * from './recall'
export * from './grouped'
export * from './same'
export * from './text'
