import { nth } from './order'

/** An undirected graph: nodes from 0 on, edges as pairs of them. There may be several between two nodes, and one from a node to itself. */
export interface Undirected {
  readonly nodes: number
  readonly edges: readonly (readonly [number, number])[]
}

/** The edges at each node. O(nodes + edges) */
export class Incidence {
  readonly #start: Int32Array
  readonly #edge: Int32Array
  readonly #ends: Int32Array

  constructor(readonly graph: Undirected) {
    const { nodes, edges } = graph
    const start = new Int32Array(nodes + 1)
    this.#ends = new Int32Array(2 * edges.length)
    edges.forEach(([a, b], edge) => {
      if (a < 0 || b < 0 || a >= nodes || b >= nodes) throw new RangeError(`edge ${edge} leads to no node`)
      this.#ends[2 * edge] = a
      this.#ends[2 * edge + 1] = b
      start[a + 1] = nth(start, a + 1) + 1
      if (a !== b) start[b + 1] = nth(start, b + 1) + 1
    })
    for (let node = 0; node < nodes; node++) start[node + 1] = nth(start, node + 1) + nth(start, node)
    const next = start.slice()
    this.#edge = new Int32Array(nth(start, nodes))
    const put = (node: number, edge: number) => {
      this.#edge[nth(next, node)] = edge
      next[node] = nth(next, node) + 1
    }
    edges.forEach(([a, b], edge) => {
      put(a, edge)
      if (a !== b) put(b, edge)
    })
    this.#start = start
  }

  first(node: number): number {
    return nth(this.#start, node)
  }

  /** The edge at a place of the list that begins at `first(node)` and ends before `first(node + 1)`. */
  edge(place: number): number {
    return nth(this.#edge, place)
  }

  /** The node at the other end of an edge. */
  other(edge: number, node: number): number {
    const [a, b] = [nth(this.#ends, 2 * edge), nth(this.#ends, 2 * edge + 1)]
    return a === node ? b : a
  }

  degree(node: number): number {
    return this.first(node + 1) - this.first(node)
  }
}
