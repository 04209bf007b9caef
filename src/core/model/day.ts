/** A calendar day of the proleptic Gregorian calendar in ISO 8601 form, `YYYY-MM-DD`, years 0001 to 9999. Sorts as text. */
export type Day = string & { readonly __brand: 'Day' }

/** First and last day, both inclusive; an absent end is open. */
export interface Period {
  readonly from?: Day | undefined
  readonly to?: Day | undefined
}

const MS_PER_DAY = 86_400_000
/** Months of the year, short. */
export const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const WEEKDAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat']

export function isDay(text: unknown): text is Day {
  if (typeof text !== 'string' || !/^\d{4}-\d{2}-\d{2}$/.test(text) || text < '0001') return false
  const time = Date.parse(`${text}T00:00:00Z`)
  return !Number.isNaN(time) && new Date(time).toISOString().slice(0, 10) === text
}

/** @throws RangeError for a text that is no day of the calendar, 2026-02-30 included. */
export function asDay(text: string): Day {
  if (!isDay(text)) throw new RangeError(`“${text.slice(0, 40)}” is not a day; write it as 2026-11-24`)
  return text
}

/** Days since 1970-01-01. */
export const ordinal = (day: Day): number => Math.round(Date.parse(`${day}T00:00:00Z`) / MS_PER_DAY)

export const FIRST_DAY = '0001-01-01' as Day
export const LAST_DAY = '9999-12-31' as Day
const [FIRST, LAST] = [ordinal(FIRST_DAY), ordinal(LAST_DAY)]

/** The inverse of `ordinal`; beyond the calendar its first or last day. */
export const dayOf = (days: number): Day =>
  asDay(new Date(Math.min(LAST, Math.max(FIRST, days)) * MS_PER_DAY).toISOString().slice(0, 10))

/** So many days on, no further than the calendar goes. */
export const addDays = (day: Day, days: number): Day => dayOf(ordinal(day) + days)

export const daysBetween = (first: Day, last: Day): number => ordinal(last) - ordinal(first)

/** The first day of the day's month. */
export const monthOf = (day: Day): Day => asDay(`${day.slice(0, 7)}-01`)

/** The same day of the month some months on, or that month's last day where it is shorter; no further than the calendar goes. */
export function addMonths(day: Day, months: number): Day {
  const count = Number(day.slice(0, 4)) * 12 + Number(day.slice(5, 7)) - 1 + months
  const [year, month] = [Math.floor(count / 12), (count % 12) + 1]
  if (year < 1) return FIRST_DAY
  if (year > 9999) return LAST_DAY
  const lastDay = new Date(Date.UTC(2000 + (year % 400), month, 0)).getUTCDate()
  const two = (value: number) => String(value).padStart(2, '0')
  return asDay(`${String(year).padStart(4, '0')}-${two(month)}-${two(Math.min(Number(day.slice(8)), lastDay))}`)
}

/** Whether the day lies within the period. */
export const covers = (period: Period, day: Day): boolean =>
  (period.from === undefined || period.from <= day) && (period.to === undefined || day <= period.to)

/** The days common to both periods, or undefined when there are none. */
export function overlap(a: Period, b: Period): Period | undefined {
  const from = latest(a.from, b.from)
  const to = earliest(a.to, b.to)
  return from !== undefined && to !== undefined && from > to ? undefined : { from, to }
}

/** The first day of `inner` that lies outside `outer`, or 'before' when `inner` has no first day and `outer` has one. */
export function firstOutside(inner: Period, outer: Period): Day | 'before' | undefined {
  if (outer.from !== undefined && (inner.from === undefined || inner.from < outer.from)) return inner.from ?? 'before'
  if (outer.to === undefined || (inner.to !== undefined && inner.to <= outer.to)) return undefined
  const dayAfter = addDays(outer.to, 1)
  return inner.from !== undefined && inner.from > dayAfter ? inner.from : dayAfter
}

export const latest = (a: Day | undefined, b: Day | undefined): Day | undefined =>
  a === undefined ? b : b === undefined ? a : a > b ? a : b

export const earliest = (a: Day | undefined, b: Day | undefined): Day | undefined =>
  a === undefined ? b : b === undefined ? a : a < b ? a : b

/** `24 Nov 2026`. */
export const dayInWords = (day: Day): string =>
  `${Number(day.slice(8))} ${MONTHS[Number(day.slice(5, 7)) - 1]} ${day.slice(0, 4)}`

/** `Tue 24 Nov 2026`. */
export const weekdayInWords = (day: Day): string => `${WEEKDAYS[(ordinal(day) + 4 + 7_000_000) % 7]} ${dayInWords(day)}`
