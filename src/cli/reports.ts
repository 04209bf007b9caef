import { isOpen } from '../core/findings'
import { fieldAt, turnsOf, type Finding, type Registry, type Rule, type Severity } from '../core/notation'
import { asOf, difference, type Day, type Id, type Model } from '../core/model'
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

/** What differs between two states of facts. */
export interface Told {
  readonly what: 'new' | 'gone' | 'changed'
  readonly sort: 'entity' | 'relation' | 'view'
  readonly id: Id
  readonly kind: string
  readonly name: string
  /** What was otherwise, in words. */
  readonly was: readonly string[]
}

/** What differs between facts on two days, or between two files: what is new, gone or otherwise, in words. O(facts of both) */
export function differing(
  registry: Registry,
  before: { readonly model: Model; readonly day: Day },
  after: { readonly model: Model; readonly day: Day },
): readonly Told[] {
  const [then, now] = [asOf(before.model, before.day), asOf(after.model, after.day)]
  const { entities, relations, views } = difference(then, now)
  const turns = turnsOf(registry, before, after)
  const kindOf = (kind: string) => registry.kinds.get(kind)?.title ?? kind
  const entity = (
    what: Told['what'],
    one: { id: Id; kind: string; name: string },
    was: readonly string[] = [],
  ): Told => ({
    what,
    sort: 'entity',
    id: one.id,
    kind: kindOf(one.kind),
    name: one.name,
    was,
  })
  const word = (id: Id, where: Model) => where.entities.get(id)?.name ?? id
  const tie = (
    what: Told['what'],
    one: { id: Id; kind: string; source: Id; target: Id },
    where: Model,
    was: readonly string[] = [],
  ): Told => ({
    what,
    sort: 'relation',
    id: one.id,
    kind: registry.relationKinds.get(one.kind)?.title ?? one.kind,
    name: `${word(one.source, where)} → ${word(one.target, where)}`,
    was,
  })
  const told = new Set<Id>(
    [...entities.added, ...entities.removed, ...entities.altered.map(({ after: one }) => one)].map(({ id }) => id),
  )
  // What became of a fact by its ties alone.
  const others = [...turns.keys()].flatMap((id) => {
    const one = now.entities.get(id)
    return one && !told.has(id) ? [one] : []
  })
  const wordsFor = (id: Id) => (turns.get(id) ?? []).map(({ words }) => words)
  return [
    ...entities.added.map((one) => entity('new', one)),
    ...entities.removed.map((one) => entity('gone', one)),
    ...[...entities.altered.map(({ after: one }) => one), ...others].map((one) =>
      entity('changed', one, wordsFor(one.id)),
    ),
    ...relations.added.map((one) => tie('new', one, now)),
    ...relations.removed.map((one) => tie('gone', one, then)),
    ...relations.altered.map(({ after: one, before: other, paths }) =>
      tie(
        'changed',
        one,
        now,
        paths.map((path) => wasOf(registry, one.kind, other, path)),
      ),
    ),
    ...views.added.map(({ id, picture, title }): Told => ({
      what: 'new',
      sort: 'view',
      id,
      kind: picture,
      name: title,
      was: [],
    })),
    ...views.removed.map(({ id, picture, title }): Told => ({
      what: 'gone',
      sort: 'view',
      id,
      kind: picture,
      name: title,
      was: [],
    })),
    ...views.altered.map(({ after: { id, picture, title }, paths }): Told => ({
      what: 'changed',
      sort: 'view',
      id,
      kind: picture,
      name: title,
      was: paths,
    })),
  ]
}

function wasOf(registry: Registry, kind: string, before: object, path: string): string {
  const [head = '', key = ''] = path.split('.')
  const fields = (before as { fields?: Record<string, unknown> }).fields ?? {}
  const label = fieldAt(registry.relationKinds.get(kind)?.fields ?? [], key)?.label ?? key
  const value = head === 'fields' ? fields[key] : (before as Record<string, unknown>)[head]
  return `${head === 'fields' ? label : head} was ${value === undefined ? 'not said' : JSON.stringify(value)}`
}

const SIGNS: Readonly<Record<Told['what'], string>> = { new: '+', gone: '−', changed: '~' }

/** The same in lines. O(told) */
export const differenceInWords = (list: readonly Told[]): string =>
  list
    .map(
      ({ what, kind, name, was }) => `${SIGNS[what]} ${kind} “${name}”${was.length > 0 ? `: ${was.join('; ')}` : ''}\n`,
    )
    .join('')
