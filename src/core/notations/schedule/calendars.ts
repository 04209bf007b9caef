import {
  clock,
  holidaysKnown,
  isReckoned,
  isRegion,
  MINUTES_A_DAY,
  publicHolidays,
  workingTime,
  type Hours,
  type WorkingTime,
  type Workweek,
} from '../../calendar'
import { dayOf, isDay, ordinal, type Entity } from '../../model'

export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const
type Weekday = (typeof WEEKDAYS)[number]

/** `Mon-Thu, Sun`, `Monday; Tuesday` as days in the order of the week; undefined where one is none. */
export function readWeekdays(text: string): Weekday[] | undefined {
  const dayAt = (name: string): number =>
    /^[a-z]{3,9}$/i.test(name)
      ? WEEKDAYS.findIndex((day) => day === `${name[0]?.toUpperCase()}${name.slice(1, 3).toLowerCase()}`)
      : -1
  const chosen = new Set<number>()
  for (const part of text.split(/[,;]/).map((one) => one.trim())) {
    if (part === '') continue
    const [first = '', last = first, ...more] = part.split(/\s*[-–]\s*/)
    const [from, to] = [dayAt(first), dayAt(last)]
    if (from < 0 || to < 0 || more.length > 0) return undefined
    for (let day = from; ; day = (day + 1) % 7) {
      chosen.add(day)
      if (day === to) break
    }
  }
  return WEEKDAYS.filter((_, day) => chosen.has(day))
}

export const USUAL_HOURS = '08:00-12:00, 13:00-17:00'
const USUAL_DAYS: readonly string[] = WEEKDAYS.slice(0, 5)

/** `08:00-12:00, 13:00-17:00` as spans of minutes; undefined for what is none. */
export function readHours(text: string): Hours | undefined {
  const spans = text.split(/\s*,\s*/).map((part): readonly [number, number] | undefined => {
    const [, h1, m1, h2, m2] = /^(\d{1,2}):(\d{2})\s*[-–]\s*(\d{1,2}):(\d{2})$/.exec(part.trim()) ?? []
    const [from, to] = [Number(h1) * 60 + Number(m1), Number(h2) * 60 + Number(m2)]
    return from < to && to <= MINUTES_A_DAY ? [from, to] : undefined
  })
  const sound = spans.every((span, i) => span && (i === 0 || span[0] >= (spans[i - 1]?.[1] ?? 0)))
  return sound ? spans.filter((span) => span !== undefined) : undefined
}

interface OtherDays {
  readonly from: number
  readonly to: number
  readonly hours: Hours
  readonly name: string
}

/** `2026-12-24 off Christmas Eve`, `2027-07-05..2027-07-23 off`, `2026-11-28 08:00-12:00`; undefined for what is none. */
export function readOtherDays(text: string): OtherDays | undefined {
  const [, first = '', last = first, rest = ''] = /^(\S+?)(?:\.\.(\S+))?\s+(.+)$/.exec(text.trim()) ?? []
  if (!isDay(first) || !isDay(last) || last < first) return undefined
  const [, spans, named = ''] = /^((?:\d{1,2}:\d{2}[-–]\d{1,2}:\d{2}(?:,\s*)?)+)\s*(.*)$/.exec(rest) ?? []
  if (spans !== undefined) {
    const hours = readHours(spans.replace(/,\s*$/, ''))
    return hours && { from: ordinal(first), to: ordinal(last), hours, name: named }
  }
  const [, name = ''] = /^off\b\s*(.*)$/i.exec(rest) ?? []
  return /^off\b/i.test(rest) ? { from: ordinal(first), to: ordinal(last), hours: [], name } : undefined
}

const texts = (value: unknown): readonly string[] =>
  Array.isArray(value) ? value.filter((one): one is string => typeof one === 'string') : []

const usual: Workweek = {
  week: WEEKDAYS.map((day) => (USUAL_DAYS.includes(day) ? (readHours(USUAL_HOURS) ?? []) : [])),
  exception: () => undefined,
}
const usualTime: WorkingTime = workingTime(usual)

const remembered = new WeakMap<Entity, { readonly time: WorkingTime; readonly withHolidays: boolean }>()

/** The working time that a calendar states; what cannot be read counts as usual. Remembered by entity. */
export function timeOf(calendar: Entity | undefined): WorkingTime {
  if (!calendar) return usualTime
  const known = remembered.get(calendar)
  if (known?.withHolidays === holidaysKnown()) return known.time
  const time = workingTime(workweekOf(calendar))
  remembered.set(calendar, { time, withHolidays: holidaysKnown() })
  return time
}

function workweekOf({ fields }: Entity): Workweek {
  const stated = readWeekdays(texts(fields['weekdays']).join(',')) ?? []
  const days: readonly string[] = stated.length > 0 ? stated : USUAL_DAYS
  const hours =
    (typeof fields['hours'] === 'string' ? readHours(fields['hours']) : undefined) ?? readHours(USUAL_HOURS) ?? []
  const week = WEEKDAYS.map((day) => (days.includes(day) ? hours : []))
  const others = new Map<number, Hours>()
  for (const text of texts(fields['exceptions'])) {
    const other = readOtherDays(text)
    for (let day = other?.from ?? 0; other && day <= Math.min(other.to, other.from + MOST_OFF); day++)
      others.set(day, other.hours)
  }
  const region = regionOf(fields['region'])
  const exception = (day: number) =>
    others.get(day) ?? (region !== '' && holiday(region, day) !== undefined ? [] : undefined)
  return week.some((one) => one.length > 0) ? { week, exception } : { ...usual, exception }
}

/** What a calendar states that cannot be read: each with its field, and what counts instead. */
export function unreadable({ fields }: Entity): { field: string; text: string; counts: string }[] {
  const found: { field: string; text: string; counts: string }[] = []
  const [weekdays, region, hours] = [texts(fields['weekdays']).join(', '), fields['region'], fields['hours']]
  if (weekdays !== '' && readWeekdays(weekdays) === undefined)
    found.push({ field: 'weekdays', text: weekdays, counts: 'as Monday to Friday' })
  if (typeof hours === 'string' && hours.trim() !== '' && readHours(hours) === undefined)
    found.push({ field: 'hours', text: hours, counts: `as ${USUAL_HOURS}` })
  if (typeof region === 'string' && region.trim() !== '' && regionOf(region) === '')
    found.push({ field: 'region', text: region, counts: 'as if there were no public holidays' })
  for (const text of texts(fields['exceptions']))
    if (readOtherDays(text) === undefined) found.push({ field: 'exceptions', text, counts: 'as if it were not there' })
  return found
}

/** Days that one exception may span. */
const MOST_OFF = 3660
const regionOf = (value: unknown): string => (typeof value === 'string' && isRegion(value.trim()) ? value.trim() : '')

function holiday(region: string, day: number): string | undefined {
  const date = dayOf(day)
  if (!isReckoned(date)) return undefined
  return publicHolidays(region, Number(date.slice(0, 4))).get(date)
}

/** The public holidays of a calendar’s region in some years, as other days: `2026-05-17 off Constitution Day`; those that the calendar states itself go before them. */
export function holidaysAsOtherDays({ fields }: Entity, years: readonly number[]): string[] {
  const region = regionOf(fields['region'])
  if (region === '') return []
  const stated = texts(fields['exceptions']).flatMap((text) => readOtherDays(text) ?? [])
  return years.flatMap((year) =>
    [...publicHolidays(region, year)]
      .filter(([day]) => !stated.some(({ from, to }) => from <= ordinal(day) && ordinal(day) <= to))
      .map(([day, name]) => `${day} off ${name}`),
  )
}

/** What a calendar says about a day that is no plain weekday: the holiday's name, or the exception's. */
export function dayName(calendar: Entity | undefined, day: number): string | undefined {
  for (const text of texts(calendar?.fields['exceptions'])) {
    const other = readOtherDays(text)
    if (other && other.from <= day && day <= other.to)
      return (
        other.name ||
        (other.hours.length === 0 ? 'off' : other.hours.map(([a, b]) => `${clock(a)}–${clock(b)}`).join(', '))
      )
  }
  const region = regionOf(calendar?.fields['region'])
  return region === '' ? undefined : holiday(region, day)
}
