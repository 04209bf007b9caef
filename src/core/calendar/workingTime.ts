import { ordinal } from '../model'
import { dayNumber, HORIZON, MINUTES_A_DAY, minuteOfDay, withinHorizon, type Instant } from './instant'
import type { Pace } from './duration'

/** Working hours of a day as spans of minutes since midnight, in order and apart from each other. */
export type Hours = readonly (readonly [from: number, to: number])[]

/** When work is done: hours by weekday, Monday first, and other hours on some days, asked for by their number since 1970-01-01. */
export interface Workweek {
  readonly week: readonly Hours[]
  readonly exception: (day: number) => Hours | undefined
}

/** Reckons in working time. All answers are exact to the minute; each takes O(log days) once its years were looked at. */
export interface WorkingTime {
  readonly pace: Pace
  /** The first instant from this one on at which work can begin. */
  readonly opening: (at: Instant) => Instant
  /** The last instant up to this one at which work can end. */
  readonly closing: (at: Instant) => Instant
  /** The first instant at which so many minutes have been worked since; of a negative number, the last at which they still have to be. */
  readonly add: (at: Instant, minutes: number) => Instant
  /** Minutes worked between two instants, negative when the second is earlier. */
  readonly between: (from: Instant, to: Instant) => number
  readonly worksOn: (day: number) => boolean
  readonly hoursOn: (day: number) => Hours
}

const total = (hours: Hours): number => hours.reduce((sum, [from, to]) => sum + to - from, 0)
const NONE: Hours = []
/** Days that are looked at ahead and behind at once. */
const STRETCH = 400
/** Whole days of the horizon: none beyond is ever looked at. */
const [FIRST_DAY, AFTER_LAST] = [ordinal(HORIZON.first), ordinal(HORIZON.last) + 1]

/**
 * @throws RangeError when no weekday has working hours.
 */
export function workingTime({ week, exception }: Workweek): WorkingTime {
  const lengths = week.map(total)
  const weekly = lengths.reduce((sum, length) => sum + length, 0)
  if (weekly === 0) throw new RangeError('a calendar needs a weekday with working hours')
  const working = lengths.filter((length) => length > 0)
  const pace = { day: Math.round(weekly / working.length), week: weekly }

  // 1970-01-01 was a Thursday.
  const hoursOn = (day: number): Hours => exception(day) ?? week[(((day + 3) % 7) + 7) % 7] ?? NONE

  /** Minutes worked from `first` to the beginning of each day after it. */
  let first = 0
  let sums = new Float64Array([0])
  let hours: Hours[] = []
  function cover(from: number, to: number): void {
    const last = first + sums.length - 1
    if (sums.length > 1 && from >= first && to <= last) return
    const [wanted, until] = [Math.max(FIRST_DAY, from - STRETCH), Math.min(AFTER_LAST, to + STRETCH)]
    const [low, high] = sums.length > 1 ? [Math.min(first, wanted), Math.max(last, until)] : [wanted, until]
    if (sums.length > 1 && low === first && high === last) return
    first = low
    sums = new Float64Array(high - low + 1)
    hours = new Array<Hours>(high - low)
    for (let day = low; day < high; day++) {
      const worked = hoursOn(day)
      hours[day - low] = worked
      sums[day - low + 1] = (sums[day - low] ?? 0) + total(worked)
    }
  }

  /** Minutes worked since the beginning of day `first`. */
  function offset(at: Instant): number {
    const day = dayNumber(at)
    const minute = minuteOfDay(at)
    let worked = sums[day - first] ?? 0
    for (const [from, to] of hours[day - first] ?? NONE) {
      if (minute <= from) break
      worked += Math.min(minute, to) - from
    }
    return worked
  }

  /** The first day at whose end more than (or, with `reach`, at least) so many minutes have been worked. */
  function dayAt(worked: number, reach: boolean): number {
    let [low, high] = [0, sums.length - 1]
    while (low < high) {
      const middle = (low + high) >> 1
      const sum = sums[middle + 1] ?? Infinity
      if (reach ? sum >= worked : sum > worked) high = middle
      else low = middle + 1
    }
    return first + low
  }

  /** The last instant up to which so many minutes have been worked: where the next one begins. */
  function opensAt(worked: number): Instant {
    const day = dayAt(worked, false)
    let rest = worked - (sums[day - first] ?? 0)
    for (const [from, to] of hours[day - first] ?? NONE) {
      if (rest < to - from) return day * MINUTES_A_DAY + from + rest
      rest -= to - from
    }
    return day * MINUTES_A_DAY
  }

  /** The first instant at which so many minutes have been worked: where the last one ended. */
  function closesAt(worked: number): Instant {
    const day = dayAt(worked, true)
    let rest = worked - (sums[day - first] ?? 0)
    for (const [from, to] of hours[day - first] ?? NONE) {
      if (rest <= to - from) return day * MINUTES_A_DAY + from + rest
      rest -= to - from
    }
    return day * MINUTES_A_DAY
  }

  /** Minutes worked by an instant, and so many more, once the days up to there are looked at: work has been done before, and is left after. */
  function reckoned(instant: Instant, minutes: number): number {
    const at = withinHorizon(instant)
    const day = dayNumber(at)
    if (day <= first || day >= first + sums.length - 2) cover(day - 7, day + 7)
    for (let more = STRETCH; ; more *= 2) {
      const goal = offset(at) + minutes
      const total = sums.at(-1) ?? 0
      if (goal > 0 && goal < total) return goal
      const last = first + sums.length - 1
      // At the end of the horizon there is no more time to be had: it ends there.
      if (goal <= 0 && first === FIRST_DAY) return 0
      if (goal > 0 && last === AFTER_LAST) return total
      cover(goal <= 0 ? first - more : first, first + sums.length - 1 + (goal > 0 ? more : 0))
    }
  }

  return {
    pace,
    hoursOn,
    worksOn: (day) => hoursOn(day).length > 0,
    opening: (at) => opensAt(reckoned(at, 0)),
    closing: (at) => closesAt(reckoned(at, 0)),
    add: (at, minutes) => {
      if (minutes === 0) return at
      const goal = reckoned(at, minutes)
      return minutes > 0 ? closesAt(goal) : opensAt(goal)
    },
    between: (start, end) => {
      if (start === end) return 0
      const [from, to] = [withinHorizon(start), withinHorizon(end)]
      cover(Math.min(dayNumber(from), dayNumber(to)) - 1, Math.max(dayNumber(from), dayNumber(to)) + 1)
      return offset(to) - offset(from)
    },
  }
}
