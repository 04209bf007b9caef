import { readDuration, readMoment, startOf, withinHorizon, type Instant, type WorkingTime } from '../../calendar'
import { Recall, type Day, type Entity, type Id, type Model, type Relation, type View } from '../../model'
import { criticalPath, type Activity, type Network } from './criticalPath'
import { keyOf, scopeOf, workInHand, type StatedPlan } from './frame'
import { CONSTRAINTS, type Constraint } from './terms'
import { durationOf, instantOf, numberOf, textOf, type WorkInHand, type Work } from './work'

export { calendarOf, planOf } from './frame'
export * from './work'

/** What a plan states, with the dates that follow from it. */
export interface Plan extends StatedPlan {
  readonly begin: Instant
  readonly status: Instant | undefined
  /** The last early finish. */
  readonly finish: Instant
  readonly list: readonly Work[]
  readonly byId: ReadonlyMap<Id, Work>
  readonly roots: readonly Work[]
  readonly circles: readonly (readonly Id[])[]
  /** Precedences that stated dates break. */
  readonly broken: readonly Relation[]
  /** What the dates were computed from; activities are the tasks and milestones of the list, in its order. */
  readonly stated: Network
}

const memory = new Recall<Plan>()

export const planShown = (model: Model, view: Pick<View, 'scope'>, day: Day): Plan =>
  planOn(model, scopeOf(model, view), day)

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
export const planOn = (model: Model, plan: Id | undefined | null, day: Day): Plan =>
  memory.of(model, keyOf(plan, day), () => reckoned(model, plan, day))

function reckoned(model: Model, plan: Id | undefined | null, day: Day): Plan {
  const frame = workInHand(model, plan, day)
  const { plan: entity, time, list, precedences } = frame
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
  for (const work of list.toReversed()) if (work.kind === 'group') rollUp(work, begin)
  return {
    ...frame,
    begin,
    status,
    finish: network.finish,
    circles: network.circles.map((circle) => circle.flatMap((i) => leaves[i]?.id ?? [])),
    broken: [...new Set(network.broken.flatMap((i) => precedences[i]?.link ?? []))],
    stated,
  }
}

const NOBODY: Entity = { id: '' as Id, kind: 'plan', name: '', fields: {} }

function earliestStated(leaves: readonly WorkInHand[], time: WorkingTime): Instant | undefined {
  const stated = leaves.flatMap(({ entity }) =>
    ['actualStart', 'start', 'on'].flatMap((field) => instantOf(textOf(entity, field), time, 'start') ?? []),
  )
  return stated.length === 0 ? undefined : Math.min(...stated)
}

const doneOf = (entity: Entity): number =>
  textOf(entity, 'actualFinish') === undefined ? (numberOf(entity, 'percent') ?? 0) / 100 : 1

const activities = new WeakMap<Entity, Activity>()

/** What a task states for the network. Remembered by entity; where work is shared out, people are part of it, so then it is not. */
function activityOf(model: Model, work: WorkInHand): Activity {
  const known = activities.get(work.entity)
  if (known && known.time === work.time) return known
  const stated = statedBy(model, work)
  if (work.entity.fields['work'] === undefined) activities.set(work.entity, stated)
  return stated
}

function statedBy(model: Model, work: WorkInHand): Activity {
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
        ? fixedTo(entity, start, finish, time, duration)
        : undefined,
    actualStart: begun,
    actualFinish,
    remaining: left ?? Math.round(duration * (1 - doneOf(entity))),
  }
}

/** The dates that are stated; on days on which nobody works, those days all the same. */
function fixedTo(
  entity: Entity,
  start: Instant,
  finish: Instant | undefined,
  time: WorkingTime,
  duration: number,
): { start: Instant; finish: Instant } {
  if (finish === undefined) return { start, finish: time.add(start, duration) }
  if (start <= finish) return { start, finish }
  const [from, to] = [readMoment(textOf(entity, 'start') ?? ''), readMoment(textOf(entity, 'finish') ?? '')]
  if (!from || !to || to.day < from.day) return { start, finish }
  const at = ({ day, minute, timed }: typeof from, end: number) => withinHorizon(startOf(day) + (timed ? minute : end))
  return { start: at(from, 0), finish: at(to, 1440) }
}

function rollUp(group: WorkInHand, begin: Instant): void {
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
