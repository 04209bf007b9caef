import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, asId, type Model, type Step } from '../../../src/core/model'
import { planOn, type Plan } from '../../../src/core/notations/schedule/plan'
import { DAY } from '../../facts'
import { datesOf, idOf, planned } from './facts'

const LIST = `Groundworks
  Dig  3d
  Pour  4d  after 1.1
House
  Walls  10d  after 1
  Roof  4d  after 2.1SS+5d
  Roofed  0d  after 2.2
Garden  2d  after 1.2FF`

const told = ({ list, finish, roots, links, circles }: Plan) => ({
  finish,
  roots: roots.map(({ id }) => id),
  links: links.map(({ id }) => id),
  circles,
  list: list.map(({ entity, kind, number, depth, parent, children, time, into, out, ...dates }) => ({
    ...dates,
    entity,
    kind,
    number,
    depth,
    hours: time.pace,
    parent: parent?.id,
    children: children.map(({ id }) => id),
    into: into.map(({ id }) => id),
    out: out.map(({ id }) => id),
  })),
})
const plan = asId('plan')
/** The plan made on the frame of the one before, and one made from nothing. */
const both = (model: Model) => [
  told(planOn(model, plan, DAY)),
  told(planOn(model.with({ relations: new Map(model.relations) }), plan, DAY)),
]

describe('a plan made on the frame of the one before', () => {
  const start = planned(LIST)
  const tasks = start.ofKind('task').map(({ id }) => id)
  const groups = start.ofKind('group').map(({ id }) => id)
  const set = (id: fc.Arbitrary<string>, path: string, value: fc.Arbitrary<unknown>) =>
    fc.record({ do: fc.constant('set-entity'), id, path: fc.constant(path), value }) as fc.Arbitrary<unknown>
  const task = fc.constantFrom(...tasks)
  const step = fc.oneof(
    set(task, 'fields.duration', fc.constantFrom('1d', '2d', '4h', '3w')),
    set(task, 'name', fc.constantFrom('A', 'B')),
    set(task, 'fields.percent', fc.integer({ min: 0, max: 100 })),
    set(task, 'fields.group', fc.constantFrom(...groups, null)),
    set(task, 'fields.order', fc.integer({ min: -3, max: 9 })),
    set(task, 'to', fc.constantFrom('2020-01-01', null)),
    set(fc.constant('plan'), 'fields.start', fc.constantFrom('2026-01-05', '2026-03-02')),
    set(fc.constant('plan'), 'name', fc.constant('Another name')),
    fc.record({
      do: fc.constant('add-relation'),
      source: task,
      target: task,
      type: fc.constantFrom('FS', 'SS', 'FF'),
    }),
    fc.record({ do: fc.constant('remove-entity'), id: task }),
  ) as fc.Arbitrary<{ do: string; id: string; source: string; target: string; type: string }>

  it('is the same as one made from nothing, whatever was changed in between', () => {
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 8 }), (steps) => {
        let model = start
        expect(planOn(model, plan, DAY).list).toHaveLength(8)
        steps.forEach(({ type, ...one }, i) => {
          if (one.do !== 'add-relation' && !model.entities.has(asId(one.id))) return
          if (one.do === 'add-relation' && ![one.source, one.target].every((id) => model.entities.has(asId(id)))) return
          const made =
            one.do === 'add-relation'
              ? {
                  do: 'add-relation',
                  relation: { id: `x${i}`, kind: 'precedes', source: one.source, target: one.target, fields: { type } },
                }
              : one.do === 'remove-entity'
                ? { do: 'remove-entity', id: one.id }
                : one
          model = apply(model, { label: '', steps: [made as unknown as Step] }).model
          const [fast, fresh] = both(model)
          expect(fast).toEqual(fresh)
        })
      }),
      { numRuns: 150 },
    )
  })
  it('leaves the earlier plan as it was', () => {
    const before = told(planOn(start, plan, DAY))
    const steps: Step[] = [{ do: 'set-entity', id: idOf(start, 'Dig'), path: 'fields.duration', value: '9d' }]
    const next = apply(start, { label: '', steps }).model
    expect(datesOf(next, 'Pour')).not.toBe(datesOf(start, 'Pour'))
    expect(told(planOn(start, plan, DAY))).toEqual(before)
  })
  it('takes the hours of a calendar that has changed', () => {
    const calendar = { id: asId('cal'), kind: 'calendar', name: 'C', fields: { weekdays: ['Mon', 'Tue', 'Wed'] } }
    const model = planned('Dig  5d', '2026-01-05', [calendar])
    expect(datesOf(model, 'Dig')).toBe('2026-01-05 to 2026-01-13')
    const steps: Step[] = [{ do: 'set-entity', id: asId('cal'), path: 'fields.weekdays', value: ['Mon'] }]
    expect(datesOf(apply(model, { label: '', steps }).model, 'Dig')).toBe('2026-01-05 to 2026-02-02')
  })
})
