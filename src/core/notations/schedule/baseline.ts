import type { Instant } from '../../calendar'
import type { Day, Entity, Id, Model } from '../../model'
import { drawnFinish, drawnStart } from './pictures/barRows'
import { instantOf, textOf, type Plan } from './plan'

/** A frozen copy of a plan's dates: spans as they are drawn, and the last of its finishes. */
export interface Baseline {
  readonly entity: Entity
  readonly spans: ReadonlyMap<Id, readonly [Instant, Instant]>
  readonly finishes: ReadonlyMap<Id, Instant>
  readonly instants: readonly Instant[]
  readonly finish: Instant
}

const remembered = new WeakMap<Plan, Baseline | null>()

/** The newest baseline of a plan that was taken by a day. O(its tasks). */
export function baselineOf(model: Model, plan: Plan, day: Day): Baseline | undefined {
  const known = remembered.get(plan)
  if (known !== undefined) return known ?? undefined
  const baselines = model
    .ofKind('baseline')
    .filter((entity) => textOf(entity, 'plan') === plan.plan?.id && (textOf(entity, 'taken') ?? '') <= day)
  const entity = baselines.reduce<Entity | undefined>(
    (latest, one) => (latest && (textOf(latest, 'taken') ?? '') > (textOf(one, 'taken') ?? '') ? latest : one),
    undefined,
  )
  const found = entity && read(model, plan, entity)
  remembered.set(plan, found ?? null)
  return found
}

function read(model: Model, plan: Plan, entity: Entity): Baseline {
  const spans = new Map<Id, readonly [Instant, Instant]>()
  const finishes = new Map<Id, Instant>()
  const instants: Instant[] = []
  for (const tie of model.leaving(entity.id, 'baselined')) {
    const work = plan.byId.get(tie.target)
    if (!work) continue
    const start = instantOf(textOf(tie, 'start'), work.time, 'start')
    const finish = instantOf(textOf(tie, 'finish'), work.time, 'finish')
    if (start === undefined || finish === undefined) continue
    const end = drawnFinish(finish, work.time)
    spans.set(tie.target, work.kind === 'milestone' ? [end, end] : [drawnStart(start, work.time), end])
    finishes.set(tie.target, finish)
    instants.push(start, finish)
  }
  return { entity, spans, finishes, instants, finish: Math.max(...finishes.values(), -Infinity) }
}

/** Working days by which the plan ends after its baseline; negative when before. */
export function slipOf(plan: Plan, { finish }: Baseline): number {
  if (finish === -Infinity) return 0
  return Math.round(plan.time.between(finish, plan.finish) / plan.time.pace.day)
}
