import { reach } from '../../graph/reach'
import {
  isoDay,
  isoMinute,
  isReckonable,
  minuteOfDay,
  tidyDuration,
  type Instant,
  type WorkingTime,
} from '../../calendar'
import { cut, type Entity, type Fields, type Id, type Model, type Relation, type Step } from '../../model'
import {
  tooLongName,
  tie,
  setRelation,
  removeRelation,
  removal,
  asKind,
  addEntity,
  calledKey,
  oneCalled,
  tooLong,
  type Refusal,
  type Wish,
} from '../../notation'
import { plans } from './kinds'
import { shareWords, type TypedShare } from './shares'
import { planOf, statedIn, type StatedPlan } from './frame'
import type { StatedWork, WorkKind } from './work'

/** Steps that several actions share. None of them writes: they say what would have to be written. */

/** What the plan of a wish states. */
export const planIn = ({ model, view, day }: Pick<Wish, 'model' | 'view' | 'day'>): StatedPlan =>
  statedIn(model, view, day)

/** The plan that a wish is about, made where there is none yet. */
export function planFor(wish: Wish): { readonly id: Id | undefined; readonly steps: readonly Step[] } {
  const { model, view, day } = wish
  // Work that belongs to no plan is a plan of its own.
  const isLoose = planOf(model, view) === undefined && !plans.isBlank(view) && planIn(wish).list.length > 0
  return isLoose ? { id: undefined, steps: [] } : plans.forWish(wish, { start: day })
}

export const newWork = (
  id: Id,
  kind: WorkKind,
  name: string,
  plan: Id | undefined,
  group: Id | undefined,
  order: number,
  fields: Fields = {},
): Entity => ({
  id,
  kind,
  name,
  fields: { ...fields, ...(plan ? { plan } : {}), ...(group ? { group } : {}), order },
})

/** What a work keeps when it becomes one of another kind. */
const KEEPS = new Set('plan group order note alt link deadline constraint on actualStart actualFinish'.split(' '))
export const kindSteps = ({ entity }: Pick<StatedWork, 'entity'>, kind: WorkKind): Step[] =>
  asKind(entity, kind, (field) => KEEPS.has(field))

export const entitiesOf = (works: readonly StatedWork[]): readonly Entity[] => works.map(({ entity }) => entity)

export const siblingsOf = (plan: StatedPlan, work: StatedWork): readonly StatedWork[] =>
  work.parent?.children ?? plan.roots

/** Takes a work, and all below it, out of the plan with its ties. What came before it then comes before what came after. */
export function removeSteps(model: Model, work: StatedWork, newId: () => Id): Step[] {
  const all = [work, ...below(work)]
  const healed =
    work.kind === 'group'
      ? []
      : work.into.flatMap((before) =>
          work.out
            .filter((after) => before.source !== after.target)
            .filter((after) => !model.leaving(before.source, 'precedes').some(({ target }) => target === after.target))
            .map((after) => linkStep(newId(), before.source, after.target, {})),
        )
  return [...removal(model, ...all.map(({ id }) => id)), ...healed]
}

export const below = (work: StatedWork): StatedWork[] => work.children.flatMap((child) => [child, ...below(child)])

export const linkStep = (id: Id, source: Id, target: Id, fields: Fields): Step =>
  tie(id, 'precedes', source, target, fields)

/** A moment as it is kept: a day where it is the first or last minute of one’s work, else with its minute. */
export function momentOf(at: Instant, time: WorkingTime, end: 'start' | 'finish'): string {
  const hours = time.hoursOn(Math.floor(at / 1440))
  const edge = end === 'start' ? hours[0]?.[0] : hours.at(-1)?.[1]
  return minuteOfDay(at) === edge ? isoDay(at) : isoMinute(at)
}

/** Who can be given work, those first who are looked for first. */
const WORKERS = ['person', 'role', 'position'] as const

export const workersOf = (model: Model, work: Id): { tie: Relation; worker: Entity }[] =>
  model.reaching(work, 'assigned').flatMap((tie) => {
    const worker = model.entities.get(tie.source)
    return worker ? [{ tie, worker }] : []
  })

/** `Refunds clerk 50 %`. */
export const sharedWords = ({ name }: Entity, { fields }: Relation): string =>
  shareWords({ name, units: typeof fields['units'] === 'number' ? fields['units'] : undefined })

/** `Lio Carrick, Refunds clerk 50 %`. */
export const workerWords = (model: Model, work: Id): string =>
  workersOf(model, work)
    .map(({ tie: one, worker }) => sharedWords(worker, one))
    .join(', ')

/** Why it cannot be told who is named; nobody where it can. */
export const unclearWorker = (
  wish: Pick<Wish, 'model' | 'day'>,
  work: Id,
  shares: readonly TypedShare[],
): Refusal | undefined =>
  shares
    .map(({ name }) => oneCalled(wish, WORKERS, name, isWorkerOf(wish.model, work)))
    .find((one): one is Refusal => one !== undefined && 'refused' in one)

const isWorkerOf = (model: Model, work: Id): ((id: Id) => boolean) => {
  const workers = new Set(workersOf(model, work).map(({ worker }) => worker.id))
  return (id) => workers.has(id)
}

/** Assigns those named to new work. `made` holds those who were made for it before. */
export function assignNew(
  wish: Pick<Wish, 'model' | 'day' | 'newId'>,
  work: Id,
  shares: readonly TypedShare[],
  made: Map<string, Id>,
): Step[] | Refusal {
  const steps: Step[] = []
  for (const { name, units } of shares) {
    const key = calledKey('person', name)
    const called = made.has(key) ? undefined : oneCalled(wish, WORKERS, name)
    if (called && 'refused' in called) return called
    const known = made.get(key) ?? called?.id
    const id = known ?? wish.newId()
    made.set(key, id)
    if (!known) steps.push(addEntity({ id, kind: 'person', name: name.slice(0, 400), fields: {} }))
    steps.push(tie(wish.newId(), 'assigned', id, work, units === undefined ? {} : { units }))
  }
  return steps
}

/** Assigns those named, made as people where nobody is called so, and takes the others off. */
export function assignSteps(
  wish: Pick<Wish, 'model' | 'day' | 'newId'>,
  work: Id,
  shares: readonly TypedShare[],
): Step[] | Refusal {
  const { model, newId } = wish
  const now = workersOf(model, work)
  const steps: Step[] = []
  const kept = new Set<Id>()
  for (const { name, units } of shares) {
    const tooLong = tooLongName(name)
    if (tooLong) return tooLong
    const worker = oneCalled(wish, WORKERS, name, isWorkerOf(model, work))
    if (worker && 'refused' in worker) return worker
    const there = now.find((one) => one.worker.id === worker?.id)
    if (there) {
      kept.add(there.tie.id)
      if ((there.tie.fields['units'] ?? 1) !== (units ?? 1))
        steps.push(setRelation(there.tie.id, 'fields.units', units ?? null))
      continue
    }
    const id = worker?.id ?? newId()
    if (!worker) steps.push(addEntity({ id, kind: 'person', name, fields: {} }))
    steps.push(tie(newId(), 'assigned', id, work, units === undefined ? {} : { units }))
  }
  for (const there of now) if (!kept.has(there.tie.id)) steps.push(removeRelation(there.tie.id))
  return steps
}

/** Whether `before` already follows `after`, so that a link would close a circle. O(links). */
export const follows = (model: Model, before: Id, after: Id): boolean =>
  before !== after && reach([before], (id) => model.leaving(id, 'precedes').map(({ target }) => target)).has(after)

/** A duration as typed, or why it is none. */
export function readTypedDuration(text: string): { duration: string } | { refused: string } {
  const duration = tidyDuration(text)
  if (duration === undefined || duration.startsWith('-'))
    return { refused: `“${cut(text, 40)}” is no working time. Write 5d, 4h, 30min or 2w.` }
  if (!isReckonable(duration)) return { refused: tooLong('A duration', text) }
  return { duration }
}

export const named = (work: Pick<StatedWork, 'entity'>): string => `“${work.entity.name}”`
