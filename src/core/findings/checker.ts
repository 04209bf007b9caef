import {
  actOf,
  difference,
  endsOf,
  same,
  type Day,
  type Delta,
  type Entity,
  type Id,
  type Model,
  type Relation,
  type Step,
} from '../model'
import { thresholdOf, WORDS, type Finding, type Reads, type Registry, type Rule } from '../notation'
import { bySeverity, foundBy, judged } from './findings'

/** Finds what `findingsOf` finds, and remembers it: after a change only those rules are run that look at what has changed. */
type Checker = (model: Model, day: Day) => readonly Finding[]

interface Found {
  readonly findings: readonly Finding[]
  /** All facts that they name. */
  readonly about: ReadonlySet<Id>
}

/** A fact that was made, removed or written. */
interface Changed {
  readonly kind: string
  readonly isTie: boolean
  /** The paths that were written; undefined where the fact is new or gone. */
  readonly paths: readonly string[] | undefined
  /** The fact itself and what it is or was tied to. */
  readonly near: readonly Id[]
}

/**
 * A checker of its own memory. A fact that does not change keeps its finding, the same object. O(facts) for telling what has
 * changed, and the cost of the rules that are run.
 */
export function makeChecker(registry: Registry): Checker {
  const rules = [...registry.rules.values()]
  const memory = new Map<Rule, Found>()
  const stands = new WeakMap<Finding, Finding>()
  let last: { readonly model: Model; readonly day: Day } | undefined
  return (model, day) => {
    const before = last?.day === day ? last.model : undefined
    const changed = before && changedBetween(before, model)
    for (const rule of rules) {
      const known = memory.get(rule)
      if (known && before && changed && !isTouched(rule, known, before, model, changed)) continue
      memory.set(rule, kept(known, foundBy(rule, model, day)))
    }
    last = { model, day }
    return bySeverity(rules.map((rule) => memory.get(rule)?.findings ?? [])).map((finding) => {
      const now = judged(finding, model, day)
      if (now === finding) return finding
      const earlier = stands.get(finding)
      if (earlier?.accepted === now.accepted) return earlier ?? now
      stands.set(finding, now)
      return now
    })
  }
}

/** What was found again is the same object as before. */
function kept(known: Found | undefined, found: readonly Finding[]): Found {
  const before = new Map(known?.findings.map((finding) => [finding.message, finding]))
  const findings = found.map((finding) => {
    const earlier = before.get(finding.message)
    return earlier && same(earlier, finding) ? earlier : finding
  })
  const about = new Set(
    findings.flatMap(({ subjects, trace, fixes }) => [
      ...subjects,
      ...(trace ?? []).flatMap(({ at }) => at),
      ...fixes.flatMap(({ change }) => change.steps.flatMap(idsIn)),
    ]),
  )
  return { findings, about }
}

/** The facts that a step of a fix speaks of. */
function idsIn(step: Step): Id[] {
  const act = actOf(step)
  if (act.sort === 'workspace') return []
  if (act.verb === 'set') return typeof act.value === 'string' ? [act.id, act.value as Id] : [act.id]
  return act.verb === 'add' ? [act.id, ...endsOf(act.sort, act.fact)] : [act.id]
}

function isTouched(rule: Rule, known: Found, before: Model, after: Model, changed: readonly Changed[]): boolean {
  if (rule.threshold && thresholdOf(before, rule) !== thresholdOf(after, rule)) return true
  const { reads } = rule
  if (!reads) return before !== after
  if (known.findings.some(({ failed }) => failed)) return true
  return changed.some(
    (one) => decides(reads, one) || (isSaid(reads, one) && one.near.some((id) => known.about.has(id))),
  )
}

/** Whether a change may make a difference to what a rule finds. */
function decides({ facts, words }: Reads, { kind, paths }: Changed): boolean {
  const wanted = facts[kind] ?? facts['*']
  if (wanted === undefined) return false
  if (paths === undefined) return true
  const reads = words?.includes(kind) || words?.includes('*')
  return paths.some((path) => (WORDS.has(path) ? reads : wanted === true || wanted.includes(path)))
}

const isSaid = ({ names = [] }: Reads, { kind, isTie }: Changed): boolean =>
  names.includes(kind) || names.includes('*') || (isTie && names.includes('*ties'))

/** Beyond so many changed facts all rules are run: telling what they are near to would take longer. */
const MOST_CHANGED = 200

function changedBetween(before: Model, after: Model): readonly Changed[] | undefined {
  const { entities, relations } = difference(before, after)
  const count = ({ added, removed, altered }: Delta<Entity> | Delta<Relation>) =>
    added.length + removed.length + altered.length
  if (count(entities) + count(relations) > MOST_CHANGED) return undefined
  const tied = (id: Id): readonly Id[] => [
    id,
    ...[before, after].flatMap((model) => [
      ...model.leaving(id).flatMap((tie) => [tie.id, tie.target]),
      ...model.reaching(id).flatMap((tie) => [tie.id, tie.source]),
    ]),
  ]
  // Where several are called the same, words say which of them is meant.
  const namesakes = ({ kind, name }: Entity): readonly Id[] =>
    after.ofKind(kind).flatMap((one) => (one.name.toLowerCase() === name.toLowerCase() ? one.id : []))
  return [
    ...told(entities, (entity: Entity) => [...tied(entity.id), ...namesakes(entity)]),
    ...told(relations, ({ id, source, target }: Relation) => [id, source, target]),
  ]
}

const told = <T extends Entity | Relation>(
  { added, removed, altered }: Delta<T>,
  near: (fact: T) => readonly Id[],
): Changed[] => [
  ...[...added, ...removed].map((fact) => ({
    kind: fact.kind,
    isTie: 'source' in fact,
    paths: undefined,
    near: near(fact),
  })),
  ...altered.map(({ before, after, paths }) => ({
    kind: after.kind,
    isTie: 'source' in after,
    paths: before.kind === after.kind ? paths : undefined,
    near: [...near(before), ...near(after)],
  })),
]
