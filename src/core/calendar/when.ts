import { isDay, ordinal } from '../model'
import { clock, MINUTES_A_DAY, type Instant } from './instant'

/**
 * A date as exactly as it is known: `1887`, `1887-05`, `1887-05-14`, `1887-05-14T09:30`, and before our era with a minus as in ISO 8601,
 * where the year 0000 is 1 BCE and −0043 is 44 BCE. Proleptic Gregorian calendar.
 */
export interface When {
  readonly precision: 'year' | 'month' | 'day' | 'minute'
  /** The first and the last instant that it may mean: of 1887, New Year's Day and New Year's Eve at midnight. */
  readonly from: Instant
  readonly to: Instant
}

const FORM = /^(-?)(\d{4,6})(?:-(\d{2})(?:-(\d{2})(?:[T ](\d{2}):(\d{2}))?)?)?$/
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** Days since 1970-01-01 of any day of the proleptic Gregorian calendar, astronomical years. */
function civilDay(year: number, month: number, day: number): number {
  const y = month <= 2 ? year - 1 : year
  const era = Math.floor(y / 400)
  const inEra = y - era * 400
  const dayOfYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1
  return era * 146_097 + inEra * 365 + Math.floor(inEra / 4) - Math.floor(inEra / 100) + dayOfYear - 719_468
}

const daysIn = (year: number, month: number): number =>
  month === 12 ? 31 : civilDay(year, month + 1, 1) - civilDay(year, month, 1)

/** The year, month and day of a day's number since 1970-01-01. */
export function civilOf(days: number): { year: number; month: number; day: number } {
  const shifted = days + 719_468
  const era = Math.floor(shifted / 146_097)
  const inEra = shifted - era * 146_097
  const yearOfEra = Math.floor(
    (inEra - Math.floor(inEra / 1460) + Math.floor(inEra / 36_524) - Math.floor(inEra / 146_096)) / 365,
  )
  const dayOfYear = inEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100))
  const index = Math.floor((5 * dayOfYear + 2) / 153)
  const day = dayOfYear - Math.floor((153 * index + 2) / 5) + 1
  const month = index < 10 ? index + 3 : index - 9
  return { year: yearOfEra + era * 400 + (month <= 2 ? 1 : 0), month, day }
}

/** Midnight at the beginning of a year, month and day; a month beyond December counts on into the next year. */
export const midnight = (year: number, month = 1, day = 1): Instant =>
  civilDay(year + Math.floor((month - 1) / 12), ((((month - 1) % 12) + 12) % 12) + 1, day) * MINUTES_A_DAY

/** Undefined for what is no date. */
export function readWhen(text: string): When | undefined {
  const [, sign, digits, month, day, hour, minute] = FORM.exec(text) ?? []
  if (digits === undefined) return undefined
  const year = Number(digits) * (sign === '-' ? -1 : 1)
  const last = MINUTES_A_DAY
  if (month === undefined) return { precision: 'year', from: midnight(year), to: midnight(year + 1) - last }
  const m = Number(month)
  if (m < 1 || m > 12) return undefined
  if (day === undefined) return { precision: 'month', from: midnight(year, m), to: midnight(year, m + 1) - last }
  const d = Number(day)
  if (d < 1 || d > daysIn(year, m)) return undefined
  const from = midnight(year, m, d)
  if (hour === undefined || minute === undefined) return { precision: 'day', from, to: from }
  if (Number(hour) > 23 || Number(minute) > 59) return undefined
  const at = from + Number(hour) * 60 + Number(minute)
  return { precision: 'minute', from: at, to: at }
}

/** `44 BCE`, `May 1887`, `14 May 1887`, `14 May 1887 09:30`. */
export function whenInWords(text: string): string {
  const when = readWhen(text)
  if (!when) return text
  const { year, month, day } = civilOf(Math.floor(when.from / MINUTES_A_DAY))
  const named = yearInWords(year)
  if (when.precision === 'year') return named
  if (when.precision === 'month') return `${MONTHS[month - 1]} ${named}`
  const date = `${day} ${MONTHS[month - 1]} ${named}`
  return when.precision === 'day'
    ? date
    : `${date} ${clock(when.from - Math.floor(when.from / MINUTES_A_DAY) * MINUTES_A_DAY)}`
}

/** 2026, or 44 BCE: the astronomical year 0 is 1 BCE. */
export const yearInWords = (year: number): string => (year > 0 ? String(year) : `${1 - year} BCE`)

/** Words as people write them, as this form of a date: `May 1887`, `14 May 1887`, `44 BCE`. Undefined for what is none. */
export function tidyWhen(typed: string): string | undefined {
  const text = typed.trim()
  if (readWhen(text)) return text.replace(' ', 'T')
  if (isDay(text) && ordinal(text) < 0) return text
  const worded = /^(?:(\d{1,2})\.?\s+)?(?:([a-z]{3})[a-z]*\.?\s+)?(\d{1,6})\s*(bce?|b\.c\.|ce|ad)?$/i.exec(text)
  if (!worded) return undefined
  const [, day, name, year = '', era = ''] = worded
  const month = name === undefined ? undefined : MONTHS.findIndex((one) => one.toLowerCase() === name.toLowerCase()) + 1
  if (month === 0 || (day !== undefined && month === undefined)) return undefined
  const astronomical = /^b/i.test(era) ? 1 - Number(year) : Number(year)
  const written = `${astronomical < 0 ? '-' : ''}${String(Math.abs(astronomical)).padStart(4, '0')}`
  const iso = [written, month, day].filter((part) => part !== undefined).map((part) => String(part).padStart(2, '0'))
  return readWhen(iso.join('-')) ? iso.join('-') : undefined
}
