import { dayOf, isDay, ordinal, type Day } from '../model'

/** In which order a day's numbers stand, or that it is a spreadsheet's count of days. */
export type DayOrder = 'day first' | 'month first' | 'year first' | 'counted'
export const DAY_ORDERS: readonly DayOrder[] = ['day first', 'month first', 'year first', 'counted']

/** The languages whose names of months and weekdays are understood; no name means different months in two of them. */
const LANGUAGES = ['en', 'de', 'fr', 'es', 'it', 'pt', 'nl', 'da', 'sv', 'nb', 'fi', 'pl', 'cs', 'sk', 'hu', 'ro', 'tr']
/** What stands between the parts of a written day and says nothing. */
const BESIDE = new Set('of the de del di den d le el the st nd rd th er o a'.split(' '))
const TIME =
  /(?:^|[\sT,]+)(\d{1,2}):(\d{2})(?::\d{2}(?:[.,]\d+)?)?\s*(am|pm|a\.m\.|p\.m\.)?\s*(?:Z|UTC|[+-]\d{2}:?\d{2})?$/i

interface Names {
  readonly months: ReadonlyMap<string, number>
  readonly weekdays: ReadonlySet<string>
}
let names: Names | undefined

const plain = (word: string): string =>
  word
    .toLowerCase()
    .normalize('NFKD')
    .replace(/\p{M}|[.’']/gu, '')

/** Names of months and weekdays as the Unicode CLDR has them, long and short, alone and within a date. */
function namesOf(): Names {
  if (names) return names
  const [months, weekdays] = [new Map<string, number>(), new Set<string>()]
  for (const language of LANGUAGES)
    for (const length of ['long', 'short'] as const) {
      const within = new Intl.DateTimeFormat(language, { day: 'numeric', month: length, timeZone: 'UTC' })
      const alone = new Intl.DateTimeFormat(language, { month: length, timeZone: 'UTC' })
      const weekday = new Intl.DateTimeFormat(language, { weekday: length, timeZone: 'UTC' })
      for (let month = 0; month < 12; month++)
        for (const format of [within, alone]) {
          const name = format.formatToParts(Date.UTC(2026, month, 3)).find(({ type }) => type === 'month')?.value ?? ''
          if (!/^\d*$/.test(name)) months.set(plain(name), month + 1)
        }
      for (let day = 1; day <= 7; day++)
        for (const part of plain(weekday.format(Date.UTC(2026, 5, day))).split('-')) weekdays.add(part)
    }
  // Four letters of September are usual, and some languages do not shorten March.
  months.set('sept', 9)
  return (names = { months, weekdays })
}

/** A written day under each order in which it is one, and its time of the day, `13:05`, where it has one. */
export interface WrittenDay {
  readonly days: ReadonlyMap<DayOrder, Day>
  readonly time?: string
  /** Written with points, which everywhere means the day first, or with its month in letters or its year in front. */
  readonly plain: boolean
}

/** Reads a day as people write it; undefined for what is none in any order. A year of two digits is 1969 to 2068 (POSIX `strptime`, %y). */
export function readWritten(text: string): WrittenDay | undefined {
  if (text.length > 60) return undefined
  const [before, time] = withoutTime(text.trim())
  const found = isDay(before) ? inAnyOrder(before) : (worded(before) ?? numbered(before))
  return found && (time === undefined ? found : { ...found, time })
}

/** The one day that a text means by itself, or all that it may mean. */
export function daysMeant(text: string): readonly Day[] {
  const found = readWritten(text)
  if (!found || found.time !== undefined) return []
  const likely = found.plain
    ? [...found.days.values()].slice(0, 1)
    : [...found.days].flatMap(([order, day]) => (order === 'counted' ? [] : [day]))
  return [...new Set(likely)]
}

function withoutTime(text: string): [before: string, time?: string] {
  const found = TIME.exec(text)
  if (!found) return [text]
  const [all, hours = '', minutes = '', half] = found
  const twelve = half === undefined ? Number(hours) : (Number(hours) % 12) + (/^p/i.test(half) ? 12 : 0)
  if (twelve > 23 || Number(minutes) > 59) return [text]
  return [text.slice(0, text.length - all.length), `${String(twelve).padStart(2, '0')}:${minutes}`]
}

const inAnyOrder = (day: Day): WrittenDay => ({ days: new Map(DAY_ORDERS.map((order) => [order, day])), plain: true })

/** `14 May 2026`, `14. Mai 2026`, `May 14, 2026`, `le 14 mai 2026`, `Thu 14-May-26`. */
function worded(text: string): WrittenDay | undefined {
  const { months, weekdays } = namesOf()
  const numbers: string[] = []
  let month: number | undefined
  for (const part of text.match(/\d+|\p{L}[\p{L}\p{M}.’']*/gu) ?? []) {
    if (/^\d/.test(part)) numbers.push(part)
    else if (months.has(plain(part)) && month === undefined) month = months.get(plain(part))
    else if (!weekdays.has(plain(part)) && !BESIDE.has(plain(part))) return undefined
  }
  const [first = '', second = '', more] = numbers
  if (month === undefined || second === '' || more !== undefined || /[^\p{L}\p{M}\d\s.,’'/-]/u.test(text))
    return undefined
  const day = first.length > 2 ? dayFrom(first, month, second) : dayFrom(second, month, first)
  return day && inAnyOrder(day)
}

/** `24/11/2026`, `11-24-26`, `26-11-24`, `2026.11.24`, `20261124`, and the days that a spreadsheet has counted, `46350`. */
function numbered(text: string): WrittenDay | undefined {
  const [, a = '', mark = '', b = '', c = ''] = /^(\d{1,4})\s?([./-])\s?(\d{1,2})\s?\2\s?(\d{1,4})\.?$/.exec(text) ?? []
  if (mark === '') {
    const [, year = '', month = '', day = ''] = /^(\d{4})(\d{2})(\d{2})$/.exec(text) ?? []
    if (year !== '') {
      const compact = dayFrom(year, Number(month), day)
      return compact && inAnyOrder(compact)
    }
    // Counted from the last but one day of 1899, so that 60 is no day that there never was; only days of our time.
    const count = /^\d{5}(?:\.\d+)?$/.test(text) ? Math.floor(Number(text)) : 0
    return count < 10_000 || count > 80_000
      ? undefined
      : { days: new Map([['counted', dayOf(count + ordinal('1899-12-30' as Day))]]), plain: false }
  }
  const days = new Map<DayOrder, Day>()
  const put = (order: DayOrder, day: Day | undefined) => day !== undefined && days.set(order, day)
  if (a.length > 2) {
    put('year first', dayFrom(a, Number(b), c))
    return days.size === 0 ? undefined : { days, plain: true }
  }
  put('day first', dayFrom(c, Number(b), a))
  put('month first', dayFrom(c, Number(a), b))
  if (c.length <= 2 && mark === '-') put('year first', dayFrom(a, Number(b), c))
  return days.size === 0 ? undefined : { days, plain: mark === '.' && days.has('day first') }
}

function dayFrom(year: string, month: number, day: string): Day | undefined {
  if (day.length > 2 || (year.length !== 2 && year.length !== 4)) return undefined
  const full = year.length === 4 ? year : `${Number(year) < 69 ? '20' : '19'}${year}`
  const text = `${full}-${String(month).padStart(2, '0')}-${day.padStart(2, '0')}`
  return isDay(text) ? text : undefined
}
