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
import { thresholdOf, WORDS, type Each, type Finding, type Reads, type Registry, type Rule } from '../notation'
import { bySeverity, foundBy, judged } from './findings'

/** Finds what `findingsOf` finds, and remembers it: after a change only those rules are run that look at what has changed. */
type Checker = (model: Model, day: Day) => readonly Finding[]

interface Found {
  readonly findings: readonly Finding[]
  /** All facts that they name. */
  readonly about: ReadonlySet<Id>
  /** What was found of each fact that something was found of, by a rule that judges them one by one. */
  readonly each?: ReadonlyMap<Id, Found>
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
    const around = changed && once(() => surroundings(changed, before, model))
    for (const rule of rules) {
      const known = memory.get(rule)
      const touch = known && before && changed ? touchOf(rule, known, before, model, changed) : 'all'
      if (touch === 'none') continue
      const again = known?.each && around && touch === 'near' ? around() : undefined
      memory.set(rule, foundAgain(rule, known, again, model, day))
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

/** A rule that judges facts one by one judges only those `again`, and those that were found to have to do with them; any other rule, or without `again`, everything. */
function foundAgain(
  rule: Rule,
  known: Found | undefined,
  again: ReadonlySet<Id> | undefined,
  model: Model,
  day: Day,
): Found {
  if (!rule.each) return kept(known, foundBy(rule, model, day))
  try {
    const each = new Map<Id, Found>()
    for (const fact of rule.each.of(model)) {
      const earlier = known?.each?.get(fact.id)
      const stands = again && !again.has(fact.id) && !(earlier && meet(earlier.about, again))
      const found = stands ? earlier : judgedOne(rule, rule.each, earlier, model, fact, day)
      if (found) each.set(fact.id, found)
    }
    const all = [...each.values()]
    return {
      findings: all.flatMap(({ findings }) => findings),
      about: new Set(all.flatMap(({ about }) => [...about])),
      each,
    }
  } catch {
    // The rule failed: as a whole it tells how.
    return kept(known, foundBy(rule, model, day))
  }
}

function judgedOne(
  { id, severity }: Rule,
  { judge }: Each,
  earlier: Found | undefined,
  model: Model,
  fact: Entity | Relation,
  day: Day,
): Found | undefined {
  const found = judge(model, fact, day).map((one): Finding => ({ rule: id, severity, ...one }))
  return found.length === 0 ? undefined : kept(earlier, found)
}

function meet(a: ReadonlySet<Id>, b: ReadonlySet<Id>): boolean {
  const [few, many] = a.size < b.size ? [a, b] : [b, a]
  for (const id of few) if (many.has(id)) return true
  return false
}

/** The changed facts with what they are tied to, and with the ties of that. */
function surroundings(changed: readonly Changed[], before: Model | undefined, after: Model): ReadonlySet<Id> {
  const near = new Set(changed.flatMap((one) => one.near))
  const all = new Set(near)
  for (const model of before ? [before, after] : [after])
    for (const id of near) for (const tie of [...model.leaving(id), ...model.reaching(id)]) all.add(tie.id)
  return all
}

function once<T>(compute: () => T): () => T {
  let known: { readonly value: T } | undefined
  return () => (known ??= { value: compute() }).value
}

/** Whether a rule has to be run again: on everything, or, where it judges facts one by one, on what is near to the changes. */
function touchOf(
  rule: Rule,
  known: Found,
  before: Model,
  after: Model,
  changed: readonly Changed[],
): 'none' | 'near' | 'all' {
  if (rule.threshold && thresholdOf(before, rule) !== thresholdOf(after, rule)) return 'all'
  const { reads } = rule
  if (!reads) return before === after ? 'none' : 'all'
  if (known.findings.some(({ failed }) => failed)) return 'all'
  const touched = changed.some(
    (one) => decides(reads, one) || (isSaid(reads, one) && one.near.some((id) => known.about.has(id))),
  )
  return touched ? 'near' : 'none'
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
