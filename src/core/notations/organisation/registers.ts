import { covers, dayInWords, FactRecall, grouped, type Day, type Id, type Model, type Step } from '../../model'
import {
  NOT_IN_FORCE,
  tieColumn,
  tie,
  tenuresOf,
  rowsOf,
  referenceColumn,
  peopleBehind,
  endColumn,
  changed,
  adding,
  removeRelation,
  setRelation,
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
import { calledOn, moveSteps, newHolder, newPost, personCalled, placeAmong } from './edits'
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
  wants: (shown) => shown.startsWith('—'),
  write: writeHolder,
}

function writeHolder(wish: Wish, row: Id, text: string): Outcome {
  const { model, day, newId } = wish
  const name = text.trim()
  const entry = readEntry({ label: 'Holder', type: 'text' }, text)
  if ('refused' in entry) return entry
  const post = structureOn(model, day).posts.get(row)
  if (!post) return NOT_IN_FORCE
  if (name === '' || name.startsWith('—'))
    return changed(
      `Nobody holds “${post.position.name}”`,
      post.holders.map(({ holds }): Step => removeRelation(holds.id)),
    )
  const person = personCalled(wish, name, (id) => post.holders.some((one) => one.person.id === id))
  if (person && 'refused' in person) return person
  const [held, second] = post.holders
  if (second) return { refused: `${post.holders.length} people hold this position; remove one of them first.` }
  const label = `${name} holds “${post.position.name}”`
  if (person) {
    if (held?.person.id === person.id) return changed(label, [])
    const step = held ? setRelation(held.holds.id, 'source', person.id) : tie(newId(), 'holds', person.id, row)
    return changed(label, [step])
  }
  const begins = newHolder(wish, name, row)
  if ('refused' in begins) return begins
  return changed(label, [...(held ? [removeRelation(held.holds.id)] : []), ...begins])
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

export const unit = referenceColumn(fieldOf([position], 'position', 'unit'), 92, 'unit')

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
    const held = tenuresOf(model, row).filter((tied) => covers(tied, day))
    return held.map(({ target }) => titleOf(model, target, day)).join(', ') || undefined
  },
}

export const fills = tieColumn('fills', 'Fills role', 'role', 'fills')
export const partOf = tieColumn('part-of', 'Part of', 'unit', 'is part of')

/** Who holds a role on the day: the holders of the positions that fill it. */
const roleHolders: Column = {
  id: 'holders',
  label: 'Held by',
  type: 'text',
  width: 240,
  read: (model, row, day) => {
    const { posts } = structureOn(model, day)
    const filled = model.reaching(row, 'fills').some((tied) => covers(tied, day) && posts.has(tied.source))
    const role = model.entities.get(row)
    if (!role || !filled) return undefined
    return (
      peopleBehind(model, role, day)
        ?.map(({ name }) => name)
        .join(', ') || 'nobody'
    )
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

const membersByUnit = new FactRecall<ReadonlyMap<string | undefined, readonly Post[]>>()

/** The posts of a unit on a day. O(posts) once for the facts and each day. */
const membersOf = (model: Model, unit: Id, day: Day): readonly Post[] =>
  membersByUnit
    .of(model, day, () => grouped(structureOn(model, day).posts.values(), ({ position }) => unitName(model, position)))
    .get(model.entities.get(unit)?.name) ?? []

const tenureColumn = (field: Field, width: number): Column =>
  relationColumn(field, width, (model, { source }) => `${model.entities.get(source)?.name ?? source}’s appointment`)

const appointments: Register = {
  id: 'appointments',
  title: 'Appointments',
  kind: 'person',
  columns: [
    endColumn('source', 'Person', 170),
    endColumn('target', 'Position', 200, titleOf),
    tenureColumn({ id: 'from', label: 'From', type: 'day' }, 96),
    tenureColumn({ id: 'to', label: 'To', type: 'day' }, 96),
    tenureColumn({ id: 'fte', label: 'Fte', type: 'number', min: 0, max: 100 }, 60),
    tenureColumn({ id: 'acting', label: 'Acting', type: 'flag' }, 70),
  ],
  rows: (model) => model.relationsOfKind('holds').map(({ id }) => id),
  count: (model) => model.relationsOfKind('holds').length,
  add: () => ({ refused: 'Select a position and appoint somebody: key i on the sheet, or “Appoint” in Go to or do.' }),
}

function addPosition(wish: Wish): Outcome {
  const line = { holders: [], title: UNTITLED, assistant: false }
  const { heads } = structureOn(wish.model, wish.day)
  const place = placeAmong(wish.model, heads, heads.length)
  const made = newPost(wish, line, undefined, place.order)
  if ('refused' in made) return made
  return changed('Add a position', [...place.steps, ...made.steps], { select: made.id })
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
    rows: rowsOf('person'),
    add: adding('person', 'New person'),
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
    rows: rowsOf('unit'),
    add: adding('unit', 'New unit'),
  },
  {
    id: 'roles',
    title: 'Roles',
    kind: 'role',
    columns: [nameColumn('Role', 180), roleHolders, shared('role', 'purpose', 260), fromColumn, toColumn],
    rows: rowsOf('role'),
    add: adding('role', 'New role'),
  },
]
