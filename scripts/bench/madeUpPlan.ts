import { asId, Model, type Entity, type Relation, type View } from '../../src/core/model'

/** A made-up plan: chains in groups, joined here and there; 1.4 links a task. Seeded. */
export function madeUpPlan(count: number): Model {
  let seed = 20261124
  const next = () => (seed = (seed * 16807) % 2147483647) / 2147483647
  const entities: Entity[] = [{ id: asId('plan'), kind: 'plan', name: 'Plan', fields: { start: '2026-01-05' } }]
  const relations: Relation[] = []
  const link = (source: number, target: number, fields = {}) =>
    relations.push({
      id: asId(`l${relations.length}`),
      kind: 'precedes',
      source: asId(`t${source}`),
      target: asId(`t${target}`),
      fields,
    })
  for (let i = 0; i < count; i++) {
    if (i % 50 === 0)
      entities.push({
        id: asId(`g${i / 50}`),
        kind: 'group',
        name: `Group ${i / 50}`,
        fields: { plan: 'plan', order: i / 50 },
      })
    entities.push({
      id: asId(`t${i}`),
      kind: 'task',
      name: `Task ${i}`,
      fields: { plan: 'plan', group: `g${Math.floor(i / 50)}`, order: i, duration: `${1 + Math.floor(next() * 9)}d` },
    })
    if (i % 10 > 0) link(i - 1, i)
    if (i >= 10 && next() < 0.5)
      link(Math.max(0, i - 10 - Math.floor(next() * 30)), i, next() < 0.2 ? { type: 'SS', lag: '2d' } : {})
  }
  const view: View = {
    id: asId('view'),
    notation: 'schedule',
    picture: 'bars',
    title: 'Plan',
    order: 1,
    scope: {},
    options: {},
    pins: {},
    look: {},
  }
  return Model.of({ name: 'Plan', entities, relations, views: [view] })
}
