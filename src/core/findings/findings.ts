import { apply, type Change, type Day, type Id, type Model } from '../model'
import type { Finding, Registry, Rule, Severity } from '../notation'

const WEIGHT: Readonly<Record<Severity, number>> = { error: 0, warning: 1, note: 2 }

/** All findings of all rules, errors first. The cost is the rules' own: each says so. */
export function findingsOf(registry: Registry, model: Model, day: Day): Finding[] {
  return run([...registry.rules.values()], model, day)
}

/** The errors that a change would add: messages of severity error that were not there before. Runs the error rules twice. */
export function newErrors(registry: Registry, model: Model, change: Change, day: Day): Finding[] {
  const rules = [...registry.rules.values()].filter((rule) => rule.severity === 'error')
  const before = new Set(run(rules, model, day).map(keyOf))
  return run(rules, apply(model, change).model, day).filter((finding) => !before.has(keyOf(finding)))
}

export type Tally = Readonly<Record<Severity, number>>

export function tally(findings: readonly Finding[]): Tally {
  const count = { error: 0, warning: 0, note: 0 }
  for (const finding of findings) count[finding.severity]++
  return count
}

/** Findings whose subjects include one of these facts. */
export function findingsAbout(findings: readonly Finding[], facts: Iterable<Id>): Finding[] {
  const wanted = new Set(facts)
  return findings.filter((finding) => finding.subjects.some((id) => wanted.has(id)))
}

const keyOf = (finding: Finding): string => `${finding.rule} ${finding.subjects.join(' ')}`

const run = (rules: readonly Rule[], model: Model, day: Day): Finding[] =>
  rules
    .flatMap((rule) => rule.check(model, day).map((found) => ({ rule: rule.id, severity: rule.severity, ...found })))
    .sort((a, b) => WEIGHT[a.severity] - WEIGHT[b.severity])
