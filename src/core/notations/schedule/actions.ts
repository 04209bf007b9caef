import type { Entity, Id, Step } from '../../model'
import {
  tie,
  roomAt,
  changed,
  removeRelation,
  setRelation,
  addEntity,
  byWorker,
  setField,
  type Action,
  type Outcome,
  type Wish,
} from '../../notation'
import { plans } from './kinds'
import { entitiesOf, kindSteps, linkStep, named, newWork, planFor, planIn, siblingsOf, workersOf } from './edits'
import { outline, removeWork, UNTITLED } from './outline'
import { durationOf, textOf, type StatedWork, type WorkKind } from './work'

type Selecting = Pick<Wish, 'model' | 'view' | 'day' | 'selection'>
export const NOTHING = { refused: 'Select a task first.' }

const selected = (wish: Selecting): StatedWork[] => {
  const plan = planIn(wish)
  return wish.selection.flatMap((id) => plan.byId.get(id) ?? [])
}
const one = (wish: Selecting): StatedWork | undefined => selected(wish)[0]
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

function add(wish: Wish, above: StatedWork, kind: WorkKind): { source: StatedWork; steps: Step[]; id: Id } {
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

const toKind =
  (kind: WorkKind) =>
  (wish: Wish): Outcome => {
    const work = one(wish)
    if (!work) return NOTHING
    if (work.kind === 'group' && work.children.length > 0)
      return { refused: 'It holds other tasks. Put them a level up first.' }
    return changed(`Make ${named(work)} a ${kind}`, kindSteps(work, kind))
  }

function splitOff(wish: Wish): Outcome {
  const work = one(wish)
  if (!work) return NOTHING
  const plan = planIn(wish)
  const siblings = siblingsOf(plan, work)
  const at = siblings.indexOf(work) + 1
  const duration = durationOf(wish.model, work)
  const half = Math.max(1, Math.round(duration / 2))
  const [first, second] = [duration - half, half]
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

const line =
  (run: (wish: Wish, id: Id) => Outcome) =>
  (wish: Wish): Outcome => {
    const [id] = wish.selection
    return id === undefined ? NOTHING : run(wish, id)
  }

const unplanned = (wish: Selecting): boolean =>
  selected(wish).some(({ entity }) => textOf(entity, 'constraint') !== undefined || entity.fields['fixed'] === true)

export const calendarSelected = ({ model, selection }: Selecting): Entity | undefined => {
  const entity = selection[0] === undefined ? undefined : model.entities.get(selection[0])
  return entity?.kind === 'calendar' && textOf(entity, 'region') !== undefined ? entity : undefined
}

export const actions: readonly Action[] = [
  {
    id: 'own-holidays',
    label: 'Make its holidays days of its own',
    applies: (wish) => calendarSelected(wish) !== undefined,
    run: byWorker,
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
    run: byWorker,
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
  { id: 'done', label: 'Done', key: '.', applies: isOf('task', 'milestone'), run: byWorker },
  { id: 'half', label: 'Half done', applies: isOf('task'), run: byWorker },
  { id: 'undone', label: 'Not begun', applies: isOf('task', 'milestone'), run: byWorker },
  { id: 'asap', label: 'As soon as it can', key: 's', applies: unplanned, run: byWorker },
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
  { id: 'baseline', label: 'Take a baseline', applies: (wish) => planIn(wish).list.length > 0, run: byWorker },
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
