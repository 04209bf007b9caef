import type { Day, Id, Model, Step } from '../../../model'
import type { Fix } from '../../../notation'
import { titleOf } from '../words'

export const COMMON = 'Common practice'

export const fix = (label: string, ...steps: Step[]): Fix => ({ label, change: { label, steps } })

export const quoted = (model: Model, id: Id, day: Day): string => `“${titleOf(model, id, day)}”`
