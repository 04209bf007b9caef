import { isRegion, readWhen } from '../../calendar'
import type { Day, Entity, Fields, Id, Model } from '../../model'
import {
  changed,
  removeRelation,
  GONE,
  rowsOf,
  endColumn,
  between,
  adding,
  addEntity,
  fieldColumn,
  fieldOf,
  nameColumn,
  namesOf,
  relationColumn,
  type Chip,
  type Column,
  type Outcome,
  type Register,
  type Wish,
} from '../../notation'
import { assignSteps, named, newWork, planFor, planIn, sharedWords, workersOf, workerWords } from './edits'
import { readHours, readOtherDays, readWeekdays, USUAL_HOURS, WEEKDAYS } from './calendars'
import { planOf, planOfWork, statedOn, type StatedPlan } from './frame'
import { entityKinds, relationKinds } from './kinds'
import { linkSteps, UNTITLED } from './outline'
import { afterWords, linkWords, readLinks } from './words'
import { readShares } from './shares'

const own = (kind: string, id: string, width?: number): Column => fieldColumn(fieldOf(entityKinds, kind, id), width)

const planWith = (model: Model, id: Id, day: Day): StatedPlan => statedOn(model, planOfWork(model, id), day)

/** Worked out of the plan: `datedColumns` reads them. */
const dated = (id: string, label: string, width: number, type: Column['type'] = 'text'): Column => ({
  id,
  label,
  type,
  width,
  mono: true,
  isReckoned: true,
  read: () => undefined,
})

const numberColumn: Column = {
  id: 'number',
  label: 'No.',
  type: 'text',
  width: 56,
  mono: true,
  read: (model, row, day) => planWith(model, row, day).byId.get(row)?.number,
}
const startColumn = dated('early', 'Start', 104)
const finishColumn = dated('finished', 'Finish', 104)
const floatColumn = dated('float', 'Float', 60, 'number')
const criticalColumn = dated('critical', 'Critical', 70)
/** By how many working days it ends after its deadline, or should have ended and has not. */
const lateColumn = dated('late', 'Late', 60, 'number')

/** What a work comes after, as text: `3, 4SS+2d`. */
export const afterColumn: Column = {
  id: 'after',
  label: 'After',
  type: 'text',
  width: 176,
  mono: true,
  read: (model, row, day) => {
    const plan = planWith(model, row, day)
    const work = plan.byId.get(row)
    return work && (afterWords(plan, work) || undefined)
  },
  chips: (model, row, day) => {
    const plan = planWith(model, row, day)
    const work = plan.byId.get(row)
    return (work?.into ?? []).map((link): Chip => {
      const before = plan.byId.get(link.source)?.entity.name ?? ''
      const label = linkWords(plan, link)
      const words = `“${work?.entity.name ?? ''}” no longer comes after “${before}”`
      return {
        label,
        title: `${label} ${before}`,
        fact: link.source,
        off: { label: words, steps: [removeRelation(link.id)] },
      }
    })
  },
  write: (wish, row, text): Outcome => {
    const plan = planWith(wish.model, row, wish.day)
    const work = plan.byId.get(row)
    if (!work) return GONE
    const steps = linkSteps(wish, plan, work, readLinks(text))
    return 'refused' in steps ? steps : changed(`${named(work)} comes after ${text.trim() || 'nothing'}`, steps)
  },
}

export const whoColumn: Column = {
  id: 'who',
  label: 'Who',
  type: 'text',
  width: 150,
  read: (model, row) => workerWords(model, row) || undefined,
  chips: (model, row) =>
    workersOf(model, row).map(({ tie, worker }): Chip => {
      const label = sharedWords(worker, tie)
      const words = `“${worker.name}” no longer works on “${model.entities.get(row)?.name ?? ''}”`
      return { label, title: label, fact: worker.id, off: { label: words, steps: [removeRelation(tie.id)] } }
    }),
  choices: namesOf('person'),
  write: (wish, row, text): Outcome => {
    const work = planWith(wish.model, row, wish.day).byId.get(row)
    if (!work) return GONE
    if (work.kind === 'group') return { refused: 'People work on the tasks of a group, not on the group.' }
    const steps = assignSteps(wish, row, readShares(text))
    return 'refused' in steps ? steps : changed(`Who works on ${named(work)}`, steps)
  },
}

/** Fields that only tasks have are written at tasks. */
const ofTasks = (column: Column): Column => ({
  ...column,
  write: (wish, row, text): Outcome => {
    const entity = wish.model.entities.get(row)
    if (entity?.kind !== 'task' && text.trim() !== '')
      return { refused: `“${entity?.name ?? row}” is no task: it has no ${column.label.toLowerCase()} of its own.` }
    return column.write?.(wish, row, text) ?? { refused: 'This cannot be written.' }
  },
})

/** What is stated; of a group, and where nothing is, what comes out. */
const durationColumn: Column = { ...ofTasks(own('task', 'duration', 80)), isReckoned: true }

function addTask(wish: Wish): Outcome {
  const made = planFor(wish)
  const id = wish.newId()
  const entity = newWork(id, 'task', UNTITLED, made.id, undefined, planIn(wish).roots.length + 1)
  return changed('Add a task', [...made.steps, addEntity(entity)], { select: id, edit: 'name' })
}

const inPlan =
  (fields: Fields) =>
  ({ model, view }: Wish): Fields => {
    const plan = planOf(model, view)
    return { ...fields, ...(plan ? { plan } : {}) }
  }

const checked = (column: Column, sound: (part: string) => boolean, says: string): Column => ({
  ...column,
  write: (wish, row, text) => {
    const wrong = text.trim() === '' ? undefined : text.split(/\s*;\s*/).find((part) => part !== '' && !sound(part))
    return wrong === undefined
      ? (column.write?.(wish, row, text) ?? { refused: 'This cannot be written.' })
      : { refused: `“${wrong.slice(0, 60)}”: ${says}` }
  },
})

const weekdaysColumn: Column = {
  ...own('calendar', 'weekdays', 180),
  write: (wish, row, text) => {
    const days = readWeekdays(text)
    return days
      ? (own('calendar', 'weekdays').write?.(wish, row, days.join(', ')) ?? { refused: 'This cannot be written.' })
      : { refused: `“${text.slice(0, 60)}”: write weekdays as Mon-Fri, or Mon, Tue, Sat.` }
  },
}

/** What a calendar states, each checked as it is written. */
export const calendarColumns: readonly Column[] = [
  weekdaysColumn,
  checked(own('calendar', 'hours', 180), (text) => readHours(text) !== undefined, `write hours as ${USUAL_HOURS}.`),
  checked(own('calendar', 'region', 90), isRegion, 'write a country, and a part of it if need be, as NO, DE or DE-BY.'),
  checked(
    own('calendar', 'exceptions', 260),
    (text) => text.split(/,(?!\s*\d{1,2}:)/).every((part) => readOtherDays(part) !== undefined),
    'write other days as 2026-12-24 off Christmas Eve, or 2026-11-28 08:00-12:00.',
  ),
]

const linkColumn = (id: string): Column => relationColumn(fieldOf(relationKinds, 'precedes', id), 70, between('before'))

export const registers: readonly Register[] = [
  {
    id: 'tasks',
    title: 'Tasks',
    kind: 'task',
    columns: [
      numberColumn,
      nameColumn('Task', 200),
      durationColumn,
      startColumn,
      finishColumn,
      afterColumn,
      whoColumn,
      ofTasks(own('task', 'percent', 60)),
      floatColumn,
      criticalColumn,
      lateColumn,
      own('task', 'deadline', 104),
      own('task', 'constraint', 130),
      own('task', 'on', 104),
      own('task', 'actualStart', 104),
      own('task', 'actualFinish', 104),
      ofTasks(own('task', 'remaining', 70)),
      ofTasks(own('task', 'least', 70)),
      ofTasks(own('task', 'likely', 70)),
      ofTasks(own('task', 'most', 70)),
      ofTasks(own('task', 'category', 110)),
    ],
    rows: (model, view, day) => planIn({ model, view, day }).list.map(({ id }) => id),
    count: (model, view, day) => planIn({ model, view, day }).list.length,
    add: addTask,
  },
  {
    id: 'links',
    title: 'Links',
    kind: 'task',
    columns: [
      endColumn('source', 'Before', 190),
      endColumn('target', 'After', 190),
      linkColumn('type'),
      linkColumn('lag'),
    ],
    rows: (model, view, day) => planIn({ model, view, day }).links.map(({ id }) => id),
    count: (model, view, day) => planIn({ model, view, day }).links.length,
    add: () => ({ refused: 'Links are made in the column “After” of the tasks, or by pulling from bar to bar.' }),
  },
  {
    id: 'events',
    title: 'Events',
    kind: 'event',
    columns: [
      own('event', 'when', 120),
      nameColumn('Event', 260),
      own('event', 'weight', 80),
      own('event', 'band', 110),
      fieldColumn({ id: 'note', label: 'Note', type: 'note' }, 260),
    ],
    rows: (model) => eventsIn(model).map(({ id }) => id),
    count: (model) => eventsIn(model).length,
    add: adding('event', 'New event', inPlan({ when: '2026' })),
  },
  {
    id: 'eras',
    title: 'Eras',
    kind: 'era',
    columns: [
      own('era', 'when', 120),
      own('era', 'until', 120),
      nameColumn('Era', 240),
      own('era', 'weight', 80),
      own('era', 'band', 110),
    ],
    rows: rowsOf('era'),
    add: adding('era', 'New era', inPlan({ when: '2026', until: '2027' })),
  },
  {
    id: 'plans',
    title: 'Plans',
    kind: 'plan',
    columns: [nameColumn('Plan', 240), own('plan', 'start', 110), own('plan', 'status', 110)],
    rows: rowsOf('plan'),
    add: adding('plan', 'New plan'),
  },
  {
    id: 'calendars',
    title: 'Calendars',
    kind: 'calendar',
    columns: [nameColumn('Calendar', 180), ...calendarColumns],
    rows: rowsOf('calendar'),
    add: adding('calendar', 'New calendar', () => ({ weekdays: [...WEEKDAYS.slice(0, 5)], hours: USUAL_HOURS })),
  },
]

/** Events of timelines: those of processes have no date. */
export const eventsIn = (model: Model): readonly Entity[] =>
  model
    .ofKind('event')
    .filter(({ fields }) => typeof fields['when'] === 'string')
    .map((event) => ({ event, at: readWhen(String(event.fields['when']))?.from ?? Infinity }))
    .sort((a, b) => a.at - b.at)
    .map(({ event }) => event)
