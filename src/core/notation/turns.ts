import {
  asOf,
  dayInWords,
  difference,
  isDay,
  type Altered,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
} from '../model'
import type { Field } from './kind'
import { clip } from './entry'
import { fieldAt, nameLabel, partsOf, type Handlings } from './registry'
import { TURNS, type Against, type Turn } from './turn'

/** What became of each fact that is there on both days, by what it says and what it is tied to. O(facts of both). */
export const turnsOf = (registry: Handlings, before: Against, after: Against): Map<Id, Turn[]> =>
  turnsBetween(registry, asOf(before.model, before.day), asOf(after.model, after.day))

/** The same of all facts of two models, whatever day they are in force on. */
export function turnsBetween(registry: Handlings, then: Model, now: Model): Map<Id, Turn[]> {
  const { entities, relations } = difference(then, now)
  const turns = new Map<Id, Turn[]>()
  const add = (id: Id, turn: Turn) => {
    const known = turns.get(id)
    if (known) known.push(turn)
    else turns.set(id, [turn])
  }
  for (const altered of entities.altered)
    for (const path of altered.paths) {
      const turn = turnOfPath(registry, 'entity', altered, path, then)
      if (turn) add(altered.after.id, turn)
    }
  // A tie that leads elsewhere is another tie.
  const elsewhere = relations.altered.filter(({ paths }) => paths.includes('source') || paths.includes('target'))
  const came = [...relations.added, ...elsewhere.map((altered) => altered.after)]
  const went = [...relations.removed, ...elsewhere.map((altered) => altered.before)]
  for (const turn of tiesIn(registry, then, now, came, went)) add(turn.of, turn.turn)
  for (const altered of relations.altered) {
    const { source, target, kind } = altered.after
    const word = registry.relationKinds.get(kind)?.title ?? kind
    for (const path of altered.paths) {
      const turn = turnOfPath(registry, 'relation', altered, path, then)
      if (turn) add(source, { ...turn, words: `${word} ${named(now, target)}: ${turn.words}` })
    }
  }
  return turns
}

const SHORT = 40

/** What a path of an altered fact was; undefined for what the program keeps for itself. */
export function turnOfPath(
  registry: Handlings,
  sort: 'entity' | 'relation',
  { before, after }: Altered<Entity> | Altered<Relation>,
  path: string,
  then: Model,
): Turn | undefined {
  const [head = '', key = ''] = [path.split('.')[0], path.slice(path.indexOf('.') + 1)]
  if (head === 'name' && 'name' in before)
    return { ...TURNS.changed, words: `${nameLabel(registry, before)} was “${clip(before.name)}”` }
  if (head === 'from' || head === 'to') {
    return { ...TURNS.changed, words: dayWas(head, before[head]) }
  }
  if (head !== 'fields') return undefined
  const field = fieldAt(partsOf(registry, sort, after)?.['fields'] ?? [], key)
  if (!field || (field.hidden && !field.place)) return undefined
  const was = before.fields[key]
  if (was === undefined) return { ...TURNS.changed, words: `${field.label} is new` }
  if (field.type === 'note' || field.type === 'image')
    return { ...TURNS.changed, words: `another ${field.label.toLowerCase()}` }
  const turn = field.place ? TURNS.moved : TURNS.changed
  return { ...turn, words: `${field.label} was ${valueOf(field, was, then)}` }
}

const dayWas = (end: 'from' | 'to', day: Day | undefined): string =>
  `${end === 'from' ? 'first' : 'last'} day was ${day === undefined ? 'open' : dayInWords(day)}`

function valueOf(field: Field, value: unknown, model: Model): string {
  if (field.type === 'reference') return named(model, String(value) as Id)
  if (field.type === 'flag') return value === true ? 'yes' : 'no'
  if (isDay(value)) return dayInWords(value)
  const text = Array.isArray(value) ? value.join(', ') : String(value as string | number)
  return text.length > SHORT ? `“${clip(text)}”` : text
}

const named = (model: Model, id: Id): string => `“${clip(model.entities.get(id)?.name ?? id)}”`

/** Ties that came and went, each told at its source; one for another of its kind is a move. */
function* tiesIn(
  registry: Handlings,
  then: Model,
  now: Model,
  added: readonly Relation[],
  removed: readonly Relation[],
): Generator<{ of: Id; turn: Turn }> {
  // What came with a fact, or went with one, is told by the fact.
  const between = (relation: Relation, other: Model) =>
    other.entities.has(relation.source) && other.entities.has(relation.target)
  const keyOf = ({ source, kind }: Relation) => `${source} ${kind}`
  const went = new Map<string, Relation[]>()
  for (const relation of removed) {
    const list = went.get(keyOf(relation))
    if (list) list.push(relation)
    else went.set(keyOf(relation), [relation])
  }
  const word = ({ kind }: Relation) => registry.relationKinds.get(kind)?.title ?? kind
  for (const relation of added) {
    const old = went.get(keyOf(relation))?.shift()
    if (old && old.target !== relation.target)
      yield {
        of: relation.source,
        turn: {
          ...TURNS.moved,
          words: `${word(relation)} ${named(now, relation.target)} instead of ${named(then, old.target)}`,
        },
      }
    else if (!old && between(relation, then))
      yield {
        of: relation.source,
        turn: { ...TURNS.changed, words: `now ${word(relation)} ${named(now, relation.target)}` },
      }
  }
  for (const relation of [...went.values()].flat())
    if (between(relation, now))
      yield {
        of: relation.source,
        turn: { ...TURNS.changed, words: `no longer ${word(relation)} ${named(then, relation.target)}` },
      }
}
