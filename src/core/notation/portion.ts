import { Model, type Change, type Entity, type Fields, type Id, type Relation, type Step, type View } from '../model'
import { sharedKinds, type Field } from './kind'
import { fieldAt, notationOf, partsOf, type Handlings } from './registry'

/** A part of the facts that stands for itself, ready to be taken elsewhere: with what it names, and the themes that it is drawn in. */
export interface Brought {
  readonly change: Change
  /** Views that are new. */
  readonly views: readonly Id[]
  /** How many facts are new, and how many were there under their names. */
  readonly added: number
  readonly known: number
}

/** Facts that are brought at once. */
const MOST_BROUGHT = 20_000

/** Kinds that come along with what is tied to them. */
export const SHARED: ReadonlySet<string> = new Set(sharedKinds.map(({ id }) => id))

/**
 * Some facts with all that they name: the ends of ties, what fields refer to, what a view is of; and the people, roles and sites tied to them.
 * Of what a view draws, what its notation holds within it comes along; what is only counted in it from elsewhere does not. Of ties between
 * them all are kept. A view brings its look along, and the theme of one’s own that it is drawn in. O(facts)
 */
export function portionOf(registry: Handlings, model: Model, ids: Iterable<Id>, views: readonly View[] = []): Model {
  const entities = new Map<Id, Entity>()
  const relations = new Map<Id, Relation>()
  const referring = (entity: Entity) => referencesOf(registry, entity)
  const take = (wanted: readonly Id[]) => {
    const open = [...wanted]
    for (let id = open.pop(); id !== undefined; id = open.pop()) {
      const relation = model.relations.get(id)
      if (relation && !relations.has(id)) {
        relations.set(id, relation)
        open.push(relation.source, relation.target)
      }
      const entity = model.entities.get(id)
      if (!entity || entities.has(id)) continue
      entities.set(id, entity)
      open.push(...referring(entity))
    }
  }
  const drawn = [...ids, ...views.flatMap(({ scope }) => Object.values(scope).filter(isText) as Id[])]
  take(drawn)
  const kinds = new Set(views.flatMap((view) => notationOf(registry, view)?.entityKinds.map(({ id }) => id) ?? []))
  const within = [...kinds].flatMap((kind) =>
    model.ofKind(kind).map((entity) => [entity.id, referring(entity)] as const),
  )
  const held = new Set(drawn)
  for (let before = -1; before < held.size;) {
    before = held.size
    for (const [id, named] of within) if (named.some((one) => held.has(one))) held.add(id)
  }
  take([...held])
  for (const id of [...entities.keys()])
    for (const { id: tie, source, target } of [...model.leaving(id), ...model.reaching(id)]) {
      const other = model.entities.get(source === id ? target : source)
      if (other && SHARED.has(other.kind)) take([tie])
    }
  for (const id of entities.keys())
    for (const relation of model.leaving(id)) if (entities.has(relation.target)) relations.set(relation.id, relation)
  const themes = views.flatMap(({ look }) => look['theme'] ?? model.settings.look?.['theme'] ?? [])
  const house = Object.entries(model.settings.themes ?? {}).filter(([id]) => themes.includes(id))
  return Model.of({
    name: views[0]?.title ?? 'Facts',
    settings: { thresholds: {}, accepted: {}, ...(house.length > 0 ? { themes: Object.fromEntries(house) } : {}) },
    entities: inOrder(model.entities, entities),
    relations: inOrder(model.relations, relations),
    views: views.map((view) => dressedAs(model, view, new Map(house))),
  })
}

/** The facts that the fields of an entity name. */
export const referencesOf = (registry: Handlings, entity: Entity): readonly Id[] =>
  (partsOf(registry, 'entity', entity)?.['fields'] ?? []).flatMap(({ id, type }) => {
    const value = entity.fields[id]
    return type === 'reference' && isText(value) ? [value as Id] : []
  })

const isText = (value: unknown): value is string => typeof value === 'string'

/** In the order in which they were stated. */
const inOrder = <T>(all: ReadonlyMap<Id, T>, some: ReadonlyMap<Id, T>): readonly T[] =>
  [...all].flatMap(([id, fact]) => (some.has(id) ? [fact] : []))

/** What the workspace says of a view’s looks is said by the view, once it stands elsewhere. */
function dressedAs({ settings }: Model, view: View, own: ReadonlyMap<string, unknown>): View {
  const theme = view.look['theme'] ?? settings.look?.['theme']
  const tone = view.look['tone'] ?? settings.look?.['tone']
  const isOwn = theme !== undefined && own.has(String(theme))
  return {
    ...view,
    look: {
      ...view.look,
      ...(theme !== undefined && (isOwn || view.look['theme'] !== undefined) ? { theme } : {}),
      ...(tone !== undefined ? { tone } : {}),
    },
  }
}

/**
 * Brings a portion into other facts, or into the same again: everything has a new identity, but for people, roles, units, systems, sites and
 * documents that are there under their names. O(facts of both)
 */
export function broughtIn(
  registry: Handlings,
  model: Model,
  portion: Model,
  newId: () => Id,
): Brought | { readonly refused: string } {
  const count = portion.entities.size + portion.relations.size
  if (count > MOST_BROUGHT)
    return {
      refused: `That are ${count.toLocaleString('en')} facts; ${MOST_BROUGHT.toLocaleString('en')} are taken at once.`,
    }
  if (count + portion.views.size === 0) return { refused: 'There are no facts in it.' }
  const names = new Map<string, Id>()
  for (const kind of SHARED)
    for (const { id, name } of model.ofKind(kind)) names.set(`${kind} ${name.toLowerCase()}`, id)
  const ids = new Map<string, Id>()
  const known = new Set<Id>()
  for (const entity of portion.entities.values()) {
    const same = SHARED.has(entity.kind) ? names.get(`${entity.kind} ${entity.name.toLowerCase()}`) : undefined
    ids.set(entity.id, same ?? newId())
    if (same !== undefined) known.add(entity.id)
  }
  const ties = new Set([...model.relations.values()].map(signOf))
  const themes = new Map(Object.keys(portion.settings.themes ?? {}).map((id) => [id, newId() as string]))
  const steps: Step[] = [...themes].map(([id, next]) => ({
    do: 'set-workspace',
    path: `themes.${next}`,
    value: portion.settings.themes?.[id] ?? null,
  }))
  for (const entity of portion.entities.values()) {
    if (known.has(entity.id)) continue
    const fields = partsOf(registry, 'entity', entity)?.['fields'] ?? []
    const next = { ...entity, id: ids.get(entity.id) ?? entity.id, fields: renamed(entity.fields, fields, ids) }
    steps.push({ do: 'add-entity', entity: next })
  }
  for (const relation of portion.relations.values()) {
    const [source, target] = [ids.get(relation.source), ids.get(relation.target)]
    if (source === undefined || target === undefined) continue
    const next = { ...relation, source, target }
    // Between two that were there the tie may be there, too.
    if (known.has(relation.source) && known.has(relation.target) && ties.has(signOf(next))) continue
    const id = newId()
    ids.set(relation.id, id)
    steps.push({ do: 'add-relation', relation: { ...next, id } })
  }
  const order = Math.max(0, ...[...model.views.values()].map((view) => view.order))
  const views = [...portion.views.values()].map((view, at): View =>
    viewRenamed(registry, view, { ids, themes, id: newId(), order: order + at + 1 }),
  )
  for (const view of views) steps.push({ do: 'add-view', view })
  const added = steps.filter((step) => step.do === 'add-entity' || step.do === 'add-relation').length
  const label = views[0] ? `Bring in “${views[0].title}”` : `Bring in ${added.toLocaleString('en')} facts`
  return { change: { label, steps }, views: views.map(({ id }) => id), added, known: known.size }
}

const signOf = ({ kind, source, target, from, to }: Omit<Relation, 'id' | 'fields'>): string =>
  [kind, source, target, from ?? '', to ?? ''].join(' ')

/** Fields that refer to what has another identity now. */
const renamed = (values: Fields, fields: readonly Field[], ids: ReadonlyMap<string, Id>): Fields =>
  Object.fromEntries(
    Object.entries(values).map(([key, value]) => {
      const isReference = fields.find(({ id }) => id === key)?.type === 'reference'
      return [key, isReference && typeof value === 'string' ? (ids.get(value) ?? value) : value]
    }),
  )

interface Renaming {
  readonly ids: ReadonlyMap<string, Id>
  readonly themes: ReadonlyMap<string, string>
  readonly id: Id
  readonly order: number
}

/** A view of facts that have other identities: wherever one of its fields names one, as a value, in a list or in a key. */
function viewRenamed(registry: Handlings, view: View, { ids, themes, id, order }: Renaming): View {
  const fields = partsOf(registry, 'view', view) ?? {}
  const renamedText = <V>(one: V): V => (isText(one) ? (ids.get(one) ?? one) : one) as V
  const part = <P extends Readonly<Record<string, unknown>>>(name: string, record: P): P =>
    Object.fromEntries(
      Object.entries(record).map(([key, one]) => {
        const field = fieldAt(fields[name] ?? [], key)
        const isNaming = field?.type === 'reference' || (field?.type === 'list' && !field.choices)
        const value = !isNaming ? one : Array.isArray(one) ? one.map(renamedText) : renamedText(one)
        if (!field?.each) return [key, value]
        // Keys of what each fact has of its own: `ID`, `WORD ID`, `WORD ID NUMBER`.
        const head = field.id === '' ? '' : `${field.id} `
        const rest = key.slice(head.length).split(' ').map(renamedText).join(' ')
        return [`${head}${rest}`, value]
      }),
    ) as P
  const theme = view.look['theme']
  const { starter: _, ...look } = part('look', view.look)
  return {
    ...view,
    id,
    order,
    scope: part('scope', view.scope),
    options: part('options', view.options),
    pins: part('pins', view.pins),
    look: { ...look, ...(isText(theme) ? { theme: themes.get(theme) ?? theme } : {}) },
  }
}
