import type { Field, Kind, RelationKind } from '../../notation'
import { unreadType } from './syntax/sqlType'

const order: Field = { id: 'order', label: 'Order', type: 'number', hidden: true }
/** What another program wrote about a fact and this one does not know: kept as XML, written again. */
const kept: Field = { id: 'kept', label: 'Kept from elsewhere', type: 'note', hidden: true }
/** The package that a class or another package stands in. */
const within: Field = { id: 'package', label: 'Package', type: 'reference', refers: ['package'], place: true }
/** The same of what is drawn without packages: a model file puts it there. */
const filed: Field = { ...within, hidden: true }
const owner: Field = { id: 'class', label: 'Class', type: 'reference', refers: ['class'], place: true }

/** The sorts of classifiers that stand as boxes with compartments (UML 2.5.1, clauses 10 and 11). */
export const CLASS_FORMS = ['class', 'interface', 'enumeration', 'data type', 'primitive', 'signal'] as const
export type ClassForm = (typeof CLASS_FORMS)[number]

/** VisibilityKind and its signs (UML 2.5.1, 7.4.4). */
export const VISIBILITIES = ['public', 'private', 'protected', 'package'] as const
export type Visibility = (typeof VISIBILITIES)[number]
export const SIGN_OF: Readonly<Record<Visibility, string>> = {
  public: '+',
  private: '-',
  protected: '#',
  package: '~',
}

/** AggregationKind (UML 2.5.1, 9.9.1): whether the first end is a whole of which the second is a part. */
export const AGGREGATIONS = ['shared', 'composite'] as const
const YES_NO = ['yes', 'no'] as const

/** How a database keeps it, where that is otherwise than its name and type say: the column, the type there, and the table of what there are many of. */
const column: Field = { id: 'column', label: 'Column', type: 'text' }
const keptAs: Field = { id: 'keptAs', label: 'Kept as', type: 'text', fault: unreadType }
const ownTable: Field = { id: 'table', label: 'Table', type: 'text' }

const visibility: Field = { id: 'visibility', label: 'Visibility', type: 'choice', choices: VISIBILITIES }
const multiplicity: Field = { id: 'multiplicity', label: 'Multiplicity', type: 'text' }
const type: Field = { id: 'type', label: 'Type', type: 'text' }
const isStatic: Field = { id: 'static', label: 'Static', type: 'flag' }
const properties: Field = { id: 'properties', label: 'Properties', type: 'list' }

/** What a state machine is made of: states of every sort, and pseudostates (UML 2.5.1, 14.2.3). */
export const STATE_FORMS = [
  'state',
  'initial',
  'final',
  'choice',
  'junction',
  'fork',
  'join',
  'history',
  'deep history',
  'terminate',
] as const
export type StateForm = (typeof STATE_FORMS)[number]

/** What a message does (UML 2.5.1, 17.4.3): calls and waits, sends and goes on, answers, creates, destroys. */
export const CALL_SORTS = ['asks', 'tells', 'answers', 'makes', 'ends'] as const
export type CallSort = (typeof CALL_SORTS)[number]

/** How what stands in an operand comes about (UML 2.5.1, 17.6.3): alt, opt, loop, par; “or” and “meanwhile” go on with the one before them. */
export const OPERANDS = ['either', 'or', 'if', 'while', 'at once', 'meanwhile'] as const
export type OperandSort = (typeof OPERANDS)[number]

export const interactionField: Field = {
  id: 'interaction',
  label: 'Sequence',
  type: 'reference',
  refers: ['interaction'],
  place: true,
}
const inOperand: Field = { id: 'within', label: 'Within', type: 'reference', refers: ['operand'], place: true }

export const machineField: Field = {
  id: 'machine',
  label: 'State machine',
  type: 'reference',
  refers: ['machine'],
  place: true,
}

export const classKind: Kind = {
  id: 'class',
  title: 'Class',
  plural: 'Classes',
  fields: [
    { id: 'form', label: 'Sort', type: 'choice', choices: CLASS_FORMS },
    { id: 'abstract', label: 'Abstract', type: 'flag' },
    { id: 'leaf', label: 'Final', type: 'flag' },
    { id: 'stereotypes', label: 'Stereotypes', type: 'list' },
    within,
    ownTable,
    { id: 'key', label: 'Key column', type: 'text' },
    { id: 'system', label: 'System', type: 'reference', refers: ['system'] },
    order,
  ],
}

/** A file of another program may say more of any of these. */
const keeping = <K extends Kind | RelationKind>(kind: K): K =>
  kind.fields.includes(kept) ? kind : { ...kind, fields: [...kind.fields, kept] }

const stated: readonly Kind[] = [
  { id: 'package', title: 'Package', plural: 'Packages', fields: [within, order] },
  classKind,
  {
    id: 'attribute',
    title: 'Attribute',
    plural: 'Attributes',
    fields: [
      owner,
      visibility,
      type,
      multiplicity,
      { id: 'default', label: 'Default', type: 'text' },
      isStatic,
      { id: 'derived', label: 'Derived', type: 'flag' },
      properties,
      column,
      keptAs,
      ownTable,
      order,
    ],
  },
  {
    id: 'operation',
    title: 'Operation',
    plural: 'Operations',
    fields: [
      owner,
      visibility,
      { id: 'parameters', label: 'Parameters', type: 'text' },
      { ...type, label: 'Result' },
      multiplicity,
      { id: 'abstract', label: 'Abstract', type: 'flag' },
      isStatic,
      properties,
      order,
    ],
  },
  { id: 'literal', title: 'Literal', plural: 'Literals', fields: [owner, order] },
  {
    id: 'machine',
    title: 'State machine',
    plural: 'State machines',
    fields: [{ id: 'class', label: 'Life of', type: 'reference', refers: ['class'] }, filed, order],
  },
  {
    id: 'state',
    title: 'State',
    plural: 'States',
    fields: [
      { id: 'form', label: 'Sort', type: 'choice', choices: STATE_FORMS },
      { id: 'within', label: 'Within', type: 'reference', refers: ['state', 'region'], place: true },
      { id: 'entry', label: 'On entry', type: 'text' },
      { id: 'do', label: 'Meanwhile', type: 'text' },
      { id: 'exit', label: 'On exit', type: 'text' },
      machineField,
      order,
    ],
  },
  {
    id: 'region',
    title: 'Region',
    plural: 'Regions',
    fields: [{ id: 'within', label: 'Within', type: 'reference', refers: ['state'], place: true }, machineField, order],
  },
  {
    id: 'subject',
    title: 'Subject',
    plural: 'Subjects',
    fields: [{ id: 'system', label: 'System', type: 'reference', refers: ['system'] }, filed, order],
  },
  {
    id: 'use-case',
    title: 'Use case',
    plural: 'Use cases',
    fields: [{ id: 'subject', label: 'Subject', type: 'reference', refers: ['subject'], place: true }, filed, order],
  },
  {
    id: 'actor',
    title: 'Actor',
    plural: 'Actors',
    fields: [{ id: 'role', label: 'Role', type: 'reference', refers: ['role'] }, filed, order],
  },
  {
    id: 'component',
    title: 'Component',
    plural: 'Components',
    fields: [{ id: 'system', label: 'System', type: 'reference', refers: ['system'] }, filed, order],
  },
  {
    id: 'component-port',
    title: 'Port',
    plural: 'Ports of components',
    fields: [{ id: 'component', label: 'Component', type: 'reference', refers: ['component'], place: true }, order],
  },
  {
    id: 'deployment-node',
    title: 'Node',
    plural: 'Nodes',
    fields: [
      { id: 'device', label: 'Device', type: 'reference', refers: ['device'] },
      { id: 'within', label: 'Within', type: 'reference', refers: ['deployment-node'], place: true },
      filed,
      order,
    ],
  },
  { id: 'model-file', title: 'Model file', plural: 'Model files', fields: [order, kept] },
  {
    id: 'schema',
    title: 'Database',
    plural: 'Databases',
    fields: [{ id: 'package', label: 'Keeps', type: 'reference', refers: ['package'] }, order],
  },
  {
    id: 'table',
    title: 'Table',
    plural: 'Tables',
    fields: [
      { id: 'schema', label: 'Database', type: 'reference', refers: ['schema'], place: true },
      { id: 'columns', label: 'Columns', type: 'list', hidden: true },
      { id: 'key', label: 'Key', type: 'list', hidden: true },
      { id: 'unique', label: 'Unique', type: 'list', hidden: true },
      { id: 'references', label: 'References', type: 'list', hidden: true },
      order,
    ],
  },
  { id: 'interaction', title: 'Sequence', plural: 'Sequences', fields: [filed, order] },
  {
    id: 'lifeline',
    title: 'Lifeline',
    plural: 'Lifelines',
    fields: [
      { id: 'class', label: 'Class', type: 'reference', refers: ['class'] },
      { id: 'actor', label: 'Actor', type: 'flag' },
      interactionField,
      order,
    ],
  },
  {
    id: 'call',
    title: 'Message',
    plural: 'Messages',
    nameField: { id: 'text', label: 'Says' },
    fields: [
      { id: 'from', label: 'Of', type: 'reference', refers: ['lifeline'] },
      { id: 'sort', label: 'Sort', type: 'choice', choices: CALL_SORTS },
      { id: 'to', label: 'To', type: 'reference', refers: ['lifeline'] },
      inOperand,
      interactionField,
      order,
    ],
  },
  {
    id: 'operand',
    title: 'Fragment',
    plural: 'Fragments',
    nameField: { id: 'guard', label: 'If' },
    fields: [{ id: 'sort', label: 'Sort', type: 'choice', choices: OPERANDS }, inOperand, interactionField, order],
  },
]

export const entityKinds = stated.map(keeping)

const endFields = (end: 'source' | 'target', group: string): readonly Field[] => [
  { id: `${end}Role`, label: 'Role', type: 'text', group },
  { id: `${end}Multiplicity`, label: 'Multiplicity', type: 'text', group },
  { id: `${end}Navigable`, label: 'Navigable', type: 'choice', choices: YES_NO, group },
  { id: `${end}Properties`, label: 'Properties', type: 'list', group },
]

const ties: readonly RelationKind[] = [
  {
    id: 'association',
    title: 'is associated with',
    sources: ['class'],
    targets: ['class'],
    fields: [
      { id: 'label', label: 'Name', type: 'text' },
      { id: 'aggregation', label: 'Whole and part', type: 'choice', choices: AGGREGATIONS },
      ...endFields('source', 'Near end'),
      ...endFields('target', 'Far end'),
      column,
      ownTable,
    ],
  },
  {
    id: 'generalization',
    title: 'is a',
    sources: ['class', 'actor', 'use-case'],
    targets: ['class', 'actor', 'use-case'],
    fields: [],
  },
  { id: 'realization', title: 'realises', sources: ['class'], targets: ['class'], fields: [] },
  {
    id: 'dependency',
    title: 'depends on',
    sources: ['class', 'package', 'component'],
    targets: ['class', 'package', 'component'],
    fields: [{ id: 'keyword', label: 'Keyword', type: 'text' }],
  },
  { id: 'participation', title: 'takes part in', sources: ['actor'], targets: ['use-case'], fields: [] },
  { id: 'include', title: 'includes', sources: ['use-case'], targets: ['use-case'], fields: [] },
  {
    id: 'extend',
    title: 'extends',
    sources: ['use-case'],
    targets: ['use-case'],
    fields: [{ id: 'condition', label: 'If', type: 'text' }],
  },
  { id: 'provides', title: 'provides', sources: ['component', 'component-port'], targets: ['class'], fields: [] },
  { id: 'requires', title: 'requires', sources: ['component', 'component-port'], targets: ['class'], fields: [] },
  { id: 'deploys', title: 'deploys', sources: ['deployment-node'], targets: ['component'], fields: [] },
  {
    id: 'transition',
    title: 'leads to',
    sources: ['state'],
    targets: ['state'],
    fields: [
      { id: 'trigger', label: 'On', type: 'text' },
      { id: 'guard', label: 'If', type: 'text' },
      { id: 'effect', label: 'Does', type: 'text' },
      { id: 'internal', label: 'Internal', type: 'flag' },
    ],
  },
]

export const relationKinds = ties.map(keeping)
