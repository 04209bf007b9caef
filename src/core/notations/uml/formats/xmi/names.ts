/** How kinds and words of ours are called in UML 2.5.1. */

/** What a fact is called that a file does not name; it is written without a name again. */
export const UNNAMED = '…'

export const KINDS_WRITTEN = [
  'package',
  'class',
  'attribute',
  'operation',
  'literal',
  'machine',
  'state',
  'region',
  'subject',
  'use-case',
  'actor',
  'component',
  'component-port',
  'deployment-node',
  'interaction',
  'lifeline',
  'call',
  'operand',
] as const

export const TIES_WRITTEN = [
  'association',
  'generalization',
  'realization',
  'dependency',
  'participation',
  'include',
  'extend',
  'provides',
  'requires',
  'deploys',
  'transition',
] as const

export const FORM_TYPES: Readonly<Record<string, string>> = {
  class: 'Class',
  interface: 'Interface',
  enumeration: 'Enumeration',
  'data type': 'DataType',
  primitive: 'PrimitiveType',
  signal: 'Signal',
}

/** PseudostateKind (UML 2.5.1, 14.5.7). */
export const PSEUDOSTATES: Readonly<Record<string, string>> = {
  initial: 'initial',
  choice: 'choice',
  junction: 'junction',
  fork: 'fork',
  join: 'join',
  history: 'shallowHistory',
  'deep history': 'deepHistory',
  terminate: 'terminate',
}

/** MessageSort (UML 2.5.1, 17.12.22). */
export const MESSAGE_SORTS: Readonly<Record<string, string>> = {
  asks: 'synchCall',
  tells: 'asynchCall',
  answers: 'reply',
  makes: 'createMessage',
  ends: 'deleteMessage',
}
