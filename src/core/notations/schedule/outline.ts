import { cyclicComponents } from '../../graph/cycles'
import { join, apply, type Id, type Model, type Step } from '../../model'
import {
  tooLongName,
  setRelation,
  removeRelation,
  GONE,
  roomAt,
  moved,
  changed,
  addEntity,
  readList,
  setEntity,
  setField,
  type Outcome,
  type Outline,
  type Refusal,
  type Wish,
} from '../../notation'
import {
  assignNew,
  assignSteps,
  below,
  follows,
  kindSteps,
  linkStep,
  named,
  newWork,
  entitiesOf,
  planFor,
  planIn,
  removeSteps,
  siblingsOf,
} from './edits'
import type { StatedPlan } from './frame'
import { textOf, typeOfLink, type StatedWork, type WorkKind } from './work'
import { beyondReckoning, lineOf, NUMBERED, readWork, workNamed, type TypedLink, type TypedWork } from './words'

export const UNTITLED = 'New task'
/** A plan as indented text: groups with what they hold beneath them, each line with its duration, people and what it comes after. */
export const outline: Outline = {
  hint: 'Build the slipway  5d  @ Who  after 3, 4SS+2d',

  lines: (model, view, day) => {
    const plan = planIn({ model, view, day })
    return plan.list.map((work) => ({ id: work.id, depth: work.depth, text: lineOf(model, plan, work) }))
  },

  write: (wish, line, text) => {
    const plan = planIn(wish)
    const work = plan.byId.get(line)
    return work ? writeWork(wish, plan, work, readWork(text)) : GONE
  },

  insert: (wish, line, text) => {
    const plan = planIn(wish)
    const made = planFor(wish)
    const above = line === undefined ? undefined : plan.byId.get(line)
    const typed = readWork(text)
    const id = wish.newId()
    // After a group its first line comes, after any other the next of the same level.
    const within = above?.kind === 'group' && above.children.length > 0
    const parent = within ? above : above?.parent
    const siblings = parent?.children ?? plan.roots
    const at = within ? 0 : above ? siblings.indexOf(above) + 1 : siblings.length
    const entity = newWork(id, typed.kind ?? 'task', typed.name || UNTITLED, made.id, parent?.id, at + 1)
    const steps = [...made.steps, ...roomAt(entitiesOf(siblings), at), addEntity(entity)]
    const { model } = apply(wish.model, { label: '', steps })
    const next = { ...wish, model, view: model.views.get(wish.view.id) ?? wish.view }
    const fresh = planIn(next)
    const written = fresh.byId.get(id)
    const more = written && text.trim() !== '' ? writeWork(next, fresh, written, typed) : undefined
    if (more && 'refused' in more) return more
    return changed('Add a line', [...steps, ...(more?.change.steps ?? [])], { select: id })
  },

  indent: (wish, line) => {
    const plan = planIn(wish)
    const work = plan.byId.get(line)
    if (!work) return GONE
    const siblings = siblingsOf(plan, work)
    const above = siblings[siblings.indexOf(work) - 1]
    if (!above) return { refused: 'There is nothing above it that it could belong to.' }
    return changed(`Put ${named(work)} into ${named(above)}`, [
      ...kindSteps(above, 'group'),
      setField(work.id, 'group', above.id),
      setField(work.id, 'order', above.children.length + 1),
    ])
  },

  outdent: (wish, line) => {
    const plan = planIn(wish)
    const work = plan.byId.get(line)
    if (!work?.parent) return { refused: 'It stands at the outer level already.' }
    const { parent } = work
    const outer = siblingsOf(plan, parent)
    // What stands below it on its level stays where it reads: under it.
    const following = parent.children.slice(parent.children.indexOf(work) + 1)
    const place = outer.indexOf(parent) + 1
    return changed(`Put ${named(work)} a level up`, [
      ...(following.length > 0 ? kindSteps(work, 'group') : []),
      ...following.flatMap((one, i) => [
        setField(one.id, 'group', work.id),
        setField(one.id, 'order', work.children.length + i + 1),
      ]),
      // What holds nothing any more is a task again.
      ...(parent.children.length === following.length + 1 ? kindSteps(parent, 'task') : []),
      ...roomAt(entitiesOf(outer), place),
      setField(work.id, 'group', parent.parent?.id ?? null),
      setField(work.id, 'order', place + 1),
    ])
  },

  move: (wish, line, by) => {
    const plan = planIn(wish)
    const work = plan.byId.get(line)
    if (!work) return GONE
    const label = `Move ${named(work)} ${by < 0 ? 'up' : 'down'}`
    return changed(label, moved(entitiesOf(siblingsOf(plan, work)), work.entity, by))
  },

  remove: (wish, line) => {
    const work = planIn(wish).byId.get(line)
    return work ? removeWork(wish, work) : GONE
  },

  paste: pasteList,
}

/** Removes a work; of a group that holds something it is said first what goes with it. */
export function removeWork(wish: Wish, work: StatedWork): Outcome {
  const within = below(work)
  const label = `Remove ${named(work)}`
  return changed(label, removeSteps(wish.model, work, wish.newId), {
    ...(within.length > 0 ? { spreads: within.map((one) => `${named(one)} is removed with it.`) } : {}),
  })
}

/** The change that makes a work say what its line says. */
function writeWork(wish: Wish, plan: StatedPlan, work: StatedWork, typed: TypedWork): Outcome {
  const { entity } = work
  const steps: Step[] = []
  const kind: WorkKind = typed.kind ?? (work.children.length > 0 ? 'group' : 'task')
  if (work.children.length > 0 && kind !== 'group')
    return { refused: `A group is no ${kind}. Take out what it holds first.` }
  steps.push(...kindSteps(work, kind))
  if (typed.name === '') return { refused: 'A line needs a name.' }
  const beyond = beyondReckoning(typed)
  if (beyond) return beyond
  const tooLong = tooLongName(typed.name)
  if (tooLong) return tooLong
  if (typed.name !== entity.name) steps.push(setEntity(work.id, 'name', typed.name))
  if (kind === 'task' && typed.duration !== undefined && typed.duration !== textOf(entity, 'duration'))
    steps.push(setField(work.id, 'duration', typed.duration))
  const assigned = kind === 'group' ? [] : assignSteps(wish, work.id, typed.who ?? [])
  if ('refused' in assigned) return assigned
  steps.push(...assigned)
  const links = linkSteps(wish, plan, work, typed.after ?? [])
  if ('refused' in links) return links
  steps.push(...links)
  const planned = textOf(entity, 'constraint') === 'start no earlier' ? textOf(entity, 'on') : undefined
  if (kind !== 'group' && typed.from !== planned) {
    if (typed.from !== undefined)
      steps.push(setField(work.id, 'constraint', 'start no earlier'), setField(work.id, 'on', typed.from))
    else steps.push(setField(work.id, 'constraint', null), setField(work.id, 'on', null))
  }
  if (kind !== 'group' && typed.by !== textOf(entity, 'deadline'))
    steps.push(setField(work.id, 'deadline', typed.by ?? null))
  return changed(`Write “${typed.name.slice(0, 60)}”`, steps)
}

/** What has to be written so that a work comes after just these. */
export function linkSteps(
  { model, newId }: Pick<Wish, 'model' | 'newId'>,
  plan: StatedPlan,
  work: StatedWork,
  wanted: readonly TypedLink[],
): Step[] | Refusal {
  const steps: Step[] = []
  const left = new Set(work.into)
  for (const { ref, type, lag } of wanted) {
    const before = workNamed(plan, ref)
    if (!before) return { refused: `There is no task “${ref.slice(0, 60)}” in this plan.` }
    const known = work.into.find((link) => link.source === before.id)
    if (known) {
      left.delete(known)
      if (typeOfLink(known) !== type) steps.push(setRelation(known.id, 'fields.type', type === 'FS' ? null : type))
      if ((textOf(known, 'lag') ?? '0d') !== (lag ?? '0d')) steps.push(setRelation(known.id, 'fields.lag', lag ?? null))
      continue
    }
    const refused = cannotFollow(model, before, work)
    if (refused) return refused
    steps.push(linkStep(newId(), before.id, work.id, { ...(type === 'FS' ? {} : { type }), ...(lag ? { lag } : {}) }))
  }
  return [...steps, ...[...left].map(({ id }) => removeRelation(id))]
}

/** Why a work cannot come after another one. */
export function cannotFollow(model: Model, before: StatedWork, after: StatedWork): Refusal | undefined {
  if (before.id === after.id) return { refused: 'Nothing comes before itself.' }
  for (let at = before.parent; at; at = at.parent)
    if (at.id === after.id) return { refused: `${named(before)} is a part of ${named(after)}.` }
  for (let at = after.parent; at; at = at.parent)
    if (at.id === before.id) return { refused: `${named(after)} is a part of ${named(before)}.` }
  return follows(model, after.id, before.id)
    ? { refused: `${named(before)} comes after ${named(after)} already: that would be a circle.` }
    : undefined
}

/** Lines of a list, after a line and on its level. O(lines + plan). */
function pasteList(wish: Wish, line: Id | undefined, text: string): Outcome {
  const read = readList(text.replace(new RegExp(NUMBERED, 'gm'), '$1'))
  if ('refused' in read) return read
  if (read.length === 0) return { refused: 'There is no line in what was pasted.' }
  const plan = planIn(wish)
  const made = planFor(wish)
  const above = line === undefined ? undefined : plan.byId.get(line)
  const parent = above?.parent
  const siblings = parent?.children ?? plan.roots
  const at = above ? siblings.indexOf(above) + 1 : siblings.length
  const typed = read.map(({ text: one }) => readWork(one))
  const beyond = typed.map(beyondReckoning).find((one) => one !== undefined)
  if (beyond) return beyond
  const ids = read.map(() => wish.newId())
  const numbers = numbersOf(read.map(({ depth }) => depth))
  const tops = read.filter(({ depth }) => depth === 0).length
  const steps: Step[] = [...made.steps, ...roomAt(entitiesOf(siblings), at, tops)]
  const orders = new Map<string, number>()
  read.forEach(({ depth }, i) => {
    const one = typed[i]
    const id = ids[i]
    if (!one || id === undefined) return
    const isGroup = (read[i + 1]?.depth ?? 0) > depth
    let up = i
    while (up >= 0 && (read[up]?.depth ?? 0) >= depth) up--
    const group = depth === 0 ? parent?.id : ids[up]
    const key = group ?? ''
    const order = (orders.get(key) ?? (depth === 0 ? at : 0)) + 1
    orders.set(key, order)
    const kind: WorkKind = isGroup ? 'group' : (one.kind ?? (one.duration?.startsWith('0') ? 'milestone' : 'task'))
    const fields = {
      ...(kind === 'task' && one.duration ? { duration: one.duration } : {}),
      ...(kind !== 'group' && one.from ? { constraint: 'start no earlier', on: one.from } : {}),
      ...(kind !== 'group' && one.by ? { deadline: one.by } : {}),
    }
    steps.push(addEntity(newWork(id, kind, (one.name || UNTITLED).slice(0, 400), made.id, group, order, fields)))
  })
  const people = new Map<string, Id>()
  for (const [i, { who = [] }] of typed.entries()) {
    const id = ids[i]
    if (id === undefined || (read[i + 1]?.depth ?? 0) > (read[i]?.depth ?? 0)) continue
    const assigned = assignNew(wish, id, who, people)
    if ('refused' in assigned) return assigned
    steps.push(...assigned)
  }
  const ofLine = (ref: string): Id | undefined => {
    const index = numbers.indexOf(ref)
    const row = /^\d+$/.test(ref) ? Number(ref) - 1 : -1
    const byName = typed.findIndex(({ name }) => name.toLowerCase() === ref.toLowerCase())
    return ids[index >= 0 ? index : byName >= 0 ? byName : row] ?? workNamed(plan, ref)?.id
  }
  const next = new Map<Id, Id[]>()
  for (const [i, { after = [], name }] of typed.entries()) {
    const id = ids[i]
    for (const { ref, type, lag } of after) {
      const source = ofLine(ref)
      if (source === undefined || id === undefined)
        return { refused: `“${name.slice(0, 40)}” comes after “${ref.slice(0, 40)}”, which is not in the list.` }
      join(next, source, id)
      steps.push(linkStep(wish.newId(), source, id, { ...(type === 'FS' ? {} : { type }), ...(lag ? { lag } : {}) }))
    }
  }
  const [circle] = cyclicComponents(ids, (id) => next.get(id) ?? [])
  if (circle) {
    const names = circle.map((id) => `“${typed[ids.indexOf(id)]?.name.slice(0, 40)}”`)
    return { refused: `These come after each other in a circle: ${names.slice(0, 6).join(', ')}. Nothing was changed.` }
  }
  const [first] = ids
  return changed(`Paste ${read.length} ${read.length === 1 ? 'line' : 'lines'}`, steps, {
    ...(first === undefined ? {} : { select: first }),
  })
}

/** `1`, `1.1`, `1.2`, `2` for depths 0, 1, 1, 0. */
function numbersOf(depths: readonly number[]): string[] {
  const counts: number[] = []
  return depths.map((depth) => {
    counts.length = depth + 1
    counts[depth] = (counts[depth] ?? 0) + 1
    return counts.map((count) => count || 1).join('.')
  })
}
