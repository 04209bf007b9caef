import type { Entity, Relation } from './facts'
import type { Id } from './ids'
import type { Model } from './model'

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

/** What leads from the facts of `a` to those of `b`. O(facts). */
export function difference(a: Model, b: Model): { entities: Delta<Entity>; relations: Delta<Relation> } {
  return { entities: delta(a.entities, b.entities), relations: delta(a.relations, b.relations) }
}

function delta<T extends Entity | Relation>(a: ReadonlyMap<Id, T>, b: ReadonlyMap<Id, T>): Delta<T> {
  const altered: Altered<T>[] = []
  const added: T[] = []
  for (const after of b.values()) {
    const before = a.get(after.id)
    if (!before) added.push(after)
    else if (before !== after) {
      const paths = differingPaths(before, after)
      if (paths.length > 0) altered.push({ before, after, paths })
    }
  }
  return { added, removed: [...a.values()].filter((fact) => !b.has(fact.id)), altered }
}

function differingPaths(before: object, after: object): string[] {
  const flat = (fact: object) => {
    const { fields, ...rest } = fact as { fields: Record<string, unknown> }
    const inner = Object.entries(fields).map(([key, value]) => [`fields.${key}`, value] as const)
    return new Map([...Object.entries(rest), ...inner].map(([path, value]) => [path, JSON.stringify(value)]))
  }
  const [a, b] = [flat(before), flat(after)]
  return [...new Set([...a.keys(), ...b.keys()])].filter((path) => a.get(path) !== b.get(path)).sort()
}
