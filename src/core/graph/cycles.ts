/** The strongly connected components with more than one node, or with an edge to itself, each as its nodes in the order of `nodes`. O(nodes + edges). */
export function cyclicComponents<N>(nodes: Iterable<N>, next: (node: N) => Iterable<N>): N[][] {
  const left = unended(nodes, next)
  if (left.length === 0) return []
  return componentsOf(left, next).filter(
    ([first, ...more]) => more.length > 0 || (first !== undefined && [...next(first)].includes(first)),
  )
}

/** The nodes from which some way never ends: the others are taken off one after another, from the ends backwards (Kahn 1962). O(nodes + edges) */
function unended<N>(nodes: Iterable<N>, next: (node: N) => Iterable<N>): N[] {
  const list = [...nodes]
  const index = new Map(list.map((node, at) => [node, at]))
  const ways = new Int32Array(list.length)
  const before: number[][] = []
  const open: number[] = []
  list.forEach((node, at) => {
    for (const to of next(node)) {
      const end = index.get(to)
      if (end === undefined) continue
      ways[at] = (ways[at] ?? 0) + 1
      ;(before[end] ??= []).push(at)
    }
    if (ways[at] === 0) open.push(at)
  })
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    ways[at] = -1
    for (const start of before[at] ?? []) {
      ways[start] = (ways[start] ?? 0) - 1
      if (ways[start] === 0) open.push(start)
    }
  }
  return list.filter((_, at) => (ways[at] ?? 0) > 0)
}

/**
 * All strongly connected components, each as its nodes in the order of `nodes`; a component stands behind all that it leads to.
 * Tarjan 1972, without recursion. O(nodes + edges).
 */
export function componentsOf<N>(nodes: Iterable<N>, next: (node: N) => Iterable<N>): N[][] {
  const order = new Map<N, number>()
  const low = new Map<N, number>()
  const open: N[] = []
  const isOpen = new Set<N>()
  const found: N[][] = []
  const rank = new Map([...nodes].map((node, index) => [node, index]))
  for (const start of rank.keys()) {
    if (order.has(start)) continue
    const path: { node: N; ways: Iterator<N> }[] = []
    const enter = (node: N) => {
      order.set(node, order.size)
      low.set(node, order.size - 1)
      open.push(node)
      isOpen.add(node)
      path.push({ node, ways: next(node)[Symbol.iterator]() })
    }
    enter(start)
    for (let top = path.at(-1); top; top = path.at(-1)) {
      const way = top.ways.next()
      if (!way.done) {
        if (!rank.has(way.value)) continue
        if (!order.has(way.value)) enter(way.value)
        else if (isOpen.has(way.value)) lower(low, top.node, order.get(way.value))
        continue
      }
      path.pop()
      const under = path.at(-1)
      if (under) lower(low, under.node, low.get(top.node))
      if (low.get(top.node) === order.get(top.node)) {
        const component = open.splice(open.lastIndexOf(top.node))
        for (const node of component) isOpen.delete(node)
        found.push(component.sort((a, b) => (rank.get(a) ?? 0) - (rank.get(b) ?? 0)))
      }
    }
  }
  return found
}

function lower<N>(low: Map<N, number>, node: N, value: number | undefined): void {
  if (value !== undefined && value < (low.get(node) ?? Infinity)) low.set(node, value)
}
