import { isOpen } from '../core/findings'
import type { Finding, Registry, Rule, Severity } from '../core/notation'
import type { Id, Model } from '../core/model'
import { escape } from '../core/scene'

/** A file in which facts stand, so that a report can lead to the line of each. */
export interface FactFile {
  readonly name: string
  /** Its text; undefined where it is a picture. */
  readonly text?: string | undefined
}

/** The line, from 1, in which each fact’s identity stands. O(text) */
function linesOf({ text }: FactFile): ReadonlyMap<string, number> {
  const lines = new Map<string, number>()
  text?.split('\n').forEach((line, at) => {
    for (const [, id = ''] of line.matchAll(/"id"\s*:\s*"([^"]+)"/g)) if (!lines.has(id)) lines.set(id, at + 1)
  })
  return lines
}

const titleOf = (model: Model, id: Id): string =>
  model.entities.get(id)?.name ?? model.views.get(id)?.title ?? model.relations.get(id)?.kind ?? id
const sortOf = (model: Model, id: Id): string =>
  model.entities.has(id) ? 'entity' : model.relations.has(id) ? 'relation' : 'view'

/** Findings as SARIF 2.1.0 (OASIS Standard): each rule with its reason and source, each finding with its facts, accepted ones suppressed. O(findings + text) */
export function sarifOf(
  registry: Registry,
  model: Model,
  findings: readonly Finding[],
  file: FactFile,
  version: string,
): object {
  const lines = linesOf(file)
  const rules = [...registry.rules.values()]
  const index = new Map(rules.map(({ id }, at) => [id, at]))
  const uri = encodeURI(file.name.replaceAll('\\', '/'))
  const failed = findings.filter((one) => one.failed)
  return {
    $schema: 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: { driver: { name: 'Skivel', version, rules: rules.map(ruleOf) } },
        columnKind: 'utf16CodeUnits',
        invocations: [
          {
            executionSuccessful: failed.length === 0,
            toolExecutionNotifications: failed.map(({ message, rule }) => ({
              level: 'error',
              message: { text: message },
              ...(index.has(rule) ? { associatedRule: { id: rule } } : {}),
            })),
          },
        ],
        results: findings
          .filter((one) => !one.failed)
          .map(({ rule, severity, message, subjects, accepted, about }) => ({
            ruleId: rule,
            ...(index.has(rule) ? { ruleIndex: index.get(rule) } : {}),
            level: LEVELS[severity],
            message: { text: message },
            locations: subjects.slice(0, MOST_PLACES).map((id) => ({
              physicalLocation: {
                artifactLocation: { uri },
                ...(lines.has(id) ? { region: { startLine: lines.get(id) } } : {}),
              },
              logicalLocations: [{ name: titleOf(model, id), fullyQualifiedName: `${sortOf(model, id)}/${id}` }],
            })),
            partialFingerprints: { 'skivelFinding/v1': [rule, ...subjects, about ?? ''].join(' ') },
            ...(accepted ? { suppressions: [{ kind: 'external', justification: accepted.reason }] } : {}),
          })),
      },
    ],
  }
}

const LEVELS: Readonly<Record<Severity, string>> = { error: 'error', warning: 'warning', note: 'note' }
const MOST_PLACES = 50

const ruleOf = ({ id, title, why, source, severity }: Rule) => ({
  id,
  shortDescription: { text: title },
  fullDescription: { text: why },
  help: { text: `${why}\nSource: ${source}.` },
  defaultConfiguration: { level: LEVELS[severity] },
})

/** Findings as JUnit XML: a test for each rule, failed where it has open errors; what is no error is said beside it, what is accepted is skipped. O(findings) */
export function junitOf(registry: Registry, findings: readonly Finding[], file: FactFile): string {
  const byRule = new Map<string, Finding[]>()
  for (const finding of findings) byRule.set(finding.rule, [...(byRule.get(finding.rule) ?? []), finding])
  const ids = [...new Set([...registry.rules.keys(), ...byRule.keys()])]
  let [failures, errors, skipped] = [0, 0, 0]
  const cases = ids.map((id) => {
    const own = byRule.get(id) ?? []
    const title = registry.rules.get(id)?.title ?? id
    const head = `    <testcase classname="${escape(id)}" name="${escape(title)}"`
    const failed = own.filter((one) => one.failed)
    const wrong = own.filter((one) => isOpen(one) && one.severity === 'error' && !one.failed)
    const others = own.filter((one) => isOpen(one) && one.severity !== 'error' && !one.failed)
    const body: string[] = []
    if (failed.length > 0) {
      errors++
      body.push(`      <error message="${escape(failed[0]?.message ?? '')}"/>`)
    } else if (wrong.length > 0) {
      failures++
      const list = wrong.map(({ message }) => escape(message)).join('\n')
      body.push(`      <failure type="error" message="${escape(counted(wrong.length))}">${list}</failure>`)
    } else if (own.length > 0 && own.every(({ accepted }) => accepted)) {
      skipped++
      body.push(`      <skipped message="${escape(`accepted: ${own[0]?.accepted?.reason ?? ''}`)}"/>`)
    }
    if (others.length > 0)
      body.push(
        `      <system-out>${others.map(({ severity, message }) => escape(`${severity}: ${message}`)).join('\n')}</system-out>`,
      )
    return body.length === 0 ? `${head}/>` : `${head}>\n${body.join('\n')}\n    </testcase>`
  })
  const counts = `tests="${ids.length}" failures="${failures}" errors="${errors}" skipped="${skipped}"`
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<testsuites name="Skivel" tests="${ids.length}" failures="${failures}" errors="${errors}">`,
    `  <testsuite name="${escape(file.name)}" ${counts}>`,
    ...cases,
    '  </testsuite>',
    '</testsuites>',
    '',
  ].join('\n')
}

const counted = (count: number): string => `${count} ${count === 1 ? 'error' : 'errors'}`
