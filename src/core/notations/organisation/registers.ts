import { covers, dayInWords, type Day, type Id, type Model, type Step } from '../../model'
import {
  fieldColumn,
  fieldOf,
  fromColumn,
  nameColumn,
  namesOf,
  readEntry,
  relationColumn,
  sharedKinds,
  toColumn,
  writeField,
  type Column,
  type Field,
  type Outcome,
  type Register,
  type Wish,
} from '../../notation'
import { calledOn, changed, moveSteps, newHolder, newPost, placeAmong, tie } from './edits'
import { position, UNTITLED } from './kinds'
import { fteOf, solidLine, structureOn, unitName, vacantSince, walk, type Post } from './structure'
import { positionsNamed, titleOf } from './words'

const own = (id: string, width?: number): Column => fieldColumn(fieldOf([position], 'position', id), width)
const shared = (kind: string, id: string, width?: number): Column => fieldColumn(fieldOf(sharedKinds, kind, id), width)

export const holder: Column = {
  id: 'holder',
  label: 'Holder',
  type: 'text',
  width: 140,
  read: (model, row, day) => {
    const post = structureOn(model, day).posts.get(row)
    if (!post) return undefined
    if (post.holders.length > 0) return post.holders.map(({ person }) => person.name).join(' & ')
    const since = vacantSince(model, post.position, day)
    return since !== undefined && since <= day
      ? `— vacant since ${dayInWords(since).replace(` ${day.slice(0, 4)}`, '')}`
      : '— vacant'
  },
  choices: namesOf('person'),
  write: writeHolder,
}

function writeHolder(wish: Wish, row: Id, text: string): Outcome {
  const { model, day, newId } = wish
  const name = text.trim()
  const entry = readEntry({ label: 'Holder', type: 'text' }, text)
  if ('refused' in entry) return entry
  const post = structureOn(model, day).posts.get(row)
  if (!post) return { refused: 'This position is not in force on the day shown.' }
  if (name === '' || name.startsWith('—'))
    return changed(
      `Nobody holds “${post.position.name}”`,
      post.holders.map(({ holds }): Step => ({ do: 'remove-relation', id: holds.id })),
    )
  const people = model.ofKind('person').filter((person) => person.name === name && covers(person, day))
  if (people.length > 1)
    return { refused: `${people.length} people are called “${name}”. Tell them apart in the register of people first.` }
  const [person] = people
  const [held, second] = post.holders
  if (second) return { refused: `${post.holders.length} people hold this position; remove one of them first.` }
  const label = `${name} holds “${post.position.name}”`
  if (person) {
    if (held?.person.id === person.id) return { change: { label, steps: [] } }
    const step: Step = held
      ? { do: 'set-relation', id: held.holds.id, path: 'source', value: person.id }
      : tie(newId(), 'holds', person.id, row)
    return { change: { label, steps: [step] } }
  }
  const gone: Step[] = held ? [{ do: 'remove-relation', id: held.holds.id }] : []
  return { change: { label, steps: [...gone, ...newHolder(newId, name, row)] } }
}

export const reportsTo: Column = {
  id: 'reports-to',
  label: 'Reports to',
  type: 'text',
  width: 140,
  read: (model, row, day) => {
    const post = structureOn(model, day).posts.get(row)
    const above = post?.assists ?? solidLine(model, row, day)?.target
    return above === undefined ? undefined : titleOf(model, above, day)
  },
  choices: (model, day) => [...structureOn(model, day).posts.keys()].map((id) => titleOf(model, id, day)),
  write: (wish, row, text) => {
    const { model, day } = wish
    const name = text.trim()
    const label = (who: string) => `${calledOn(model, row, day)} reports to ${who}`
    if (name === '') return changed(label('nobody'), moveSteps(wish, row, undefined))
    const found = positionsNamed(model, name, day)
    const [chief] = found
    if (chief === undefined) return { refused: `There is no position “${name.slice(0, 80)}” to report to.` }
    if (found.length > 1)
      return { refused: `${found.length} positions are called “${name}”. Write the holder in brackets behind it.` }
    return changed(label(`“${titleOf(model, chief, day)}”`), moveSteps(wish, row, chief))
  },
}

export const unit: Column = {
  ...own('unit', 92),
  read: (model, row) => {
    const entity = model.entities.get(row)
    return entity && unitName(model, entity)
  },
  choices: namesOf('unit'),
  write: (wish, row, text) => {
    const { model, newId } = wish
    const name = text.trim()
    const entry = readEntry({ label: 'Unit', type: 'text' }, text)
    if ('refused' in entry) return entry
    const label = `Set unit of “${model.entities.get(row)?.name ?? row}”`
    const set = (value: Id | null): Step => ({ do: 'set-entity', id: row, path: 'fields.unit', value })
    if (name === '') return { change: { label, steps: [set(null)] } }
    const known = model.ofKind('unit').find((one) => one.name.toLowerCase() === name.toLowerCase())
    if (known) return { change: { label, steps: [set(known.id)] } }
    const id = newId()
    const made: Step = { do: 'add-entity', entity: { id, kind: 'unit', name, fields: {} } }
    return { change: { label, steps: [made, set(id)] } }
  },
}

const fte: Column = {
  ...own('fte', 50),
  read: (model, row) => {
    const entity = model.entities.get(row)
    return entity && fteOf(entity)
  },
}

const title: Column = {
  ...nameColumn('Position', 152),
  read: (model, row) => model.entities.get(row)?.name,
  write: (wish, row, text) =>
    writeField(wish, row, { id: 'name', label: 'Title', type: 'text' }, text.trim() === '' ? UNTITLED : text),
}

const holds: Column = {
  id: 'holds',
  label: 'Holds',
  type: 'text',
  width: 220,
  read: (model, row, day) => {
    const held = model.leaving(row, 'holds').filter((tied) => covers(tied, day))
    return held.map(({ target }) => titleOf(model, target, day)).join(', ') || undefined
  },
}

/** A tie to one other entity by its name: made, changed and taken away in a cell; the other is made on first use. */
const tieColumn = (id: string, label: string, kind: string, target: string, word: string): Column => ({
  id,
  label,
  type: 'text',
  width: 140,
  read: (model, row, day) =>
    tiedTo(model, row, kind, day)
      .map(({ name }) => name)
      .join(', ') || undefined,
  choices: namesOf(target),
  write: ({ model, day, newId }, row, text) => {
    const entry = readEntry({ label, type: 'text' }, text)
    if ('refused' in entry) return entry
    const name = text.trim()
    const own = model.entities.get(row)
    const gone = model.leaving(row, kind).filter((tied) => covers(tied, day))
    const steps: Step[] = gone.map((tied) => ({ do: 'remove-relation', id: tied.id }))
    const words = `“${own?.name ?? row}” ${word} ${name === '' ? 'nothing' : `“${name}”`}`
    if (name === '') return { change: { label: words, steps } }
    const known = model.ofKind(target).find((one) => one.name.toLowerCase() === name.toLowerCase())
    if (known?.id === row) return { refused: `“${name}” cannot be tied to itself.` }
    if (known) return { change: { label: words, steps: [...steps, tie(newId(), kind, row, known.id)] } }
    const made = newId()
    const add: Step = { do: 'add-entity', entity: { id: made, kind: target, name, fields: {} } }
    return { change: { label: words, steps: [...steps, add, tie(newId(), kind, row, made)] } }
  },
})

const tiedTo = (model: Model, row: Id, kind: string, day: Day) =>
  model.leaving(row, kind).flatMap((tied) => (covers(tied, day) ? (model.entities.get(tied.target) ?? []) : []))

export const fills = tieColumn('fills', 'Fills role', 'fills', 'role', 'fills')
export const partOf = tieColumn('part-of', 'Part of', 'part-of', 'unit', 'is part of')

/** Who holds a role on the day: the holders of the positions that fill it. */
const roleHolders: Column = {
  id: 'holders',
  label: 'Held by',
  type: 'text',
  width: 240,
  read: (model, row, day) => {
    const { posts } = structureOn(model, day)
    const filling = model
      .reaching(row, 'fills')
      .flatMap((tied) => (covers(tied, day) ? (posts.get(tied.source) ?? []) : []))
    if (filling.length === 0) return undefined
    return filling.flatMap(({ holders }) => holders.map(({ person }) => person.name)).join(', ') || 'nobody'
  },
}

const memberCount: Column = {
  id: 'positions',
  label: 'Positions',
  type: 'number',
  width: 84,
  mono: true,
  read: (model, row, day) => membersOf(model, row, day).length,
}

const memberFte: Column = {
  id: 'fte',
  label: 'Fte',
  type: 'number',
  width: 64,
  mono: true,
  read: (model, row, day) =>
    Number(
      membersOf(model, row, day)
        .filter(({ holders }) => holders.length > 0)
        .reduce((sum, post) => sum + fteOf(post.position), 0)
        .toFixed(2),
    ),
}

/** The posts of a unit on a day. */
const membersOf = (model: Model, unit: Id, day: Day): Post[] => {
  const name = model.entities.get(unit)?.name
  return [...structureOn(model, day).posts.values()].filter((post) => unitName(model, post.position) === name)
}

const tenureColumn = (field: Field, width: number): Column =>
  relationColumn(field, width, (model, { source }) => `${model.entities.get(source)?.name ?? source}’s appointment`)

const endOfTie = (end: 'source' | 'target', label: string, width: number): Column => ({
  id: end,
  label,
  type: 'text',
  width,
  read: (model, row, day) => {
    const tied = model.relations.get(row)
    return tied && (end === 'source' ? model.entities.get(tied.source)?.name : titleOf(model, tied.target, day))
  },
})

const appointments: Register = {
  id: 'appointments',
  title: 'Appointments',
  kind: 'person',
  columns: [
    endOfTie('source', 'Person', 170),
    endOfTie('target', 'Position', 200),
    tenureColumn({ id: 'from', label: 'From', type: 'day' }, 96),
    tenureColumn({ id: 'to', label: 'To', type: 'day' }, 96),
    tenureColumn({ id: 'fte', label: 'Fte', type: 'number', min: 0, max: 100 }, 60),
    tenureColumn({ id: 'acting', label: 'Acting', type: 'flag' }, 70),
  ],
  rows: (model) => model.relationsOfKind('holds').map(({ id }) => id),
  count: (model) => model.relationsOfKind('holds').length,
  add: () => ({ refused: 'Select a position and appoint somebody: key i on the sheet, or “Appoint” in Go to or do.' }),
}

const ofKind =
  (kind: string): Register['rows'] =>
  (model) =>
    model.ofKind(kind).map(({ id }) => id)

const addNamed =
  (kind: string, name: string): Register['add'] =>
  ({ newId }) => {
    const id = newId()
    return {
      change: { label: `Add a ${kind}`, steps: [{ do: 'add-entity', entity: { id, kind, name, fields: {} } }] },
      select: id,
    }
  }

function addPosition(wish: Wish): Outcome {
  const line = { holder: undefined, title: UNTITLED, assistant: false, acting: false }
  const { heads } = structureOn(wish.model, wish.day)
  const place = placeAmong(wish.model, heads, heads.length)
  const made = newPost(wish.newId, line, undefined, place.order)
  return { change: { label: 'Add a position', steps: [...place.steps, ...made.steps] }, select: made.id }
}

export const registers: readonly Register[] = [
  {
    id: 'positions',
    title: 'Positions',
    kind: 'position',
    columns: [
      title,
      holder,
      reportsTo,
      unit,
      own('grade', 62),
      fte,
      fromColumn,
      toColumn,
      fills,
      own('location', 110),
      own('cost', 84),
    ],
    rows: (model, _view, day) => {
      const here = walk(structureOn(model, day)).map(({ id }) => id)
      const shown = new Set(here)
      return [
        ...here,
        ...model
          .ofKind('position')
          .map(({ id }) => id)
          .filter((id) => !shown.has(id)),
      ]
    },
    add: addPosition,
  },
  {
    id: 'people',
    title: 'People',
    kind: 'person',
    columns: [
      nameColumn('Name', 170),
      holds,
      shared('person', 'email', 220),
      shared('person', 'employer', 150),
      fromColumn,
      toColumn,
    ],
    rows: ofKind('person'),
    add: addNamed('person', 'New person'),
  },
  appointments,
  {
    id: 'units',
    title: 'Units',
    kind: 'unit',
    columns: [
      nameColumn('Unit', 180),
      partOf,
      shared('unit', 'code', 90),
      shared('unit', 'costCentre', 110),
      memberCount,
      memberFte,
      fromColumn,
      toColumn,
    ],
    rows: ofKind('unit'),
    add: addNamed('unit', 'New unit'),
  },
  {
    id: 'roles',
    title: 'Roles',
    kind: 'role',
    columns: [nameColumn('Role', 180), roleHolders, shared('role', 'purpose', 260), fromColumn, toColumn],
    rows: ofKind('role'),
    add: addNamed('role', 'New role'),
  },
]
