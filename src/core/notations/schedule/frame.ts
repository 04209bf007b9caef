import { readDuration, type WorkingTime } from '../../calendar'
import {
  grouped,
  covers,
  Succession,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
  type View,
} from '../../model'
import { timeOf } from './calendars'
import { plans } from './kinds'
import type { Precedence } from './terms'
import { leavesOf, numberOf, textOf, typeOfLink, type StatedWork, type WorkInHand, type WorkKind } from './work'

const KINDS: readonly WorkKind[] = ['group', 'task', 'milestone']

/** What a plan consists of and how it hangs together: all that is stated, without any date that follows from it. */
export interface StatedPlan {
  readonly plan: Entity | undefined
  readonly calendar: Entity | undefined
  readonly time: WorkingTime
  /** In the order of the outline: a group comes before what it holds. */
  readonly list: readonly StatedWork[]
  readonly byId: ReadonlyMap<Id, StatedWork>
  readonly roots: readonly StatedWork[]
  readonly links: readonly Relation[]
}

/** The same while its dates are reckoned. */
interface Frame extends StatedPlan {
  readonly list: readonly WorkInHand[]
  readonly byId: ReadonlyMap<Id, WorkInHand>
  readonly roots: readonly WorkInHand[]
  /** By the index of tasks and milestones in the list. */
  readonly precedences: readonly (Precedence & { readonly link: Relation })[]
}

export const planOf = plans.of

/** The plan that a work belongs to, whatever the view shows. */
export const planOfWork = (model: Model, id: Id): Id | undefined => {
  const stated = model.entities.get(id)?.fields['plan']
  return typeof stated === 'string' ? (stated as Id) : undefined
}

/** The plan that a view shows: `undefined` is all work that belongs to none, `null` a plan that has nothing yet. */
export const scopeOf = (model: Model, view: Pick<View, 'scope'>): Id | undefined | null =>
  plans.isBlank(view) ? null : planOf(model, view)

export const statedIn = (model: Model, view: Pick<View, 'scope'>, day: Day): StatedPlan =>
  statedOn(model, scopeOf(model, view), day)

/** O(facts + precedences), remembered per model, plan and day. */
export const statedOn = (model: Model, plan: Id | undefined | null, day: Day): StatedPlan =>
  workInHand(model, plan, day)

export const keyOf = (plan: Id | undefined | null, day: Day): string => `${plan ?? (plan === null ? '-' : '')} ${day}`

/** As long as a change leaves the frame of a plan as it is, the next plan is made on it. */
const memory = new Succession<Frame>(8)

export const workInHand = (model: Model, plan: Id | undefined | null, day: Day): Frame =>
  memory.of(
    model,
    keyOf(plan, day),
    (before, frame) => onSameFrame(before, frame, model),
    () => frameOf(model, plan, day),
  )

const FRAMING = ['plan', 'group', 'order', 'calendar'] as const

/** The frame with the facts of another model, where nothing was added, removed, moved or linked meanwhile. O(facts), without looking into those that stayed. */
function onSameFrame(before: Model, frame: Frame, model: Model): Frame | undefined {
  if (model.relations !== before.relations || model.entities.size !== before.entities.size) return undefined
  if (timeOf(frame.calendar) !== frame.time) return undefined
  const changed = new Map<Id, Entity>()
  for (const entity of model.entities.values()) {
    const was = before.entities.get(entity.id)
    if (was === entity) continue
    if (!was || was.kind !== entity.kind || was.kind === 'plan' || was.kind === 'calendar') return undefined
    if (was.from !== entity.from || was.to !== entity.to) return undefined
    if (FRAMING.some((field) => was.fields[field] !== entity.fields[field])) return undefined
    changed.set(entity.id, entity)
  }
  const copies = new Map<WorkInHand, WorkInHand>()
  const list = frame.list.map((work) => {
    const parent = work.parent && copies.get(work.parent)
    const copy = placed(changed.get(work.id) ?? work.entity, work, parent)
    parent?.children.push(copy)
    if (work.kind === 'group') copies.set(work, copy)
    return copy
  })
  return { ...frame, ...hanging(list) }
}

const hanging = (list: readonly WorkInHand[]): Pick<Frame, 'list' | 'byId' | 'roots'> => ({
  list,
  byId: new Map(list.map((work) => [work.id, work])),
  roots: list.filter(({ parent }) => parent === undefined),
})

function frameOf(model: Model, plan: Id | undefined | null, day: Day): Frame {
  const entity = plan ? model.entities.get(plan) : undefined
  const calendar = calendarOf(model, entity)
  const time = timeOf(calendar)
  const { list, byId, roots } = hanging(plan === null ? [] : outlineOf(model, plan, day, time))
  const links = model
    .relationsOfKind('precedes')
    .filter((link) => byId.has(link.source) && byId.has(link.target) && covers(link, day))
  for (const link of links) {
    byId.get(link.source)?.out.push(link)
    byId.get(link.target)?.into.push(link)
  }
  const index = new Map(list.filter(({ kind }) => kind !== 'group').map(({ id }, i) => [id, i]))
  const precedences: (Precedence & { readonly link: Relation })[] = []
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
  return { plan: entity, calendar, time, list, byId, roots, links, precedences }
}

/** The calendar that a plan names, else the workspace's first. */
export function calendarOf(model: Model, plan: Entity | undefined): Entity | undefined {
  const named = plan && textOf(plan, 'calendar')
  return (named === undefined ? undefined : model.entities.get(named as Id)) ?? model.ofKind('calendar')[0]
}

function outlineOf(model: Model, plan: Id | undefined, day: Day, time: WorkingTime): WorkInHand[] {
  const mine = KINDS.flatMap((kind) =>
    model.ofKind(kind).filter((entity) => textOf(entity, 'plan') === plan && covers(entity, day)),
  )
  const groups = new Set(mine.filter(({ kind }) => kind === 'group').map(({ id }) => id))
  const under = grouped(mine, (entity): Id | undefined => {
    const named = textOf(entity, 'group') as Id | undefined
    return named !== undefined && groups.has(named) && named !== entity.id ? named : undefined
  })
  for (const list of under.values())
    list.sort((a, b) => (numberOf(a, 'order') ?? Infinity) - (numberOf(b, 'order') ?? Infinity))
  const list: WorkInHand[] = []
  const seen = new Set<Id>()
  const place = (above: WorkInHand | undefined, siblings: readonly Entity[]) => {
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

const NO_CHILDREN: WorkInHand[] = []

/** A work in its place, without dates. */
const placed = (
  entity: Entity,
  { number, depth, time, into, out }: Pick<WorkInHand, 'number' | 'depth' | 'time' | 'into' | 'out'>,
  parent: WorkInHand | undefined,
): WorkInHand => ({
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
