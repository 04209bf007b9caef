import { containerOf, type Field, type Kind, type RelationKind } from '../../notation'

/** The name of an element that has not been given one: it is drawn without a label. */
export const UNNAMED = 'Unnamed'

/** A process holds its elements, lanes and phases; a view may show the inside of one of its steps. */
export const processes = containerOf('process', 'Process', ['inside'])
export const process = processes.field
export const inside: Field = { id: 'inside', label: 'Inside', type: 'reference', refers: ['step'], hidden: true }
const order: Field = { id: 'order', label: 'Order', type: 'number', hidden: true }
const phase: Field = { id: 'phase', label: 'Phase', type: 'reference', refers: ['phase'], place: true }
/** What another program wrote about an element and this one does not know: kept as XML, written again. */
const kept: Field = { id: 'kept', label: 'Kept from elsewhere', type: 'note', hidden: true }

export const STEP_TYPES = ['task', 'user task', 'service task', 'manual task', 'subprocess'] as const
export const EVENT_TYPES = ['start', 'intermediate', 'end'] as const
export const TRIGGERS = ['none', 'message', 'timer', 'error', 'signal'] as const
export const GATEWAY_TYPES = ['exclusive', 'parallel', 'inclusive', 'event-based'] as const
export const WORTH = ['adds value', 'needed', 'waste'] as const

export const entityKinds: readonly Kind[] = [
  {
    id: 'process',
    title: 'Process',
    plural: 'Processes',
    fields: [
      { id: 'owner', label: 'Owner', type: 'reference', refers: ['person', 'position', 'role', 'unit'] },
      { id: 'version', label: 'Version', type: 'text' },
      { id: 'trigger', label: 'Begins with', type: 'text' },
      { id: 'arrivals', label: 'Cases', type: 'number', unit: 'an hour', min: 0 },
      kept,
    ],
  },
  {
    id: 'pool',
    title: 'Pool',
    plural: 'Pools',
    fields: [process, order, kept],
  },
  {
    id: 'lane',
    title: 'Lane',
    plural: 'Lanes',
    fields: [
      { id: 'of', label: 'Stands for', type: 'reference', refers: ['role', 'position', 'unit', 'system'] },
      { id: 'pool', label: 'Pool', type: 'reference', refers: ['pool'], place: true },
      { id: 'height', label: 'Least height', type: 'number', unit: 'px', min: 0, max: 2000 },
      process,
      order,
      kept,
    ],
  },
  { id: 'phase', title: 'Phase', plural: 'Phases', fields: [process, order] },
  {
    id: 'step',
    title: 'Step',
    plural: 'Steps',
    fields: [
      { id: 'type', label: 'Kind', type: 'choice', choices: STEP_TYPES },
      { id: 'duration', label: 'Time', type: 'number', unit: 'min', min: 0 },
      { id: 'least', label: 'Least time', type: 'number', unit: 'min', min: 0 },
      { id: 'most', label: 'Most time', type: 'number', unit: 'min', min: 0 },
      { id: 'wait', label: 'Wait before', type: 'number', unit: 'min', min: 0 },
      { id: 'cost', label: 'Cost', type: 'number', unit: 'a case', min: 0 },
      { id: 'tool', label: 'Uses', type: 'reference', refers: ['system'] },
      { id: 'worth', label: 'Worth', type: 'choice', choices: WORTH },
      phase,
      process,
      inside,
      order,
      kept,
    ],
  },
  {
    id: 'event',
    title: 'Event',
    plural: 'Events',
    fields: [
      { id: 'type', label: 'Kind', type: 'choice', choices: EVENT_TYPES },
      { id: 'trigger', label: 'Trigger', type: 'choice', choices: TRIGGERS },
      { id: 'wait', label: 'Wait', type: 'number', unit: 'min', min: 0 },
      phase,
      process,
      inside,
      order,
      kept,
    ],
  },
  {
    id: 'gateway',
    title: 'Gateway',
    plural: 'Gateways',
    fields: [
      { id: 'type', label: 'Kind', type: 'choice', choices: GATEWAY_TYPES },
      phase,
      process,
      inside,
      order,
      kept,
    ],
  },
  {
    id: 'data',
    title: 'Data',
    plural: 'Data',
    fields: [
      { id: 'type', label: 'Kind', type: 'choice', choices: ['document', 'store'] },
      phase,
      process,
      inside,
      order,
      kept,
    ],
  },
]

const NODES = ['step', 'event', 'gateway']

export const relationKinds: readonly RelationKind[] = [
  {
    id: 'flow',
    title: 'leads to',
    sources: NODES,
    targets: NODES,
    fields: [
      { id: 'label', label: 'Label', type: 'text' },
      { id: 'condition', label: 'Condition', type: 'text' },
      { id: 'share', label: 'Share', type: 'number', min: 0, max: 1 },
      { id: 'default', label: 'Otherwise', type: 'flag' },
      order,
      kept,
    ],
  },
  {
    id: 'message',
    title: 'sends to',
    sources: [...NODES, 'pool'],
    targets: [...NODES, 'pool'],
    fields: [{ id: 'label', label: 'Label', type: 'text' }, kept],
  },
  { id: 'reads', title: 'reads', sources: ['step'], targets: ['data'], fields: [] },
  { id: 'writes', title: 'writes', sources: ['step'], targets: ['data'], fields: [] },
  {
    id: 'attached-to',
    title: 'happens during',
    sources: ['event'],
    targets: ['step'],
    fields: [{ id: 'goesOn', label: 'The step goes on', type: 'flag' }],
  },
  { id: 'performed-in', title: 'is done in', sources: [...NODES, 'data'], targets: ['lane'], fields: [] },
  { id: 'kept-apart', title: 'is kept apart from', sources: ['step'], targets: ['step'], fields: [] },
  {
    id: 'raci',
    title: 'has a part in',
    sources: ['role'],
    targets: ['step'],
    fields: [{ id: 'part', label: 'Part', type: 'choice', choices: ['R', 'A', 'C', 'I'] }],
  },
]
