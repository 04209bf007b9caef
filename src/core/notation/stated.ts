import type { Entity, Id, Relation } from '../model'

/** What facts say, read from their fields. */

/** By their order, and among equals as they were stated. */
export const inOrder = <T extends Entity>(list: readonly T[]): T[] =>
  list
    .map((one, at) => ({ one, at, order: one.fields['order'] }))
    .sort((a, b) => orderOf(a.order) - orderOf(b.order) || a.at - b.at)
    .map(({ one }) => one)
const orderOf = (order: unknown): number => (typeof order === 'number' ? order : 1e9)

export const numberOf = (fact: Entity | Relation | undefined, field: string): number | undefined => {
  const value = fact?.fields[field]
  return typeof value === 'number' ? value : undefined
}
export const textOf = (fact: Entity | Relation | undefined, field: string): string | undefined => {
  const value = fact?.fields[field]
  return typeof value === 'string' && value !== '' ? value : undefined
}
export const listOf = (fact: Entity | Relation | undefined, field: string): readonly string[] => {
  const value = fact?.fields[field]
  return Array.isArray(value) ? (value as readonly string[]) : []
}

/** Finds one of a list by its identity or its name. */
export function namedIn<T extends { readonly id: Id; readonly name: string }>(
  list: readonly T[],
): (text: unknown) => T | undefined {
  const known = new Map<string, T>()
  for (const one of list.toReversed()) known.set(one.name.toLowerCase(), one)
  for (const one of list) known.set(one.id, one)
  return (text) => (typeof text === 'string' ? (known.get(text) ?? known.get(text.toLowerCase())) : undefined)
}

/** The so-manieth of its name each one is, whatever the case. O(list) */
export function numbered(list: readonly { readonly id: Id; readonly name: string }[]): ReadonlyMap<Id, number> {
  const counts = new Map<string, number>()
  return new Map(
    list.map(({ id, name }) => {
      const nth = (counts.get(name.toLowerCase()) ?? 0) + 1
      counts.set(name.toLowerCase(), nth)
      return [id, nth]
    }),
  )
}
