import { nth } from './order'
import type { Incidence } from './undirected'

/** From where a node is reached first, and along which edge. */
export interface Nearest {
  /** Edges away from the start; −1 for what is not reached. */
  readonly steps: Int32Array
  /** The edge by which each node is reached; −1 at the start and where it is not. */
  readonly by: Int32Array
}

/**
 * The way of fewest edges from a node, or from the nearest of several, to every other; of ways with as many the one of least sum of `cost`, and then the one by the edges
 * stated first. Edges and nodes of which `closed` and `passes` say so are not gone through. O(nodes + edges)
 */
export function nearest(
  incidence: Incidence,
  start: number | readonly number[],
  {
    cost = () => 0,
    passes = () => true,
    closed = () => false,
  }: {
    readonly cost?: (edge: number) => number
    readonly passes?: (node: number) => boolean
    readonly closed?: (edge: number) => boolean
  } = {},
): Nearest {
  const { nodes } = incidence.graph
  const steps = new Int32Array(nodes).fill(-1)
  const by = new Int32Array(nodes).fill(-1)
  const price = new Float64Array(nodes)
  const queue = typeof start === 'number' ? [start] : [...start]
  for (const node of queue) steps[node] = 0
  // Nodes come in the order of their steps, so that a node's price is settled before it is left.
  for (const node of queue) {
    if (nth(steps, node) > 0 && !passes(node)) continue
    for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
      const edge = incidence.edge(place)
      if (closed(edge)) continue
      const next = incidence.other(edge, node)
      const whole = nth(price, node) + cost(edge)
      if (nth(steps, next) < 0) {
        steps[next] = nth(steps, node) + 1
        queue.push(next)
      } else if (nth(steps, next) !== nth(steps, node) + 1 || whole >= nth(price, next)) continue
      by[next] = edge
      price[next] = whole
    }
  }
  return { steps, by }
}

/** The edges from the start to a node, in their order; undefined where it is not reached. O(edges of the way) */
export function wayTo(incidence: Incidence, { steps, by }: Nearest, node: number): number[] | undefined {
  if (nth(steps, node) < 0) return undefined
  const way: number[] = []
  for (let at = node; nth(by, at) >= 0; at = incidence.other(nth(by, at), at)) way.push(nth(by, at))
  return way.reverse()
}
