import { reading, type Reads, type Rule } from '../../../notation'
import { lineRules, orderRules } from './lines'
import { duplicatePerson, peopleRules } from './people'
import { shapeRules } from './shape'

/** Messages name positions with their holders, and whatever else a relation leads to. */
const names = ['*']
const DAYS = ['from', 'to']
/** A relation may lead to a fact of any kind: whether that is in force counts. */
const ENDS = { '*': DAYS }
/** What decides who stands where. */
const standing: Reads = {
  facts: { ...ENDS, position: [...DAYS, 'fields.order', 'fields.grade'], 'reports-to': true, assists: true },
  names,
}
const lines: Reads = { facts: { ...ENDS, 'reports-to': true }, names }
const held: Reads = {
  facts: {
    ...ENDS,
    position: [...DAYS, 'fields.order', 'fields.fte'],
    holds: true,
    'reports-to': true,
    assists: true,
  },
  names,
}

export const rules: readonly Rule[] = [
  ...reading(lines, ...lineRules),
  ...reading(standing, ...orderRules),
  ...reading(held, ...shapeRules, ...peopleRules),
  // What joins two of them depends on whatever names them.
  duplicatePerson,
]
