import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, asId, type Model, type Step } from '../../../src/core/model'
import { planOn, type Plan } from '../../../src/core/notations/schedule/plan'
import { DAY } from '../../facts'
import { datesOf, idOf, planned, workOf } from './facts'

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
/** The same facts, on which no plan was made before: their relations are others than those of any earlier one. */
const renewed = (model: Model) => model.with({ relations: new Map(model.relations) })

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
    let [reused, all] = [0, 0]
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
          const before = model
          model = apply(model, { label: '', steps: [made as unknown as Step] }).model
          const { links } = planOn(before, plan, DAY)
          const fast = planOn(model, plan, DAY)
          // The next plan is made on this one, which was made from nothing.
          model = renewed(model)
          expect(told(fast)).toEqual(told(planOn(model, plan, DAY)))
          all++
          if (fast.links === links) reused++
        })
      }),
      { seed: 2026, numRuns: 150 },
    )
    // What leaves the frame as it is meets its memory.
    expect(reused / all).toBeGreaterThan(0.2)
    expect(reused).toBeLessThan(all)
  })
  it('takes the calendar of a task that has changed, and that of the plan', () => {
    const [short, long] = [['Mon'], ['Mon', 'Tue', 'Wed', 'Thu', 'Fri']].map((weekdays, i) => ({
      id: asId(`cal${i}`),
      kind: 'calendar',
      name: `C${i}`,
      fields: { weekdays },
    }))
    if (!short || !long) throw new Error('no calendars')
    const model = planned('Dig  3d\nPour  2d  after 1', '2026-01-05', [long, short])
    const set = (id: string, value: string | null) => (from: Model) =>
      apply(from, { label: '', steps: [{ do: 'set-entity', id: asId(id), path: 'fields.calendar', value }] }).model
    expect([datesOf(model, 'Dig'), datesOf(model, 'Pour')]).toEqual([
      '2026-01-05 to 2026-01-07',
      '2026-01-08 to 2026-01-09',
    ])
    const slow = set(idOf(model, 'Pour'), 'cal0')(model)
    expect([datesOf(slow, 'Dig'), datesOf(slow, 'Pour')]).toEqual([
      '2026-01-05 to 2026-01-07',
      '2026-01-12 to 2026-01-19',
    ])
    expect(datesOf(set('plan', 'cal0')(model), 'Dig')).toBe('2026-01-05 to 2026-01-19')
    expect(datesOf(set(idOf(model, 'Pour'), null)(slow), 'Pour')).toBe('2026-01-08 to 2026-01-09')
  })
  it('takes the people who share its work, as they come and go', () => {
    const model = planned('Dig  @ Ada')
    const set = (path: string, value: string | null) => (from: Model) =>
      apply(from, { label: '', steps: [{ do: 'set-entity', id: idOf(from, 'Dig'), path, value }] }).model
    const alone = set('fields.work', '4d')(model)
    expect(datesOf(alone, 'Dig')).toBe('2026-01-05 to 2026-01-08')
    const tie = { id: asId('second'), kind: 'assigned', source: asId('bo'), target: idOf(alone, 'Dig'), fields: {} }
    const shared = apply(alone, {
      label: '',
      steps: [
        { do: 'add-entity', entity: { id: asId('bo'), kind: 'person', name: 'Bo', fields: {} } },
        { do: 'add-relation', relation: tie },
      ],
    }).model
    expect(datesOf(shared, 'Dig')).toBe('2026-01-05 to 2026-01-06')
  })
  it('gives a lag of a link its part of what is free', () => {
    const model = planned('Dig  2d\nPour  1d  after 1FS+1d\nWalls  9d\nRoof  1d  after 2, 3')
    const days = (name: string) => {
      const work = workOf(model, name)
      return [work.freeFloat / work.time.pace.day, work.totalFloat / work.time.pace.day]
    }
    // Dig ends on the 2nd day, waits one, and Pour takes the 4th: of the nine days of Walls five are left, all of them Pour’s own.
    expect(days('Dig')).toEqual([0, 5])
    expect(days('Pour')).toEqual([5, 5])
    const early = planned('Dig  2d\nWait  6d\nPour  1d  after 1FS+1d, 2')
    const dig = workOf(early, 'Dig')
    expect(dig.freeFloat / dig.time.pace.day).toBe(3)
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
