import { dayOf, isDay, ordinal, type Day } from '../model'
import type { HolidayList } from './holidayList'

/** Where the days come from: said wherever they count, since a list that somebody keeps may be wrong. */
export const HOLIDAY_SOURCE = 'the open list date-holidays'

let list: HolidayList | undefined

/** Whether days can be known to be holidays: what was reckoned before is reckoned anew. */
export const holidaysKnown = (): boolean => list !== undefined

/** From now on this list counts. */
export function provideHolidays(provided: HolidayList): void {
  list = provided
  remembered.clear()
  regions.clear()
}

/** Loads the list that is shipped, unless it is there; undefined when it is. Until then no day is a holiday. */
export const loadHolidays = (): Promise<unknown> | undefined =>
  list ? undefined : import('./holidayList').then(({ shipped }) => provideHolidays(shipped))

const MS_PER_DAY = 86_400_000
const remembered = new Map<string, ReadonlyMap<Day, string>>()
/** Years of regions that are kept: those of one far plan, and some. */
const MOST_REMEMBERED = 2000

const regions = new Map<string, boolean>()
const MOST_REGIONS = 1000

/** A country, or a part of it: `NO`, `GB-SCT`. */
export function isRegion(text: string): boolean {
  const known = regions.get(text) ?? looksUp(text)
  if (list && regions.size < MOST_REGIONS) regions.set(text, known)
  return known
}

function looksUp(text: string): boolean {
  const [country = '', state] = text.toUpperCase().split('-')
  return list ? list.hasRegion(country, state) : /^[A-Z]{2}$/.test(country)
}

/** Public holidays of a year by day, with their names, as npm date-holidays has them. Remembered by region and year. */
export function publicHolidays(region: string, year: number): ReadonlyMap<Day, string> {
  const key = `${region} ${year}`
  const known = remembered.get(key)
  if (known) return known
  const days = new Map<Day, string>()
  if (!list) return days
  const [country = '', state] = region.toUpperCase().split('-')
  for (const { date, start, end, type, name } of list.holidaysOf(country, state, year)) {
    if (type !== 'public') continue
    const day = date.slice(0, 10)
    if (!isDay(day)) continue
    const length = Math.max(1, Math.round((end.getTime() - start.getTime()) / MS_PER_DAY))
    for (let i = 0; i < length; i++) days.set(dayOf(ordinal(day) + i), name)
  }
  remembered.set(key, days)
  const [oldest] = remembered.keys()
  if (remembered.size > MOST_REMEMBERED && oldest !== undefined) remembered.delete(oldest)
  return days
}
