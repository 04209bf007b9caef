import Holidays from 'date-holidays'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  durationText,
  publicHolidays,
  readDuration,
  readWhen,
  startOf,
  tidyDuration,
  tidyWhen,
  whenInWords,
  workingTime,
  type Hours,
} from '../../src/core/calendar'
import { addDays, asDay, dayOf, ordinal } from '../../src/core/model'
import { isoWeek } from '../../src/core/notations/schedule/pictures/axis'

const OFFICE: Hours = [
  [480, 720],
  [780, 1020],
]
const week = [OFFICE, OFFICE, OFFICE, OFFICE, OFFICE, [], []]
const plain = workingTime({ week, exception: () => undefined })

/** Worked minute by minute, as slowly and as surely as can be. */
function minutesWorked(from: number, to: number): number {
  let count = 0
  for (let at = from; at < to; at++) {
    const day = Math.floor(at / 1440)
    if (plain.hoursOn(day).some(([a, b]) => at - day * 1440 >= a && at - day * 1440 < b)) count++
  }
  return count
}

describe('working time', () => {
  const instants = fc.integer({ min: startOf(asDay('2026-01-01')), max: startOf(asDay('2026-01-20')) })

  it('counts as a count of every minute does', () => {
    fc.assert(
      fc.property(instants, instants, (a, b) => {
        const [from, to] = [Math.min(a, b), Math.max(a, b)]
        expect(plain.between(from, to)).toBe(minutesWorked(from, to))
        expect(plain.between(to, from)).toBe(-minutesWorked(from, to) || 0)
      }),
      { numRuns: 60 },
    )
  })
  it('adds what it counts: between(at, add(at, n)) is n, forward and back', () => {
    fc.assert(
      fc.property(instants, fc.integer({ min: -20_000, max: 20_000 }), (at, minutes) => {
        expect(plain.between(at, plain.add(at, minutes))).toBe(minutes)
      }),
    )
  })
  it('opens where work can begin and closes where it can end', () => {
    const friday = startOf(asDay('2026-01-09'))
    expect(plain.opening(friday + 1020)).toBe(startOf(asDay('2026-01-12')) + 480)
    expect(plain.closing(startOf(asDay('2026-01-12')) + 480)).toBe(friday + 1020)
    expect(plain.add(friday + 960, 120)).toBe(startOf(asDay('2026-01-12')) + 540)
  })
  it('refuses a week in which nobody works', () =>
    expect(() => workingTime({ week: [], exception: () => undefined })).toThrow(RangeError))
})

/** npm date-holidays, asked directly. */
describe.each([
  ['NO', 2026],
  ['DE-BY', 2027],
  ['US', 2026],
] as const)('public holidays of %s in %d', (region, year) => {
  it('are those of date-holidays', () => {
    const [country = '', state] = region.split('-')
    const source = state === undefined ? new Holidays(country) : new Holidays(country, state)
    const days = source
      .getHolidays(year)
      .filter(({ type }) => type === 'public')
      .map(({ date }) => date.slice(0, 10))
    expect(days.length).toBeGreaterThan(7)
    for (const day of days) expect([...publicHolidays(region, year).keys()]).toContain(day)
  })
})

describe('weeks and dates', () => {
  it('numbers weeks as ISO 8601 does: 2009-W53-7 is 2010-01-03', () => {
    expect(isoWeek(startOf(asDay('2010-01-03')))).toBe(53)
    expect(isoWeek(startOf(asDay('2010-01-04')))).toBe(1)
    expect(isoWeek(startOf(asDay('2008-12-29')))).toBe(1)
  })
  it('reads durations as people write them, and writes them shortest', () => {
    const pace = { day: 480, week: 2400 }
    expect(['5d', '4h', '30min', '2w', '1,5 days', '-2d'].map((text) => readDuration(text, pace))).toEqual([
      2400, 240, 30, 4800, 720, -960,
    ])
    expect(tidyDuration('2 weeks')).toBe('2w')
    expect(tidyDuration('soon')).toBeUndefined()
    expect([2400, 240, 90, 25].map((minutes) => durationText(minutes, pace))).toEqual(['5d', '0.5d', '1.5h', '25min'])
  })
  it('reads dates of any precision, and before our era as ISO 8601 counts years', () => {
    expect(tidyWhen('44 BCE')).toBe('-0043')
    expect(whenInWords('-0043')).toBe('44 BCE')
    expect(tidyWhen('14 May 1887')).toBe('1887-05-14')
    expect(whenInWords('1887-05')).toBe('May 1887')
    expect(readWhen('1887-02-29')).toBeUndefined()
    expect(readWhen('0000')?.from).toBeLessThan(readWhen('0001')?.from ?? 0)
    fc.assert(
      fc.property(fc.integer({ min: -50_000, max: 80_000 }), (days) => {
        const day = dayOf(days)
        expect(readWhen(day)?.from).toBe(ordinal(day) * 1440)
        expect(addDays(day, 0)).toBe(day)
      }),
    )
  })
})
