import type { Rule } from '../../../notation'
import { lineRules } from './lines'
import { peopleRules } from './people'
import { shapeRules } from './shape'

export const rules: readonly Rule[] = [...lineRules, ...shapeRules, ...peopleRules]
