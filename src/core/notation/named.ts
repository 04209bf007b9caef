import { apply, same, type Change, type Entity, type Id, type Model } from '../model'
import { removeEntity } from './edit'
import type { Done } from './wish'

/**
 * Names in lines. A line may name what nobody has stated yet: `Buy gloves  @ Marta Kuhn` makes Marta Kuhn. While the line is being typed she is M, Ma and Mar
 * on the way, so what a line names anew waits until somebody pauses or leaves it; and what a line has made and no line names any more goes with it.
 */

/** What lines have made by naming it, as it was made. */
export type Named = ReadonlyMap<Id, Entity>

/** What an outcome of a line states anew besides the line itself. O(steps) */
export const namedBy = ({ change, select }: Done, line: Id | undefined): readonly Entity[] =>
  change.steps.flatMap((step) =>
    step.do === 'add-entity' && step.entity.id !== line && step.entity.id !== select ? [step.entity] : [],
  )

/**
 * A change of lines, and with it the end of what lines have made that nothing holds any more: it is as it was made, no relation leads to or from it, and no
 * fact says its identity. O(steps), and once O(facts) where something may be let go
 */
export function withUnnamedGone(model: Model, change: Change, named: Named): Change {
  if (named.size === 0) return change
  const after = apply(model, change).model
  const loose = [...named].filter(([id, made]) => isBare(after, id, made))
  if (loose.length === 0) return change
  const held = heldIn(after, new Set(loose.map(([id]) => id)))
  const gone = loose.flatMap(([id]) => (held.has(id) ? [] : [removeEntity(id)]))
  return { ...change, steps: [...change.steps, ...gone] }
}

function isBare(model: Model, id: Id, made: Entity): boolean {
  const now = model.entities.get(id)
  if (!now || model.leaving(id).length > 0 || model.reaching(id).length > 0) return false
  // Its place among others is given to it, and says nothing.
  const said = ({ kind, name, from, to, fields: { order: _, ...fields } }: Entity) => ({ kind, name, from, to, fields })
  return same(said(now), said(made))
}

/** Which of some facts are said by a field of another one. O(facts) */
function heldIn({ entities, relations, views }: Model, asked: ReadonlySet<Id>): ReadonlySet<Id> {
  const held = new Set<Id>()
  const hear = (value: unknown, by: Id) => {
    if (typeof value !== 'string') return
    for (const id of asked) if (id !== by && value.includes(id)) held.add(id)
  }
  for (const { id, fields } of [...entities.values(), ...relations.values()])
    for (const value of Object.values(fields)) hear(value, id)
  for (const { id, scope } of views.values()) for (const value of Object.values(scope)) hear(value, id)
  return held
}
