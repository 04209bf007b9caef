/** Entries by a key, in their order. O(entries) */
export function grouped<T, K>(entries: Iterable<T>, keyOf: (entry: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>()
  for (const entry of entries) join(groups, keyOf(entry), entry)
  return groups
}

/** Puts an entry into its group. */
export function join<K, T>(groups: Map<K, T[]>, key: K, entry: T): void {
  const group = groups.get(key)
  if (group) group.push(entry)
  else groups.set(key, [entry])
}
