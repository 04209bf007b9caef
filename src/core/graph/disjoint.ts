import { nth } from './order'
import type { Incidence } from './undirected'

/** Nodes and edges by number. */
export interface Separator {
  readonly nodes: readonly number[]
  readonly edges: readonly number[]
}

export interface Disjoint {
  /** Ways from one node to the other that share no node but these two, and no edge: each as its edges. */
  readonly ways: readonly (readonly number[])[]
  /** As few nodes and edges as there are ways, without which the two do not hang together (Menger 1927). */
  readonly cut: Separator
}

/**
 * As many disjoint ways between two nodes as there are, and a least cut, by augmenting along shortest ways (Ford & Fulkerson 1956;
 * Edmonds & Karp 1972) in the graph whose nodes are split in two. Nodes of which `passes` says no stand only at the ends of ways.
 * O(ways × (nodes + edges))
 */
export function disjointWays(
  incidence: Incidence,
  source: number,
  target: number,
  passes: (node: number) => boolean = () => true,
): Disjoint {
  if (source === target) return { ways: [], cut: { nodes: [], edges: [] } }
  const { nodes, edges } = incidence.graph
  // The flow on each edge: 1 from its first end to its second, −1 the other way round. A node is used by one way at most.
  const flow = new Int8Array(edges.length)
  const used = new Uint8Array(nodes)
  // A state is a node and whether it is entered (0) or about to be left (1).
  const from = new Int32Array(2 * nodes)
  const UNSEEN = -2
  const search = (): boolean => {
    from.fill(UNSEEN)
    from[2 * source + 1] = -1
    const queue = [2 * source + 1]
    const see = (state: number, before: number) => {
      if (nth(from, state) !== UNSEEN) return
      from[state] = before
      queue.push(state)
    }
    for (const state of queue) {
      const node = state >> 1
      if (node === target) return true
      const leaving = (state & 1) === 1
      // Through the node, or back through it where a way goes already.
      if (!leaving && nth(used, node) === 0 && passes(node)) see(state + 1, state)
      if (leaving && node !== source && nth(used, node) === 1) see(state - 1, state)
      for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
        const edge = incidence.edge(place)
        const next = incidence.other(edge, node)
        if (next === node || next === source) continue
        const out = nth(incidence.graph.edges, edge)[0] === node ? nth(flow, edge) : -nth(flow, edge)
        // Out along a free edge; from a node that is entered, back along the edge by which a way comes in.
        if (leaving && out === 0) see(2 * next, state)
        if (!leaving && out === -1) see(2 * next + 1, state)
      }
    }
    return false
  }
  let count = 0
  while (search()) {
    count++
    let at = 2 * target
    while (nth(from, at) >= 0) {
      const before = nth(from, at)
      const [a, b] = [before >> 1, at >> 1]
      if (a === b) used[a] = at > before ? 1 : 0
      else pushFlow(incidence, flow, a, b, (before & 1) === 1)
      at = before
    }
  }
  const cut = cutBy(incidence, (state) => nth(from, state) !== UNSEEN, flow, used)
  return { ways: Array.from({ length: count }, () => followed(incidence, flow, source, target)), cut }
}

/** One more along an edge from `a` to `b`, or one less against it. */
function pushFlow(incidence: Incidence, flow: Int8Array, a: number, b: number, onward: boolean): void {
  for (let place = incidence.first(a); place < incidence.first(a + 1); place++) {
    const edge = incidence.edge(place)
    if (incidence.other(edge, a) !== b) continue
    const sign = nth(incidence.graph.edges, edge)[0] === a ? 1 : -1
    const out = nth(flow, edge) * sign
    if (onward ? out !== 0 : out !== -1) continue
    flow[edge] = onward ? sign : 0
    return
  }
}

/** What the last search could not get past: used nodes that it came to and could not leave, and used edges likewise. */
function cutBy(incidence: Incidence, seen: (state: number) => boolean, flow: Int8Array, used: Uint8Array): Separator {
  const nodes: number[] = []
  const cutEdges: number[] = []
  for (let node = 0; node < incidence.graph.nodes; node++)
    if (nth(used, node) === 1 && seen(2 * node) && !seen(2 * node + 1)) nodes.push(node)
  incidence.graph.edges.forEach(([a, b], edge) => {
    const out = nth(flow, edge)
    if (out === 1 && seen(2 * a + 1) && !seen(2 * b)) cutEdges.push(edge)
    if (out === -1 && seen(2 * b + 1) && !seen(2 * a)) cutEdges.push(edge)
  })
  return { nodes, edges: cutEdges }
}

/** Takes one way out of the flow. */
function followed(incidence: Incidence, flow: Int8Array, source: number, target: number): number[] {
  const way: number[] = []
  for (let node = source; node !== target;) {
    const edge = outOf(incidence, flow, node)
    if (edge === undefined) break
    flow[edge] = 0
    way.push(edge)
    node = incidence.other(edge, node)
  }
  return way
}

function outOf(incidence: Incidence, flow: Int8Array, node: number): number | undefined {
  for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
    const edge = incidence.edge(place)
    const sign = nth(incidence.graph.edges, edge)[0] === node ? 1 : -1
    if (nth(flow, edge) * sign === 1) return edge
  }
  return undefined
}
