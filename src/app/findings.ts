import type { Finding } from '../core/notation'
import { registry } from '../core/notations'

export const ruleOf = (finding: Finding) => registry.rules.get(finding.rule)
