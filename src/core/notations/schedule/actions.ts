import { isoDay } from '../../calendar'
import { apply, dayInWords, type Entity, type Id, type Step } from '../../model'
import {
  tie,
  roomAt,
  changed,
  removeRelation,
  setRelation,
  setView,
  addEntity,
  isRefusal,
  setField,
  type Action,
  type Outcome,
  type Wish,
} from '../../notation'
import { holidaysAsOtherDays } from './calendars'
import { plans } from './kinds'
import {
  entitiesOf,
  kindSteps,
  linkStep,
  momentOf,
  named,
  newWork,
  planFor,
  planIn,
  siblingsOf,
  workersOf,
} from './edits'
import { cannotFollow, outline, removeWork, UNTITLED } from './outline'
import { momentText, planOn, textOf, type Plan, type Work, type WorkKind } from './plan'

type Selecting = Pick<Wish, 'model' | 'view' | 'day' | 'selection'>
const NOTHING = { refused: 'Select a task first.' }

const selected = (wish: Selecting): Work[] => {
  const plan = planIn(wish)
  return wish.selection.flatMap((id) => plan.byId.get(id) ?? [])
}
const one = (wish: Selecting): Work | undefined => selected(wish)[0]
const isOf =
  (...kinds: readonly WorkKind[]) =>
  (wish: Selecting): boolean => {
    const work = one(wish)
    return work !== undefined && kinds.includes(work.kind)
  }
const isWork = isOf('task', 'milestone', 'group')
const linkSelected = ({ model, selection }: Selecting) => {
  const [id] = selection
  const link = id === undefined ? undefined : model.relations.get(id)
  return link?.kind === 'precedes' ? link : undefined
}

/** A new task below the selected one and after it. */
function next(wish: Wish): Outcome {
  const work = one(wish)
  if (!work) return NOTHING
  const made = add(wish, work, 'task')
  const { source, steps, id } = made
  const link = source.kind === 'group' ? [] : [linkStep(wish.newId(), source.id, id, {})]
  return changed(`Add a task after ${named(work)}`, [...steps, ...link], { select: id, edit: 'name' })
}

const peer =
  (kind: WorkKind) =>
  (wish: Wish): Outcome => {
    const work = one(wish)
    if (!work) return NOTHING
    const { steps, id } = add(wish, work, kind)
    const words = { task: 'a task', milestone: 'a milestone', group: 'a group' }[kind]
    return changed(`Add ${words} below ${named(work)}`, steps, { select: id, edit: 'name' })
  }

function add(wish: Wish, above: Work, kind: WorkKind): { source: Work; steps: Step[]; id: Id } {
  const plan = planIn(wish)
  const siblings = siblingsOf(plan, above)
  const at = siblings.indexOf(above) + 1
  const id = wish.newId()
  const entity = newWork(id, kind, UNTITLED, plan.plan?.id, above.parent?.id, at + 1)
  return { source: above, id, steps: [...roomAt(entitiesOf(siblings), at), addEntity(entity)] }
}

function addFirst(wish: Wish): Outcome {
  const made = planFor(wish)
  const plan = planIn(wish)
  const id = wish.newId()
  const entity = newWork(id, 'task', UNTITLED, made.id, undefined, plan.roots.length + 1)
  return changed('Add a task', [...made.steps, addEntity(entity)], { select: id, edit: 'name' })
}

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

export const dayWords = (work: Work | undefined, end: 'start' | 'finish'): string =>
  work ? inWords(momentText(work[end], work.time, end)) : '–'
export const atEnd = (plan: Plan): string => inWords(momentText(plan.finish, plan.time, 'finish'))

/** `24 Nov 2026`, with its time where it has one. */
export const inWords = (moment: string): string => {
  const [day = '', time] = moment.split('T')
  return time === undefined ? dayInWords(day as never) : `${dayInWords(day as never)}, ${time}`
}

const toKind =
  (kind: WorkKind) =>
  (wish: Wish): Outcome => {
    const work = one(wish)
    if (!work) return NOTHING
    if (work.kind === 'group' && work.children.length > 0)
      return { refused: 'It holds other tasks. Put them a level up first.' }
    return changed(`Make ${named(work)} a ${kind}`, kindSteps(work, kind))
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

function splitOff(wish: Wish): Outcome {
  const work = one(wish)
  if (!work) return NOTHING
  const plan = planIn(wish)
  const siblings = siblingsOf(plan, work)
  const at = siblings.indexOf(work) + 1
  const half = Math.max(1, Math.round(work.duration / 2))
  const [first, second] = [work.duration - half, half]
  if (first < 1) return { refused: 'It is too short to be split.' }
  const text = (minutes: number) =>
    minutes % work.time.pace.day === 0 ? `${minutes / work.time.pace.day}d` : `${minutes}min`
  const id = wish.newId()
  const rest = newWork(id, 'task', `${work.entity.name}, rest`, plan.plan?.id, work.parent?.id, at + 1, {
    duration: text(second),
  })
  const steps: Step[] = [
    ...roomAt(entitiesOf(siblings), at),
    addEntity(rest),
    setField(work.id, 'duration', text(first)),
    ...work.out.map((after): Step => setRelation(after.id, 'source', id)),
    linkStep(wish.newId(), work.id, id, {}),
  ]
  const assigned = workersOf(wish.model, work.id).map(({ tie: one }) =>
    tie(wish.newId(), 'assigned', one.source, id, one.fields),
  )
  return changed(`Split ${named(work)} in two`, [...steps, ...assigned], { select: id })
}

function assign(wish: Wish): Outcome {
  const work = one(wish)
  const worker = wish.target === undefined ? undefined : wish.model.entities.get(wish.target)
  if (!work || !worker) return NOTHING
  if (wish.model.reaching(work.id, 'assigned').some(({ source }) => source === worker.id))
    return { refused: `“${worker.name}” is on it already.` }
  return changed(`“${worker.name}” works on ${named(work)}`, [tie(wish.newId(), 'assigned', worker.id, work.id)])
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

const line =
  (run: (wish: Wish, id: Id) => Outcome) =>
  (wish: Wish): Outcome => {
    const [id] = wish.selection
    return id === undefined ? NOTHING : run(wish, id)
  }

const unplanned = (wish: Selecting): boolean =>
  selected(wish).some(({ entity }) => textOf(entity, 'constraint') !== undefined || entity.fields['fixed'] === true)

const calendarSelected = ({ model, selection }: Selecting): Entity | undefined => {
  const entity = selection[0] === undefined ? undefined : model.entities.get(selection[0])
  return entity?.kind === 'calendar' && textOf(entity, 'region') !== undefined ? entity : undefined
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

export const actions: readonly Action[] = [
  {
    id: 'own-holidays',
    label: 'Make its holidays days of its own',
    applies: (wish) => calendarSelected(wish) !== undefined,
    run: takeHolidays,
  },
  { id: 'next', label: 'Next', key: 'n', verb: true, applies: isWork, run: next },
  { id: 'peer', label: 'Beside', key: 'p', verb: true, applies: isWork, run: peer('task') },
  {
    id: 'link',
    label: 'Comes before…',
    key: 'l',
    verb: true,
    picks: { kinds: ['task', 'milestone', 'group'], prompt: 'Comes before which task?' },
    applies: isWork,
    run: link,
  },
  {
    id: 'unlink',
    label: 'Take the link away',
    key: 'Delete',
    verb: true,
    applies: (wish) => linkSelected(wish) !== undefined,
    run: (wish) => {
      const found = linkSelected(wish)
      return found ? changed('Take a link away', [removeRelation(found.id)]) : NOTHING
    },
  },
  {
    id: 'assign',
    label: 'Assign…',
    key: 'a',
    verb: true,
    picks: { kinds: ['person', 'role', 'position'], prompt: 'Who works on it?' },
    applies: isOf('task', 'milestone'),
    run: assign,
  },
  { id: 'milestone', label: 'Milestone', key: 'm', verb: true, applies: isWork, run: peer('milestone') },
  { id: 'first', label: 'Add a task at the end', applies: () => true, run: addFirst },
  { id: 'done', label: 'Done', key: '.', applies: isOf('task', 'milestone'), run: done(100) },
  { id: 'half', label: 'Half done', applies: isOf('task'), run: done(50) },
  { id: 'undone', label: 'Not begun', applies: isOf('task', 'milestone'), run: done(0) },
  { id: 'asap', label: 'As soon as it can', key: 's', applies: unplanned, run: asap },
  { id: 'split', label: 'Split in two', applies: isOf('task'), run: splitOff },
  { id: 'to-milestone', label: 'Make it a milestone', applies: isOf('task', 'group'), run: toKind('milestone') },
  { id: 'to-task', label: 'Make it a task', applies: isOf('milestone', 'group'), run: toKind('task') },
  { id: 'to-group', label: 'Make it a group', applies: isOf('task', 'milestone'), run: toKind('group') },
  { id: 'indent', label: 'A level down', key: 'Alt+ArrowRight', applies: isWork, run: line(outline.indent) },
  { id: 'outdent', label: 'A level up', key: 'Alt+ArrowLeft', applies: isWork, run: line(outline.outdent) },
  {
    id: 'up',
    label: 'Move up',
    key: 'Alt+ArrowUp',
    applies: isWork,
    run: line((wish, id) => outline.move(wish, id, -1)),
  },
  {
    id: 'down',
    label: 'Move down',
    key: 'Alt+ArrowDown',
    applies: isWork,
    run: line((wish, id) => outline.move(wish, id, 1)),
  },
  { id: 'baseline', label: 'Take a baseline', applies: (wish) => planIn(wish).list.length > 0, run: takeBaseline },
  plans.show,
  {
    id: 'remove',
    label: 'Remove',
    key: 'Delete',
    applies: (wish) => isWork(wish) && linkSelected(wish) === undefined,
    run: (wish) => {
      const [work, ...more] = selected(wish)
      if (!work) return NOTHING
      return more.length > 0
        ? { refused: 'Remove tasks one at a time, so that it is clear what follows what.' }
        : removeWork(wish, work)
    },
  },
]
