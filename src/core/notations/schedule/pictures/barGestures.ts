import type { Instant } from '../../../calendar'
import type { Step } from '../../../model'
import { changed, setField, type Outcome, type Pull, type Wish } from '../../../notation'
import { linkOutcome, progressOutcome, withConsequences } from '../datedActions'
import { momentOf, named } from '../edits'
import { inWords, momentText, planShown, textOf, type Plan, type Work } from '../plan'
import type { Axis } from './axis'
import { drawnFinish, drawnSpan, drawnStart } from './barRows'
import { barsAxis } from './barsAxis'

const NOTHING: Outcome = changed('', [])

/** Pulling a bar: along it slides, by its right edge it is stretched, by its lower part it is done; from an end a link is drawn. */
export function pullBar(wish: Wish, pull: Pull): Outcome {
  const plan = planShown(wish.model, wish.view, wish.day)
  const [id] = wish.selection
  const work = id === undefined ? undefined : plan.byId.get(id)
  if (!work) return { refused: 'It is no longer there.' }
  const axis = barsAxis(plan, wish.view)
  const [what, end] = pull.handle.split(' ')
  if (what === 'link') return drawLink(wish, plan, work, axis, pull, end === 'S' ? 'S' : 'F')
  if (what === 'slide') return slide(wish, work, axis, pull)
  if (what === 'finish') return stretch(wish, work, axis, pull)
  if (what === 'progress') return tellProgress(work, pull)
  return NOTHING
}

/** Days are as exact as the axis shows them; on an axis of hours, quarters of an hour. */
const snapped = (at: Instant, { unit }: Axis): Instant =>
  unit === 'hours' ? Math.round(at / 15) * 15 : Math.round(at / 1440) * 1440

function slide(wish: Wish, work: Work, axis: Axis, { by, box }: Pull): Outcome {
  const { entity, time } = work
  if (textOf(entity, 'actualStart') !== undefined)
    return { refused: `${named(work)} has begun: its start is a fact. Stretch it instead.` }
  const [from, to] = drawnSpan(work)
  const start = time.opening(snapped(axis.at(axis.x(from) + by.x), axis))
  if (start === work.start || snapped(from, axis) === snapped(axis.at(axis.x(from) + by.x), axis)) return NOTHING
  const day = momentOf(start, time, 'start')
  const finish = time.add(start, work.duration)
  const steps: Step[] =
    entity.fields['fixed'] === true
      ? [setField(work.id, 'start', day), setField(work.id, 'finish', momentOf(finish, time, 'finish'))]
      : [setField(work.id, 'constraint', 'start no earlier'), setField(work.id, 'on', day)]
  const [x1, x2] = [
    axis.x(drawnStart(start, time)),
    axis.x(work.kind === 'milestone' ? drawnStart(start, time) : drawnFinish(finish, time)),
  ]
  const ghost = {
    ...box,
    x: work.kind === 'milestone' ? x1 - box.width / 2 : x1,
    width: work.kind === 'milestone' ? box.width : x2 - x1,
  }
  const words = `${named(work)} starts ${inWords(momentText(start, time, 'start'))}`
  const outcome = withConsequences(wish, changed(words, steps, { ghosts: [ghost] }), work.id)
  if ('refused' in outcome) return outcome
  const earliest = work.into.length > 0 && start < work.start && to > from
  const stays = earliest ? [`What it comes after lets it start no earlier than it does, if nothing else moves.`] : []
  return {
    ...outcome,
    along: [`Ends ${inWords(momentText(finish, time, 'finish'))}.`, ...stays, ...(outcome.along ?? [])],
  }
}

function stretch(wish: Wish, work: Work, axis: Axis, { by, box }: Pull): Outcome {
  const { time, entity } = work
  const end = axis.x(drawnFinish(work.finish, time)) + by.x
  const finish = time.closing(snapped(axis.at(end), axis))
  const minutes = time.between(work.start, finish)
  const least = axis.unit === 'hours' ? 15 : time.pace.day
  const duration = Math.max(
    least,
    axis.unit === 'hours' ? minutes : Math.round(minutes / time.pace.day) * time.pace.day,
  )
  if (duration === work.duration) return NOTHING
  const text = duration % time.pace.day === 0 ? `${duration / time.pace.day}d` : `${duration}min`
  const steps: Step[] = [setField(work.id, 'duration', text)]
  if (textOf(entity, 'remaining') !== undefined) steps.push(setField(work.id, 'remaining', null))
  if (entity.fields['fixed'] === true)
    steps.push(setField(work.id, 'finish', momentOf(time.add(work.start, duration), time, 'finish')))
  const ends = time.add(work.start, duration)
  const ghost = { ...box, width: axis.x(drawnFinish(ends, time)) - box.x }
  const outcome = withConsequences(wish, changed(`${named(work)} takes ${text}`, steps, { ghosts: [ghost] }), work.id)
  return 'refused' in outcome
    ? outcome
    : { ...outcome, along: [`Ends ${inWords(momentText(ends, time, 'finish'))}.`, ...(outcome.along ?? [])] }
}

function tellProgress(work: Work, { at, box }: Pull): Outcome {
  const percent = Math.round(Math.min(1, Math.max(0, (at.x - box.x) / box.width)) * 20) * 5
  return percent === Math.round(work.done * 100) ? NOTHING : progressOutcome(work, percent)
}

function drawLink(wish: Wish, plan: Plan, work: Work, axis: Axis, { at }: Pull, from: 'F' | 'S'): Outcome {
  const other = wish.target === undefined ? undefined : plan.byId.get(wish.target)
  if (!other || other.id === work.id) return NOTHING
  const [a, b] = drawnSpan(other)
  const to = at.x > (axis.x(a) + axis.x(b)) / 2 && other.kind === 'task' ? 'F' : 'S'
  return linkOutcome(wish, work, other, `${from}${to}`)
}
