import { isoDay } from '../../calendar'
import { apply, type Id, type Step } from '../../model'
import {
  addEntity,
  changed,
  isRefusal,
  setField,
  setView,
  tie,
  type Action,
  type Outcome,
  type Wish,
} from '../../notation'
import { calendarSelected, NOTHING } from './actions'
import { holidaysAsOtherDays } from './calendars'
import { linkStep, momentOf, named } from './edits'
import { cannotFollow } from './outline'
import { planOn, planShown, type Plan } from './plan'
import { atEnd, dayWords, momentText, textOf, type Work } from './work'

/** What goes by the dates of a plan, or says what it does to them: the worker runs it. */

const planIn = ({ model, view, day }: Pick<Wish, 'model' | 'view' | 'day'>): Plan => planShown(model, view, day)

const selected = (wish: Wish): Work[] => {
  const plan = planIn(wish)
  return wish.selection.flatMap((id) => plan.byId.get(id) ?? [])
}
const one = (wish: Wish): Work | undefined => selected(wish)[0]

/** Lets a work come after the selected one. */
function link(wish: Wish): Outcome {
  const plan = planIn(wish)
  const work = one(wish)
  const after = wish.target === undefined ? undefined : plan.byId.get(wish.target)
  if (!work || !after) return NOTHING
  return linkOutcome(wish, work, after, 'FS')
}

export function linkOutcome(wish: Wish, before: Work, after: Work, type: 'FS' | 'SS' | 'FF' | 'SF'): Outcome {
  const refused = cannotFollow(wish.model, before, after)
  if (refused) return refused
  if (wish.model.leaving(before.id, 'precedes').some(({ target }) => target === after.id))
    return { refused: `${named(after)} comes after ${named(before)} already.` }
  const WORDS = {
    FS: 'starts after the end of',
    SS: 'starts after the start of',
    FF: 'ends after the end of',
    SF: 'ends after the start of',
  }
  const id = wish.newId()
  const step = linkStep(id, before.id, after.id, type === 'FS' ? {} : { type })
  return withConsequences(
    wish,
    changed(`${named(after)} ${WORDS[type]} ${named(before)}`, [step], { select: after.id }),
  )
}

/** Says what a change moves in the plan besides, as facts. O(plan). */
export function withConsequences(wish: Wish, outcome: Outcome, own?: Id): Outcome {
  if (isRefusal(outcome)) return outcome
  const before = planIn(wish)
  const { model } = apply(wish.model, outcome.change)
  const after = planOn(model, before.plan?.id, wish.day)
  const moved = after.list.filter((work) => {
    const was = before.byId.get(work.id)
    return was && work.kind !== 'group' && work.id !== own && (was.start !== work.start || was.finish !== work.finish)
  })
  const along = moved.slice(0, 4).map((work) => {
    const was = before.byId.get(work.id)
    return `${work.number} ${work.entity.name}: ${dayWords(was, 'finish')} → ${dayWords(work, 'finish')}`
  })
  if (moved.length > 4) along.push(`${moved.length - 4} more move.`)
  if (after.finish !== before.finish) along.push(`The plan ends ${atEnd(after)} instead of ${atEnd(before)}.`)
  return { ...outcome, ...(along.length > 0 ? { along } : {}) }
}

const done =
  (percent: number) =>
  (wish: Wish): Outcome => {
    const work = one(wish)
    if (!work) return NOTHING
    return progressOutcome(work, percent)
  }

/** So much of it is done: it has begun, and at 100 % it is finished. */
export function progressOutcome(work: Work, percent: number): Outcome {
  const { entity, time } = work
  const begun = textOf(entity, 'actualStart')
  const steps: Step[] = [setField(work.id, 'percent', percent === 0 ? null : percent)]
  if (textOf(entity, 'remaining') !== undefined) steps.push(setField(work.id, 'remaining', null))
  if (percent > 0 && begun === undefined)
    steps.push(setField(work.id, 'actualStart', momentOf(work.start, time, 'start')))
  if (percent === 0 && begun !== undefined) steps.push(setField(work.id, 'actualStart', null))
  const finished = textOf(entity, 'actualFinish')
  if (percent === 100 && finished === undefined)
    steps.push(setField(work.id, 'actualFinish', momentOf(work.finish, time, 'finish')))
  if (percent < 100 && finished !== undefined) steps.push(setField(work.id, 'actualFinish', null))
  return changed(`${named(work)} is ${percent} % done`, steps)
}

/** Freezes the dates as they are computed now. */
function takeBaseline(wish: Wish): Outcome {
  const plan = planIn(wish)
  if (plan.list.length === 0) return { refused: 'There is nothing to freeze yet.' }
  const id = wish.newId()
  const count = wish.model.ofKind('baseline').length + 1
  const fields = { taken: wish.day, ...(plan.plan ? { plan: plan.plan.id } : {}) }
  const steps = plan.list
    .filter(({ kind }) => kind !== 'group')
    .map((work): Step => {
      const dates = {
        start: momentText(work.start, work.time, 'start'),
        finish: momentText(work.finish, work.time, 'finish'),
      }
      return tie(wish.newId(), 'baselined', id, work.id, dates)
    })
  return changed(`Take baseline ${count}`, [
    addEntity({ id, kind: 'baseline', name: `Baseline ${count}`, fields }),
    ...steps,
    setView(wish.view.id, 'options.baseline', true),
  ])
}

function asap(wish: Wish): Outcome {
  const works = selected(wish)
  const steps = works.flatMap(({ id, entity }) =>
    ['constraint', 'on', 'fixed', 'start', 'finish'].flatMap((field) =>
      entity.fields[field] === undefined ? [] : [setField(id, field, null)],
    ),
  )
  const [first] = works
  return first ? withConsequences(wish, changed(`${named(first)} starts as soon as it can`, steps)) : NOTHING
}

/** Years of holidays that are taken over at once. */
const MOST_YEARS = 30

/** A calendar’s public holidays as days of its own, where they can be corrected. */
function takeHolidays(wish: Wish): Outcome {
  const calendar = calendarSelected(wish)
  if (!calendar) return { refused: 'Select a calendar with a region first.' }
  const { begin, finish } = planIn(wish)
  const [first, last] = [begin, finish].map((at) => Number(isoDay(at).slice(0, 4))) as [number, number]
  const years = Array.from({ length: Math.min(MOST_YEARS, last - first + 2) }, (_, i) => first + i)
  const days = holidaysAsOtherDays(calendar, years)
  const stated = calendar.fields['exceptions']
  return changed(
    `Take the holidays of “${calendar.name}” over`,
    [
      setField(calendar.id, 'exceptions', [...(Array.isArray(stated) ? (stated as string[]) : []), ...days]),
      setField(calendar.id, 'region', null),
    ],
    {
      spreads: [
        `${days.length} public holidays from ${years[0]} to ${years.at(-1)} become days of the calendar’s own, to be corrected there.`,
        'The region no longer counts: later years have no holidays until they are stated.',
        ...days.slice(0, 20),
      ],
    },
  )
}

/** By the id of the action. */
export const runs: Readonly<Record<string, Action['run']>> = {
  link,
  done: done(100),
  half: done(50),
  undone: done(0),
  asap,
  baseline: takeBaseline,
  'own-holidays': takeHolidays,
}
