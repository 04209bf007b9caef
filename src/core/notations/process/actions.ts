import type { Entity, Step } from '../../model'
import {
  addEntity,
  changed,
  moved,
  removal,
  removeEntity,
  removeRelation,
  roomAt,
  setEntity,
  setRelation,
  setView,
  tie,
  type Action,
  type Outcome,
  type Wish,
} from '../../notation'
import {
  connectOutcome,
  flowSelected,
  flowStep,
  laneSteps,
  newNode,
  removeNodeSteps,
  shownNode,
  spliceSteps,
} from './edits'
import { processes } from './kinds'
import { calledNode, processOf, processShown, type FlowNode } from './structure'
import { unwrap, wrapSteps } from './subprocess'

type Selecting = Pick<Wish, 'model' | 'view' | 'day' | 'selection'>
const NOTHING = { refused: 'Select an element of the process first.' }

const isFlowNode = (wish: Selecting): boolean => {
  const node = shownNode(wish)
  return node !== undefined && node.kind !== 'data'
}
const goesOn = (wish: Selecting): boolean => {
  const node = shownNode(wish)
  return node !== undefined && node.kind !== 'data' && !(node.kind === 'event' && node.type === 'end')
}
const selectedNodes = ({ model, view, day, selection }: Selecting): FlowNode[] => {
  const { nodes } = processShown(model, view, day)
  return selection.flatMap((id) => nodes.get(id) ?? [])
}
const selected =
  (kind: string) =>
  ({ model, selection }: Selecting): boolean => {
    const [id] = selection
    return id !== undefined && model.entities.get(id)?.kind === kind
  }
const selectedOf = ({ model, selection }: Selecting, kind: string): Entity | undefined => {
  const [id] = selection
  const entity = id === undefined ? undefined : model.entities.get(id)
  return entity?.kind === kind ? entity : undefined
}

/** A new step after the selected element; from a gateway, a new branch; on a line with something after it, between the two. */
function next(wish: Wish): Outcome {
  const node = shownNode(wish)
  const process = processOf(wish.model, wish.view)
  if (!node || process === undefined) return NOTHING
  const made = newNode(wish, process, 'step', '', { type: 'task' }, node)
  const [on] = node.out
  const between = on !== undefined && node.kind !== 'gateway'
  const steps = [
    ...made.steps,
    ...(between ? spliceSteps(wish.newId, on, made.id) : [flowStep(wish.newId(), node.id, made.id)]),
  ]
  return changed(`Add a step after ${calledNode(node)}`, steps, { select: made.id, edit: 'name' })
}

function before(wish: Wish): Outcome {
  const node = shownNode(wish)
  const process = processOf(wish.model, wish.view)
  if (!node || process === undefined) return NOTHING
  const made = newNode(wish, process, 'step', '', { type: 'task' }, node)
  const steps = [
    ...made.steps,
    ...node.into.map(({ id }) => setRelation(id, 'target', made.id)),
    flowStep(wish.newId(), made.id, node.id),
  ]
  return changed(`Add a step before ${calledNode(node)}`, steps, { select: made.id, edit: 'name' })
}

/** A question after the selected element: “yes” goes on as before, “no” to a new step. */
function decide(wish: Wish): Outcome {
  const node = shownNode(wish)
  const process = processOf(wish.model, wish.view)
  if (!node || process === undefined) return NOTHING
  const gate = newNode(wish, process, 'gateway', '', { type: 'exclusive' }, node)
  const other = newNode(wish, process, 'step', '', { type: 'task' }, node)
  const [on] = node.out
  const steps: Step[] = [...gate.steps, ...other.steps]
  if (on)
    steps.push(setRelation(on.id, 'target', gate.id), flowStep(wish.newId(), gate.id, on.target, { label: 'yes' }))
  else {
    const yes = newNode(wish, process, 'step', '', { type: 'task' }, node)
    steps.push(
      ...yes.steps,
      flowStep(wish.newId(), node.id, gate.id),
      flowStep(wish.newId(), gate.id, yes.id, { label: 'yes' }),
    )
  }
  steps.push(flowStep(wish.newId(), gate.id, other.id, { label: 'no' }))
  return changed(`Add a decision after ${calledNode(node)}`, steps, { select: gate.id, edit: 'name' })
}

const addEvent =
  (type: 'end' | 'start') =>
  (wish: Wish): Outcome => {
    const node = shownNode(wish)
    const process = processOf(wish.model, wish.view)
    if (!node || process === undefined) return NOTHING
    const made = newNode(wish, process, 'event', '', { type }, node)
    const line = type === 'end' ? flowStep(wish.newId(), node.id, made.id) : flowStep(wish.newId(), made.id, node.id)
    return changed(`Add ${type === 'end' ? 'an end' : 'a start'}`, [...made.steps, line], {
      select: made.id,
      edit: 'name',
    })
  }

function connect(wish: Wish): Outcome {
  const node = shownNode(wish)
  return node && wish.target !== undefined ? connectOutcome(wish, node.id, wish.target) : NOTHING
}

const leadElsewhere =
  (end: 'source' | 'target') =>
  (wish: Wish): Outcome => {
    const flow = flowSelected(wish)
    const { target: other } = wish
    if (!flow || other === undefined) return NOTHING
    const [source, target] = end === 'source' ? [other, flow.target] : [flow.source, other]
    const checked = connectOutcome(wish, source, target)
    if ('refused' in checked) return checked
    return changed(checked.change.label, [setRelation(flow.id, end, other)], { select: flow.id })
  }

function splitLine(wish: Wish): Outcome {
  const flow = flowSelected(wish)
  const process = processShown(wish.model, wish.view, wish.day)
  const source = flow && process.nodes.get(flow.source)
  const id = processOf(wish.model, wish.view)
  if (!flow || !source || id === undefined || flow.kind !== 'flow') return NOTHING
  const made = newNode(wish, id, 'step', '', { type: 'task' }, source)
  return changed('Add a step on a line', [...made.steps, ...spliceSteps(wish.newId, flow, made.id)], {
    select: made.id,
    edit: 'name',
  })
}

function otherwise(wish: Wish): Outcome {
  const flow = flowSelected(wish)
  if (!flow) return NOTHING
  const on = flow.fields['default'] === true
  const siblings = wish.model
    .leaving(flow.source, 'flow')
    .filter((one) => one.id !== flow.id && one.fields['default'] === true)
  const steps = [
    setRelation(flow.id, 'fields.default', on ? null : true),
    ...siblings.map(({ id }) => setRelation(id, 'fields.default', null)),
    ...(on || typeof flow.fields['label'] === 'string' ? [] : [setRelation(flow.id, 'fields.label', 'otherwise')]),
  ]
  return changed(on ? 'Take “otherwise” off a line' : 'Make a line the way for all others', steps)
}

/** Removes what is selected: elements heal the flow, a lane gives its steps to another. */
function remove(wish: Wish): Outcome {
  const { model, selection, target } = wish
  const flow = flowSelected(wish)
  if (flow) return changed('Remove a line', [removeRelation(flow.id)])
  const nodes = selectedNodes(wish)
  const [first, second] = nodes
  if (first && !second) return changed(`Remove ${calledNode(first)}`, removeNodeSteps(model, first))
  if (second) return { refused: 'Remove elements one at a time, so that it is clear how the flow goes on.' }
  const lane = selectedOf(wish, 'lane')
  if (lane) {
    const held = model.reaching(lane.id, 'performed-in')
    const led = held.map(({ id }) => (target === undefined ? removeRelation(id) : setRelation(id, 'target', target)))
    return changed(`Remove lane “${lane.name}”`, [...led, removeEntity(lane.id)])
  }
  const phase = selectedOf(wish, 'phase')
  if (phase) {
    const held = [...model.entities.values()].filter(({ fields }) => fields['phase'] === phase.id)
    const freed = held.map(({ id }) => setEntity(id, 'fields.phase', null))
    return changed(`Remove phase “${phase.name}”`, [...freed, removeEntity(phase.id)])
  }
  const [id] = selection
  const other = id === undefined ? undefined : model.entities.get(id)
  return other ? changed(`Remove “${other.name}”`, removal(model, other.id)) : NOTHING
}

function addLane(wish: Wish): Outcome {
  const made = processes.forWish(wish)
  const beside = selectedOf(wish, 'lane')
  const { lanes } = processShown(wish.model, wish.view, wish.day)
  const at = beside ? lanes.indexOf(lanes.find(({ id }) => id === beside.id) ?? beside) + 1 : lanes.length
  const id = wish.newId()
  const pool = beside?.fields['pool']
  const lane: Entity = {
    id,
    kind: 'lane',
    name: 'New lane',
    fields: { process: made.id, order: at + 1, ...(pool === undefined ? {} : { pool }) },
  }
  const steps = [...made.steps, ...roomAt(lanes, at), addEntity(lane)]
  return changed('Add a lane', steps, { select: id, edit: 'name' })
}

function addPhase(wish: Wish): Outcome {
  const made = processes.forWish(wish)
  const { phases } = processShown(wish.model, wish.view, wish.day)
  const id = wish.newId()
  const phase: Entity = {
    id,
    kind: 'phase',
    name: 'New phase',
    fields: { process: made.id, order: phases.length + 1 },
  }
  const nodes = selectedNodes(wish).map(({ id: node }) => setEntity(node, 'fields.phase', id))
  return changed('Add a phase', [...made.steps, addEntity(phase), ...nodes], { select: id })
}

/** Exchanges a lane or phase with its neighbour. */
const shift =
  (by: -1 | 1) =>
  (wish: Wish): Outcome => {
    const { lanes, phases } = processShown(wish.model, wish.view, wish.day)
    const one = selectedOf(wish, 'lane') ?? selectedOf(wish, 'phase')
    if (!one) return NOTHING
    const label = `Move “${one.name}” ${by < 0 ? 'up' : 'down'}`
    return changed(label, moved(one.kind === 'lane' ? lanes : phases, one, by))
  }

const heighten =
  (by: number) =>
  (wish: Wish): Outcome => {
    const lane = selectedOf(wish, 'lane')
    if (!lane) return NOTHING
    const now = typeof lane.fields['height'] === 'number' ? lane.fields['height'] : 84
    return changed(`Make “${lane.name}” ${by > 0 ? 'higher' : 'lower'}`, [
      setEntity(lane.id, 'fields.height', Math.max(60, now + by)),
    ])
  }

/** Moves an element by columns and rows from its computed place, in this view; kept as a pin. */
const nudge =
  (columns: number, rows: number) =>
  (wish: Wish): Outcome => {
    const nodes = selectedNodes(wish)
    const down = wish.view.options['runs'] === 'down'
    const [dx, dy] = down ? [rows, columns] : [columns, rows]
    if (nodes.length === 0) return NOTHING
    const steps = nodes.map(({ id }): Step => {
      const [x, y] = wish.view.pins[id] ?? [0, 0]
      const next: [number, number] = [Math.max(0, x + dx), Math.max(0, y + dy)]
      return setView(wish.view.id, `pins.${id}`, next[0] === 0 && next[1] === 0 ? null : next)
    })
    return changed(
      `Move ${nodes.length === 1 && nodes[0] ? calledNode(nodes[0]) : `${nodes.length} elements`} a little`,
      steps,
    )
  }

function free(wish: Wish): Outcome {
  const nodes = selectedNodes(wish)
  return changed(
    'Take out of its lane',
    nodes.flatMap(({ id }) => laneSteps(wish, id, undefined)),
  )
}

function keepApart(wish: Wish): Outcome {
  const node = shownNode(wish)
  const { target, newId, model } = wish
  if (!node || target === undefined || target === node.id) return { refused: 'Two different steps are kept apart.' }
  if (model.leaving(node.id, 'kept-apart').some((other) => other.target === target))
    return { refused: 'They are kept apart already.' }
  const label = `Keep ${calledNode(node)} apart from “${model.entities.get(target)?.name ?? target}”`
  return changed(label, [tie(newId(), 'kept-apart', node.id, target)])
}

const addDocument =
  (kind: 'reads' | 'writes') =>
  (wish: Wish): Outcome => {
    const node = shownNode(wish)
    const process = processOf(wish.model, wish.view)
    if (!node || process === undefined) return NOTHING
    const made = newNode(wish, process, 'data', 'Document', { type: 'document' }, node)
    const steps = [...made.steps, tie(wish.newId(), kind, node.id, made.id)]
    return changed(`Add what ${calledNode(node)} ${kind}`, steps, { select: made.id, edit: 'name' })
  }

/** Shows what a subprocess holds in a view of its own, made where there is none yet. */
function openInside(wish: Wish): Outcome {
  const node = shownNode(wish)
  const process = processOf(wish.model, wish.view)
  if (!node || process === undefined) return NOTHING
  const known = [...wish.model.views.values()].find(
    (view) => view.scope['inside'] === node.id && view.notation === wish.view.notation,
  )
  const label = `Open ${calledNode(node)}`
  if (known) return changed(label, [], { view: known.id })
  const view = {
    ...wish.view,
    id: wish.newId(),
    title: node.entity.name,
    order: wish.view.order + 0.01,
    scope: { process, inside: node.id },
    pins: {},
  }
  return changed(label, [{ do: 'add-view', view }], { view: view.id })
}

const isStep = (wish: Selecting): boolean => shownNode(wish)?.kind === 'step'
const isSubprocess = (wish: Selecting): boolean => shownNode(wish)?.type === 'subprocess'
const isFlow = (wish: Selecting): boolean => flowSelected(wish)?.kind === 'flow'
const laneOrPhase = (wish: Selecting): boolean => selected('lane')(wish) || selected('phase')(wish)
const always = (): boolean => true
const ELEMENTS = ['step', 'event', 'gateway']

export const actions: readonly Action[] = [
  { id: 'next', label: 'Next', key: 'n', verb: true, applies: goesOn, run: next },
  {
    id: 'decide',
    label: 'Decision',
    key: 'p',
    verb: true,
    applies: (wish) => goesOn(wish) && shownNode(wish)?.kind !== 'gateway',
    run: decide,
  },
  {
    id: 'connect',
    label: 'Lead to…',
    key: 'l',
    verb: true,
    picks: { kinds: [...ELEMENTS, 'pool'], prompt: 'Lead to which element?' },
    applies: goesOn,
    run: connect,
  },
  { id: 'end', label: 'End', key: 'e', verb: true, applies: goesOn, run: addEvent('end') },
  {
    id: 'before',
    label: 'Step before',
    key: 'b',
    applies: (wish) => isFlowNode(wish) && !(shownNode(wish)?.type === 'start'),
    run: before,
  },
  {
    id: 'start',
    label: 'Start before',
    applies: (wish) => shownNode(wish)?.into.length === 0 && isFlowNode(wish),
    run: addEvent('start'),
  },
  { id: 'insert', label: 'Step on it', key: 'n', verb: true, applies: isFlow, run: splitLine },
  { id: 'otherwise', label: 'Otherwise', key: 'o', verb: true, applies: isFlow, run: otherwise },
  {
    id: 'retarget',
    label: 'Lead elsewhere…',
    key: 'l',
    verb: true,
    picks: { kinds: ELEMENTS, prompt: 'Lead to which element instead?' },
    applies: (wish) => flowSelected(wish) !== undefined,
    run: leadElsewhere('target'),
  },
  {
    id: 'resource',
    label: 'Come from elsewhere…',
    picks: { kinds: ELEMENTS, prompt: 'Come from which element instead?' },
    applies: (wish) => flowSelected(wish) !== undefined,
    run: leadElsewhere('source'),
  },
  {
    id: 'wrap',
    label: 'Wrap into a subprocess',
    key: 'w',
    applies: (wish) =>
      selectedNodes(wish).length > 0 && selectedNodes(wish).every(({ kind }) => kind === 'step' || kind === 'gateway'),
    run: wrapSteps,
  },
  {
    id: 'unwrap',
    label: 'Unwrap the subprocess',
    key: 'u',
    applies: isSubprocess,
    run: unwrap,
  },
  { id: 'inside', label: 'Open', key: 'i', verb: true, applies: isSubprocess, run: openInside },
  { id: 'writes', label: 'Document it writes', applies: isStep, run: addDocument('writes') },
  { id: 'reads', label: 'Document it reads', applies: isStep, run: addDocument('reads') },
  {
    id: 'apart',
    label: 'Keep apart from…',
    picks: { kinds: ['step'], prompt: 'Keep apart from which step?' },
    applies: isStep,
    run: keepApart,
  },
  {
    id: 'free',
    label: 'Take out of its lane',
    applies: (wish) => selectedNodes(wish).some(({ lane }) => lane !== undefined),
    run: free,
  },
  { id: 'lane', label: 'Add a lane', key: 'n', verb: true, applies: selected('lane'), run: addLane },
  { id: 'first-lane', label: 'Add a lane at the end', applies: always, run: addLane },
  {
    id: 'arrange',
    label: 'Arrange',
    applies: ({ view }) => view.options['places'] === 'as in the file',
    run: ({ view }) => changed(`Arrange “${view.title}”`, [setView(view.id, 'options.places', 'computed')]),
  },
  processes.show,
  { id: 'phase', label: 'Add a phase', applies: always, run: addPhase },
  { id: 'up', label: 'Earlier', key: 'Alt+ArrowUp', verb: true, applies: laneOrPhase, run: shift(-1) },
  { id: 'down', label: 'Later', key: 'Alt+ArrowDown', verb: true, applies: laneOrPhase, run: shift(1) },
  { id: 'higher', label: 'Higher', key: '+', applies: selected('lane'), run: heighten(24) },
  { id: 'lower', label: 'Lower', key: '-', applies: selected('lane'), run: heighten(-24) },
  { id: 'nudge-right', label: 'Move a column on', key: 'Alt+ArrowRight', applies: isFlowNode, run: nudge(1, 0) },
  { id: 'nudge-left', label: 'Move a column back', key: 'Alt+ArrowLeft', applies: isFlowNode, run: nudge(-1, 0) },
  { id: 'nudge-down', label: 'Move a row down', key: 'Alt+ArrowDown', applies: isFlowNode, run: nudge(0, 1) },
  { id: 'nudge-up', label: 'Move a row up', key: 'Alt+ArrowUp', applies: isFlowNode, run: nudge(0, -1) },
  {
    id: 'remove',
    label: 'Remove',
    key: 'Delete',
    picks: (wish) => {
      const lane = selectedOf(wish, 'lane')
      return lane &&
        wish.model.reaching(lane.id, 'performed-in').length > 0 &&
        processShown(wish.model, wish.view, wish.day).lanes.length > 1
        ? { kinds: ['lane'], prompt: `Where do the steps of “${lane.name}” go?` }
        : undefined
    },
    applies: ({ selection }) => selection.length > 0,
    run: remove,
  },
]
