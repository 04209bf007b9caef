import type { Rule } from '../../../notation'
import { peopleRules } from './people'
import { runRules } from './runs'
import { shapeRules } from './shape'

export const rules: readonly Rule[] = [...shapeRules, ...runRules, ...peopleRules]
