import type { Id } from './ids'
import type { Model } from './model'
import { SORTS, type Sort, type Stated } from './sorts'

export interface Altered<T> {
  readonly before: T
  readonly after: T
  /** Paths whose value differs, as a `set` step would name them. */
  readonly paths: readonly string[]
}

export interface Delta<T> {
  readonly added: readonly T[]
  readonly removed: readonly T[]
  readonly altered: readonly Altered<T>[]
}

export interface Difference {
  readonly entities: Delta<Stated['entity']>
  readonly relations: Delta<Stated['relation']>
  readonly views: Delta<Stated['view']>
}

/** What leads from the facts of `a` to those of `b`. O(facts). */
export const difference = (a: Model, b: Model): Difference => ({
  entities: delta('entity', a.entities, b.entities),
  relations: delta('relation', a.relations, b.relations),
  views: delta('view', a.views, b.views),
})

function delta<S extends Sort>(
  sort: S,
  a: ReadonlyMap<Id, Stated[S]>,
  b: ReadonlyMap<Id, Stated[S]>,
): Delta<Stated[S]> {
  if (a === b) return { added: [], removed: [], altered: [] }
  const altered: Altered<Stated[S]>[] = []
  const added: Stated[S][] = []
  for (const after of b.values()) {
    const before = a.get(after.id)
    if (!before) added.push(after)
    else if (before !== after) {
      const paths = differingPaths(sort, before, after)
      if (paths.length > 0) altered.push({ before, after, paths })
    }
  }
  const removed = a.size + added.length === b.size ? [] : [...a.values()].filter((fact) => !b.has(fact.id))
  return { added, removed, altered }
}

function differingPaths(sort: Sort, before: object, after: object): string[] {
  const { parts } = SORTS[sort]
  const flat = (fact: object) =>
    new Map(
      Object.entries(fact).flatMap(([path, value]): [string, string][] =>
        parts.includes(path)
          ? Object.entries(value as object).map(([key, inner]) => [`${path}.${key}`, JSON.stringify(inner)])
          : [[path, JSON.stringify(value)]],
      ),
    )
  const [a, b] = [flat(before), flat(after)]
  return [...new Set([...a.keys(), ...b.keys()])].filter((path) => a.get(path) !== b.get(path)).sort()
}
