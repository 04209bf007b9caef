import {
  durationText,
  readDuration,
  readMoment,
  startOf,
  withinHorizon,
  type Instant,
  type WorkingTime,
} from '../../calendar'
import { dayInWords, dayOf, type Entity, type Id, type Model, type Relation } from '../../model'
import { LINK_TYPES, type LinkType } from './terms'

export type WorkKind = 'task' | 'milestone' | 'group'

/** A task, milestone or group as it is stated, in its place in the plan. */
export interface StatedWork {
  readonly id: Id
  readonly entity: Entity
  readonly kind: WorkKind
  /** `2.3`: its place in the outline. */
  readonly number: string
  readonly depth: number
  readonly parent: StatedWork | undefined
  readonly children: readonly StatedWork[]
  readonly time: WorkingTime
  /** Precedences into it and out of it. */
  readonly into: readonly Relation[]
  readonly out: readonly Relation[]
}

/** The same with its dates, as they are reckoned. Instants in minutes, floats and durations in working minutes. */
export interface Work extends StatedWork {
  readonly parent: Work | undefined
  readonly children: readonly Work[]
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
export interface WorkInHand extends Mutable<Omit<Work, 'parent' | 'children' | 'into' | 'out'>> {
  readonly parent: WorkInHand | undefined
  readonly children: WorkInHand[]
  readonly into: Relation[]
  readonly out: Relation[]
}
type Mutable<T> = { -readonly [K in keyof T]: T[K] }

export const typeOfLink = (link: Relation): LinkType => LINK_TYPES.find((type) => type === link.fields['type']) ?? 'FS'

/** Tasks and milestones of a work: itself, or all that a group holds. */
export function leavesOf<W extends Parted<W>>(work: W | undefined): W[] {
  if (!work) return []
  return work.kind === 'group' ? work.children.flatMap((child) => leavesOf(child)) : [work]
}
interface Parted<W> {
  readonly kind: WorkKind
  readonly children: readonly W[]
}

export const unitsOf = (tie: Relation): number => (typeof tie.fields['units'] === 'number' ? tie.fields['units'] : 1)

const durations = new WeakMap<Entity, { pace: number; minutes: number | undefined }>()

/** Working minutes that a task states: its duration, else what is likely, else a day; a milestone takes none. */
export function durationOf(model: Model, { entity, kind, time }: Pick<StatedWork, 'entity' | 'kind' | 'time'>): number {
  if (kind !== 'task') return 0
  const known = durations.get(entity)
  if (known?.pace === time.pace.day && known.minutes !== undefined) return known.minutes
  const stated = textOf(entity, 'duration') ?? textOf(entity, 'likely')
  const minutes = stated === undefined ? undefined : readDuration(stated, time.pace)
  if (minutes !== undefined) {
    durations.set(entity, { pace: time.pace.day, minutes: Math.max(0, minutes) })
    return Math.max(0, minutes)
  }
  const work = readDuration(textOf(entity, 'work') ?? '', time.pace)
  if (work === undefined) return time.pace.day
  const units = model.reaching(entity.id, 'assigned').reduce((sum, tie) => sum + unitsOf(tie), 0)
  return Math.max(0, Math.round(work / (units || 1)))
}

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

/** When work on it starts or finishes, in words. */
export const dayWords = (work: Work | undefined, end: 'start' | 'finish'): string =>
  work ? inWords(momentText(work[end], work.time, end)) : '–'
export const atEnd = (plan: { readonly finish: Instant; readonly time: WorkingTime }): string =>
  inWords(momentText(plan.finish, plan.time, 'finish'))

/** `24 Nov 2026`, with its time where it has one. */
export const inWords = (moment: string): string => {
  const [day = '', time] = moment.split('T')
  return time === undefined ? dayInWords(day as never) : `${dayInWords(day as never)}, ${time}`
}

/** Working days of so many minutes, to a hundredth. */
export const inDays = (minutes: number, time: WorkingTime): number => Math.round((minutes / time.pace.day) * 100) / 100

/** A work's duration as it is stated, else as it comes out. */
export const durationWords = ({ entity, duration, time, kind }: Work): string =>
  kind === 'milestone'
    ? ''
    : ((kind === 'task' ? textOf(entity, 'duration') : undefined) ?? durationText(duration, time.pace))
