import type { Day, Entity, Id, Model, Relation, StepValue, View } from '../model'
import {
  CATEGORIES,
  emphasised,
  emphasisedLine,
  factOf,
  type Emphasis,
  type Item,
  type LegendEntry,
  type LegendPart,
  type Scene,
} from '../scene'
import { clip } from './entry'
import { MOST_RULES, readRule, slugOf, type Clause, type EmphasisRule } from './emphasisRule'
import { PLAIN } from './kind'
import type { Gestures } from './notation'
import { readingsOf, type Readings } from './readings'
import type { Handlings } from './registry'

/** What every drawn fact’s emphasis is in a view, and what that says. */
interface Marked {
  readonly on: ReadonlyMap<Id, Emphasis>
  readonly legend: readonly LegendPart[]
}

/** So many names say in a legend what was chosen by hand and not said what for. */
const MOST_NAMED = 3
/** Where a number has more values than this, it is told by bands of equally many. */
const BANDS = 4

const isStated = (model: Model, { look }: View): boolean =>
  Object.keys(look).some((key) => key === 'rules' || key.startsWith('emphasis ')) || hasOwn(model)

const known = new WeakMap<Model, boolean>()
/** Whether any fact says of itself that it stands out. O(facts), once for each state of them. */
function hasOwn(model: Model): boolean {
  const before = known.get(model)
  if (before !== undefined) return before
  const says = ({ fields }: Entity | Relation) => fields['emphasis'] !== undefined
  const found = [...model.entities.values()].some(says) || [...model.relations.values()].some(says)
  known.set(model, found)
  return found
}

/**
 * A view’s scene with what stands out in it: by what is chosen in the view, else by its rules, else by what a fact says of itself.
 * Weight, category and crossing are told apart: of each the first that speaks counts. O(items × rules)
 */
export function withEmphasis(
  registry: Handlings,
  scene: Scene,
  model: Model,
  view: View,
  day: Day,
): { readonly scene: Scene; readonly legend: readonly LegendPart[] } {
  if (!isStated(model, view)) return { scene, legend: [] }
  const { on, legend } = markedIn(registry, scene, model, view, day)
  if (on.size === 0) return { scene, legend }
  // Its own fact first; what that leaves open another of its facts may say.
  const of = ({ id, facts }: Item): Emphasis | undefined => {
    const said = [id, ...facts.toReversed()].flatMap((fact) => on.get(fact) ?? [])
    return said.length > 0 ? Object.assign({}, ...said) : undefined
  }
  const quiet = new Set(scene.items.flatMap((item) => (of(item)?.weight === 'quiet' ? [factOf(item), item.id] : [])))
  const items = scene.items.map((item): Item => {
    const emphasis = of(item)
    const words = emphasis && wordsOf(emphasis)
    return emphasis
      ? {
          ...item,
          label: words ? `${item.label} (${words})` : item.label,
          marks: emphasised(item.marks, item.box, emphasis),
        }
      : item
  })
  const links = scene.links.map((link) => {
    const emphasis: Emphasis | undefined =
      on.get(link.id) ?? (quiet.has(link.source) || quiet.has(link.target) ? { weight: 'quiet' } : undefined)
    return emphasis ? { ...link, marks: emphasisedLine(link.marks, emphasis) } : link
  })
  return { scene: { ...scene, items, links }, legend }
}

/** The rules of a view, as they are written. */
export const rulesOf = ({ look }: View): readonly string[] =>
  Array.isArray(look['rules']) ? (look['rules'] as readonly string[]) : []

/** A view whose rules colour it, without the colours that its picture would give by itself. */
export function uncoloured({ options }: Gestures, view: View): View {
  const rules = rulesOf(view)
  const own = options.find(({ id, choices }) => id === 'colour' && choices?.includes('none'))
  return own && rules.some((text) => /^colou?r by /i.test(text.trim()))
    ? { ...view, options: { ...view.options, [own.id]: 'none' } }
    : view
}

/** An emphasis for those who cannot see it. */
const wordsOf = ({ weight, isCrossed }: Emphasis): string =>
  [...(weight ? [weight] : []), ...(isCrossed === true ? ['crossed out'] : [])].join(', ')

function markedIn(registry: Handlings, scene: Scene, model: Model, view: View, day: Day): Marked {
  const subjects = subjectsOf(scene, model)
  const on = new Map<Id, Emphasis>()
  const legend: LegendPart[] = []
  const give = (id: Id, emphasis: Emphasis) => on.set(id, { ...emphasis, ...on.get(id) })
  const plain = new Set<Id>()
  const chosen = new Map<string, Id[]>()
  for (const { id } of subjects) {
    const stated = view.look[`emphasis ${id}`]
    const words = Array.isArray(stated) ? (stated as readonly string[]) : []
    if (words.includes(PLAIN)) plain.add(id)
    for (const word of words) if (word !== PLAIN) choose(chosen, word, id)
  }
  // A category that is chosen by hand is lettered by its number.
  const lettered = (word: string): Emphasis | undefined => {
    const emphasis = emphasisOf(word)
    return emphasis?.category !== undefined && view.look['letters'] === true
      ? { ...emphasis, letter: String(emphasis.category) }
      : emphasis
  }
  const byHand = (words: ReadonlyMap<string, readonly Id[]>) => {
    for (const [word, ids] of words) {
      const emphasis = lettered(word)
      if (emphasis) for (const id of ids) give(id, emphasis)
    }
  }
  byHand(chosen)
  const readings = readingsOf(registry, scene, model, view, day)
  // What a view is a picture of does not stand out in it.
  const scope = new Set(Object.values(view.scope))
  const open = subjects.filter(({ id, isGround }) => !plain.has(id) && !isGround && !scope.has(id))
  for (const text of rulesOf(view).slice(0, MOST_RULES)) {
    const rule = readRule(text)
    if ('refused' in rule) {
      // A file may bring what nobody could have typed.
      legend.push({ entries: [{ emphasis: {}, words: `“${clip(text)}” is no rule` }] })
      continue
    }
    const { given, part } =
      rule.sort === 'colour' ? coloured(rule.by, open, readings, view) : where(rule, open, readings, view)
    for (const [id, emphasis] of given) give(id, emphasis)
    legend.push(part)
  }
  const own = new Map<string, Id[]>()
  for (const { id } of subjects) {
    const word = (model.entities.get(id) ?? model.relations.get(id))?.fields['emphasis']
    if (typeof word === 'string' && !plain.has(id)) choose(own, word, id)
  }
  byHand(own)
  for (const [word, ids] of own) for (const id of ids) choose(chosen, word, id)
  const entries = [...chosen]
    .sort(([a], [b]) => a.localeCompare(b, 'en', { numeric: true }))
    .flatMap(([word, ids]): LegendEntry[] => {
      const emphasis = lettered(word)
      return emphasis ? [{ emphasis, words: meaningOf(view, word, ids, model) }] : []
    })
  return { on, legend: entries.length > 0 ? [{ entries }, ...legend] : legend }
}

function choose(into: Map<string, Id[]>, word: string, id: Id): void {
  const list = into.get(word)
  if (!list) into.set(word, [id])
  else if (!list.includes(id)) list.push(id)
}

/** What somebody said that an emphasis means in this view; else whom it marks. */
function meaningOf({ look }: View, word: string, ids: readonly Id[], model: Model): string {
  const said = look[`means ${slugOf(word)}`]
  if (typeof said === 'string' && said !== '') return said
  const names = ids.flatMap((id) => model.entities.get(id)?.name ?? [])
  return names.length === ids.length && names.length <= MOST_NAMED ? names.join(', ') : `${word}: ${ids.length} marked`
}

/** An emphasis by its word; undefined for none. */
function emphasisOf(word: string): Emphasis | undefined {
  if (word === 'strong' || word === 'quiet') return { weight: word }
  if (word === 'crossed out') return { isCrossed: true }
  const category = Number(/^category ([1-8])$/.exec(word)?.[1])
  return Number.isNaN(category) ? undefined : { category }
}

interface Subject {
  readonly id: Id
  readonly isGround: boolean
  readonly isLine: boolean
  /** All facts that its item stands for: what its own does not say, another of them may. */
  readonly facts: readonly Id[]
}

/** The facts that a scene draws, each once: those of its items, and its lines. O(items) */
function subjectsOf({ items, links }: Scene, model: Model): readonly Subject[] {
  const found = new Map<Id, Subject>()
  const add = (id: Id, facts: readonly Id[], isGround: boolean) => {
    if (!found.has(id)) found.set(id, { id, isGround, isLine: model.relations.has(id), facts })
  }
  for (const { facts, ground = false } of items)
    facts.forEach((id, at) => add(id, at === 0 ? facts : [id], ground || at > 0))
  for (const { id } of links) if (model.relations.has(id)) add(id, [id], false)
  return [...found.values()]
}

interface Given {
  readonly given: ReadonlyMap<Id, Emphasis>
  readonly part: LegendPart
}

const firstOf = (readings: Readings, { facts }: Subject, word: string): string | number | undefined => {
  for (const fact of facts) {
    const value = readings.value(fact, word)
    if (value !== undefined && value !== '') return value
  }
  return undefined
}

/** A category for each value, in the order of the values; of more than eight the seven that most have, and the others together. */
function coloured(by: string, subjects: readonly Subject[], readings: Readings, { look }: View): Given {
  const all = subjects.flatMap((subject) => {
    const value = firstOf(readings, subject, by)
    return value === undefined ? [] : [{ id: subject.id, isLine: subject.isLine, value }]
  })
  // Lines are coloured by what things do not say.
  const values = all.some(({ isLine }) => !isLine) ? all.filter(({ isLine }) => !isLine) : all
  const words = banded(values.map(({ value }) => value))
  const counts = new Map<string, number>()
  for (const word of words) counts.set(word, (counts.get(word) ?? 0) + 1)
  const isMany = counts.size > CATEGORIES
  const kept = [...counts]
    .sort(([, a], [, b]) => b - a)
    .slice(0, isMany ? CATEGORIES - 1 : CATEGORIES)
    .map(([word]) => word)
  const order = readings.order(by)
  kept.sort(
    (a, b) => (order?.indexOf(a) ?? 0) - (order?.indexOf(b) ?? 0) || a.localeCompare(b, 'en', { numeric: true }),
  )
  const letters = look['letters'] === true ? lettersOf(kept) : undefined
  const emphasisFor = (word: string): Emphasis => {
    const at = kept.indexOf(word)
    const letter = letters && (at < 0 ? '…' : letters[at])
    return { category: at + 1, ...(letter === undefined ? {} : { letter }) }
  }
  const given = new Map(values.map(({ id }, at) => [id, emphasisFor(words[at] ?? '')]))
  const entries = kept.map((word): LegendEntry => ({ emphasis: emphasisFor(word), words: word }))
  const others = counts.size - kept.length
  if (entries.length === 0) entries.push({ emphasis: {}, words: 'nothing here says it' })
  return {
    given,
    part: {
      heading: readings.label(by),
      entries: [...entries, ...(isMany ? [{ emphasis: emphasisFor(''), words: `${others} others` }] : [])],
    },
  }
}

/** Values as words: numbers of more values than there are categories as bands of equally many. */
function banded(values: readonly (string | number)[]): readonly string[] {
  const numbers = values.filter((value): value is number => typeof value === 'number')
  if (numbers.length < values.length || new Set(numbers).size <= CATEGORIES) return values.map(String)
  const sorted = numbers.toSorted((a, b) => a - b)
  const limits = Array.from(
    { length: BANDS },
    (_, band) => sorted[Math.ceil((sorted.length * (band + 1)) / BANDS) - 1] ?? 0,
  )
  return numbers.map((value) => `up to ${(limits.find((limit) => value <= limit) ?? 0).toLocaleString('en')}`)
}

/** The first letters of words, as few as tell all of them apart, three at most; else for each its own, or its number. */
export function lettersOf(words: readonly string[]): readonly string[] {
  const plain = words.map((word) => word.replace(/[^\p{L}\p{N}]/gu, '').toUpperCase())
  for (const length of [1, 2, 3]) {
    const all = plain.map((word) => word.slice(0, length))
    if (new Set(all).size === words.length && all.every((one) => one !== '')) return all
  }
  const taken = new Set<string>()
  return plain.map((word, at) => {
    const tries = [word.slice(0, 1), word.slice(0, 2), word.slice(0, 3), String(at + 1)]
    const found = tries.find((one) => one !== '' && !taken.has(one)) ?? `${at + 1}.`
    taken.add(found)
    return found
  })
}

function where(
  { give, when, text }: Extract<EmphasisRule, { sort: 'where' }>,
  subjects: readonly Subject[],
  readings: Readings,
  { look }: View,
): Given {
  const plain = emphasisOf(give) ?? {}
  const emphasis =
    plain.category !== undefined && look['letters'] === true ? { ...plain, letter: String(plain.category) } : plain
  const given = new Map(
    subjects.filter((one) => when.every((clause) => holds(clause, one, readings))).map(({ id }) => [id, emphasis]),
  )
  const words = /\bwhere\s+(.*)$/is.exec(text)?.[1] ?? text
  const said = `${words.charAt(0).toUpperCase()}${words.slice(1)}`
  return { given, part: { entries: [{ emphasis, words: given.size > 0 ? said : `${said}: none` }] } }
}

function holds(clause: Clause, subject: Subject, readings: Readings): boolean {
  const isSo = ((): boolean | undefined => {
    if (clause.sort === 'inside') return readings.isInside(subject.facts, clause.name)
    const value = firstOf(readings, subject, clause.field)
    if (clause.sort === 'said') return value !== undefined && value !== 'no' && value !== 0
    if (value !== undefined) return clause.test(value)
    // What cannot say it is neither so nor not so.
    return subject.facts.some((fact) => readings.asks(fact, clause.field)) ? false : undefined
  })()
  return isSo !== undefined && isSo !== clause.isNot
}

/** The steps’ values that make an emphasis of some facts in a view so, or take it away where all have it. */
export function toggled(
  { look }: View,
  ids: readonly Id[],
  word: string,
): readonly { readonly path: string; readonly value: StepValue }[] {
  const now = ids.map((id) => {
    const stated = look[`emphasis ${id}`]
    return Array.isArray(stated) ? (stated as readonly string[]) : []
  })
  const isOn = now.every((words) => words.includes(word))
  return ids.map((id, at) => {
    const others = (now[at] ?? []).filter((other) => other !== word && !isInstead(other, word))
    const words = isOn ? others : [...others, word]
    return { path: `look.emphasis ${id}`, value: words.length > 0 ? words : null }
  })
}

/** Weights exclude one another, and so do categories; what is plain has neither. */
function isInstead(a: string, b: string): boolean {
  const sort = (word: string) =>
    word.startsWith('category') ? 'category' : word === 'strong' || word === 'quiet' ? 'weight' : word
  return a === PLAIN || b === PLAIN || sort(a) === sort(b)
}
