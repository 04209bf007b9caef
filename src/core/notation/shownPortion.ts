import { isAsset, Model, type Day, type Entity, type Id, type Relation, type View } from '../model'
import { themeFor, toSvg } from '../scene'
import { drawn } from './compared'
import { portionOf, referencesOf, SHARED } from './portion'
import { pictureOf, type Registry } from './registry'

/**
 * What of the facts around a picture it is drawn of, as its author says it or as leaving it out has shown: `device.rack` is a field of a kind, `holds to` its last
 * day, `site name` how those are called that are not drawn themselves, `port beside` those of a kind that are tied to what is drawn, `port beyond` any others.
 */
type Need = string

/** So many items may be drawn anew in all to find out what can be left out, and the picture so often. */
const MOST_DRAWN = 4000
const MOST_TRIES = 40

/**
 * What a picture of a view may carry: the facts that are drawn, with those fields alone that are needed to draw it again the same, and of what else is
 * needed no more than that. What ties lead to is there without anything of its own. O(drawings, of which there are few where the picture says what it needs)
 */
export function shownPortion(registry: Registry, model: Model, view: View, day: Day): Model {
  const around = aroundShown(registry, model, view, day)
  const { whole, shown } = around
  if (shown.size === 0) return pared(registry, around, new Set())
  const looks = (of: Model): string => pictureOfPortion(registry, of, view, day)
  const wanted = looks(whole)
  const declared = new Set<Need>(pictureOf(registry, view)?.needs ?? [])
  let tries = Math.max(4, Math.min(MOST_TRIES, Math.floor(MOST_DRAWN / shown.size)))
  const suffices = (kept: ReadonlySet<Need>) => looks(pared(registry, around, kept)) === wanted
  /** Those of some needs without which it is drawn otherwise, given what is kept. Where it would take too long to tell, they are left out. */
  const needed = (doubtful: readonly Need[], kept: ReadonlySet<Need>): readonly Need[] => {
    if (doubtful.length === 0 || tries-- <= 0 || suffices(kept)) return []
    if (doubtful.length === 1) return doubtful
    const [first, second] = [doubtful.slice(0, doubtful.length >> 1), doubtful.slice(doubtful.length >> 1)]
    const ofFirst = needed(first, new Set([...kept, ...second]))
    return [...ofFirst, ...needed(second, new Set([...kept, ...ofFirst]))]
  }
  const doubtful = needsIn(around).filter((need) => !declared.has(need))
  return pared(registry, around, new Set([...declared, ...needed(doubtful, declared)]))
}

/** What pictures of several views may carry together: of a fact whatever any of them needs. */
export function shownPortions(registry: Registry, model: Model, views: readonly View[], day: Day): Model {
  const portions = views.map((view) => shownPortion(registry, model, view, day))
  const [first, ...rest] = portions
  if (!first || rest.length === 0) return first ?? Model.empty
  const merged = <F extends Entity | Relation>(lists: readonly ReadonlyMap<Id, F>[], all: ReadonlyMap<Id, F>) => {
    const facts = new Map<Id, F>()
    for (const fact of lists.flatMap((list) => [...list.values()])) {
      const known = facts.get(fact.id)
      const named = known && isStub(registry, fact) ? { name: 'name' in known ? known.name : undefined } : {}
      facts.set(fact.id, known ? { ...known, ...fact, ...named, fields: { ...known.fields, ...fact.fields } } : fact)
    }
    return [...all.keys()].flatMap((id) => facts.get(id) ?? [])
  }
  return Model.of({
    name: first.name,
    settings: portions.reduce(
      (sum, { settings }) => ({ ...sum, themes: { ...sum.themes, ...settings.themes } }),
      first.settings,
    ),
    entities: merged(
      portions.map(({ entities }) => entities),
      model.entities,
    ),
    relations: merged(
      portions.map(({ relations }) => relations),
      model.relations,
    ),
    views: portions.flatMap((portion) => [...portion.views.values()]),
  })
}

/** The same of now as a picture carried before: told apart by what it carried, whatever it would carry today. O(facts + drawing) */
export function shownSince(registry: Registry, model: Model, view: View, day: Day, carried: Model): Model {
  const now = shownPortion(registry, model, view, day)
  const { whole } = aroundShown(registry, model, view, day)
  const told = new Set([...carried.entities.values(), ...carried.relations.values()].flatMap(partsOfFact))
  // What was carried is compared in what was carried of it; what is new is told as it would be carried today.
  const known = <F extends Entity | Relation>(fact: F, today: F | undefined, before: F | undefined): readonly F[] => {
    if (!before) return today ? [today] : []
    const bare = isStub(registry, before) && 'name' in before ? { name: before.name } : {}
    return [{ ...withParts(fact, told), ...bare }]
  }
  return Model.of({
    name: now.name,
    settings: now.settings,
    entities: [...whole.entities.values()].flatMap((one) =>
      known(one, now.entities.get(one.id), carried.entities.get(one.id)),
    ),
    relations: [...whole.relations.values()].flatMap((one) =>
      known(one, now.relations.get(one.id), carried.relations.get(one.id)),
    ),
    views: [...now.views.values()],
  })
}

/** Facts around a picture, and which of them are drawn. */
interface Around {
  /** All that it could be drawn of. */
  readonly whole: Model
  readonly shown: ReadonlySet<Id>
  /** Not drawn, and tied to what is. */
  readonly beside: ReadonlySet<Id>
}

/** The facts that a view shows with all that they name; a tie that leads out of what is drawn stays behind. */
function aroundShown(registry: Registry, model: Model, view: View, day: Day): Around {
  const drawing = drawn(registry, model, view, day)
  const facts: readonly Id[] = drawing
    ? [...drawing.items.flatMap((item) => item.facts), ...drawing.links.map((link) => link.id)]
    : []
  const shown = new Set(facts)
  const isInside = (end: Id) => shown.has(end) || SHARED.has(model.entities.get(end)?.kind ?? '')
  const within = facts.filter((id) => {
    const tie = model.relations.get(id)
    return !tie || (isInside(tie.source) && isInside(tie.target))
  })
  const whole = portionOf(registry, model, within, [view])
  const beside = new Set<Id>()
  for (const { id, source, target } of whole.relations.values()) {
    const ends = [source, target]
    if (shown.has(id)) for (const end of ends) beside.add(end)
    else if (ends.some((end) => shown.has(end))) for (const one of [id, ...ends]) beside.add(one)
  }
  for (const entity of whole.entities.values())
    for (const named of referencesOf(registry, entity))
      if (shown.has(entity.id) || shown.has(named)) for (const one of [entity.id, named]) beside.add(one)
  return { whole, shown, beside }
}

export const DAYS = ['from', 'to'] as const

/** All that might be needed, each once. */
function needsIn({ whole, shown, beside }: Around): readonly Need[] {
  const needs = new Set<Need>()
  for (const fact of [...whole.entities.values(), ...whole.relations.values()]) {
    const { id, kind } = fact
    const isShown = shown.has(id)
    if (!isShown) needs.add(`${kind} ${beside.has(id) ? 'beside' : 'beyond'}`)
    if (!isShown && 'name' in fact) needs.add(`${kind} name`)
    for (const part of partsOfFact(fact)) needs.add(part)
  }
  return [...needs].sort()
}

/** What a fact tells besides its name, each as a need says it: its fields and its days. */
const partsOfFact = (fact: Entity | Relation): readonly Need[] => [
  ...Object.keys(fact.fields).map((field) => `${fact.kind}.${field}`),
  ...DAYS.filter((day) => fact[day] !== undefined).map((day) => `${fact.kind} ${day}`),
]

/** A fact with some of that. */
function withParts<F extends Entity | Relation>(fact: F, kept: ReadonlySet<Need>): F {
  const { from, to, ...rest } = fact
  const fields = Object.entries(fact.fields).filter(([field]) => kept.has(`${fact.kind}.${field}`))
  return {
    ...rest,
    fields: Object.fromEntries(fields),
    ...(from !== undefined && kept.has(`${fact.kind} from`) ? { from } : {}),
    ...(to !== undefined && kept.has(`${fact.kind} to`) ? { to } : {}),
  } as F
}

/** How an entity is called of which nothing is told: by its kind in brackets, with a number from the second on. */
const stubName = (registry: Registry, kind: string, number: number): string =>
  `(${(registry.kinds.get(kind)?.title ?? kind).toLowerCase()}${number === 1 ? '' : ` ${number}`})`

export const isStub = (registry: Registry, fact: Entity | Relation): boolean =>
  'name' in fact && fact.name.replace(/ \d+\)$/, ')') === stubName(registry, fact.kind, 1)

/** What is drawn, with what is kept of all that is around it; ends of ties and what fields refer to are there at least. O(facts) */
function pared(registry: Registry, { whole, shown, beside }: Around, kept: ReadonlySet<Need>): Model {
  const isKept = ({ id, kind }: Entity | Relation) =>
    shown.has(id) || kept.has(`${kind} ${beside.has(id) ? 'beside' : 'beyond'}`)
  const part = <F extends Entity | Relation>(fact: F): F => withParts(fact, kept)
  const entities = new Map<Id, Entity>()
  const counts = new Map<string, number>()
  const unnamed = (kind: string) => {
    const number = (counts.get(kind) ?? 0) + 1
    counts.set(kind, number)
    return stubName(registry, kind, number)
  }
  for (const entity of whole.entities.values()) {
    if (!isKept(entity)) continue
    const isNamed = shown.has(entity.id) || kept.has(`${entity.kind} name`)
    entities.set(entity.id, { ...part(entity), ...(isNamed ? {} : { name: unnamed(entity.kind) }) })
  }
  const relations = [...whole.relations.values()].filter(isKept).map(part)
  const stub = (id: Id) => {
    const entity = whole.entities.get(id)
    if (entity && !entities.has(id)) entities.set(id, { id, kind: entity.kind, name: unnamed(entity.kind), fields: {} })
  }
  for (const { source, target } of relations) for (const end of [source, target]) stub(end)
  for (const entity of [...entities.values()]) for (const id of referencesOf(registry, entity)) stub(id)
  const known = new Set<string>([...entities.keys(), ...relations.map(({ id }) => id)])
  return Model.of({
    name: whole.name,
    settings: whole.settings,
    // In the order in which they were stated.
    entities: [...whole.entities.keys()].flatMap((id) => entities.get(id) ?? []),
    relations,
    views: [...whole.views.values()].map((view) => ({
      ...view,
      pins: Object.fromEntries(
        Object.entries(view.pins).filter(([id]) => known.has(id) || !whole.entities.has(id as Id)),
      ),
    })),
  })
}

/** How a view is drawn of some facts, to the letter; pictures are told by their names, links by where they lead. */
function pictureOfPortion(registry: Registry, model: Model, view: View, day: Day): string {
  const own = model.views.get(view.id) ?? view
  const scene = drawn(registry, model, own, day)
  if (!scene) return ''
  const assets = [...model.entities.values()].flatMap(({ fields }) => Object.values(fields)).filter(isName)
  const images = new Map([...assets, ...Object.values(own.look).filter(isName)].map((id) => [id, id]))
  return toSvg(scene, { theme: themeFor(model.settings, own.look), title: view.title, base: '', images })
}

const isName = (value: unknown): value is string => typeof value === 'string' && isAsset(value)
