import fc from 'fast-check'
import highsLoader from 'highs'
import { describe, expect, it } from 'vitest'
import { workingTime, type WorkingTime } from '../../src/core/calendar'
import { readFileSync } from 'node:fs'
import { parseWorkspace } from '../../src/core/file'
import { findingsOf } from '../../src/core/findings'
import { asDay, asId } from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { momentText, planOn } from '../../src/core/notations/schedule/plan'
import { criticalPath, type Activity } from '../../src/core/notations/schedule/criticalPath'
import { CONSTRAINTS, LINK_TYPES, type Precedence } from '../../src/core/notations/schedule/terms'
import { estimateOf, normal } from '../../src/core/notations/schedule/estimate'
import { after, act, datesOf, idOf, planned, shown, workOf } from '../core/schedule/facts'

/** Round the clock: working time is time. */
const ALWAYS: WorkingTime = workingTime({
  week: Array.from({ length: 7 }, () => [[0, 1440] as const]),
  exception: () => undefined,
})

const activity = (duration: number, more: Partial<Activity> = {}): Activity => ({
  time: ALWAYS,
  duration,
  constraint: 'as soon as possible',
  ...more,
})

/** Heizer & Render, Operations Management: the eight activities of a hospital’s filter project (from memory). */
const BOOK = `A  2w
B  3w
C  2w  after 1
D  4w  after 1, 2
E  4w  after 3
F  3w  after 3
G  5w  after 4, 5
H  2w  after 6, 7`
const THREE_POINTS: Readonly<Record<string, readonly [number, number, number]>> = {
  A: [1, 2, 3],
  B: [2, 3, 4],
  C: [1, 2, 3],
  D: [2, 4, 6],
  E: [1, 4, 7],
  F: [1, 2, 9],
  G: [3, 4, 11],
  H: [1, 2, 3],
}

describe('the book’s example (Heizer & Render, from memory)', () => {
  const model = planned(BOOK)
  const plan = shown(model)
  const weeks = (minutes: number) => minutes / plan.time.pace.week

  it('takes 15 weeks, with A, C, E, G and H on the critical path', () => {
    expect(weeks(plan.time.between(plan.begin, plan.finish))).toBe(15)
    expect(plan.list.filter(({ critical }) => critical).map(({ entity }) => entity.name)).toEqual([
      'A',
      'C',
      'E',
      'G',
      'H',
    ])
  })
  it('has slack 1 at B, 1 at D, 6 at F', () => {
    expect(['B', 'D', 'F'].map((name) => weeks(workOf(model, name).totalFloat))).toEqual([1, 1, 6])
  })
  it('has a variance of 3.11 on its longest way, and ends within 16 weeks with 0.7157', () => {
    const estimated = Object.entries(THREE_POINTS).reduce((facts, [name, [least, likely, most]]) => {
      const steps = Object.entries({ least, likely, most }).map(([field, value]) => ({
        do: 'set-entity' as const,
        id: idOf(facts, name),
        path: `fields.${field}`,
        value: `${value}w`,
      }))
      return after(facts, { change: { label: '', steps } })
    }, model)
    const found = estimateOf(estimated, shown(estimated))
    const week = plan.time.pace.week
    expect(found.mean / week).toBeCloseTo(15, 6)
    expect(found.variance / week ** 2).toBeCloseTo(3.11, 2)
    // The book rounds z to 0.57 and looks it up in a table.
    expect(normal((16 - 15) / Math.sqrt(3.111))).toBeCloseTo(0.7157, 2)
    expect(normal(0.57)).toBeCloseTo(0.7157, 4)
  })
})

describe('against the linear programme, solved by npm highs', () => {
  const networks = fc
    .integer({ min: 2, max: 9 })
    .chain((count) =>
      fc.record({
        durations: fc.array(fc.integer({ min: 0, max: 20 }), { minLength: count, maxLength: count }),
        links: fc.array(
          fc.record({
            a: fc.nat(count - 1),
            b: fc.nat(count - 1),
            type: fc.constantFrom(...LINK_TYPES),
            lag: fc.integer({ min: -4, max: 8 }),
          }),
          { maxLength: 2 * count },
        ),
      }),
    )
    .map(({ durations, links }) => ({
      durations,
      precedences: links
        .filter(({ a, b }) => a !== b)
        .map(({ a, b, type, lag }): Precedence => ({ from: Math.min(a, b), to: Math.max(a, b), type, lag })),
    }))

  it('ends as early as any dates that meet all links, and each late start is the latest that keeps that end', async () => {
    const highs = await highsLoader()
    const bound = ({ from, to, type, lag }: Precedence, durations: readonly number[]): number =>
      lag + (type[0] === 'F' ? (durations[from] ?? 0) : 0) - (type[1] === 'F' ? (durations[to] ?? 0) : 0)
    const solve = (durations: readonly number[], precedences: readonly Precedence[], goal: string, end?: number) => {
      const rows = precedences.map((link, i) => ` c${i}: s${link.to} - s${link.from} >= ${bound(link, durations)}`)
      const ends = durations.map((duration, i) => ` e${i}: z - s${i} >= ${duration}`)
      const bounds = [...durations.map((_, i) => ` s${i} >= 0`), end === undefined ? ' z >= 0' : ` z = ${end}`]
      const lp = `${goal}\nSubject To\n${[...rows, ...ends].join('\n')}\nBounds\n${bounds.join('\n')}\nEnd`
      return highs.solve(lp).ObjectiveValue
    }
    fc.assert(
      fc.property(networks, ({ durations, precedences }) => {
        const path = criticalPath({ activities: durations.map((one) => activity(one)), precedences, start: 0 })
        const length = solve(durations, precedences, 'Minimize\n obj: z')
        expect(path.finish).toBeCloseTo(length, 6)
        durations.forEach((_, i) => {
          const latest = solve(durations, precedences, `Maximize\n obj: s${i}`, length)
          const earliest = solve(durations, precedences, `Minimize\n obj: s${i}`, length)
          expect(path.earlyStart[i]).toBeCloseTo(earliest, 6)
          expect(path.totalFloat[i]).toBeCloseTo(latest - earliest, 6)
        })
      }),
      { numRuns: 60 },
    )
  })
})

describe('reckoning in one calendar and in several', () => {
  const week = Array.from({ length: 7 }, (_, day) => (day < 5 ? [[480, 720] as const, [780, 1020] as const] : []))
  const [office, other] = [0, 1].map(() => workingTime({ week, exception: (day) => (day === 20_480 ? [] : undefined) }))
  const begin = 20_470 * 1440 + 480
  const one = fc.record({
    duration: fc.constantFrom(0, 0, 30, 240, 480, 960, 1440, 2400),
    constraint: fc.constantFrom(...CONSTRAINTS),
    on: fc.option(fc.integer({ min: 0, max: 30 }), { nil: undefined }),
    begun: fc.option(fc.integer({ min: 0, max: 10 }), { nil: undefined }),
  })
  const link = fc.record({
    a: fc.nat(7),
    b: fc.nat(7),
    type: fc.constantFrom(...LINK_TYPES),
    lag: fc.constantFrom(0, 0, 480, -240, 960),
  })

  it('gives the same dates', () => {
    fc.assert(
      fc.property(fc.array(one, { minLength: 8, maxLength: 8 }), fc.array(link, { maxLength: 14 }), (list, links) => {
        const precedences = links
          .filter(({ a, b }) => a !== b)
          .map(({ a, b, type, lag }): Precedence => ({ from: Math.min(a, b), to: Math.max(a, b), type, lag }))
        const made = (times: readonly (WorkingTime | undefined)[]) =>
          criticalPath({
            activities: list.map(({ duration, constraint, on, begun }, i): Activity => {
              const time = times[i % times.length] ?? ALWAYS
              const actualStart = begun === undefined ? undefined : time.opening(begin + begun * 1440)
              return {
                time,
                duration,
                constraint,
                on: on === undefined ? undefined : time.opening(begin + on * 1440),
                actualStart,
              }
            }),
            precedences,
            start: begin,
          })
        const [alone, mixed] = [made([office]), made([office, other])]
        expect([...alone.totalFloat]).toEqual([...mixed.totalFloat])
        expect([...alone.freeFloat]).toEqual([...mixed.freeFloat])
        expect([...alone.earlyStart]).toEqual([...mixed.earlyStart])
        expect([...alone.earlyFinish]).toEqual([...mixed.earlyFinish])
        expect(alone.broken).toEqual(mixed.broken)
      }),
      { numRuns: 200 },
    )
  })
})

/**
 * An independent pass over plans with progress, on numbers alone: what has begun has a start that stays and work that is left; only what is left
 * waits for others. Links lead from lower to higher indexes.
 */
describe('plans with progress, all four links and lags', () => {
  const one = fc.record({
    duration: fc.integer({ min: 1, max: 40 }),
    begun: fc.option(fc.integer({ min: -30, max: 0 }), { nil: undefined }),
    left: fc.integer({ min: 1, max: 30 }),
    done: fc.boolean(),
  })
  const link = fc.record({
    a: fc.nat(7),
    b: fc.nat(7),
    type: fc.constantFrom(...LINK_TYPES),
    lag: fc.integer({ min: -5, max: 10 }),
  })

  it('have the dates that each link, taken by itself, asks for', () => {
    let waiting = 0
    fc.assert(
      fc.property(fc.array(one, { minLength: 8, maxLength: 8 }), fc.array(link, { maxLength: 14 }), (list, drawn) => {
        const base = 20_000 * 1440
        const works = list.map(({ duration, begun, left, done }) => ({
          length: duration,
          start: begun,
          left: begun === undefined ? duration : Math.min(left, duration),
          end: begun !== undefined && done ? begun + duration : undefined,
        }))
        const links = drawn
          .filter(({ a, b }) => a !== b)
          .map(({ a, b, type, lag }): Precedence => ({ from: Math.min(a, b), to: Math.max(a, b), type, lag }))
        const early = works.map(({ start = 0, end = 0 }) => ({ start, end }))
        const begins = works.map(() => 0)
        works.forEach((work, i) => {
          if (work.end !== undefined) return
          let begin = 0
          for (const { from, to, type, lag } of links) {
            if (to !== i) continue
            const due = (type[0] === 'F' ? (early[from]?.end ?? 0) : (early[from]?.start ?? 0)) + lag
            const asked = type[1] === 'S' ? due : due - work.left
            if (work.start !== undefined && type[1] === 'F' && asked > begin) waiting++
            begin = Math.max(begin, asked)
          }
          begins[i] = begin
          early[i] = { start: work.start ?? begin, end: begin + work.left }
        })
        const last = Math.max(...early.map(({ end }) => end))
        const late = works.map(() => last)
        for (let i = works.length - 1; i >= 0; i--)
          for (const { from, to, type, lag } of links) {
            const follower = works[to]
            if (from !== i || !follower || follower.end !== undefined) continue
            const goal = (late[to] ?? 0) - (type[1] === 'S' ? follower.left : 0) - lag
            const length = (early[i]?.end ?? 0) - (early[i]?.start ?? 0)
            late[i] = Math.min(late[i] ?? 0, type[0] === 'F' ? goal : goal + length)
          }
        const found = criticalPath({
          activities: works.map(({ length, start, left, end }) =>
            activity(length, {
              actualStart: start === undefined ? undefined : base + start,
              actualFinish: end === undefined ? undefined : base + end,
              remaining: start === undefined ? undefined : left,
            }),
          ),
          precedences: links,
          start: base,
          status: base,
        })
        expect([...found.earlyStart].map((at) => at - base)).toEqual(early.map(({ start }) => start))
        expect([...found.earlyFinish].map((at) => at - base)).toEqual(early.map(({ end }) => end))
        expect([...found.lateFinish].map((at) => at - base)).toEqual(late)
      }),
      { numRuns: 400 },
    )
    expect(waiting).toBeGreaterThan(50)
  })
  it('let what has begun wait for the end of another with what is left of it', () => {
    const { model } = parseWorkspace(readFileSync('tests/cases/ff-begun.skivel.json', 'utf8'), registry)
    const plan = planOn(model, asId('p'), asDay('2026-01-12'))
    expect(plan.list.map(({ finish, time }) => momentText(finish, time, 'finish'))).toEqual([
      '2026-01-23',
      '2026-01-23',
    ])
  })
  it('leave a milestone that must be done on a day on that day', () => {
    const { model } = parseWorkspace(readFileSync('tests/cases/must-finish.skivel.json', 'utf8'), registry)
    const { list } = planOn(model, asId('p'), asDay('2026-01-05'))
    expect(list.map(({ finish, time }) => momentText(finish, time, 'finish'))).toEqual(['2026-01-09', '2026-01-09'])
    expect(findingsOf(registry, model, asDay('2026-01-05')).filter(({ severity }) => severity === 'error')).toEqual([])
  })
})

describe('dates in working time', () => {
  it('go over the weekend, with lags in working days and every kind of link', () => {
    const model = planned(`Dig  3d
Pour  4d  after 1
Dry  2d  after 2+2d
Paint  2d  after 3SS+1d
Clean  1d  after 4FF
Hand over  milestone  after 5`)
    expect(datesOf(model, 'Dig')).toBe('2026-01-05 to 2026-01-07')
    expect(datesOf(model, 'Pour')).toBe('2026-01-08 to 2026-01-13')
    expect(datesOf(model, 'Dry')).toBe('2026-01-16 to 2026-01-19')
    expect(datesOf(model, 'Paint')).toBe('2026-01-19 to 2026-01-20')
    expect(datesOf(model, 'Clean')).toBe('2026-01-20 to 2026-01-20')
    expect(datesOf(model, 'Hand over')).toBe('2026-01-20 to 2026-01-20')
  })
  it('keep to set timings, and say by negative float what cannot be met', () => {
    const model = planned(`Dig  3d  from 2026-01-12
Pour  4d  after 1`)
    expect(datesOf(model, 'Dig')).toBe('2026-01-12 to 2026-01-14')
    const must = after(model, {
      change: {
        label: '',
        steps: [
          { do: 'set-entity', id: idOf(model, 'Pour'), path: 'fields.constraint', value: 'must start' },
          { do: 'set-entity', id: idOf(model, 'Pour'), path: 'fields.on', value: '2026-01-13' },
        ],
      },
    })
    expect(datesOf(must, 'Pour')).toBe('2026-01-13 to 2026-01-16')
    expect(workOf(must, 'Dig').totalFloat / shown(must).time.pace.day).toBe(-2)
    expect(shown(must).broken).toHaveLength(1)
    expect(datesOf(after(must, act(must, 'asap', [idOf(must, 'Pour')])), 'Pour')).toBe('2026-01-15 to 2026-01-20')
  })
  it('go on from what has been done: what is left of a task is worked from the status date on', () => {
    const model = planned('Dig  4d\nPour  2d  after 1')
    const set = (id: string, field: string, value: string | number) => ({
      do: 'set-entity' as const,
      id: idOf(model, id),
      path: `fields.${field}`,
      value,
    })
    const begun = after(model, {
      change: {
        label: '',
        steps: [
          set('Dig', 'actualStart', '2026-01-06'),
          set('Dig', 'percent', 50),
          { do: 'set-entity', id: 'plan' as never, path: 'fields.status', value: '2026-01-14' },
        ],
      },
    })
    expect(datesOf(begun, 'Dig')).toBe('2026-01-06 to 2026-01-15')
    expect(datesOf(begun, 'Pour')).toBe('2026-01-16 to 2026-01-19')
  })
  it('leave a circle out and still give the others theirs', () => {
    const model = planned('Dig  3d\nPour  4d  after 1\nDry  1d  after 2')
    const circle = after(model, {
      change: {
        label: '',
        steps: [
          {
            do: 'add-relation',
            relation: {
              id: 'x' as never,
              kind: 'precedes',
              source: idOf(model, 'Pour'),
              target: idOf(model, 'Dig'),
              fields: {},
            },
          },
        ],
      },
    })
    expect(shown(circle).circles).toHaveLength(1)
    expect(datesOf(circle, 'Dry')).toBe('2026-01-09 to 2026-01-09')
  })
  it('take a calendar’s holidays and other days', () => {
    const calendar = {
      id: 'cal' as never,
      kind: 'calendar',
      name: 'Cal',
      fields: {
        region: 'NO',
        exceptions: ['2026-05-04..2026-05-05 off Spring clean', '2026-05-09 08:00-12:00, 13:00-17:00'],
      },
    }
    const model = planned('Dig  6d', '2026-04-29', [calendar])
    // 1 May is a public holiday in Norway, and the Saturday is worked.
    expect(datesOf(model, 'Dig')).toBe('2026-04-29 to 2026-05-09')
    expect(asDay('2026-05-01')).toBe('2026-05-01')
  })
})
