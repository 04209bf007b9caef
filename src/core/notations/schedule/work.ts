import { durationText, readMoment, startOf, withinHorizon, type Instant, type WorkingTime } from '../../calendar'
import { dayOf, type Entity, type Id, type Relation } from '../../model'
import { LINK_TYPES, type LinkType } from './criticalPath'

export type WorkKind = 'task' | 'milestone' | 'group'

/** A task, milestone or group in its place, with its dates. Instants in minutes, floats and durations in working minutes. */
export interface Work {
  readonly id: Id
  readonly entity: Entity
  readonly kind: WorkKind
  /** `2.3`: its place in the outline. */
  readonly number: string
  readonly depth: number
  readonly parent: Work | undefined
  readonly children: Work[]
  readonly time: WorkingTime
  readonly duration: number
  readonly start: Instant
  readonly finish: Instant
  readonly lateStart: Instant
  readonly lateFinish: Instant
  readonly totalFloat: number
  readonly freeFloat: number
  readonly critical: boolean
  /** Done, in parts of one; of a group by the working time of its tasks. */
  readonly done: number
  /** Precedences into it and out of it, as they are stated. */
  readonly into: Relation[]
  readonly out: Relation[]
}

export const numberOf = (entity: Entity, field: string): number | undefined => {
  const value = entity.fields[field]
  return typeof value === 'number' ? value : undefined
}
export const textOf = (entity: Entity | Relation, field: string): string | undefined => {
  const value = entity.fields[field]
  return typeof value === 'string' && value !== '' ? value : undefined
}

/** A moment as the beginning of work on it, or as its end. */
export function instantOf(text: string | undefined, time: WorkingTime, end: 'start' | 'finish'): Instant | undefined {
  const moment = text === undefined ? undefined : readMoment(text)
  if (!moment) return undefined
  const at = startOf(moment.day) + moment.minute
  if (moment.timed) return withinHorizon(at)
  return end === 'start' ? time.opening(at) : time.closing(at + 1440)
}

/** A work while its dates are reckoned. */
export type WorkInHand = { -readonly [K in keyof Work]: Work[K] }

export const typeOfLink = (link: Relation): LinkType => LINK_TYPES.find((type) => type === link.fields['type']) ?? 'FS'

/** Tasks and milestones of a work: itself, or all that a group holds. */
export function leavesOf(work: Work | undefined): Work[] {
  if (!work) return []
  return work.kind === 'group' ? work.children.flatMap(leavesOf) : [work]
}

export const unitsOf = (tie: Relation): number => (typeof tie.fields['units'] === 'number' ? tie.fields['units'] : 1)

/** The calendar day on which work starts or finishes, or the minute where it is not the day's first or last. */
export function momentText(at: Instant, time: WorkingTime, end: 'start' | 'finish'): string {
  const day = Math.floor(at / 1440)
  const hours = time.hoursOn(day)
  const minute = at - day * 1440
  const [first, last] = [hours[0]?.[0], hours.at(-1)?.[1]]
  const whole = end === 'start' ? minute === first || minute === 0 : minute === last
  const date = dayOf(day)
  if (whole) return date
  // A milestone after a day's work falls at its end.
  if (end === 'start' && minute === last) return date
  // What ends at midnight ends with the day before, where nobody works on that day.
  if (end === 'finish' && minute === 0 && time.hoursOn(day - 1).length === 0 && first !== 0) return dayOf(day - 1)
  if (end === 'finish' && (minute === first || minute === 0)) return date
  return new Date(at * 60_000).toISOString().slice(0, 16)
}

/** Working days of so many minutes, to a hundredth. */
export const inDays = (minutes: number, time: WorkingTime): number => Math.round((minutes / time.pace.day) * 100) / 100

/** A work's duration as it is stated, else as it comes out. */
export const durationWords = ({ entity, duration, time, kind }: Work): string =>
  kind === 'milestone'
    ? ''
    : ((kind === 'task' ? textOf(entity, 'duration') : undefined) ?? durationText(duration, time.pace))
