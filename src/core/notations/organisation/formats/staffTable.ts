import {
  counted,
  addDays,
  covers,
  type Day,
  type Entity,
  type Fields,
  type FieldValue,
  type Id,
  type Model,
  type Period,
  type Relation,
  type Step,
} from '../../../model'
import {
  tie,
  addRelation,
  readRows,
  readCell,
  addEntity,
  setEntity,
  removeRelation,
  setRelation,
  type FaultAt,
  type ImportOptions,
  type ImportPlan,
  type ImportRow,
  type TableImport,
  type Wish,
} from '../../../notation'
import { endSteps } from '../edits'
import { position, UNTITLED } from '../kinds'
import { isSolid, solidLine, structureOn } from '../structure'
import { ldif } from './ldif'
import { scimUsers } from './scim'
import { staffColumns } from './staffColumns'

/** One row a position with its holder: identity, name, title, manager by identity or by name, and what else is known. */
export const staffTable: TableImport = {
  id: 'staff',
  title: 'Staff, one row a person or post',
  columns: staffColumns,
  readers: [ldif, scimUsers],
  plan: planStaff,
}

/** A row that was understood. */
interface Read {
  readonly row: ImportRow
  readonly post: Id
  readonly title: string
  readonly holder: string | undefined
  readonly manager: string | undefined
  readonly fields: Fields
  readonly email: string | undefined
  /** Whoever the row speaks of is there no longer. */
  readonly left: boolean
  /** When the holder holds the post. */
  readonly held: Days
  /** When there is the post. */
  readonly exists: Days
}

interface Days {
  readonly from: Day | undefined
  readonly to: Day | undefined
}

/** Put before an identity that a table gave. */
const POST = 'post-'
const LEFT = /^no$/i
const VACANT = /^(vacant|vacancy|open|n\.?\s?n\.?|tbd|-+)?$/i
const FIELDS = ['grade', 'fte', 'location', 'cost'] as const

/** O(rows + facts). */
function planStaff(wish: Wish, rows: readonly ImportRow[], options: ImportOptions): ImportPlan {
  const { read, faults, bad } = readRows(rows, options, (kept, fault) => {
    const staff = readStaff(wish.model, kept, fault, options.source ?? POST)
    return { staff, managers: findManagers(wish, staff, fault) }
  })
  const good = read.staff.filter(({ row }) => !bad.has(row.number))
  return { ...changeFor(wish, good, read.managers, bad.size > 0, options), faults }
}

const labelOf = (id: string): string => staffColumns.find((column) => column.id === id)?.label ?? id

/** The whole name, or first and last name put together; undefined where the table has no such column. */
const nameIn = (cells: ImportRow['cells']): string | undefined =>
  cells['name'] !== undefined || (cells['given'] === undefined && cells['family'] === undefined)
    ? cells['name']
    : [cells['given'], cells['family']].filter(Boolean).join(' ')

function readStaff(model: Model, rows: readonly ImportRow[], faultAt: FaultAt, source: string): Read[] {
  const seen = new Map<Id, number>()
  const byHolder = holdersByName(model)
  return rows.flatMap((row): Read[] => {
    const { cells, number } = row
    let sound = true
    const fault = (column: string, message: string) => {
      sound = false
      faultAt(number, column, message)
    }
    const name = nameIn(cells) ?? ''
    const holder = VACANT.test(name) ? undefined : name
    const title = cells['title'] ?? ''
    if (holder === undefined && title === '') return (fault('Name', 'There is neither a name nor a title.'), [])
    const post = postOf(model, cells['id'] ?? '', holder, title, byHolder, source)
    const twin = seen.get(post)
    if (twin !== undefined) fault('Id', `It has the identity of row ${twin}.`)
    seen.set(post, number)
    const fields: Record<string, FieldValue> = {}
    for (const id of FIELDS) {
      const field = position.fields.find((one) => one.id === id)
      const value = field && readCell(field, cells[id], fault)
      if (value !== undefined) fields[id] = value
    }
    const days = (from: string, to: string): Days => {
      const day = (id: string) => readCell({ label: labelOf(id), type: 'day' }, cells[id], fault) as Day | undefined
      const read = { from: day(from), to: day(to) }
      if (read.from !== undefined && read.to !== undefined && read.from > read.to)
        fault(labelOf(to), 'It ends before it begins.')
      return read
    }
    const exists = days('postFrom', 'postTo')
    const held = days('from', 'to')
    // Without a holder, days can only be those of the post.
    const ofPost = holder === undefined ? { from: exists.from ?? held.from, to: exists.to ?? held.to } : exists
    for (const [column, text] of [
      ['Name', name],
      ['Title', title],
      ['Unit', cells['unit'] ?? ''],
    ] as const)
      if (text.length > 400) fault(column, `It has ${text.length} characters; 400 is the most.`)
    if (!sound) return []
    if (cells['unit']) fields['unit'] = cells['unit']
    return [
      {
        row,
        post,
        title: title || UNTITLED,
        holder,
        manager: cells['manager'] || undefined,
        fields,
        email: cells['email'] || undefined,
        left: LEFT.test(cells['active'] ?? ''),
        held,
        exists: ofPost,
      },
    ]
  })
}

/** The position that a row speaks of: by its identity here, by the identity an earlier import gave it, or by its holder. */
function postOf(
  model: Model,
  key: string,
  holder: string | undefined,
  title: string,
  byHolder: ReadonlyMap<string, Id>,
  source: string,
): Id {
  const clean = (text: string) =>
    text
      .normalize('NFKD')
      .replace(/[^\w.-]+/g, '-')
      .slice(0, 56)
  if (key !== '')
    return model.entities.get(key as Id)?.kind === 'position' ? (key as Id) : (`${source}${clean(key)}` as Id)
  const known = holder === undefined ? undefined : byHolder.get(holder.toLowerCase())
  return known ?? (`${source}${clean(`${holder ?? 'vacant'}-${title}`.toLowerCase())}` as Id)
}

function holdersByName(model: Model): Map<string, Id> {
  const names = new Map<string, Id>()
  for (const holds of model.relationsOfKind('holds')) {
    const name = model.entities.get(holds.source)?.name.toLowerCase()
    if (name !== undefined && model.entities.has(holds.target)) names.set(name, holds.target)
  }
  return names
}

/** Each row’s manager as a position; unknown, ambiguous and circular ones are faults. */
function findManagers(wish: Wish, read: readonly Read[], faultAt: FaultAt): Map<Id, Id> {
  const { model, day } = wish
  const byKey = new Map<string, Id[]>()
  const name = (text: string | undefined, post: Id) => {
    if (text === undefined || text === '' || text === UNTITLED) return
    const key = text.toLowerCase()
    const known = byKey.get(key)
    if (!known) byKey.set(key, [post])
    else if (!known.includes(post)) known.push(post)
  }
  const here = new Set(read.map(({ post }) => post))
  const ids = new Map<string, Id>()
  for (const { row, post, holder } of read) {
    if (row.cells['id']) ids.set(row.cells['id'].toLowerCase(), post)
    name(holder, post)
  }
  for (const { post, title } of read) name(title, post)
  for (const { position: one, holders } of structureOn(model, day).posts.values()) {
    if (here.has(one.id)) continue
    ids.set(one.id.toLowerCase(), one.id)
    for (const { person } of holders) name(person.name, one.id)
    name(one.name, one.id)
  }
  const named = (text: string): readonly Id[] => {
    const byId = ids.get(text.toLowerCase())
    return byId === undefined ? (byKey.get(text.toLowerCase()) ?? []) : [byId]
  }
  const managers = new Map<Id, Id>()
  for (const { row, post, manager, left } of read) {
    if (manager === undefined || left) continue
    // `Head, Ports` may be a person, last name first, or a title.
    const found = [manager, row.stood?.['manager'] ?? manager].map(named).find(({ length }) => length > 0) ?? []
    const [chief, second] = found
    const fault = (message: string) => faultAt(row.number, 'Manager', message)
    if (chief === undefined) fault(`There is no “${manager.slice(0, 60)}” in the table or among the facts.`)
    else if (second !== undefined) fault(`“${manager.slice(0, 60)}” may be any of ${found.length}. Use an identity.`)
    else if (chief === post) fault('It reports to itself.')
    else managers.set(post, chief)
  }
  return withoutCircles(wish, read, managers, faultAt)
}

function withoutCircles(
  { model, day }: Wish,
  read: readonly Read[],
  managers: Map<Id, Id>,
  faultAt: FaultAt,
): Map<Id, Id> {
  const above = (id: Id) => managers.get(id) ?? (solidLine(model, id, day)?.target as Id | undefined)
  const rowOf = new Map(read.map(({ post, row }) => [post, row.number]))
  const walkOf = new Map<Id, number>()
  read.forEach(({ post }, walk) => {
    let at: Id | undefined = post
    while (at !== undefined && !walkOf.has(at)) {
      walkOf.set(at, walk)
      at = above(at)
    }
    if (at === undefined || walkOf.get(at) !== walk) return
    const circle = [at]
    for (let next = above(at); next !== undefined && next !== at; next = above(next)) circle.push(next)
    const rows = circle.flatMap((id) => rowOf.get(id) ?? []).sort((a, b) => a - b)
    for (const row of rows) faultAt(row, 'Manager', `Rows ${rows.join(', ')} report to each other in a circle.`)
  })
  return managers
}

/** The steps that make the facts as the rows say, and what they amount to in words. */
function changeFor(
  wish: Wish,
  read: readonly Read[],
  managers: ReadonlyMap<Id, Id>,
  blocked: boolean,
  options: ImportOptions,
): Omit<ImportPlan, 'faults'> {
  const { model, day } = wish
  const steps: Step[] = []
  const added: string[] = []
  const altered: string[] = []
  const units = new Map(
    model
      .ofKind('unit')
      .flatMap((unit) => [[unit.name.toLowerCase(), unit.id] as const, [unit.id.toLowerCase(), unit.id] as const]),
  )
  const unitOf = (name: string): Id => {
    const known = units.get(name.toLowerCase())
    if (known !== undefined) return known
    const id = wish.newId()
    units.set(name.toLowerCase(), id)
    steps.push(addEntity({ id, kind: 'unit', name, fields: {} }))
    return id
  }
  const lines: Step[] = []
  read.forEach((one, index) => {
    const known = model.entities.get(one.post)
    if (one.left) {
      const leaves = known ? leavingSteps(model, one.post, one.held.to ?? day) : []
      steps.push(...leaves)
      if (leaves.length > 0) altered.push(`${wordsFor(one)}: has left`)
      return
    }
    const unit = one.fields['unit']
    const fields = typeof unit === 'string' ? { ...one.fields, unit: unitOf(unit) } : one.fields
    const before = steps.length + lines.length
    if (known) steps.push(...updateSteps(known, one, fields))
    else steps.push(addEntity(newPosition(one, fields, index)))
    steps.push(...holderSteps(wish, one))
    lines.push(...lineSteps(wish, one, managers.get(one.post)))
    if (!known) added.push(wordsFor(one))
    else if (steps.length + lines.length > before) altered.push(wordsFor(one))
  })
  const here = new Set(read.map(({ post }) => post))
  const gone = model
    .ofKind('position')
    .filter(({ id, to }) => id.startsWith(options.source ?? POST) && !here.has(id) && (to === undefined || to > day))
  const ends = options.endGone ? gone.flatMap(({ id }) => endSteps(model, id, day)) : []
  const label = `Bring in a table of ${counted(read.length, 'row')}`
  return {
    change: { label, steps: blocked ? [] : [...steps, ...lines, ...ends] },
    added,
    altered,
    gone: gone.map(({ id, name }) => ({ id, name })),
  }
}

/** Whoever holds a position holds it to the day; a second time there is nothing left to end. */
const leavingSteps = (model: Model, post: Id, day: Day): Step[] =>
  model
    .reaching(post, 'holds')
    .filter((holds) => covers(holds, day) && holds.to !== day)
    .map((holds) => setRelation(holds.id, 'to', day))

const wordsFor = ({ holder, title }: Read): string => `${holder ?? 'vacant'} — ${title}`

const newPosition = ({ post, title, exists }: Read, fields: Fields, index: number): Entity => ({
  id: post,
  kind: 'position',
  name: title,
  fields: { ...fields, order: index + 1 },
  ...stated(exists),
})

const stated = ({ from, to }: Days): Period => ({ ...(from ? { from } : {}), ...(to ? { to } : {}) })

/** What the table says and the facts do not. What the table leaves empty stays. */
function updateSteps(known: Entity, { title, exists, row }: Read, fields: Fields): Step[] {
  const steps: Step[] = []
  const set = (path: string, now: unknown, value: FieldValue | undefined) => {
    if (value !== undefined && now !== value) steps.push(setEntity(known.id, path, value))
  }
  if (row.cells['title']) set('name', known.name, title)
  set('from', known.from, exists.from)
  set('to', known.to, exists.to)
  for (const [id, value] of Object.entries(fields)) set(`fields.${id}`, known.fields[id], value)
  return steps
}

function holderSteps({ model, day, newId }: Wish, { post, holder, email, held, row }: Read): Step[] {
  if (nameIn(row.cells) === undefined) return []
  const all = model.reaching(post, 'holds')
  const now = all.filter((holds) => covers(holds, day))
  if (holder === undefined) return now.map((holds): Step => removeRelation(holds.id))
  const isSame = ({ source }: Relation) => {
    const person = model.entities.get(source)
    return (email !== undefined && person?.fields['email'] === email) || person?.name === holder
  }
  // Somebody who is yet to come is known by an earlier table as well.
  const same = now.find(isSame) ?? all.find((holds) => isSame(holds) && holds.from === held.from)
  if (same) return [...personSteps(model.entities.get(same.source), holder, email), ...heldSteps(same, held)]
  const person = newId()
  return [
    ...now.flatMap((holds) => endedBefore(holds, held.from)),
    addEntity({ id: person, kind: 'person', name: holder, fields: email === undefined ? {} : { email } }),
    addRelation({ id: newId(), kind: 'holds', source: person, target: post, fields: {}, ...stated(held) }),
  ]
}

function personSteps(person: Entity | undefined, holder: string, email: string | undefined): Step[] {
  if (!person) return []
  return [
    ...(person.name === holder ? [] : [setEntity(person.id, 'name', holder)]),
    ...(email === undefined || person.fields['email'] === email ? [] : [setEntity(person.id, 'fields.email', email)]),
  ]
}

const heldSteps = (holds: Relation, held: Days): Step[] =>
  (['from', 'to'] as const).flatMap((end) =>
    held[end] === undefined || held[end] === holds[end] ? [] : [setRelation(holds.id, end, held[end])],
  )

/** Whoever held a post holds it until the next one comes; where nobody says when that is, no longer. */
function endedBefore(holds: Relation, next: Day | undefined): Step[] {
  if (next === undefined || (holds.from !== undefined && holds.from >= next)) return [removeRelation(holds.id)]
  const last = addDays(next, -1)
  return holds.to !== undefined && holds.to <= last ? [] : [setRelation(holds.id, 'to', last)]
}

function lineSteps({ model, day, newId }: Wish, { post, row }: Read, manager: Id | undefined): Step[] {
  if (row.cells['manager'] === undefined) return []
  const line = model.leaving(post, 'reports-to').find((one: Relation) => isSolid(one) && covers(one, day))
  if (manager === undefined) return line ? [removeRelation(line.id)] : []
  if (!line) return [tie(newId(), 'reports-to', post, manager)]
  return line.target === manager ? [] : [setRelation(line.id, 'target', manager)]
}
