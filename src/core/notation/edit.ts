import type { Day, Entity, Fields, FieldValue, Id, Model, Relation, Step, StepValue } from '../model'
import type { Done, Outcome, Refusal } from './wish'
import { LIMITS } from './limits'
import type { Fix } from './rule'

/** Steps, fixes and outcomes, as actions, outlines, tables and rules of every notation make them. None of them writes: they say what would be written. */

export const addEntity = (entity: Entity): Step => ({ do: 'add-entity', entity })
export const removeEntity = (id: Id): Step => ({ do: 'remove-entity', id })
export const setEntity = (id: Id, path: string, value: StepValue): Step => ({ do: 'set-entity', id, path, value })
export const setField = (id: Id, field: string, value: StepValue): Step => setEntity(id, `fields.${field}`, value)

export const addRelation = (relation: Relation): Step => ({ do: 'add-relation', relation })
export const removeRelation = (id: Id): Step => ({ do: 'remove-relation', id })
export const setRelation = (id: Id, path: string, value: StepValue): Step => ({ do: 'set-relation', id, path, value })
export const tie = (id: Id, kind: string, source: Id, target: Id, fields: Fields = {}): Step =>
  addRelation({ id, kind, source, target, fields })

export const setView = (id: Id, path: string, value: StepValue): Step => ({ do: 'set-view', id, path, value })

/** All relations at some entities, each once. O(relations there). */
export function tiesAt(model: Model, ...ids: readonly Id[]): readonly Relation[] {
  const ties = new Map<Id, Relation>()
  for (const id of ids) for (const one of [...model.leaving(id), ...model.reaching(id)]) ties.set(one.id, one)
  return [...ties.values()]
}

/** Takes entities away with all their relations. O(relations there). */
export const removal = (model: Model, ...ids: readonly Id[]): Step[] => [
  ...tiesAt(model, ...ids).map(({ id }) => removeRelation(id)),
  ...ids.map(removeEntity),
]

/** The same thing as another kind: its relations stay, and those of its fields that it keeps. */
export function asKind(entity: Entity, kind: string, keeps: (field: string) => boolean, fields: Fields = {}): Step[] {
  if (entity.kind === kind) return []
  const kept = Object.fromEntries(Object.entries(entity.fields).filter(([field]) => keeps(field)))
  return [removeEntity(entity.id), addEntity({ ...entity, kind, fields: { ...kept, ...fields } })]
}

/** What mends a finding: the words are those of the button and of the history. */
export const fix = (label: string, ...steps: readonly Step[]): Fix => ({ label, change: { label, steps } })

/** The same where the history says more than the button. */
export const fixAs = (button: string, label: string, ...steps: readonly Step[]): Fix => ({
  label: button,
  change: { label, steps },
})

/** The change that steps are, under its words; or why there are none. */
export const changed = (label: string, steps: readonly Step[] | Refusal, more: Omit<Done, 'change'> = {}): Outcome =>
  'refused' in steps ? steps : { change: { label, steps }, ...more }

export const GONE: Refusal = { refused: 'This no longer exists.' }
export const NOT_IN_FORCE: Refusal = { refused: 'This is not in force on the day shown.' }

/** Why a name is not taken. */
export const tooLongName = (name: string, what = 'A name'): Refusal | undefined =>
  name.length > LIMITS.name
    ? { refused: `${what} has ${LIMITS.name} characters at most, this one ${name.length.toLocaleString('en')}.` }
    : undefined

/** “Write “Draft the notice””: the label of a line that was typed. */
export const writing = (text: string): string => `Write “${text.trim().slice(0, 60)}”`

/** The fields in which two records differ, as they are to be: null where one is gone. */
export const differing = (before: Fields, after: Fields): [string, FieldValue | null][] =>
  [...new Set([...Object.keys(before), ...Object.keys(after)])]
    .filter((key) => JSON.stringify(before[key]) !== JSON.stringify(after[key]))
    .map((key) => [key, after[key] ?? null])

/** What a fact says besides its name. */
export interface Stated {
  readonly fields: Fields
  readonly from?: Day
  readonly to?: Day
}

/** Steps that write fields and dates of an entity or a relation. */
export function rewrite(sort: 'entity' | 'relation', id: Id, before: Stated, after: Stated): Step[] {
  const set = sort === 'entity' ? setEntity : setRelation
  const dates = (['from', 'to'] as const).flatMap((end): Step[] =>
    before[end] === after[end] ? [] : [set(id, end, after[end] ?? null)],
  )
  return [...differing(before.fields, after.fields).map(([key, value]) => set(id, `fields.${key}`, value)), ...dates]
}
