import { covers, type Id, type Model, type Relation, type Step } from '../../model'
import {
  changed,
  addEntity,
  adding,
  between,
  calledKey,
  endColumn,
  fieldColumn,
  fieldOf,
  fromColumn,
  nameColumn,
  NOT_IN_FORCE,
  referenceColumn,
  relationColumn,
  removeRelation,
  rowsOf,
  setEntity,
  setRelation,
  sharedKinds,
  tie,
  toColumn,
  type Column,
  type Field,
  type Outcome,
  type Register,
  type Wish,
} from '../../notation'
import { actions } from './actions'
import { flowStep, laneSteps, newNode } from './edits'
import { entityKinds, processes, relationKinds, EVENT_TYPES, GATEWAY_TYPES, STEP_TYPES, UNNAMED } from './kinds'
import {
  calledNode,
  inFlowOrder,
  laneHolders,
  numbersIn,
  processOn,
  processShown,
  type FlowNode,
  type Process,
} from './structure'

const KINDS = [...entityKinds, ...sharedKinds, ...relationKinds]

const field = (kind: string, id: string): Field => fieldOf(KINDS, kind, id)

/** A field that only one kind of the rows has. */
const own = (id: string, width: number, kind = 'step'): Column => ofKind(fieldColumn(field(kind, id), width), kind)

function ofKind(column: Column, kind: string): Column {
  return {
    ...column,
    write: (wish, row, text) =>
      wish.model.entities.get(row)?.kind === kind
        ? (column.write?.(wish, row, text) ?? { refused: 'It cannot be written.' })
        : { refused: `Only a ${kind} has this.` },
  }
}

/** The process of a row. A register shows one process, and columns read it anew. */
function processAround(model: Model, row: Id, day: Wish['day']): Process | undefined {
  const entity = model.entities.get(row)
  const process = entity?.fields['process']
  const inside = entity?.fields['inside']
  return typeof process === 'string'
    ? processOn(model, process as Id, day, typeof inside === 'string' ? (inside as Id) : undefined)
    : undefined
}
const nodeAt = (model: Model, row: Id, day: Wish['day']): FlowNode | undefined =>
  processAround(model, row, day)?.nodes.get(row)

/** “S3”, by the flow. */
const number: Column = {
  id: 'number',
  label: 'Id',
  type: 'text',
  width: 52,
  mono: true,
  read: (model, row, day) => {
    const process = processAround(model, row, day)
    return process && numbersIn(process).get(row)
  },
}

const name: Column = {
  ...fieldColumn({ id: 'name', label: 'Step', type: 'text' }, 210),
  read: (model, row) => {
    const text = model.entities.get(row)?.name
    return text === UNNAMED ? undefined : text
  },
  write: ({ model }, row, text) =>
    changed(
      `Name “${text.trim().slice(0, 60)}”`,
      model.entities.has(row) ? [setEntity(row, 'name', text.trim().slice(0, 400) || UNNAMED)] : [],
    ),
}

const TYPES: Readonly<Record<string, readonly string[]>> = {
  step: STEP_TYPES,
  event: EVENT_TYPES,
  gateway: GATEWAY_TYPES,
  data: ['document', 'store'],
}

const type: Column = {
  id: 'type',
  label: 'Kind',
  type: 'text',
  width: 100,
  read: (model, row, day) => nodeAt(model, row, day)?.type,
  choices: () => Object.values(TYPES).flat(),
  write: ({ model }, row, text) => {
    const entity = model.entities.get(row)
    const wanted = text.trim().toLowerCase()
    const list = TYPES[entity?.kind ?? ''] ?? []
    if (!entity || !list.includes(wanted))
      return { refused: `A ${entity?.kind ?? 'row'} is one of ${list.join(', ')}, not “${text.slice(0, 40)}”.` }
    return changed(`Make “${entity.name}” ${wanted}`, [setEntity(row, 'fields.type', wanted)])
  },
}

/** Where an element stands, by name: a lane or phase of its process, made where there is none of that name. */
const standing = (kind: 'lane' | 'phase', of: Standing): Column => ({
  id: kind,
  label: of.label,
  type: 'text',
  width: of.width,
  read: (model, row, day) => {
    const id = nodeAt(model, row, day)?.[kind]
    return id === undefined ? undefined : model.entities.get(id)?.name
  },
  choices: (model) => [...new Set(model.ofKind(kind).map((one) => one.name))],
  write: (wish, row, text) => {
    const process = processAround(wish.model, row, wish.day)
    const wanted = text.trim()
    const node = process?.nodes.get(row)
    if (!process || !node) return NOT_IN_FORCE
    if (wanted === '') return changed(`Take ${calledNode(node)} out of its ${kind}`, of.steps(wish, row, undefined))
    const all = kind === 'lane' ? process.lanes : process.phases
    const known = all.find((one) => calledKey(kind, one.name) === calledKey(kind, wanted))
    const label = `Put ${calledNode(node)} into “${wanted.slice(0, 60)}”`
    if (known) return changed(label, of.steps(wish, row, known.id))
    const id = wish.newId()
    const made = addEntity({
      id,
      kind,
      name: wanted.slice(0, 400),
      fields: { process: process.process?.id ?? '', order: all.length + 1 },
    })
    return changed(label, [made, ...of.steps(wish, row, id)])
  },
})

interface Standing {
  readonly label: string
  readonly width: number
  readonly steps: (wish: Wish, row: Id, id: Id | undefined) => readonly Step[]
}

const lane = standing('lane', { label: 'Lane', width: 130, steps: laneSteps })
const phase = standing('phase', {
  label: 'Phase',
  width: 110,
  steps: (_wish, row, id) => [setEntity(row, 'fields.phase', id ?? null)],
})

const split = (text: string): string[] => text.split(/\s*[,;]\s*/).map((one) => one.trim())

/** What comes next, by number or by name. */
const next: Column = {
  id: 'next',
  label: 'Next',
  type: 'text',
  width: 90,
  mono: true,
  read: (model, row, day) => {
    const process = processAround(model, row, day)
    if (!process) return undefined
    const numbers = numbersIn(process)
    return (
      process.nodes
        .get(row)
        ?.out.map(({ target }) => numbers.get(target) ?? '')
        .join(', ') || undefined
    )
  },
  write: (wish, row, text) => {
    const process = processAround(wish.model, row, wish.day)
    const node = process?.nodes.get(row)
    if (!process || !node) return NOT_IN_FORCE
    const numbers = new Map([...numbersIn(process)].map(([id, one]) => [one.toLowerCase(), id]))
    const byName = new Map([...process.nodes.values()].map(({ id, entity }) => [entity.name.toLowerCase(), id]))
    const wanted: Id[] = []
    for (const word of split(text).filter(Boolean)) {
      const id = numbers.get(word.toLowerCase()) ?? byName.get(word.toLowerCase())
      if (id === undefined) return { refused: `There is no element “${word.slice(0, 60)}” in this process.` }
      if (id === row) return { refused: 'An element cannot lead to itself.' }
      if (!wanted.includes(id)) wanted.push(id)
    }
    const gone = node.out.filter(({ target }) => !wanted.includes(target))
    const fresh = wanted.filter((id) => !node.out.some(({ target }) => target === id))
    const steps: Step[] = []
    // A line that led elsewhere is led on, with its label, before new ones are drawn.
    gone.forEach((flow, index) => {
      const to = fresh[index]
      steps.push(to === undefined ? removeRelation(flow.id) : setRelation(flow.id, 'target', to))
    })
    for (const to of fresh.slice(gone.length)) steps.push(flowStep(wish.newId(), row, to))
    return changed(`Lead from ${calledNode(node)} to ${text.trim() || 'nothing'}`, steps)
  },
}

/** One value for each way out, in their order. */
const perWay = (id: string, label: string, width: number, read: (flow: Relation) => string, field: Field): Column => ({
  id,
  label,
  type: 'text',
  width,
  ...(field.type === 'number' ? { mono: true } : {}),
  read: (model, row, day) => {
    const texts = nodeAt(model, row, day)?.out.map(read) ?? []
    return texts.some((text) => text !== '') ? texts.join(', ') : undefined
  },
  write: (wish, row, text) => {
    const node = nodeAt(wish.model, row, wish.day)
    if (!node) return NOT_IN_FORCE
    const texts = split(text)
    if (texts.filter(Boolean).length > node.out.length)
      return { refused: `${calledNode(node)} has ${node.out.length} ways out, not ${texts.length}.` }
    const steps: Step[] = []
    for (const [index, flow] of node.out.entries()) {
      const value = texts[index] ?? ''
      const share = Number(value.replace('%', '').replace(',', '.')) / (value.includes('%') ? 100 : 1)
      if (field.type === 'number' && value !== '' && !(share >= 0 && share <= 1))
        return { refused: `“${value}” is no share from 0 to 1.` }
      const written = value === '' ? null : field.type === 'number' ? share : value
      if ((flow.fields[field.id] ?? null) !== written) steps.push(setRelation(flow.id, `fields.${field.id}`, written))
    }
    return changed(`${label} of ${calledNode(node)}: ${text.trim()}`, steps)
  },
})

const labels = perWay(
  'labels',
  'Branch',
  110,
  ({ fields }) => (typeof fields['label'] === 'string' ? fields['label'] : ''),
  { id: 'label', label: 'Label', type: 'text' },
)
const shares = perWay(
  'shares',
  'Share',
  84,
  ({ fields }) => (typeof fields['share'] === 'number' ? String(fields['share']) : ''),
  { id: 'share', label: 'Share', type: 'number' },
)

const uses = ofKind(referenceColumn(field('step', 'tool'), 130), 'step')
const standsFor = referenceColumn(field('lane', 'of'), 170)
const owner = (kind: string, width: number): Column => referenceColumn(field(kind, 'owner'), width)

const heldBy: Column = {
  id: 'held',
  label: 'Held by',
  type: 'text',
  width: 180,
  read: (model, row, day) => {
    const entity = model.entities.get(row)
    return (entity && laneHolders(model, entity, day).words) || undefined
  },
}

const stepCount: Column = {
  id: 'steps',
  label: 'Steps',
  type: 'number',
  width: 60,
  mono: true,
  read: (model, row, day) =>
    model
      .reaching(row, 'performed-in')
      .filter((tie) => covers(tie, day) && model.entities.get(tie.source)?.kind === 'step').length,
}

const ofFlow = (id: string, width: number): Column =>
  relationColumn(field('flow', id), width, between('to', 'the line from '))

function addStep(wish: Wish): Outcome {
  const made = processes.forWish(wish)
  const node = newNode(wish, made.id, 'step', '', { type: 'task' })
  return changed('Add a step', [...made.steps, ...node.steps], { select: node.id })
}

const addLane = (wish: Wish): Outcome =>
  actions.find(({ id }) => id === 'first-lane')?.run({ ...wish, selection: [] }) ?? { refused: 'No lane can be added.' }

const PARTS = ['R', 'A', 'C', 'I']

/** Writes the part of a role in a step: a letter, or nothing. */
export function writePart({ model, newId, day }: Wish, role: Id, step: Id, text: string): Outcome {
  const wanted = text.trim().toUpperCase()
  if (wanted !== '' && ![...wanted].every((letter) => PARTS.includes(letter)))
    return { refused: 'A part is R (does it), A (answers for it), C (is asked) or I (is told), or several of them.' }
  const known = model.reaching(step, 'raci').filter((part) => part.source === role && covers(part, day))
  const steps: Step[] = known
    .filter(({ fields }) => !wanted.includes(String(fields['part'])))
    .map(({ id }) => removeRelation(id))
  for (const part of new Set(wanted))
    if (!known.some(({ fields }) => fields['part'] === part)) steps.push(tie(newId(), 'raci', role, step, { part }))
  const [who, what] = [model.entities.get(role)?.name ?? role, model.entities.get(step)?.name ?? step]
  return changed(`${who}: ${wanted || 'no part'} in “${what}”`, steps)
}

export const registers: readonly Register[] = [
  {
    id: 'steps',
    title: 'Steps',
    kind: 'step',
    columns: [
      number,
      name,
      type,
      lane,
      phase,
      next,
      labels,
      own('duration', 64),
      shares,
      own('wait', 64),
      own('cost', 64),
      uses,
      own('worth', 90),
      fieldColumn({ id: 'alt', label: 'In words', type: 'text' }, 180),
      own('least', 72),
      own('most', 72),
      fromColumn,
      toColumn,
    ],
    rows: (model, view, day) => inFlowOrder(processShown(model, view, day)).map(({ id }) => id),
    count: (model, view, day) => processShown(model, view, day).nodes.size,
    add: addStep,
  },
  {
    id: 'lanes',
    title: 'Lanes',
    kind: 'lane',
    columns: [nameColumn('Lane', 170), standsFor, heldBy, stepCount, fromColumn, toColumn],
    rows: (model, view, day) => processShown(model, view, day).lanes.map(({ id }) => id),
    count: (model, view, day) => processShown(model, view, day).lanes.length,
    add: addLane,
  },
  {
    id: 'flows',
    title: 'Flows',
    kind: 'step',
    columns: [
      endColumn('source', 'From', 180),
      ofFlow('label', 120),
      ofFlow('condition', 150),
      ofFlow('share', 70),
      ofFlow('default', 90),
      endColumn('target', 'To', 180),
    ],
    rows: (model, view, day) => processShown(model, view, day).flows.map(({ id }) => id),
    count: (model, view, day) => processShown(model, view, day).flows.length,
    add: () => ({ refused: 'Select an element on the sheet and lead from it: key l.' }),
  },
  {
    id: 'processes',
    title: 'Processes',
    kind: 'process',
    columns: [
      nameColumn('Process', 180),
      fieldColumn(field('process', 'version'), 80),
      owner('process', 160),
      fieldColumn(field('process', 'trigger'), 180),
      fieldColumn(field('process', 'arrivals'), 80),
      fromColumn,
      toColumn,
    ],
    rows: rowsOf('process'),
    add: adding('process', 'New process'),
  },
  {
    id: 'systems',
    title: 'Systems',
    kind: 'system',
    columns: [nameColumn('System', 190), owner('system', 180), fromColumn, toColumn],
    rows: rowsOf('system'),
    add: adding('system', 'New system'),
  },
]
