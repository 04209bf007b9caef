import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  addDays,
  asDay,
  asOf,
  covers,
  dayOf,
  firstOutside,
  isDay,
  ordinal,
  overlap,
  weekdayInWords,
} from '../../../src/core/model'
import { readDay } from '../../../src/core/notation'
import { day, facts, position, reports } from '../../facts'

describe('a day', () => {
  it('is an ISO 8601 calendar day that exists', () => {
    expect(['2026-11-24', '2024-02-29', '0001-01-01', '9999-12-31'].every(isDay)).toBe(true)
    expect(['2026-02-29', '2026-13-01', '2026-1-1', '0000-01-01', '20261124', '', 5, null].some(isDay)).toBe(false)
    expect(() => asDay('2026-02-30')).toThrow(/not a day/)
  })
  it('counts on across months, years and leap days, and back', () => {
    expect(addDays(day('2024-02-28'), 2)).toBe('2024-03-01')
    expect(addDays(day('2027-01-01'), -1)).toBe('2026-12-31')
    fc.assert(fc.property(fc.integer({ min: -700_000, max: 2_900_000 }), (n) => ordinal(dayOf(n)) === n))
  })
  it('is said with its weekday', () => {
    // ISO 8601 week date of the standard's own kind of example: 2009-W53-7, a Sunday, is 2010-01-03.
    expect(weekdayInWords(day('2010-01-03'))).toBe('Sun 3 Jan 2010')
    expect(weekdayInWords(day('1969-12-31'))).toBe('Wed 31 Dec 1969')
    // As the calendar of ECMAScript counts weekdays, over all years that it knows.
    const names = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat']
    fc.assert(
      fc.property(fc.integer({ min: -700_000, max: 2_900_000 }), (n) => {
        expect(weekdayInWords(dayOf(n)).slice(0, 3)).toBe(names[new Date(n * 86_400_000).getUTCDay()])
      }),
      { seed: 2026 },
    )
  })
  it('is read in the ways people write it, and never guessed', () => {
    const ways =
      '24 Nov 2026|24.11.2026|Tue 24 November 2026|11/24/2026|24/11/26|24. November 2026|le 24 novembre 2026|' +
      '24 de noviembre de 2026|Nov 24th, 2026|20261124|2026/11/24|24 lis 2026|24. marraskuuta 2026'
    expect(ways.split('|').map(readDay)).toEqual(Array(13).fill('2026-11-24'))
    const none = ['30 Feb 2026', '30.2.2026', 'soon', '03/04/2026', '3-4-26', 'about 24 Nov 2026', '46350']
    expect(none.map(readDay)).toEqual(none.map(() => undefined))
  })
  it('is written in every language so that it is read back', () => {
    for (const language of [
      'en-GB',
      'en-US',
      'de',
      'fr',
      'es',
      'it',
      'pt',
      'nl',
      'da',
      'nb',
      'sv',
      'fi',
      'hu',
      'sk',
      'tr',
      'pl',
      'cs',
      'ro',
    ])
      for (let month = 0; month < 12; month++)
        for (const style of ['full', 'long', 'medium'] as const) {
          const at = Date.UTC(2026, month, 24)
          const text = new Intl.DateTimeFormat(language, { dateStyle: style, timeZone: 'UTC' }).format(at)
          expect([language, text, readDay(text)]).toEqual([language, text, new Date(at).toISOString().slice(0, 10)])
        }
  })
})

describe('a period', () => {
  it('includes both its ends, and is open where it has none', () => {
    const january = { from: day('2026-01-01'), to: day('2026-01-31') }
    expect([
      covers(january, day('2026-01-01')),
      covers(january, day('2026-01-31')),
      covers(january, day('2026-02-01')),
    ]).toEqual([true, true, false])
    expect(covers({}, day('1066-10-14'))).toBe(true)
  })
  it('has in common with another what lies in both', () => {
    expect(overlap({ to: day('2026-01-31') }, { from: day('2026-01-31') })).toEqual({
      from: '2026-01-31',
      to: '2026-01-31',
    })
    expect(overlap({ to: day('2026-01-30') }, { from: day('2026-01-31') })).toBeUndefined()
  })
  it('tells the first day on which it runs outside another', () => {
    expect(firstOutside({}, { to: day('2027-01-31') })).toBe('2027-02-01')
    expect(firstOutside({ from: day('2020-01-01') }, { from: day('2021-01-01') })).toBe('2020-01-01')
    expect(firstOutside({}, { from: day('2021-01-01') })).toBe('before')
    expect(firstOutside({ from: day('2022-01-01') }, { from: day('2021-01-01') })).toBeUndefined()
  })
})

describe('the facts as of a day', () => {
  const model = facts(
    position('a'),
    position('b', { to: day('2026-06-30') }),
    position('c', { from: day('2026-07-01') }),
    reports('b', 'a'),
    reports('c', 'a', { from: day('2026-08-01') }),
  )
  const on = (text: string) => {
    const then = asOf(model, day(text))
    return [[...then.entities.keys()].join(), then.relations.size]
  }
  it('are those in force, with the relations whose both ends are', () => {
    expect([on('2026-06-30'), on('2026-07-01'), on('2026-08-01')]).toEqual([
      ['a,b', 1],
      ['a,c', 0],
      ['a,c', 1],
    ])
  })
})
