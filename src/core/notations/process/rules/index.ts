import { reading, type Reads, type Rule } from '../../../notation'
import { entityKinds, relationKinds } from '../kinds'
import { peopleRules } from './people'
import { runRules } from './runs'
import { shapeRules } from './shape'

/** A relation may lead to a fact of any kind: whether that is in force counts. */
const ENDS = { '*': ['from', 'to'] }
const own: Reads['facts'] = {
  ...ENDS,
  ...Object.fromEntries([...entityKinds, ...relationKinds].map(({ id }) => [id, true as const])),
}
const flow: Reads = { facts: own, names: ['*'], words: ['*'] }
const NODE = ['from', 'to', 'process', 'inside', 'type', 'when', 'order', 'phase'].map((path, i) =>
  i < 2 ? path : `fields.${path}`,
)
/** What decides where cases run. */
const runs: Reads = {
  facts: {
    ...ENDS,
    process: ['from', 'to'],
    step: NODE,
    event: NODE,
    gateway: NODE,
    data: NODE,
    flow: true,
    'attached-to': true,
  },
  names: ['*'],
}
const people: Reads = {
  facts: { ...own, person: true, position: true, role: true, unit: true, system: true, holds: true, fills: true },
  names: ['*'],
  words: ['*'],
}

export const rules: readonly Rule[] = [
  ...reading(flow, ...shapeRules),
  ...reading(runs, ...runRules),
  ...reading(people, ...peopleRules),
]
