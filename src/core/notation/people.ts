import { covers, type Day, type Entity, type Id, type Model, type Relation } from '../model'
import type { RelationKind } from './kind'

/** Who holds what. People hold positions and positions fill roles, in whichever notation that is stated. */

const HOLDS = 'holds'
const FILLS = 'fills'

export const peopleKinds: readonly RelationKind[] = [
  {
    id: HOLDS,
    title: 'holds',
    sources: ['person'],
    targets: ['position'],
    fields: [
      { id: 'fte', label: 'Fte', type: 'number', min: 0, max: 100 },
      { id: 'acting', label: 'Acting', type: 'flag' },
    ],
  },
  { id: FILLS, title: 'fills', sources: ['position'], targets: ['role'], fields: [] },
]

/** All appointments of a person, on whatever day. */
export const tenuresOf = (model: Model, person: Id): readonly Relation[] => model.leaving(person, HOLDS)

/** Whether a person holds a position that is there on a day. */
export const isInPost = (model: Model, person: Id, day: Day): boolean =>
  tenuresOf(model, person).some((tenure) => covers(tenure, day) && isThere(model, tenure.target, day))

/** Who holds a position on a day, each once. */
export function holdersOf(model: Model, position: Id, day: Day): readonly Entity[] {
  if (!isThere(model, position, day)) return []
  const people = model.reaching(position, HOLDS).flatMap((tenure) => {
    const person = model.entities.get(tenure.source)
    return person && covers(tenure, day) && covers(person, day) ? [person] : []
  })
  return [...new Set(people)]
}

/** Who stands behind a person, a position or a role on a day; undefined for what nobody can hold, such as a unit or a system. */
export function peopleBehind(model: Model, { id, kind }: Entity, day: Day): readonly Entity[] | undefined {
  if (kind === 'position') return holdersOf(model, id, day)
  if (kind === 'person')
    return [model.entities.get(id)].flatMap((person) => (person && covers(person, day) ? person : []))
  if (kind !== 'role') return undefined
  const filling = model.reaching(id, FILLS).filter((tied) => covers(tied, day))
  return [...new Set(filling.flatMap(({ source }) => holdersOf(model, source, day)))]
}

function isThere(model: Model, id: Id, day: Day): boolean {
  const entity = model.entities.get(id)
  return entity !== undefined && covers(entity, day)
}
