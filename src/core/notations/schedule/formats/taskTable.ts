import { cyclicComponents } from '../../../graph'
import { counted, join, type Id, type Step } from '../../../model'
import {
  setRelation,
  readRows,
  readCell,
  asKey,
  removeRelation,
  addEntity,
  setEntity,
  setField,
  type FaultAt,
  type ImportOptions,
  type ImportPlan,
  type ImportRow,
  type TableImport,
  type Wish,
} from '../../../notation'
import {
  assignNew,
  assignSteps,
  kindSteps,
  linkStep,
  newWork,
  planFor,
  planIn,
  removeSteps,
  unclearWorker,
} from '../edits'
import { UNTITLED } from '../outline'
import { momentText, planShown, textOf, typeOfLink, type WorkKind } from '../plan'
import { readShares } from '../shares'
import { readLinks, type TypedLink } from '../words'

/** One row a task: number or identity, name, duration, what it comes after, who works on it, and what else is known. */
export const taskTable: TableImport = {
  id: 'tasks',
  title: 'Tasks of a plan, one row a task',
  columns: [
    {
      id: 'id',
      label: 'Id',
      headings: ['id', 'no', 'no.', 'number', 'wbs', 'outline number', 'task id', 'key', 'activity'],
    },
    {
      id: 'name',
      label: 'Task',
      headings: ['task', 'name', 'task name', 'title', 'description', 'activity name', 'what'],
    },
    { id: 'duration', label: 'Duration', headings: ['duration', 'length', 'days', 'takes', 'effort'] },
    {
      id: 'after',
      label: 'After',
      headings: ['after', 'predecessors', 'predecessor', 'depends on', 'dependencies', 'follows'],
    },
    {
      id: 'who',
      label: 'Who',
      headings: ['who', 'resource', 'resources', 'assigned to', 'owner', 'assignee', 'people'],
    },
    { id: 'group', label: 'Group', headings: ['group', 'phase', 'summary', 'parent', 'section', 'workstream'] },
    {
      id: 'start',
      label: 'Start no earlier',
      headings: ['start no earlier', 'start', 'start date', 'begin', 'from', 'not before'],
      says: 'moment',
    },
    { id: 'deadline', label: 'Deadline', headings: ['deadline', 'due', 'due date', 'by', 'target'], says: 'moment' },
    {
      id: 'percent',
      label: 'Done',
      headings: ['done', 'percent', '% complete', 'percent complete', 'progress'],
      says: 'number',
      range: { min: 0, max: 100 },
    },
    { id: 'kind', label: 'Kind', headings: ['kind', 'type', 'milestone'] },
    { id: 'category', label: 'Colour group', headings: ['colour group', 'category', 'colour', 'tag'] },
  ],
  readers: [],
  plan,
}

interface Read {
  readonly row: ImportRow
  readonly id: Id
  readonly name: string
  readonly kind: WorkKind
  readonly group: string
  readonly after: readonly TypedLink[]
  readonly fields: Readonly<Record<string, string | number>>
}

const TASK = 'task-'
const FIELDS = [
  { id: 'duration', label: 'Duration', type: 'duration' },
  { id: 'deadline', label: 'Deadline', type: 'moment' },
  { id: 'percent', label: 'Done', type: 'number', min: 0, max: 100 },
  { id: 'category', label: 'Colour group', type: 'text' },
] as const

/** O(rows + plan). */
function plan(wish: Wish, rows: readonly ImportRow[], options: ImportOptions): ImportPlan {
  const target = planFor(wish)
  const { read, faults, bad } = readRows(rows, options, (kept, fault) => readTasks(wish, target.id, kept, fault))
  return { ...changeFor(wish, target, bad.size > 0 ? [] : read, rows.length, options), faults }
}

function readTasks(wish: Wish, planId: Id | undefined, rows: readonly ImportRow[], faultAt: FaultAt): Read[] {
  const known = planIn(wish)
  const byNumber = new Map(known.list.map((work) => [work.number, work.id]))
  const byName = new Map(known.list.map((work) => [work.entity.name.toLowerCase(), work.id]))
  const seen = new Map<Id, number>()
  const numbers = new Set(rows.map(({ cells }) => cells['id'] ?? ''))
  const read = rows.flatMap((row): Read[] => {
    const { cells, number } = row
    const fault = (column: string, message: string) => faultAt(number, column, message)
    const key = cells['id'] ?? ''
    const name = (cells['name'] ?? '').trim()
    if (key === '' && name === '') return (fault('Task', 'There is neither an identity nor a name.'), [])
    if (name.length > 400) return (fault('Task', `It has ${name.length} characters; 400 is the most.`), [])
    const brought = `${TASK}${planId ?? ''}-${asKey(key || name)}`.slice(0, 64) as Id
    const id =
      [brought, key as Id].find((one) => known.byId.has(one)) ??
      byNumber.get(key) ??
      (key === '' ? byName.get(name.toLowerCase()) : undefined) ??
      brought
    const twin = seen.get(id)
    if (twin !== undefined) return (fault('Id', `It has the identity of row ${twin}.`), [])
    seen.set(id, number)
    const unclear = unclearWorker(wish, id, readShares(cells['who'] ?? ''))
    if (unclear) fault('Who', unclear.refused)
    const fields: Record<string, string | number> = {}
    // A bare number is so many days.
    const bare = /^\d+(?:[.,]\d+)?$/.test((cells['duration'] ?? '').trim())
    for (const field of FIELDS) {
      const text =
        field.id === 'duration' && bare ? `${cells['duration'] ?? ''}d` : (cells[field.id] ?? '').replace(/\s*%$/, '')
      const value = readCell(field, text, fault)
      if (typeof value === 'string' || typeof value === 'number') fields[field.id] = value
    }
    const start = readCell({ label: 'Start no earlier', type: 'moment' }, cells['start'], fault)
    if (typeof start === 'string') Object.assign(fields, { constraint: 'start no earlier', on: start })
    const after = readLinks(cells['after'] ?? '')
    const isGroup = [...numbers].some((other) => key !== '' && other.startsWith(`${key}.`))
    const mark = /^(milestone|yes|true|1|x)$/i.test((cells['kind'] ?? '').trim()) || fields['duration'] === '0d'
    const there = cells['kind'] === undefined ? known.byId.get(id)?.kind : undefined
    const stated: WorkKind =
      isGroup || /^(group|summary)$/i.test(cells['kind'] ?? '') ? 'group' : mark ? 'milestone' : 'task'
    const kind = there ?? stated
    if (kind !== 'task') for (const field of ['duration', 'percent', 'category']) delete fields[field]
    if (kind === 'group') for (const field of ['deadline', 'constraint', 'on']) delete fields[field]
    // A number such as 2.3 stands below 2.
    const outer = /^(\d+(?:\.\d+)*)\.\d+$/.exec(key)?.[1] ?? ''
    return [{ row, id, name, kind, group: cells['group']?.trim() || (numbers.has(outer) ? outer : ''), after, fields }]
  })
  const keys = new Map(
    read.flatMap(({ row, id }) => [
      [(row.cells['id'] ?? '').toLowerCase(), id] as const,
      [(row.cells['name'] ?? '').toLowerCase(), id] as const,
    ]),
  )
  const find = (ref: string) => keys.get(ref.toLowerCase()) ?? byNumber.get(ref) ?? byName.get(ref.toLowerCase())
  const next = new Map<Id, Id[]>()
  for (const { row, id, after } of read)
    for (const { ref } of after) {
      const source = find(ref)
      if (source === undefined)
        faultAt(row.number, 'After', `There is no task “${ref.slice(0, 60)}” in the table or in the plan.`)
      else join(next, source, id)
    }
  for (const circle of cyclicComponents(
    read.map(({ id }) => id),
    (id) => next.get(id) ?? [],
  ))
    for (const one of circle) {
      const found = read.find(({ id }) => id === one)
      if (found)
        faultAt(
          found.row.number,
          'After',
          `“${found.name || found.row.cells['id']}” comes after itself, by way of ${circle.length} tasks.`,
        )
    }
  return read
}

function changeFor(
  wish: Wish,
  { id: planId, steps: making }: ReturnType<typeof planFor>,
  read: readonly Read[],
  count: number,
  options: ImportOptions,
): Omit<ImportPlan, 'faults'> {
  const known = planShown(wish.model, wish.view, wish.day)
  const steps: Step[] = read.length > 0 ? [...making] : []
  const [added, altered]: [string[], string[]] = [[], []]
  const people = new Map<string, Id>()
  const idOf = new Map<string, Id>()
  for (const work of known.list) {
    idOf.set(work.entity.name.toLowerCase(), work.id)
    idOf.set(work.number, work.id)
  }
  for (const { row, id, name } of read) {
    if (name) idOf.set(name.toLowerCase(), id)
    if (row.cells['id']) idOf.set(row.cells['id'].toLowerCase(), id)
  }
  const groups = new Map(
    known.list.filter(({ kind }) => kind === 'group').map((work) => [work.entity.name.toLowerCase(), work.id]),
  )
  for (const { id, name, row, kind } of read)
    if (kind === 'group') {
      groups.set(name.toLowerCase(), id)
      groups.set((row.cells['id'] ?? '').toLowerCase(), id)
    }
  let order = known.roots.length
  const lines: Step[] = []
  for (const { row, id, name, kind, group, after, fields } of read) {
    let within: Id | undefined
    if (group !== '') {
      within = groups.get(group.toLowerCase())
      if (within === undefined) {
        within = wish.newId()
        groups.set(group.toLowerCase(), within)
        steps.push(addEntity(newWork(within, 'group', group.slice(0, 400), planId, undefined, ++order)))
      }
    }
    const work = known.byId.get(id)
    const before = steps.length + lines.length
    if (!work) {
      steps.push(addEntity(newWork(id, kind, name || UNTITLED, planId, within, ++order, fields)))
      const who = kind === 'group' ? [] : assignNew(wish, id, readShares(row.cells['who'] ?? ''), people)
      // Who is unclear is a fault of the row.
      if (!('refused' in who)) lines.push(...who)
    } else {
      if (row.cells['kind'] !== undefined && work.kind !== kind) steps.push(...kindSteps(work, kind))
      if (name !== '' && name !== work.entity.name) steps.push(setEntity(id, 'name', name))
      // A start that is the computed one anyway sets nothing.
      const asComputed =
        textOf(work.entity, 'constraint') === undefined && fields['on'] === momentText(work.start, work.time, 'start')
      for (const [field, value] of Object.entries(fields))
        if (work.entity.fields[field] !== value && !(asComputed && (field === 'on' || field === 'constraint')))
          steps.push(setField(id, field, value))
      if (group !== '' && within !== id && textOf(work.entity, 'group') !== within)
        steps.push(setField(id, 'group', within ?? null))
      if (row.cells['who'] !== undefined && work.kind !== 'group') {
        const who = assignSteps(wish, id, readShares(row.cells['who']))
        if (!('refused' in who)) lines.push(...who)
      }
    }
    if (row.cells['after'] !== undefined) lines.push(...linkChanges(wish, id, after, idOf))
    if (!work) added.push(name || (row.cells['id'] ?? ''))
    else if (steps.length + lines.length > before) altered.push(name || work.entity.name)
  }
  const here = new Set(read.map(({ id }) => id))
  const gone =
    read.length === 0
      ? []
      : known.list.filter(({ id, kind }) => !here.has(id) && id.startsWith(TASK) && kind !== 'group')
  // A link between two that go is taken away once.
  const taken = new Set(lines.flatMap((step) => (step.do === 'remove-relation' ? [step.id] : [])))
  const ends = (options.endGone ? gone : [])
    .flatMap((work) => removeSteps(wish.model, { ...work, into: [], out: [] }, wish.newId))
    .filter((step) => {
      if (step.do !== 'remove-relation') return true
      const again = taken.has(step.id)
      taken.add(step.id)
      return !again
    })
  return {
    change: {
      label: `Bring in a table of ${counted(count, 'task')}`,
      steps: added.length + altered.length + ends.length === 0 ? [] : [...steps, ...lines, ...ends],
    },
    added,
    altered,
    gone: gone.map(({ id, entity }) => ({ id, name: entity.name })),
  }
}

/** The links into a task as its row says. */
function linkChanges(
  { model, newId }: Wish,
  id: Id,
  after: readonly TypedLink[],
  idOf: ReadonlyMap<string, Id>,
): Step[] {
  const now = model.reaching(id, 'precedes')
  const wanted = after.flatMap(({ ref, type, lag }) => {
    const source = idOf.get(ref.toLowerCase())
    return source === undefined ? [] : [{ source, type, lag }]
  })
  const steps: Step[] = now
    .filter(({ source }) => !wanted.some((one) => one.source === source))
    .map((link) => removeRelation(link.id))
  for (const { source, type, lag } of wanted) {
    const link = now.find((one) => one.source === source)
    if (!link) {
      steps.push(linkStep(newId(), source, id, { ...(type === 'FS' ? {} : { type }), ...(lag ? { lag } : {}) }))
      continue
    }
    if (typeOfLink(link) !== type) steps.push(setRelation(link.id, 'fields.type', type === 'FS' ? null : type))
    if ((textOf(link, 'lag') ?? '') !== (lag ?? '')) steps.push(setRelation(link.id, 'fields.lag', lag ?? null))
  }
  return steps
}
