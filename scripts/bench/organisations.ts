import { asId, Model, type Entity, type Relation } from '../../src/core/model'

const GIVEN = [
  'Ada',
  'Bo',
  'Cleo',
  'Dag',
  'Eva',
  'Finn',
  'Gro',
  'Hal',
  'Ida',
  'Jon',
  'Kari',
  'Leo',
  'Mia',
  'Nils',
  'Olga',
]
const FAMILY = ['Aas', 'Berg', 'Dahl', 'Ek', 'Foss', 'Gran', 'Holm', 'Lie', 'Moe', 'Nes', 'Ravn', 'Sund', 'Vik']

/** A made-up organisation: position i reports to one drawn from those before it, so that it is neither a star nor a chain. Seeded. */
export function madeUp(count: number): Model {
  let seed = 20261124
  const next = () => (seed = (seed * 16807) % 2147483647) / 2147483647
  const entities: Entity[] = []
  const relations: Relation[] = []
  for (let i = 0; i < count; i++) {
    const name = `${GIVEN[Math.floor(next() * GIVEN.length)]} ${FAMILY[Math.floor(next() * FAMILY.length)]}`
    entities.push({
      id: asId(`p${i}`),
      kind: 'position',
      name: `Post ${i}`,
      fields: { unit: `Unit ${i % 8}`, order: i },
    })
    entities.push({ id: asId(`h${i}`), kind: 'person', name, fields: {} })
    relations.push({ id: asId(`hold${i}`), kind: 'holds', source: asId(`h${i}`), target: asId(`p${i}`), fields: {} })
    const above = i < 7 ? 0 : Math.floor((i - 1) / 7 + next() * Math.min(6, i / 7))
    if (i > 0)
      relations.push({
        id: asId(`line${i}`),
        kind: 'reports-to',
        source: asId(`p${i}`),
        target: asId(`p${above}`),
        fields: {},
      })
  }
  const view = {
    id: asId('view'),
    notation: 'organisation',
    picture: 'tree',
    title: 'Everyone',
    order: 1,
    scope: {},
    options: {},
    pins: {},
    look: {},
  }
  return Model.of({ name: `${count} positions`, entities, relations, views: [view] })
}

/** The median of several runs, in ms. */
export function median(runs: number, work: () => void): number {
  const times = Array.from({ length: runs }, () => {
    const began = performance.now()
    work()
    return performance.now() - began
  })
  return times.sort((a, b) => a - b)[Math.floor(runs / 2)] ?? 0
}
