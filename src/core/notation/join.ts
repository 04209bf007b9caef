import {
  at,
  FactRecall,
  setStep,
  SORTS,
  splitPath,
  type Day,
  type Entity,
  type Fact,
  type Fields,
  type Id,
  type Model,
  type Relation,
  type Settings,
  type Sort,
  type Step,
  type StepValue,
} from '../model'
import { clip } from './entry'
import { changed, GONE, removeEntity, removeRelation, setEntity, setRelation } from './edit'
import { JOINED } from './kind'
import { LIMITS } from './limits'
import type { Action } from './notation'
import type { Fix } from './rule'

/** A place where the identity of an entity stands. */
interface Mention {
  readonly sort: Sort
  readonly fact: Fact
  readonly path: string
}

/** Parts of facts that hold values, and those whose keys name facts: `emphasis ID`. */
const isKeyed = (sort: Sort, part: string): boolean => sort === 'view' && part !== 'scope'

const mentioned = new FactRecall<ReadonlyMap<string, readonly Mention[]>>()
const inViews = new WeakMap<Model['views'], ReadonlyMap<string, readonly Mention[]>>()

/** Where each entity is named besides at the ends of ties. O(facts), once for a model */
function mentions(model: Model, id: Id): readonly Mention[] {
  const ofFacts = mentioned.of(model, '', () => mentionsIn(model, 'entity', 'relation'))
  const ofViews = inViews.get(model.views) ?? mentionsIn(model, 'view')
  inViews.set(model.views, ofViews)
  return [...(ofFacts.get(id) ?? []), ...(ofViews.get(id) ?? [])]
}

function mentionsIn(model: Model, ...of: readonly Sort[]): ReadonlyMap<string, readonly Mention[]> {
  const found = new Map<string, Mention[]>()
  const add = (word: unknown, sort: Sort, fact: Fact, part: string, key: string) => {
    if (typeof word !== 'string' || !model.entities.has(word as Id)) return
    const path = `${part}.${key}`
    const known = found.get(word)
    if (!known) found.set(word, [{ sort, fact, path }])
    else if (known.at(-1)?.fact !== fact || known.at(-1)?.path !== path) known.push({ sort, fact, path })
  }
  for (const sort of of)
    for (const fact of (model[SORTS[sort].list] as ReadonlyMap<Id, Fact>).values())
      for (const part of SORTS[sort].parts) {
        const values = at(fact, part) as Fields
        for (const key in values) {
          if (key === JOINED) continue
          const value = values[key]
          if (Array.isArray(value)) for (const one of value as readonly unknown[]) add(one, sort, fact, part, key)
          else add(value, sort, fact, part, key)
          if (isKeyed(sort, part)) for (const word of key.split(' ')) add(word, sort, fact, part, key)
        }
      }
  return found
}

/**
 * Makes two entities of one kind one: what the other says that this one does not say, all that it is tied to, where it is
 * named, and both their times. What both say stays as this one says it; notes are put together. O(ties of both + places where
 * the other is named), after O(facts) once for a model
 */
export function joinSteps(model: Model, into: Entity, other: Entity): Step[] {
  return [
    ...fieldSteps(into, other),
    ...periodSteps('entity', into, other),
    ...mentions(model, other.id).flatMap((mention) => renamed(mention, other.id, into.id)),
    ...tieSteps(model, into.id, other.id),
    ...acceptedSteps(model.settings, into.id, other.id),
    removeEntity(other.id),
  ]
}

/** What both say, and not the same: the other gives way. */
const givesWay = (into: Entity, other: Entity): string[] =>
  Object.keys(other.fields).filter(
    (key) =>
      !isUnited(key) &&
      into.fields[key] !== undefined &&
      JSON.stringify(into.fields[key]) !== JSON.stringify(other.fields[key]),
  )

const isUnited = (key: string): boolean => key === 'note' || key === JOINED

function fieldSteps(into: Entity, other: Entity): Step[] {
  const joined = [...new Set([...listOf(into.fields[JOINED]), other.id, ...listOf(other.fields[JOINED])])]
  const notes = [into.fields['note'], other.fields['note']].filter((note) => typeof note === 'string' && note !== '')
  const note = [...new Set(notes)].join('\n')
  return [
    ...Object.entries(other.fields).flatMap(([key, value]): Step[] =>
      isUnited(key) || into.fields[key] !== undefined || value === into.id || value === other.id
        ? []
        : [setEntity(into.id, `fields.${key}`, value)],
    ),
    ...(note !== '' && note !== into.fields['note'] && note.length <= LIMITS.note
      ? [setEntity(into.id, 'fields.note', note)]
      : []),
    setEntity(into.id, `fields.${JOINED}`, joined),
  ]
}

const listOf = (value: unknown): readonly string[] => (Array.isArray(value) ? (value as readonly string[]) : [])

interface Timed {
  readonly id: Id
  readonly from?: Day
  readonly to?: Day
}

/** In force from when the first was until when the last is. */
function periodSteps(sort: 'entity' | 'relation', into: Timed, other: Timed): Step[] {
  const from = into.from !== undefined && other.from !== undefined ? least(into.from, other.from) : null
  const to = into.to !== undefined && other.to !== undefined ? most(into.to, other.to) : null
  return [
    ...(from === (into.from ?? null) ? [] : [setStep(sort, into.id, 'from', from)]),
    ...(to === (into.to ?? null) ? [] : [setStep(sort, into.id, 'to', to)]),
  ]
}

const least = (a: Day, b: Day): Day => (a < b ? a : b)
const most = (a: Day, b: Day): Day => (a > b ? a : b)

/** What names the other names this one; what a view says of both it says of this one as it did. */
function renamed({ sort, fact, path }: Mention, from: Id, into: Id): Step[] {
  const value = at(fact, path) as StepValue
  const next = replaced(value, from, into)
  const { head, key = '' } = splitPath(path)
  const name = isKeyed(sort, head)
    ? key
        .split(' ')
        .map((word) => (word === from ? into : word))
        .join(' ')
    : key
  // Nothing refers to itself for that.
  if (name === key) return [setStep(sort, fact.id, path, next === into && fact.id === into ? null : next)]
  const isSaid = (at(fact, head) as Fields)[name] !== undefined
  return [setStep(sort, fact.id, path, null), ...(isSaid ? [] : [setStep(sort, fact.id, `${head}.${name}`, next)])]
}

function replaced(value: StepValue, from: Id, into: Id): StepValue {
  if (value === from) return into
  if (!Array.isArray(value)) return value
  return [...new Set((value as readonly (string | number)[]).map((one) => (one === from ? into : one)))] as StepValue
}

/** Each tie of the other leads from or to this one; none to itself, and none that says the same as one that is there. */
function tieSteps(model: Model, into: Id, other: Id): Step[] {
  const own = new Map<string, Relation>()
  for (const one of [...model.leaving(into), ...model.reaching(into)])
    own.set(sameTie(one, one.source, one.target), one)
  const moved = new Map([...model.leaving(other), ...model.reaching(other)].map((one) => [one.id, one]))
  return [...moved.values()].flatMap((one): Step[] => {
    const [source, target] = [one.source, one.target].map((end) => (end === other ? into : end)) as [Id, Id]
    if (source === target) return [removeRelation(one.id)]
    const key = sameTie(one, source, target)
    const known = own.get(key)
    if (known && meets(known, one)) return [...periodSteps('relation', known, one), removeRelation(one.id)]
    own.set(key, one)
    return [
      ...(source === one.source ? [] : [setRelation(one.id, 'source', source)]),
      ...(target === one.target ? [] : [setRelation(one.id, 'target', target)]),
    ]
  })
}

const sameTie = ({ kind, fields }: Relation, source: Id, target: Id): string =>
  JSON.stringify([kind, source, target, Object.entries(fields).sort(([a], [b]) => (a < b ? -1 : 1))])

/** There is a day on which both are in force. */
const meets = (a: Timed, b: Timed): boolean =>
  (a.from === undefined || b.to === undefined || a.from <= b.to) &&
  (b.from === undefined || a.to === undefined || b.from <= a.to)

/** Findings about the other that were let stand are let stand about this one. */
const acceptedSteps = ({ accepted }: Settings, into: Id, other: Id): Step[] =>
  Object.entries(accepted).flatMap(([key, value]): Step[] => {
    const words = key.split(' ')
    if (!words.includes(other)) return []
    const next = words.map((word) => (word === other ? into : word)).join(' ')
    const set = (name: string, to: StepValue): Step => ({ do: 'set-workspace', path: `accepted.${name}`, value: to })
    return [set(key, null), ...(accepted[next] ? [] : [set(next, value as unknown as StepValue)])]
  })

const joinLabel = (into: Entity, other: Entity): string => {
  const lost = givesWay(into, other)
  const words = `Join “${clip(other.name)}” into “${clip(into.name)}”`
  return lost.length === 0 ? words : `${words}, whose ${lost.join(', ').slice(0, 200)} stay`
}

/** What mends a finding that two may be one. */
export const joinFix = (model: Model, into: Entity, other: Entity): Fix => ({
  label: 'Join two into one',
  change: { label: joinLabel(into, other), steps: joinSteps(model, into, other) },
})

/** Two facts of one kind are one; or one, and another that is asked for. */
export const joinTwo: Action = {
  id: 'join-two',
  label: 'Join two into one',
  applies: ({ model, selection }) => {
    const { first, second, isMore } = chosen(model, selection)
    if (!first || isMore) return false
    return second ? second.kind === first.kind : model.ofKind(first.kind).length > 1
  },
  picks: ({ model, selection }) => {
    const { first, second } = chosen(model, selection)
    if (!first || second) return undefined
    const others = model.ofKind(first.kind).filter(({ id }) => id !== first.id)
    return { kinds: [first.kind], prompt: `Join what into “${clip(first.name)}”?`, offers: others.map(({ id }) => id) }
  },
  run: ({ model, selection, target }) => {
    const { first, second = target === undefined ? undefined : model.entities.get(target) } = chosen(model, selection)
    if (!first || !second) return GONE
    if (first.id === second.id) return { refused: 'It is one already.' }
    if (first.kind !== second.kind) return { refused: 'Only facts of one kind can be one.' }
    return changed(joinLabel(first, second), joinSteps(model, first, second), { select: first.id })
  },
}

function chosen(model: Model, selection: readonly Id[]) {
  const [first, second, ...more] = selection.flatMap((id) => model.entities.get(id) ?? [])
  return { first, second, isMore: more.length > 0 }
}

const wentInto = new WeakMap<Model['entities'], ReadonlyMap<string, Id>>()

/** Where what is said of a fact belongs: the fact, or what it was joined into; itself where it is gone. O(entities) once where it is gone */
export function nowKnownAs(model: Model, fact: Id): Id {
  if (model.entities.has(fact) || model.relations.has(fact)) return fact
  const known =
    wentInto.get(model.entities) ??
    new Map([...model.entities.values()].flatMap(({ id, fields }) => listOf(fields[JOINED]).map((one) => [one, id])))
  wentInto.set(model.entities, known)
  return known.get(fact) ?? fact
}
