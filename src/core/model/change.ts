import { Draft } from './draft'
import type { Model } from './model'
import { actOf, applyStep, footprint, type Step } from './step'
import { ModelError } from './stepValue'

/** What somebody did, in words, and the steps that do it: the unit of undo, history and synchronisation. */
export interface Change {
  readonly label: string
  readonly steps: readonly Step[]
}

export interface Applied {
  readonly model: Model
  /** Applied to `model`, it gives the facts back as they were. */
  readonly inverse: Change
}

/** Applies all steps or none. O(steps), plus one copy of each map that is written. @throws ModelError naming the step. */
export function apply(model: Model, change: Change): Applied {
  const draft = new Draft(model)
  const inverse: Step[] = []
  change.steps.forEach((step, index) => {
    try {
      inverse.push(applyStep(draft, step))
    } catch (error) {
      if (!(error instanceof ModelError)) throw error
      throw new ModelError(`Step ${index + 1} of “${change.label}”: ${error.message}.`, error.code, index)
    }
  })
  return { model: draft.finish(), inverse: { label: change.label, steps: inverse.reverse() } }
}

/** The facts that both changes touch, as paths; empty when the two can be merged in either order. O(steps of both × depth). */
export function clashes(ours: readonly Step[], theirs: readonly Step[]): string[] {
  const a = marks(ours)
  const b = marks(theirs)
  const found = new Set<string>()
  for (const path of a.writes) if (b.writes.has(path) || b.inner.has(path) || b.needs.has(path)) found.add(path)
  for (const path of b.writes) if (a.inner.has(path) || a.needs.has(path)) found.add(path)
  return [...found].sort()
}

function marks(steps: readonly Step[]) {
  const writes = new Set<string>()
  const needs = new Set<string>()
  // A write within a fact, known by the fact's own path: it clashes with the fact's making or removal.
  const inner = new Set<string>()
  for (const step of steps) {
    const print = footprint(step)
    writes.add(print.writes)
    for (const need of print.needs) needs.add(need)
    const parts = print.writes.split('/')
    if (parts.length === 3) inner.add(`${parts[0]}/${parts[1]}`)
  }
  return { writes, needs, inner }
}

/** One change that does what the first and then the second does; repeated writes of one path keep the last. */
export function compose(first: Change, second: Change): Change {
  const steps: Step[] = []
  const lastSet = new Map<string, number>()
  for (const step of [...first.steps, ...second.steps]) {
    const path = footprint(step).writes
    const isSet = actOf(step).verb === 'set'
    const earlier = isSet ? lastSet.get(path) : undefined
    if (earlier !== undefined) steps[earlier] = step
    else {
      if (isSet) lastSet.set(path, steps.length)
      else lastSet.clear()
      steps.push(step)
    }
  }
  return { label: second.label, steps }
}
