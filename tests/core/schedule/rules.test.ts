import { describe, expect, it } from 'vitest'
import {
  apply,
  asDay,
  asId,
  type Day,
  type Entity,
  type Fields,
  type Model,
  type Relation,
  type StepValue,
} from '../../../src/core/model'
import type { Finding } from '../../../src/core/notation'
import { DAY } from '../../facts'
import { act, after, datesOf, idOf, planned, schedule } from './facts'

const found = (model: Model, rule: string, day: Day = DAY): readonly Omit<Finding, 'rule' | 'severity'>[] => {
  const one = schedule.rules.find(({ id }) => id === rule)
  if (!one) throw new Error(`no rule “${rule}”`)
  return one.check(model, day)
}
const set = (model: Model, name: string, fields: Readonly<Record<string, StepValue>>): Model =>
  after(model, {
    change: {
      label: '',
      steps: Object.entries(fields).map(([field, value]) => ({
        do: 'set-entity' as const,
        id: name === 'plan' ? asId('plan') : idOf(model, name),
        path: `fields.${field}`,
        value,
      })),
    },
  })
const person = (id: string): Entity => ({ id: asId(id), kind: 'person', name: id, fields: {} })
const holds = (who: string, to?: string): Relation => ({
  id: asId(`h-${who}`),
  kind: 'holds',
  source: asId(who),
  target: asId('post'),
  fields: {},
  ...(to ? { to: asDay(to) } : {}),
})
const post: Entity = { id: asId('post'), kind: 'position', name: 'Post', fields: {} }

const calendar = (fields: Fields): Entity => ({ id: asId('c'), kind: 'calendar', name: 'Office', fields })

const TWO = 'Dig  3d\nPour  4d  after 1'
const base = planned(TWO)

/** Rule, facts in which it speaks, facts in which it does not. */
const cases: readonly (readonly [rule: string, wrong: Model, right: Model])[] = [
  [
    'sch/ends-before-start',
    set(base, 'Dig', { actualStart: '2026-01-09', actualFinish: '2026-01-07' }),
    set(base, 'Dig', { actualStart: '2026-01-05', actualFinish: '2026-01-07' }),
  ],
  [
    'sch/violates-link',
    set(base, 'Pour', { fixed: true, start: '2026-01-06', finish: '2026-01-09' }),
    set(base, 'Pour', { fixed: true, start: '2026-01-08', finish: '2026-01-13' }),
  ],
  [
    'sch/negative-float',
    set(base, 'Pour', { constraint: 'finish no later', on: '2026-01-09' }),
    set(base, 'Pour', { constraint: 'finish no later', on: '2026-01-30' }),
  ],
  [
    'sch/calendar-unreadable',
    planned(TWO, '2026-01-05', [calendar({ region: 'Norway' })]),
    planned(TWO, '2026-01-05', [calendar({ region: 'NO', hours: '09:00-17:00', weekdays: ['Mon-Fri'] })]),
  ],
  ['sch/too-far', set(base, 'Pour', { deadline: '9999-12-31' }), set(base, 'Pour', { deadline: '2199-12-31' })],
  ['sch/deadline-missed', set(base, 'Pour', { deadline: '2026-01-12' }), set(base, 'Pour', { deadline: '2026-01-13' })],
  [
    'sch/non-working-day',
    set(base, 'Dig', { constraint: 'start no earlier', on: '2026-01-10' }),
    set(base, 'Dig', { constraint: 'start no earlier', on: '2026-01-09' }),
  ],
  [
    'sch/person-not-in-post',
    planned('Dig  3d  @ ada', '2026-01-05', [person('ada'), post, holds('ada', '2026-01-06')]),
    planned('Dig  3d  @ ada', '2026-01-05', [person('ada'), post, holds('ada', '2026-01-07')]),
  ],
  [
    'sch/over-allocated',
    planned('Dig  3d  @ ada\nPour  2d  @ ada 50 %', '2026-01-05', [person('ada')]),
    planned('Dig  3d  @ ada 50 %\nPour  2d  @ ada 50 %', '2026-01-05', [person('ada')]),
  ],
  ['sch/unassigned', planned('Dig  3d  @ ada\nPour  2d', '2026-01-05', [person('ada')]), base],
  [
    'sch/progress-without-start',
    set(base, 'Dig', { percent: 20 }),
    set(base, 'Dig', { percent: 20, actualStart: '2026-01-05' }),
  ],
  [
    'sch/actual-in-future',
    set(base, 'Dig', { actualStart: '2027-01-05' }),
    set(base, 'Dig', { actualStart: '2026-01-05' }),
  ],
  [
    'sch/should-have-started',
    set(planned('Dig  3d\nPour  4d'), 'Dig', { actualStart: '2026-01-05' }),
    planned('Dig  3d\nPour  4d'),
  ],
  ['sch/summary-linked', planned('G\n  A  1d\nB  1d  after 1'), planned('G\n  A  1d\nB  1d  after 1.1')],
  ['sch/orphan', planned('A  1d\nB  1d  after 1\nC  1d'), base],
]

describe.each(cases)('%s', (rule, wrong, right) => {
  it('speaks where it should, about the fact concerned, and not where it should not', () => {
    expect(found(wrong, rule)).not.toHaveLength(0)
    expect(found(wrong, rule)[0]?.subjects.length).toBeGreaterThan(0)
    expect(found(right, rule)).toHaveLength(0)
  })
  it('is mended by each of its fixes', () => {
    for (const fix of found(wrong, rule)[0]?.fixes ?? []) {
      const mended = after(wrong, { change: fix.change })
      expect(found(mended, rule), fix.label).toHaveLength(0)
    }
  })
})

describe('sch/person-not-in-post', () => {
  const again = (from: string): Relation => ({ ...holds('ada'), id: asId('h-again'), from: asDay(from) })
  const said = (...ties: readonly Relation[]) =>
    found(planned('Dig  10d  @ ada', '2026-01-05', [person('ada'), post, ...ties]), 'sch/person-not-in-post')

  it('looks between two posts as well, and says the first day without one', () => {
    const [gap, ...more] = said(holds('ada', '2026-01-07'), again('2026-01-12'))
    expect([gap?.message, more]).toEqual([expect.stringContaining('not in post on 8 Jan 2026'), []])
    expect(said(holds('ada', '2026-01-11'), again('2026-01-12'))).toEqual([])
    expect(said(holds('ada', '2026-01-14'), again('2026-01-12'))).toEqual([])
  })
})

describe('sch/cycle', () => {
  const link: Relation = {
    id: asId('x'),
    kind: 'precedes',
    source: idOf(base, 'Pour'),
    target: idOf(base, 'Dig'),
    fields: {},
  }
  const circle = after(base, { change: { label: '', steps: [{ do: 'add-relation', relation: link }] } })
  it('names the tasks of the circle, and offers to take a link away', () => {
    const [first] = found(circle, 'sch/cycle')
    expect(first?.message).toContain('“Dig”, “Pour”')
    for (const fix of first?.fixes ?? [])
      expect(found(after(circle, { change: fix.change }), 'sch/cycle')).toHaveLength(0)
    expect(found(base, 'sch/cycle')).toHaveLength(0)
  })
  it('speaks only of links that hold on the day', () => {
    const ended = after(circle, {
      change: { label: '', steps: [{ do: 'set-relation', id: asId('x'), path: 'to', value: '2026-06-30' }] },
    })
    expect(found(ended, 'sch/cycle', asDay('2026-06-30'))).toHaveLength(1)
    expect(found(ended, 'sch/cycle', asDay('2026-07-01'))).toHaveLength(0)
  })
})

it.each<[string, Fields, string]>([
  [
    'a region',
    { region: 'Norway' },
    'the region “Norway” cannot be read; it counts as if there were no public holidays',
  ],
  ['hours', { hours: '9-17' }, 'the working hours “9-17” cannot be read; it counts as 08:00-12:00, 13:00-17:00'],
  ['another day', { exceptions: ['24.12.2026 off'] }, 'the other day “24.12.2026 off” cannot be read'],
  ['weekdays', { weekdays: ['Moonday'] }, 'the working days “Moonday” cannot be read; it counts as Monday to Friday'],
])('says which part of a calendar cannot be read: %s', (_, fields, words) => {
  const found = schedule.rules.find(({ id }) => id === 'sch/calendar-unreadable')
  const [one, ...more] = found?.check(planned(TWO, '2026-01-05', [calendar(fields)]), DAY) ?? []
  expect(more).toEqual([])
  expect(one?.message).toContain(words)
  const mended = apply(
    planned(TWO, '2026-01-05', [calendar(fields)]),
    one?.fixes[0]?.change ?? { label: '', steps: [] },
  )
  expect(found?.check(mended.model, DAY)).toEqual([])
})
it('makes a calendar’s holidays days of its own, where they can be corrected, and moves nothing by it', () => {
  const model = planned('Dig  200d', '2026-01-05', [calendar({ region: 'NO', exceptions: ['2026-05-01 08:00-12:00'] })])
  const before = datesOf(model, 'Dig')
  const outcome = act(model, 'own-holidays', [asId('c')])
  const next = after(model, outcome)
  const { region, exceptions } = next.entities.get(asId('c'))?.fields ?? {}
  expect(region).toBeUndefined()
  expect(exceptions).toContain('2026-05-17 off Grunnlovsdagen')
  // What the calendar says itself of a day goes before its region.
  expect((exceptions as string[]).filter((text) => text.startsWith('2026-05-01'))).toEqual(['2026-05-01 08:00-12:00'])
  expect(datesOf(next, 'Dig')).toBe(before)
  expect(schedule.describe(model, asId('c'), DAY)).toContain('date-holidays')
})
it('reads a range of weekdays in a file as all of its days', () => {
  const model = planned('Dig  5d\nPour  1d  after 1', '2026-01-05', [calendar({ weekdays: ['Mon-Thu'] })])
  expect([datesOf(model, 'Dig'), datesOf(model, 'Pour')]).toEqual([
    '2026-01-05 to 2026-01-12',
    '2026-01-13 to 2026-01-13',
  ])
})

it('has a test for each of its rules', () => {
  expect(new Set([...cases.map(([rule]) => rule), 'sch/cycle'])).toEqual(new Set(schedule.rules.map(({ id }) => id)))
})
