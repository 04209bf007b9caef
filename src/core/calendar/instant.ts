import { asDay, isDay, ordinal, type Day } from '../model'

/** A moment of a plan's own clock, in minutes since 1970-01-01T00:00. A plan has one clock, so there are no time zones. */
export type Instant = number

export const MINUTES_A_DAY = 1440

/** Midnight at which a day begins. */
export const startOf = (day: Day): Instant => ordinal(day) * MINUTES_A_DAY

/** Days since 1970-01-01 of the day that an instant lies in. */
export const dayNumber = (instant: Instant): number => Math.floor(instant / MINUTES_A_DAY)

/** Minutes since that day's midnight. */
export const minuteOfDay = (instant: Instant): number => instant - dayNumber(instant) * MINUTES_A_DAY

/** Working time is reckoned between these days: what lies beyond counts as the nearer of the two, so that one far date costs no more than another. */
export const HORIZON = { first: asDay('1900-01-01'), last: asDay('2199-12-31') } as const
const [EARLIEST, LATEST] = [startOf(HORIZON.first), startOf(HORIZON.last) + MINUTES_A_DAY]

export const withinHorizon = (at: Instant): Instant => Math.min(LATEST, Math.max(EARLIEST, at))
export const isReckoned = (day: Day): boolean => HORIZON.first <= day && day <= HORIZON.last

const MOMENT = /^(\d{4}-\d{2}-\d{2})(?:[T ](\d{2}):(\d{2}))?$/

/** Reads `2026-11-24` or `2026-11-24T13:00`; `timed` says which. Undefined for anything else. */
export function readMoment(text: string): { day: Day; minute: number; timed: boolean } | undefined {
  const [, day = '', hour, minute] = MOMENT.exec(text) ?? []
  if (!isDay(day)) return undefined
  if (hour === undefined || minute === undefined) return { day, minute: 0, timed: false }
  const total = Number(hour) * 60 + Number(minute)
  return Number(hour) < 24 && Number(minute) < 60 ? { day, minute: total, timed: true } : undefined
}

const two = (value: number): string => String(value).padStart(2, '0')

/** `08:30`. */
export const clock = (minute: number): string => `${two(Math.floor(minute / 60))}:${two(minute % 60)}`

/** `2026-11-24`. */
export const isoDay = (instant: Instant): Day =>
  new Date(dayNumber(instant) * 86_400_000).toISOString().slice(0, 10) as Day

/** `2026-11-24T13:00`. */
export const isoMinute = (instant: Instant): string => `${isoDay(instant)}T${clock(Math.round(minuteOfDay(instant)))}`
