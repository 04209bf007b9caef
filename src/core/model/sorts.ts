import type { Entity, Relation, View } from './facts'
import type { Id } from './ids'

/**
 * The sorts of facts there are, and the paths that each has. Steps, their footprints, drafts, differences, what is read from
 * outside, the JSON Schema and the tables of the database follow from here: a new sort is one entry.
 */
export interface Stated {
  readonly entity: Entity
  readonly relation: Relation
  readonly view: View
}
export type Sort = keyof Stated
export type Fact = Stated[Sort]

/** What stands at a path: `end` is the identity of an entity, `picture` one of the notation of its view. */
export type Shape = 'name' | 'note' | 'day' | 'end' | 'order' | 'picture'

export interface SortShape {
  /** Where a model and a file hold the facts of this sort. */
  readonly list: 'entities' | 'relations' | 'views'
  /** What is said once, when a fact is made; another value makes it another fact. */
  readonly fixed: readonly string[]
  /** Paths that a step sets. One that is `needed` is never cleared. */
  readonly paths: Readonly<Record<string, { readonly shape: Shape; readonly needed?: true }>>
  /** Records whose entries are set one by one, as in `fields.fte`. What they may hold depends on the fact’s kind or picture. */
  readonly parts: readonly string[]
}

const PERIOD = { from: { shape: 'day' }, to: { shape: 'day' } } as const

export const SORTS: { readonly [S in Sort]: SortShape } = {
  entity: {
    list: 'entities',
    fixed: ['kind'],
    paths: { name: { shape: 'name', needed: true }, ...PERIOD },
    parts: ['fields'],
  },
  relation: {
    list: 'relations',
    fixed: ['kind'],
    paths: { source: { shape: 'end', needed: true }, target: { shape: 'end', needed: true }, ...PERIOD },
    parts: ['fields'],
  },
  view: {
    list: 'views',
    fixed: ['notation'],
    paths: {
      picture: { shape: 'picture', needed: true },
      title: { shape: 'name', needed: true },
      caption: { shape: 'note' },
      alt: { shape: 'note' },
      order: { shape: 'order', needed: true },
    },
    parts: ['scope', 'options', 'pins', 'look'],
  },
}

export const sorts = Object.keys(SORTS) as readonly Sort[]

/** A thing for each sort, made by `make`. */
export const bySort = <T>(make: (sort: Sort) => T): Readonly<Record<Sort, T>> =>
  Object.fromEntries(sorts.map((sort) => [sort, make(sort)])) as Record<Sort, T>

/** A path such as `fields.fte` taken apart: the part, and the key within it. A path without a dot has no key. */
export function splitPath(path: string): { readonly head: string; readonly key?: string } {
  const dot = path.indexOf('.')
  return dot < 0 ? { head: path } : { head: path.slice(0, dot), key: path.slice(dot + 1) }
}

/** What stands at a path of a fact; undefined where nothing does. */
export function at(fact: Fact, path: string): unknown {
  const record = fact as unknown as Readonly<Record<string, unknown>>
  const { head, key } = splitPath(path)
  return key === undefined ? record[head] : (record[head] as Readonly<Record<string, unknown>> | undefined)?.[key]
}

/** The identities of the entities that a fact leads to. */
export const endsOf = (sort: Sort, fact: Fact): readonly Id[] =>
  Object.entries(SORTS[sort].paths).flatMap(([path, { shape }]) => (shape === 'end' ? (at(fact, path) as Id) : []))
