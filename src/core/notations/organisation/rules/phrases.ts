import type { Day, Id, Model, Step } from '../../../model'
import type { Fix } from '../../../notation'
import { titleOf } from '../words'

export const COMMON = 'Common practice'

export const fix = (label: string, ...steps: Step[]): Fix => ({ label, change: { label, steps } })

export const quoted = (model: Model, id: Id, day: Day): string => `“${titleOf(model, id, day)}”`

/** An identity that is not taken yet, made from another: a fix has no dice. */
export function freeId(taken: ReadonlyMap<Id, unknown>, base: string): Id {
  let id = base as Id
  while (taken.has(id)) id = `${id}-on` as Id
  return id
}
