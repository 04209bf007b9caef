import { counted, apply, type Id, type Model, type Step } from '../../../model'
import {
  addEntity,
  asKey,
  readCell,
  readRows,
  removeRelation,
  setEntity,
  setRelation,
  type ImportOptions,
  type ImportPlan,
  type FaultAt,
  type ImportRow,
  type TableImport,
  type Wish,
} from '../../../notation'
import { flowStep, laneSteps, removeNodeSteps } from '../edits'
import { processes, EVENT_TYPES, GATEWAY_TYPES, STEP_TYPES, UNNAMED } from '../kinds'
import { numbersIn, processOn } from '../structure'

/** One row an element: identity, description, what comes next, branch labels, kind, lane, alternative text, and what else is known. */
export const stepTable: TableImport = {
  id: 'steps',
  title: 'Steps of a process, one row a step',
  columns: [
    { id: 'id', label: 'Id', headings: ['id', 'step id', 'process step id', 'no', 'number', 'key', 'step no'] },
    {
      id: 'name',
      label: 'Step',
      headings: [
        'step',
        'description',
        'process step description',
        'step description',
        'name',
        'activity',
        'task',
        'label',
      ],
    },
    {
      id: 'next',
      label: 'Next',
      headings: ['next', 'next step id', 'next step', 'next steps', 'next ids', 'successor', 'successors', 'leads to'],
    },
    {
      id: 'labels',
      label: 'Branch',
      headings: ['branch', 'branches', 'branch label', 'branch labels', 'connector label', 'line label', 'condition'],
    },
    { id: 'kind', label: 'Kind', headings: ['kind', 'type', 'shape', 'shape type', 'element'] },
    {
      id: 'lane',
      label: 'Lane',
      headings: ['lane', 'function', 'role', 'department', 'who', 'performed by', 'swimlane', 'responsible'],
    },
    { id: 'phase', label: 'Phase', headings: ['phase', 'stage'] },
    { id: 'shares', label: 'Share', headings: ['share', 'shares', 'probability'] },
    { id: 'duration', label: 'Time', headings: ['time', 'duration', 'minutes', 'min'], says: 'number' },
    { id: 'wait', label: 'Wait', headings: ['wait', 'waiting', 'wait before'], says: 'number' },
    { id: 'cost', label: 'Cost', headings: ['cost', 'costs'], says: 'number' },
    { id: 'alt', label: 'In words', headings: ['in words', 'alt text', 'alternative text', 'alt'] },
  ],
  readers: [],
  plan,
}

/** Words for kinds, as people write them. */
const WORDS: Readonly<Record<string, readonly [kind: 'step' | 'event' | 'gateway', type: string]>> = {
  ...Object.fromEntries(STEP_TYPES.map((type) => [type, ['step', type] as const])),
  ...Object.fromEntries(EVENT_TYPES.map((type) => [type, ['event', type] as const])),
  ...Object.fromEntries(GATEWAY_TYPES.map((type) => [type, ['gateway', type] as const])),
  '': ['step', 'task'],
  process: ['step', 'task'],
  step: ['step', 'task'],
  activity: ['step', 'task'],
  action: ['step', 'task'],
  decision: ['gateway', 'exclusive'],
  gateway: ['gateway', 'exclusive'],
  service: ['step', 'service task'],
  begin: ['event', 'start'],
  terminator: ['event', 'end'],
}

interface Read {
  readonly row: ImportRow
  readonly id: Id
  readonly kind: 'step' | 'event' | 'gateway'
  readonly type: string
  readonly next: readonly string[]
  readonly labels: readonly string[]
  readonly shares: readonly string[]
  readonly fields: Readonly<Record<string, number | string>>
}

const split = (text: string | undefined): string[] => (text ?? '').split(/\s*[,;]\s*/).map((one) => one.trim())
const STEP = 'step-'

/** O(rows + elements). */
function plan(wish: Wish, rows: readonly ImportRow[], options: ImportOptions): ImportPlan {
  const target = processes.forWish(wish)
  const { read, faults, bad } = readRows(rows, options, (kept, fault) => readSteps(wish, target.id, kept, fault))
  return { ...changeFor(wish, target, bad.size > 0 ? [] : read, rows.length, options), faults }
}

function readSteps(wish: Wish, process: Id, rows: readonly ImportRow[], faultAt: FaultAt): Read[] {
  const known = processOn(wish.model, process, wish.day)
  const byNumber = new Map([...numbersIn(known)].map(([id, number]) => [number.toLowerCase(), id]))
  const byName = new Map([...known.nodes.values()].map(({ id, entity }) => [entity.name.toLowerCase(), id]))
  const seen = new Map<Id, number>()
  const read = rows.flatMap((row): Read[] => {
    const { cells, number } = row
    const fault = (column: string, message: string) => faultAt(number, column, message)
    const key = cells['id'] ?? ''
    const name = cells['name'] ?? ''
    if (key === '' && name === '') return (fault('Step', 'There is neither an identity nor a description.'), [])
    if (name.length > 400) return (fault('Step', `It has ${name.length} characters; 400 is the most.`), [])
    const own = wish.model.entities.get(key as Id)
    const id =
      own && known.nodes.has(own.id)
        ? own.id
        : (byNumber.get(key.toLowerCase()) ??
          (key === '' ? byName.get(name.toLowerCase()) : undefined) ??
          (`${STEP}${process}-${asKey(key || name)}`.slice(0, 64) as Id))
    const twin = seen.get(id)
    if (twin !== undefined) return (fault('Id', `It has the identity of row ${twin}.`), [])
    seen.set(id, number)
    const word = (cells['kind'] ?? '').toLowerCase().trim()
    const labels = split(cells['labels']).filter((label, index, all) => label !== '' || index < all.length - 1)
    const guessed =
      word === '' && name.endsWith('?') && split(cells['next']).length > 1
        ? (['gateway', 'exclusive'] as const)
        : WORDS[word]
    if (!guessed)
      return (
        fault(
          'Kind',
          `“${word.slice(0, 40)}” is none of ${[...STEP_TYPES, ...EVENT_TYPES, ...GATEWAY_TYPES].join(', ')}.`,
        ),
        []
      )
    const fields: Record<string, number | string> = {}
    for (const field of ['duration', 'wait', 'cost'] as const) {
      const value = readCell({ label: field, type: 'number', min: 0 }, cells[field], fault)
      if (typeof value === 'number') fields[field] = value
    }
    if (cells['alt']) fields['alt'] = cells['alt'].slice(0, 400)
    return [
      {
        row,
        id,
        kind: guessed[0],
        type: guessed[1],
        next: split(cells['next']).filter(Boolean),
        labels,
        shares: split(cells['shares']).filter(Boolean),
        fields,
      },
    ]
  })
  const keys = new Set(
    read.flatMap(({ row, id }) => [
      (row.cells['id'] ?? '').toLowerCase(),
      (row.cells['name'] ?? '').toLowerCase(),
      id.toLowerCase(),
    ]),
  )
  for (const { row, next, shares } of read) {
    for (const to of next)
      if (!keys.has(to.toLowerCase()) && !byNumber.has(to.toLowerCase()) && !byName.has(to.toLowerCase()))
        faultAt(row.number, 'Next', `There is no step “${to.slice(0, 60)}” in the table or in the process.`)
    for (const share of shares)
      if (shareOf(share) === undefined) faultAt(row.number, 'Share', `“${share.slice(0, 40)}” is no share from 0 to 1.`)
  }
  return read
}

function shareOf(text: string): number | undefined {
  const share = Number(text.replace('%', '').replace(',', '.')) / (text.includes('%') ? 100 : 1)
  return share >= 0 && share <= 1 ? share : undefined
}

function changeFor(
  wish: Wish,
  { id: process, steps: making }: ReturnType<typeof processes.forWish>,
  read: readonly Read[],
  count: number,
  options: ImportOptions,
): Omit<ImportPlan, 'faults'> {
  const known = processOn(wish.model, process, wish.day)
  const steps: Step[] = read.length > 0 ? [...making] : []
  const added: string[] = []
  const altered: string[] = []
  const lanes = new Map(known.lanes.map(({ id, name }) => [name.toLowerCase(), id]))
  const phases = new Map(known.phases.map(({ id, name }) => [name.toLowerCase(), id]))
  const area = (kind: 'lane' | 'phase', list: Map<string, Id>, name: string): Id => {
    const there = list.get(name.toLowerCase())
    if (there !== undefined) return there
    const id = wish.newId()
    const of =
      kind === 'lane'
        ? wish.model.ofKind('role').find((role) => role.name.toLowerCase() === name.toLowerCase())
        : undefined
    list.set(name.toLowerCase(), id)
    steps.push(
      addEntity({
        id,
        kind,
        name: name.slice(0, 400),
        fields: { process, order: list.size, ...(of ? { of: of.id } : {}) },
      }),
    )
    return id
  }
  const idOf = new Map<string, Id>()
  for (const [id, number] of numbersIn(known)) idOf.set(number.toLowerCase(), id)
  for (const { id, entity } of known.nodes.values()) idOf.set(entity.name.toLowerCase(), id)
  for (const { row, id } of read) {
    if (row.cells['name']) idOf.set(row.cells['name'].toLowerCase(), id)
    if (row.cells['id']) idOf.set(row.cells['id'].toLowerCase(), id)
    idOf.set(id.toLowerCase(), id)
  }
  const lines: Step[] = []
  read.forEach((one, index) => {
    const { row, id, kind, type, fields } = one
    const node = known.nodes.get(id)
    const name = row.cells['name'] || UNNAMED
    const before = steps.length + lines.length
    const lane = row.cells['lane'] ? area('lane', lanes, row.cells['lane']) : undefined
    const phase = row.cells['phase'] ? area('phase', phases, row.cells['phase']) : undefined
    if (!node) {
      steps.push(
        addEntity({
          id,
          kind,
          name,
          fields: { type, process, order: index + 1, ...fields, ...(phase ? { phase } : {}) },
        }),
      )
      if (lane) steps.push(...laneSteps(wish, id, lane))
    } else {
      if (row.cells['name'] && node.entity.name !== name) steps.push(setEntity(id, 'name', name))
      if (row.cells['kind'] && node.kind === kind && node.type !== type) steps.push(setEntity(id, 'fields.type', type))
      if (lane && node.lane !== lane) steps.push(...laneSteps(wish, id, lane))
      if (phase && node.phase !== phase) steps.push(setEntity(id, 'fields.phase', phase))
      for (const [field, value] of Object.entries(fields))
        if (node.entity.fields[field] !== value) steps.push(setEntity(id, `fields.${field}`, value))
    }
    if (row.cells['next'] !== undefined) lines.push(...lineSteps(wish, wish.model, one, idOf))
    if (!node) added.push(name)
    else if (steps.length + lines.length > before) altered.push(name)
  })
  const here = new Set(read.map(({ id }) => id))
  const gone =
    read.length === 0
      ? []
      : [...known.nodes.values()].filter(({ id, kind }) => !here.has(id) && id.startsWith(STEP) && kind !== 'data')
  const ends: Step[] = []
  if (options.endGone) {
    let model = apply(wish.model, { label: '', steps: [...steps, ...lines] }).model
    for (const { id } of gone) {
      const node = processOn(model, process, wish.day).nodes.get(id)
      const removed = node ? removeNodeSteps(model, node) : []
      model = apply(model, { label: '', steps: removed }).model
      ends.push(...removed)
    }
  }
  const all = [...steps, ...lines, ...ends]
  return {
    change: {
      label: `Bring in a table of ${counted(count, 'step')}`,
      steps: added.length + altered.length + ends.length === 0 ? [] : all,
    },
    added,
    altered,
    gone: gone.map(({ id, entity }) => ({ id, name: entity.name })),
  }
}

/** The lines out of an element as its row says. */
function lineSteps(
  { newId }: Wish,
  model: Model,
  { id, next, labels, shares }: Read,
  idOf: ReadonlyMap<string, Id>,
): Step[] {
  const now = [...model.leaving(id, 'flow')]
  const wanted = next.flatMap((name) => idOf.get(name.toLowerCase()) ?? [])
  const steps: Step[] = now.filter(({ target }) => !wanted.includes(target)).map((flow) => removeRelation(flow.id))
  wanted.forEach((target, index) => {
    const flow = now.find((one) => one.target === target)
    const label = labels[index]
    const share = shares[index] === undefined ? undefined : shareOf(shares[index])
    if (!flow) {
      steps.push(
        flowStep(newId(), id, target, {
          order: index + 1,
          ...(label ? { label } : {}),
          ...(share === undefined ? {} : { share }),
        }),
      )
      return
    }
    if (label && flow.fields['label'] !== label) steps.push(setRelation(flow.id, 'fields.label', label))
    if (share !== undefined && flow.fields['share'] !== share) steps.push(setRelation(flow.id, 'fields.share', share))
  })
  return steps
}
