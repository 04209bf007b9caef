import type { Entity, Id, Relation, Step, StepValue } from '../model'
import type { Fix } from './rule'

/** Steps and fixes, as actions, outlines and rules of every notation make them. */

export const addEntity = (entity: Entity): Step => ({ do: 'add-entity', entity })
export const addRelation = (relation: Relation): Step => ({ do: 'add-relation', relation })
export const setEntity = (id: Id, path: string, value: StepValue): Step => ({ do: 'set-entity', id, path, value })
export const setField = (id: Id, field: string, value: StepValue): Step => setEntity(id, `fields.${field}`, value)

/** What mends a finding: the words are those of the button and of the history. */
export const fix = (label: string, ...steps: readonly Step[]): Fix => ({ label, change: { label, steps } })
