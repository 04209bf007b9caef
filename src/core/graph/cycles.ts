import { nth, topological } from './order'

/** The strongly connected components with more than one node, or with an edge to itself, each as its nodes in the order of `nodes`. O(nodes + edges). */
export function cyclicComponents<N>(nodes: Iterable<N>, next: (node: N) => Iterable<N>): N[][] {
  const left = unended(nodes, next)
  if (left.length === 0) return []
  return componentsOf(left, next).filter(
    ([first, ...more]) => more.length > 0 || (first !== undefined && [...next(first)].includes(first)),
  )
}

/** The nodes from which some way never ends: the others come into an order from the ends backwards. O(nodes + edges) */
function unended<N>(nodes: Iterable<N>, next: (node: N) => Iterable<N>): N[] {
  const list = [...nodes]
  const index = new Map(list.map((node, place) => [node, place]))
  const before: number[][] = list.map(() => [])
  list.forEach((node, place) => {
    for (const to of next(node)) {
      const end = index.get(to)
      if (end !== undefined) nth(before, end).push(place)
    }
  })
  const ended = new Set(topological(list.length, (place) => nth(before, place)))
  return list.filter((_, place) => !ended.has(place))
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
