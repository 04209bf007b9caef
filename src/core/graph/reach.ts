/** Everything that some nodes lead to, themselves included, nearest first. O(nodes + edges reached) */
export function reach<N>(from: Iterable<N>, next: (node: N) => Iterable<N>): Set<N> {
  const seen = new Set(from)
  // A set that grows is walked to its end.
  for (const node of seen) for (const to of next(node)) seen.add(to)
  return seen
}

/** The same in the order of a walk that follows each way to its end before it takes the next one. O(nodes + edges reached) */
export function descent<N>(from: readonly N[], next: (node: N) => readonly N[]): Set<N> {
  const seen = new Set<N>()
  const open = from.toReversed()
  for (let node = open.pop(); node !== undefined; node = open.pop()) {
    if (seen.has(node)) continue
    seen.add(node)
    open.push(...next(node).toReversed())
  }
  return seen
}

/** How many edges away from a node each is that it leads to. O(nodes + edges reached) */
export function distances<N>(from: N, next: (node: N) => Iterable<N>): Map<N, number> {
  const far = new Map([[from, 0]])
  for (const [node, steps] of far) for (const to of next(node)) if (!far.has(to)) far.set(to, steps + 1)
  return far
}
