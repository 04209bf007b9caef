import { plainOf } from '../scene'
import { isId, type Entity, type Model, type Sort, type View } from '../model'
import {
  COMMON_FIELDS,
  ENTITY_FIELDS,
  LOOK_FIELDS,
  sharedKinds,
  type Field,
  type Kind,
  type RelationKind,
} from './kind'
import type { Handling, Notation, NumberSheet } from './notation'
import { peopleKinds } from './people'
import type { Rule } from './rule'

/** How all facts of the program are stated, looked up by id. The page reads this and names no notation. */
export interface Handlings<N extends Handling = Handling> {
  readonly notations: readonly N[]
  readonly kinds: ReadonlyMap<string, Kind>
  readonly relationKinds: ReadonlyMap<string, RelationKind>
}

/** All notations of the program with what is worked out of their facts. Everything generic off the page reads this. */
export interface Registry extends Handlings<Notation> {
  readonly rules: ReadonlyMap<string, Rule>
  readonly maps?: Maps
}

/** What a map behind a picture is drawn with. */
export interface Maps {
  /** Path data of the land around some places, in degrees, in a box of a size from its corner. */
  readonly land: (
    places: readonly { readonly latitude: number; readonly longitude: number }[],
    width: number,
    height: number,
  ) => string
  readonly source: string
}

/** @throws RangeError when two notations claim one id. */
export const makeHandlings = <N extends Handling>(notations: readonly N[]): Handlings<N> => ({
  notations,
  kinds: byId(united([...sharedKinds, ...notations.flatMap((notation) => notation.entityKinds)])),
  relationKinds: byId([...peopleKinds, ...notations.flatMap((notation) => notation.relationKinds)]),
})

/** @throws RangeError when two notations claim one id. */
export const makeRegistry = (notations: readonly Notation[], crossRules: readonly Rule[], maps?: Maps): Registry => ({
  ...makeHandlings(notations),
  ...(maps ? { maps } : {}),
  rules: byId([...crossRules, ...notations.flatMap((notation) => notation.rules)]),
})

export const notationOf = <N extends Handling>(
  { notations }: Pick<Handlings<N>, 'notations'>,
  view: Pick<View, 'notation'>,
): N | undefined => notations.find(({ id }) => id === view.notation)

export const pictureOf = <N extends Handling>(
  registry: Pick<Handlings<N>, 'notations'>,
  view: Pick<View, 'notation' | 'picture'>,
): N['pictures'][number] | undefined =>
  notationOf(registry, view)?.pictures.find((picture) => picture.id === view.picture)

/** What the parts of a fact may hold, by part; undefined for a kind, a notation or a picture that nobody knows. */
export function partsOf(
  registry: Handlings,
  sort: Sort,
  fact: Readonly<{ kind?: unknown; notation?: unknown; picture?: unknown }>,
): Readonly<Record<string, readonly Field[]>> | undefined {
  if (sort === 'view') return partsOfView(registry, fact)
  if (typeof fact.kind !== 'string') return undefined
  if (sort === 'entity') {
    const kind = registry.kinds.get(fact.kind)
    return kind && { fields: fieldsOfKind(kind) }
  }
  const kind = registry.relationKinds.get(fact.kind)
  return kind && { fields: fieldsOfRelation(kind) }
}

/** A view carries what its picture reads, and keeps what the other pictures of its notation do while it does not show them. */
function partsOfView(registry: Handlings, view: Readonly<{ notation?: unknown; picture?: unknown }>) {
  const notation = registry.notations.find(({ id }) => id === view.notation)
  const own = notation?.pictures.find(({ id }) => id === view.picture)
  if (!notation || !own) return undefined
  const all = [own, ...notation.pictures]
  return {
    scope: notation.scope,
    options: all.flatMap(({ options }) => options),
    pins: all.flatMap(({ pins }) => pins ?? []),
    look: LOOK_FIELDS,
  }
}

/** The field that a key of a part belongs to: by its id, or `ID FACT` and `ID FACT NUMBER` where each fact has its own. */
export const fieldAt = (fields: readonly Field[], key: string): Field | undefined =>
  fields.find(({ id, each }) => {
    if (!each) return id === key
    if (id !== '' && !key.startsWith(`${id} `)) return false
    const rest = id === '' ? key : key.slice(id.length + 1)
    const fact = each === 'point' ? /^(.*) \d{1,4}$/s.exec(rest)?.[1] : rest
    return isId(fact)
  })

/** Loads what the facts of a model ask for, of one notation or of all; undefined where nothing is missing. */
export function prepared(notations: readonly Handling[], model: Model): Promise<unknown> | undefined {
  const missing = notations.flatMap(({ prepare }) => prepare?.(model) ?? [])
  return missing.length === 0 ? undefined : Promise.all(missing)
}

/** A sheet of numbers by `notation/sheet`. */
export function sheetOf(registry: Registry, path: string): NumberSheet | undefined {
  const [notation, sheet] = path.split('/')
  return registry.notations.find(({ id }) => id === notation)?.numbers.find(({ id }) => id === sheet)
}

/** All fields that an entity of a kind may have, the kind's own first. */
export const fieldsOfKind = (kind: Kind): readonly Field[] => [...kind.fields, ...ENTITY_FIELDS]

export const fieldsOfRelation = (kind: RelationKind): readonly Field[] => [...kind.fields, ...COMMON_FIELDS]

export const nameLabel = (registry: Handlings, entity: Pick<Entity, 'kind'>): string =>
  registry.kinds.get(entity.kind)?.nameField?.label ?? 'Name'

/** What an entity is called, read aloud: without the signs of its style. */
export const nameIn = (registry: Handlings, { kind, name }: Pick<Entity, 'kind' | 'name'>): string =>
  registry.kinds.get(kind)?.nameField?.isStyled ? plainOf(name) : name

/** Two notations may speak of one kind, as processes and timelines do of events: its fields are those of both. */
function united(kinds: readonly Kind[]): readonly Kind[] {
  const all = new Map<string, Kind>()
  for (const kind of kinds) {
    const known = all.get(kind.id)
    const own = new Set(known?.fields.map(({ id }) => id))
    all.set(
      kind.id,
      known ? { ...known, fields: [...known.fields, ...kind.fields.filter(({ id }) => !own.has(id))] } : kind,
    )
  }
  return [...all.values()]
}

function byId<T extends { readonly id: string }>(list: readonly T[]): ReadonlyMap<string, T> {
  const map = new Map<string, T>()
  for (const entry of list) {
    if (map.has(entry.id)) throw new RangeError(`“${entry.id}” is claimed twice`)
    map.set(entry.id, entry)
  }
  return map
}
