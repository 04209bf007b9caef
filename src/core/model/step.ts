import type { Id } from './ids'
import type { Draft } from './draft'
import type { StepValue } from './stepValue'
import { bySort, endsOf, SORTS, sorts, type Fact, type Sort, type Stated } from './sorts'

/**
 * The smallest edits of facts: of each sort `add-SORT`, `remove-SORT` and `set-SORT`, and `set-workspace`. Each is plain JSON, and
 * each has an inverse. Paths are those of `SORTS`; of the workspace `name`, `thresholds.RULE`, `accepted.FINDING`,
 * `look.theme`, `look.tone`, `themes.THEME`.
 */
export type Step = { [S in Sort]: Add<S> | Remove<S> | Write<S> }[Sort] | Omit<Write<'workspace'>, 'id'>

type Add<S extends Sort> = { readonly do: `add-${S}` } & { readonly [K in S]: Stated[K] }
interface Remove<S extends Sort> {
  readonly do: `remove-${S}`
  readonly id: Id
}
interface Write<S extends Sort | 'workspace'> {
  readonly do: `set-${S}`
  readonly id: Id
  readonly path: string
  readonly value: StepValue
}

/** A step taken apart: what is done to which fact. */
export type Act =
  | { readonly verb: 'add'; readonly sort: Sort; readonly id: Id; readonly fact: Fact }
  | { readonly verb: 'remove'; readonly sort: Sort; readonly id: Id }
  | { readonly verb: 'set'; readonly sort: Sort; readonly id: Id; readonly path: string; readonly value: StepValue }
  | { readonly verb: 'set'; readonly sort: 'workspace'; readonly path: string; readonly value: StepValue }

/** What the name of a step says, and the keys that its JSON has besides. */
export interface StepShape {
  readonly verb: Act['verb']
  readonly sort: Sort | 'workspace'
  readonly keys: readonly string[]
}

/** All steps there are, by name. */
export const STEPS: ReadonlyMap<string, StepShape> = new Map<string, StepShape>([
  ...sorts.flatMap((sort): [string, StepShape][] => [
    [`add-${sort}`, { verb: 'add', sort, keys: [sort] }],
    [`remove-${sort}`, { verb: 'remove', sort, keys: ['id'] }],
    [`set-${sort}`, { verb: 'set', sort, keys: ['id', 'path', 'value'] }],
  ]),
  ['set-workspace', { verb: 'set', sort: 'workspace', keys: ['path', 'value'] }],
])

export function actOf(step: Step): Act {
  const { verb, sort } = STEPS.get(step.do) as { verb: Act['verb']; sort: Sort }
  const told = step as unknown as Readonly<Record<string, unknown>>
  const fact = verb === 'add' ? (told[sort] as Fact) : undefined
  return { ...told, verb, sort, ...(fact && { fact, id: fact.id }) } as unknown as Act
}

export const addStep = <S extends Sort>(sort: S, fact: Stated[S]): Step =>
  ({ do: `add-${sort}`, [sort]: fact }) as unknown as Step
export const removeStep = (sort: Sort, id: Id): Step => ({ do: `remove-${sort}`, id })
export const setStep = (sort: Sort, id: Id, path: string, value: StepValue): Step => ({
  do: `set-${sort}`,
  id,
  path,
  value,
})

/**
 * Applies one step to a draft and returns its inverse. O(1). A relation may be left leading to nothing: that is a finding, and
 * keeps every step invertible by itself. @throws ModelError, leaving the draft as it was.
 */
export function applyStep(draft: Draft, step: Step): Step {
  const act = actOf(step)
  if (act.sort === 'workspace') return { ...step, value: draft.setWorkspace(act.path, act.value) } as Step
  const facts = draft.of[act.sort]
  switch (act.verb) {
    case 'add':
      facts.add(act.fact)
      return removeStep(act.sort, act.id)
    case 'remove':
      return addStep(act.sort, facts.remove(act.id))
    case 'set':
      return setStep(act.sort, act.id, act.path, facts.set(act.id, act.path, act.value))
  }
}

/** What a step writes, as paths such as `entity/p1` (made or removed) or `entity/p1/fields.fte`, and what must exist for it. */
export function footprint(step: Step): { writes: string; needs: readonly string[] } {
  const act = actOf(step)
  if (act.sort === 'workspace') return { writes: `workspace/${act.path}`, needs: [] }
  const { sort, id } = act
  const entity = (end: unknown) => `entity/${String(end)}`
  switch (act.verb) {
    case 'add':
      return { writes: `${sort}/${id}`, needs: endsOf(sort, act.fact).map(entity) }
    case 'remove':
      return { writes: `${sort}/${id}`, needs: [] }
    case 'set': {
      const isEnd = SORTS[sort].paths[act.path]?.shape === 'end'
      return { writes: `${sort}/${id}/${act.path}`, needs: isEnd ? [entity(act.value)] : [] }
    }
  }
}

/** Facts of one sort that steps touch. */
export interface Touched {
  /** Those that a step removed, even if a later one made them anew. */
  readonly removed: ReadonlySet<Id>
  /** Those that a step made or wrote, with the index of the last step that did; the one made last stands last. */
  readonly written: ReadonlyMap<Id, number>
}

/** What steps touch, by sort. O(steps) */
export function touchedBy(steps: readonly Step[]): Readonly<Record<Sort, Touched>> {
  const touched = bySort(() => ({ removed: new Set<Id>(), written: new Map<Id, number>() }))
  steps.forEach((step, index) => {
    const act = actOf(step)
    if (act.sort === 'workspace') return
    const { removed, written } = touched[act.sort]
    if (act.verb === 'remove') return void removed.add(act.id)
    if (act.verb === 'add') written.delete(act.id)
    written.set(act.id, index)
  })
  return touched
}
