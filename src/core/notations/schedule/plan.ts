import { durationText, readDuration, readMoment, startOf, type Instant, type WorkingTime } from '../../calendar'
import { covers, type Day, type Entity, type Id, type Model, type Relation, type View } from '../../model'
import { timeOf } from './calendars'
import {
  CONSTRAINTS,
  criticalPath,
  LINK_TYPES,
  type Activity,
  type Constraint,
  type LinkType,
  type Network,
  type Precedence,
} from './criticalPath'

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

export interface Plan {
  readonly plan: Entity | undefined
  readonly calendar: Entity | undefined
  readonly time: WorkingTime
  readonly begin: Instant
  readonly status: Instant | undefined
  /** The last early finish. */
  readonly finish: Instant
  /** In the order of the outline. */
  readonly list: readonly Work[]
  readonly byId: ReadonlyMap<Id, Work>
  readonly roots: readonly Work[]
  readonly links: readonly Relation[]
  readonly circles: readonly (readonly Id[])[]
  /** Precedences that stated dates break. */
  readonly broken: readonly Relation[]
  /** What the dates were computed from; activities are the tasks and milestones of the list, in its order. */
  readonly stated: Network
}

const KINDS: readonly WorkKind[] = ['group', 'task', 'milestone']
const memory = new WeakMap<Model, Map<string, Plan>>()

/** The plan that a view shows: the one it names, else the first; none yet where it names nobody. */
export function planOf(model: Model, view: Pick<View, 'scope'> | undefined): Id | undefined {
  const named = view?.scope['plan']
  if (named === '') return undefined
  if (typeof named === 'string' && model.entities.get(named as Id)?.kind === 'plan') return named as Id
  return model.ofKind('plan')[0]?.id
}

export const planShown = (model: Model, view: Pick<View, 'scope'>, day: Day): Plan =>
  planOn(model, view.scope['plan'] === '' ? null : planOf(model, view), day)

/** All plans of a workspace; work that belongs to none counts as one of its own. */
export function plansOn(model: Model, day: Day): Plan[] {
  const stated = model.ofKind('plan').map(({ id }) => planOn(model, id, day))
  const loose = stated.length > 0 ? planOn(model, undefined, day) : undefined
  return stated.length === 0
    ? [planOn(model, undefined, day)]
    : loose && loose.list.length > 0
      ? [...stated, loose]
      : stated
}

/** O(facts + precedences · log days), remembered per model, plan and day. `null` is a plan that has nothing yet. */
export function planOn(model: Model, plan: Id | undefined | null, day: Day): Plan {
  const known = memory.get(model) ?? new Map<string, Plan>()
  memory.set(model, known)
  const key = `${plan ?? (plan === null ? '-' : '')} ${day}`
  const found = known.get(key) ?? build(model, plan, day, key)
  known.set(key, found)
  return found
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
  if (moment.timed) return at
  return end === 'start' ? time.opening(at) : time.closing(at + 1440)
}

type Draft = { -readonly [K in keyof Work]: Work[K] }

/** What a plan consists of and how it hangs together, before anything has a date. */
interface Frame {
  readonly entity: Entity | undefined
  readonly calendar: Entity | undefined
  readonly time: WorkingTime
  /** In the order of the outline: a group comes before what it holds. */
  readonly list: readonly Draft[]
  readonly links: readonly Relation[]
  readonly precedences: readonly (Precedence & { readonly link: Relation })[]
}

interface Latest {
  readonly model: Model
  readonly frame: Frame
}
/** The frame that each plan had last: as long as a change leaves it as it is, the next plan is made on it. */
const latest = new Map<string, Latest>()
const MOST_FRAMES = 8

function frameFor(model: Model, plan: Id | undefined | null, day: Day, key: string): Frame {
  const before = latest.get(key)
  const frame = (before && onSameFrame(before, model)) ?? frameOf(model, plan, day)
  latest.delete(key)
  latest.set(key, { model, frame })
  const [oldest] = latest.keys()
  if (latest.size > MOST_FRAMES && oldest !== undefined) latest.delete(oldest)
  return frame
}

const FRAMING = ['plan', 'group', 'order', 'calendar'] as const

/** The frame with the facts of another model, where nothing was added, removed, moved or linked meanwhile. O(facts), without looking into those that stayed. */
function onSameFrame({ model: before, frame }: Latest, model: Model): Frame | undefined {
  if (model.relations !== before.relations || model.entities.size !== before.entities.size) return undefined
  const changed = new Map<Id, Entity>()
  for (const entity of model.entities.values()) {
    const was = before.entities.get(entity.id)
    if (was === entity) continue
    if (!was || was.kind !== entity.kind || was.kind === 'plan' || was.kind === 'calendar') return undefined
    if (was.from !== entity.from || was.to !== entity.to) return undefined
    if (FRAMING.some((field) => was.fields[field] !== entity.fields[field])) return undefined
    changed.set(entity.id, entity)
  }
  const copies = new Map<Draft, Draft>()
  const list = frame.list.map((work) => {
    const parent = work.parent && copies.get(work.parent as Draft)
    const copy = placed(changed.get(work.id) ?? work.entity, work, parent)
    parent?.children.push(copy)
    if (work.kind === 'group') copies.set(work, copy)
    return copy
  })
  return { ...frame, list }
}

function frameOf(model: Model, plan: Id | undefined | null, day: Day): Frame {
  const entity = plan ? model.entities.get(plan) : undefined
  const calendar = calendarOf(model, entity)
  const time = timeOf(calendar)
  const list = plan === null ? [] : outlineOf(model, plan, day, time)
  const byId = new Map(list.map((work) => [work.id, work]))
  const links = model
    .relationsOfKind('precedes')
    .filter((link) => byId.has(link.source) && byId.has(link.target) && covers(link, day))
  for (const link of links) {
    byId.get(link.source)?.out.push(link)
    byId.get(link.target)?.into.push(link)
  }
  const index = new Map(list.filter(({ kind }) => kind !== 'group').map(({ id }, i) => [id, i]))
  const precedences: { from: number; to: number; type: LinkType; lag: number; link: Relation }[] = []
  for (const link of links) {
    const type = typeOfLink(link)
    const lag = readDuration(textOf(link, 'lag') ?? '', time.pace) ?? 0
    const [source, target] = [index.get(link.source), index.get(link.target)]
    if (source !== undefined && target !== undefined) precedences.push({ from: source, to: target, type, lag, link })
    // A link at a group holds for each of its tasks.
    else
      for (const before of leavesOf(byId.get(link.source)))
        for (const after of leavesOf(byId.get(link.target))) {
          const [from, to] = [index.get(before.id), index.get(after.id)]
          if (from !== undefined && to !== undefined) precedences.push({ from, to, type, lag, link })
        }
  }
  return { entity, calendar, time, list, links, precedences }
}

function build(model: Model, plan: Id | undefined | null, day: Day, key: string): Plan {
  const { entity, calendar, time, list, links, precedences } = frameFor(model, plan, day, key)
  const leaves = list.filter(({ kind }) => kind !== 'group')
  const begin =
    instantOf(textOf(entity ?? NOBODY, 'start'), time, 'start') ??
    earliestStated(leaves, time) ??
    time.opening(startOf(day))
  const status = instantOf(textOf(entity ?? NOBODY, 'status'), time, 'start')
  const stating = leaves.map((work) => activityOf(model, work))
  const stated: Network = { activities: stating, precedences, start: begin, status }
  const network = criticalPath(stated)
  leaves.forEach((work, i) => {
    work.duration = stating[i]?.duration ?? 0
    work.start = network.earlyStart[i] ?? begin
    work.finish = network.earlyFinish[i] ?? begin
    work.lateStart = network.lateStart[i] ?? begin
    work.lateFinish = network.lateFinish[i] ?? begin
    work.totalFloat = network.totalFloat[i] ?? 0
    work.freeFloat = network.freeFloat[i] ?? 0
    work.done = doneOf(work.entity)
    work.critical = work.totalFloat <= 0 && textOf(work.entity, 'actualFinish') === undefined
  })
  const byId = new Map<Id, Work>()
  for (const work of list) byId.set(work.id, work)
  for (const work of list.toReversed()) if (work.kind === 'group') rollUp(work, begin)
  return {
    plan: entity,
    calendar,
    time,
    begin,
    status,
    finish: network.finish,
    list,
    byId,
    roots: list.filter(({ parent }) => parent === undefined),
    links,
    circles: network.circles.map((circle) => circle.flatMap((i) => leaves[i]?.id ?? [])),
    broken: [...new Set(network.broken.flatMap((i) => precedences[i]?.link ?? []))],
    stated,
  }
}

const NOBODY: Entity = { id: '' as Id, kind: 'plan', name: '', fields: {} }

/** The calendar that a plan names, else the workspace's first. */
export function calendarOf(model: Model, plan: Entity | undefined): Entity | undefined {
  const named = plan && textOf(plan, 'calendar')
  return (named === undefined ? undefined : model.entities.get(named as Id)) ?? model.ofKind('calendar')[0]
}

export const typeOfLink = (link: Relation): LinkType => LINK_TYPES.find((type) => type === link.fields['type']) ?? 'FS'

function outlineOf(model: Model, plan: Id | undefined, day: Day, time: WorkingTime): Draft[] {
  const mine = KINDS.flatMap((kind) =>
    model.ofKind(kind).filter((entity) => textOf(entity, 'plan') === plan && covers(entity, day)),
  )
  const groups = new Set(mine.filter(({ kind }) => kind === 'group').map(({ id }) => id))
  const under = new Map<Id | undefined, Entity[]>()
  for (const entity of mine) {
    const named = textOf(entity, 'group') as Id | undefined
    const above = named !== undefined && groups.has(named) && named !== entity.id ? named : undefined
    const list = under.get(above)
    if (list) list.push(entity)
    else under.set(above, [entity])
  }
  for (const list of under.values())
    list.sort((a, b) => (numberOf(a, 'order') ?? Infinity) - (numberOf(b, 'order') ?? Infinity))
  const list: Draft[] = []
  const seen = new Set<Id>()
  const place = (above: Draft | undefined, siblings: readonly Entity[]) => {
    siblings.forEach((entity, i) => {
      if (seen.has(entity.id)) return
      seen.add(entity.id)
      const own = textOf(entity, 'calendar')
      const work = placed(
        entity,
        {
          number: above ? `${above.number}.${i + 1}` : String(i + 1),
          depth: above ? above.depth + 1 : 0,
          time: own === undefined ? time : timeOf(model.entities.get(own as Id)),
          into: [],
          out: [],
        },
        above,
      )
      list.push(work)
      above?.children.push(work)
      if (entity.kind === 'group') place(work, under.get(entity.id) ?? [])
    })
  }
  place(undefined, under.get(undefined) ?? [])
  // Groups within each other in a circle hang nowhere: their first one is taken for a root.
  for (const entity of mine) if (!seen.has(entity.id)) place(undefined, [entity])
  return list
}

const NO_CHILDREN: Work[] = []

/** A work in its place, without dates. */
const placed = (
  entity: Entity,
  { number, depth, time, into, out }: Pick<Work, 'number' | 'depth' | 'time' | 'into' | 'out'>,
  parent: Draft | undefined,
): Draft => ({
  id: entity.id,
  entity,
  kind: entity.kind as WorkKind,
  number,
  depth,
  parent,
  children: entity.kind === 'group' ? [] : NO_CHILDREN,
  time,
  duration: 0,
  start: 0,
  finish: 0,
  lateStart: 0,
  lateFinish: 0,
  totalFloat: 0,
  freeFloat: 0,
  critical: false,
  done: 0,
  into,
  out,
})

/** Tasks and milestones of a work: itself, or all that a group holds. */
export function leavesOf(work: Work | undefined): Work[] {
  if (!work) return []
  return work.kind === 'group' ? work.children.flatMap(leavesOf) : [work]
}

function earliestStated(leaves: readonly Draft[], time: WorkingTime): Instant | undefined {
  const stated = leaves.flatMap(({ entity }) =>
    ['actualStart', 'start', 'on'].flatMap((field) => instantOf(textOf(entity, field), time, 'start') ?? []),
  )
  return stated.length === 0 ? undefined : Math.min(...stated)
}

const durations = new WeakMap<Entity, { pace: number; minutes: number | undefined }>()

/** Working minutes that a task states: its duration, else what is likely, else a day; a milestone takes none. */
export function durationOf(model: Model, { entity, kind, time }: Pick<Work, 'entity' | 'kind' | 'time'>): number {
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

export const unitsOf = (tie: Relation): number => (typeof tie.fields['units'] === 'number' ? tie.fields['units'] : 1)

const doneOf = (entity: Entity): number =>
  textOf(entity, 'actualFinish') === undefined ? (numberOf(entity, 'percent') ?? 0) / 100 : 1

const activities = new WeakMap<Entity, Activity>()

/** What a task states for the network. Remembered by entity; where work is shared out, people are part of it, so then it is not. */
function activityOf(model: Model, work: Draft): Activity {
  const known = activities.get(work.entity)
  if (known && known.time === work.time) return known
  const stated = statedBy(model, work)
  if (work.entity.fields['work'] === undefined) activities.set(work.entity, stated)
  return stated
}

function statedBy(model: Model, work: Draft): Activity {
  const { entity, time } = work
  const duration = durationOf(model, work)
  const stated = textOf(entity, 'constraint')
  const constraint: Constraint = CONSTRAINTS.find((one) => one === stated) ?? 'as soon as possible'
  const ends = constraint === 'finish no later' || constraint === 'must finish'
  const on = instantOf(textOf(entity, 'on'), time, ends ? 'finish' : 'start')
  const [start, finish] = [
    instantOf(textOf(entity, 'start'), time, 'start'),
    instantOf(textOf(entity, 'finish'), time, 'finish'),
  ]
  const actualStart = instantOf(textOf(entity, 'actualStart'), time, 'start')
  const actualFinish = instantOf(textOf(entity, 'actualFinish'), time, 'finish')
  const left = readDuration(textOf(entity, 'remaining') ?? '', time.pace)
  const begun = actualStart ?? (actualFinish === undefined ? undefined : time.add(actualFinish, -duration))
  return {
    time,
    duration,
    constraint: on === undefined ? 'as soon as possible' : constraint,
    on,
    fixed:
      entity.fields['fixed'] === true && start !== undefined
        ? { start, finish: finish ?? time.add(start, duration) }
        : undefined,
    actualStart: begun,
    actualFinish,
    remaining: left ?? Math.round(duration * (1 - doneOf(entity))),
  }
}

function rollUp(group: Draft, begin: Instant): void {
  const { children } = group
  if (children.length === 0) {
    ;[group.start, group.finish, group.lateStart, group.lateFinish] = [begin, begin, begin, begin]
    return
  }
  let [start, finish, lateStart, lateFinish] = [Infinity, -Infinity, Infinity, -Infinity]
  let [work, done, float] = [0, 0, Infinity]
  for (const child of children) {
    start = Math.min(start, child.start)
    finish = Math.max(finish, child.finish)
    lateStart = Math.min(lateStart, child.lateStart)
    lateFinish = Math.max(lateFinish, child.lateFinish)
    float = Math.min(float, child.totalFloat)
    work += child.duration
    done += child.duration * child.done
  }
  const free = Math.min(...children.map(({ freeFloat }) => freeFloat))
  Object.assign(group, { start, finish, lateStart, lateFinish, totalFloat: float, freeFloat: free })
  group.duration = group.time.between(start, finish)
  group.done = work > 0 ? done / work : 0
  group.critical = children.some(({ critical }) => critical)
}

/** The calendar day on which work starts or finishes, or the minute where it is not the day's first or last. */
export function momentText(at: Instant, time: WorkingTime, end: 'start' | 'finish'): string {
  const day = Math.floor(at / 1440)
  const hours = time.hoursOn(day)
  const minute = at - day * 1440
  const [first, last] = [hours[0]?.[0], hours.at(-1)?.[1]]
  const whole = end === 'start' ? minute === first || minute === 0 : minute === last
  const date = new Date(day * 86_400_000).toISOString()
  if (whole) return date.slice(0, 10)
  // A milestone after a day's work falls at its end.
  if (end === 'start' && minute === last) return date.slice(0, 10)
  if (end === 'finish' && (minute === first || minute === 0)) return date.slice(0, 10)
  return new Date(at * 60_000).toISOString().slice(0, 16)
}

/** Working days of so many minutes, to a hundredth. */
export const inDays = (minutes: number, time: WorkingTime): number => Math.round((minutes / time.pace.day) * 100) / 100

/** A work's duration as it is stated, else as it comes out. */
export const durationWords = ({ entity, duration, time, kind }: Work): string =>
  kind === 'milestone'
    ? ''
    : ((kind === 'task' ? textOf(entity, 'duration') : undefined) ?? durationText(duration, time.pace))
