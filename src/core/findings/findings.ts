import { apply, wordsOf, type Acceptance, type Change, type Day, type Id, type Model, type Step } from '../model'
import type { Finding, Registry, Rule, Severity } from '../notation'

/** All findings of all rules, errors first; those that somebody lets stand say so. The cost is the rules' own: each says so. */
export const findingsOf = (registry: Registry, model: Model, day: Day): Finding[] =>
  run([...registry.rules.values()], model, day).map((finding) => judged(finding, model, day))

/** A finding as it counts on a day: somebody may let it stand. */
export function judged(finding: Finding, model: Model, day: Day): Finding {
  const accepted = model.settings.accepted[keyOf(finding)]
  const stands = accepted !== undefined && (accepted.until === undefined || day <= accepted.until)
  return stands ? { ...finding, accepted } : finding
}

export const isOpen = (finding: Finding): boolean => finding.accepted === undefined

/** The change that lets a finding stand, for a reason, until a day or for good; without a reason it counts again. */
export function acceptanceOf(finding: Finding, acceptance: Acceptance | null): Change {
  const label = acceptance ? `Accept “${finding.message}”` : `No longer accept “${finding.message}”`
  return { label: label.slice(0, 900), steps: [acceptStep(finding, acceptance)] }
}

/** The change that lets many findings stand, for one reason. */
export const acceptanceOfAll = (findings: readonly Finding[], acceptance: Acceptance): Change => ({
  label: `Accept ${findings.length.toLocaleString('en')} findings`,
  steps: findings.map((finding) => acceptStep(finding, acceptance)),
})

const acceptStep = (finding: Finding, value: Acceptance | null): Step => ({
  do: 'set-workspace',
  path: `accepted.${keyOf(finding)}`,
  value,
})

/** The errors that a change would add: messages of severity error that were not there before. Runs the error rules twice. */
export function newErrors(registry: Registry, model: Model, change: Change, day: Day): Finding[] {
  const rules = [...registry.rules.values()].filter((rule) => rule.severity === 'error')
  const before = new Set(run(rules, model, day).map(keyOf))
  return run(rules, apply(model, change).model, day).filter((finding) => !before.has(keyOf(finding)))
}

/** Findings that are accepted do not count. */
export type Tally = Readonly<Record<Severity, number>>

export function tally(findings: readonly Finding[]): Tally {
  const count = { error: 0, warning: 0, note: 0 }
  for (const finding of findings) if (isOpen(finding)) count[finding.severity]++
  return count
}

/** Findings whose subjects include one of these facts. */
export function findingsAbout(findings: readonly Finding[], facts: Iterable<Id>): Finding[] {
  const wanted = new Set(facts)
  return findings.filter((finding) => finding.subjects.some((id) => wanted.has(id)))
}

/** What a finding is known by: its rule and its subjects, and what of them it is about. */
export const keyOf = ({ rule, subjects, about }: Pick<Finding, 'rule' | 'subjects' | 'about'>): string =>
  [rule, ...subjects, ...(about === undefined ? [] : [about])].join(' ')

const run = (rules: readonly Rule[], model: Model, day: Day): Finding[] =>
  bySeverity(rules.map((rule) => foundBy(rule, model, day)))

/** What several rules found as one list, errors first, else in the order of the rules. O(findings) */
export function bySeverity(lists: readonly (readonly Finding[])[]): Finding[] {
  const found: Record<Severity, Finding[]> = { error: [], warning: [], note: [] }
  for (const list of lists) for (const finding of list) found[finding.severity].push(finding)
  return [...found.error, ...found.warning, ...found.note]
}

/** One rule that fails stops no other: that it does is a finding of its own. */
export function foundBy(rule: Rule, model: Model, day: Day): Finding[] {
  try {
    return rule.check(model, day).map((found) => ({ rule: rule.id, severity: rule.severity, ...found }))
  } catch (error) {
    const message = `This could not be checked, because the rule failed: ${wordsOf(error)}.`
    return [{ rule: rule.id, severity: 'warning', message, subjects: [], fixes: [], failed: true }]
  }
}
