import { nth } from './order'
import type { Incidence } from './undirected'

/** What losing something leaves: how many nodes, and how much of their weight, no longer hang together with the largest part. */
export interface Loss {
  readonly nodes: number
  readonly weight: number
}

const NOTHING: Loss = { nodes: 0, weight: 0 }

export interface Cuts {
  /** The component that each node is in, by number. */
  readonly component: Int32Array
  /** How many nodes each component has. */
  readonly sizes: readonly number[]
  /** What losing each node cuts off, the node itself aside; more than nothing only for articulation points. */
  readonly byNode: readonly Loss[]
  /** What losing each edge cuts off; more than nothing only for bridges. */
  readonly byEdge: readonly Loss[]
}

/**
 * Components, articulation points and bridges with what their loss cuts off, by one walk into the depth (Hopcroft & Tarjan 1973), without
 * recursion. Of the parts that remain of a component the largest counts as whole; of equal ones the heavier. O(nodes + edges)
 */
export function cutsOf(incidence: Incidence, weight: (node: number) => number = () => 0): Cuts {
  const { nodes, edges } = incidence.graph
  const order = new Int32Array(nodes).fill(-1)
  const low = new Int32Array(nodes)
  const size = new Int32Array(nodes)
  const heavy = new Float64Array(nodes)
  const component = new Int32Array(nodes).fill(-1)
  const sizes: number[] = []
  const byNode = new Array<Loss>(nodes).fill(NOTHING)
  const byEdge = new Array<Loss>(edges.length).fill(NOTHING)
  let count = 0
  for (let root = 0; root < nodes; root++) {
    if (nth(order, root) >= 0) continue
    // What hangs on each node by nothing but itself, and the bridges: told when the whole component is known.
    const hanging = new Map<number, Loss[]>()
    const bridges: { edge: number; below: Loss }[] = []
    const walk = [{ node: root, by: -1, place: incidence.first(root) }]
    const enter = (node: number) => {
      order[node] = low[node] = count++
      size[node] = 1
      heavy[node] = weight(node)
      component[node] = sizes.length
    }
    enter(root)
    for (let top = walk.at(-1); top; top = walk.at(-1)) {
      const { node, by } = top
      if (top.place < incidence.first(node + 1)) {
        const edge = incidence.edge(top.place++)
        if (edge === by) continue
        const next = incidence.other(edge, node)
        if (nth(order, next) < 0) {
          enter(next)
          walk.push({ node: next, by: edge, place: incidence.first(next) })
        } else low[node] = Math.min(nth(low, node), nth(order, next))
        continue
      }
      walk.pop()
      const above = walk.at(-1)
      if (!above) continue
      low[above.node] = Math.min(nth(low, above.node), nth(low, node))
      size[above.node] = nth(size, above.node) + nth(size, node)
      heavy[above.node] = nth(heavy, above.node) + nth(heavy, node)
      const below = { nodes: nth(size, node), weight: nth(heavy, node) }
      if (nth(low, node) >= nth(order, above.node)) {
        const list = hanging.get(above.node)
        if (list) list.push(below)
        else hanging.set(above.node, [below])
      }
      if (nth(low, node) > nth(order, above.node)) bridges.push({ edge: by, below })
    }
    const whole = { nodes: nth(size, root), weight: nth(heavy, root) }
    sizes.push(whole.nodes)
    for (const [node, parts] of hanging) {
      const rest = parts.reduce((left, part) => less(left, part), less(whole, { nodes: 1, weight: weight(node) }))
      byNode[node] = besideLargest(rest.nodes > 0 ? [...parts, rest] : parts)
    }
    for (const { edge, below } of bridges) byEdge[edge] = besideLargest([below, less(whole, below)])
  }
  return { component, sizes, byNode, byEdge }
}

const less = (whole: Loss, part: Loss): Loss => ({
  nodes: whole.nodes - part.nodes,
  weight: whole.weight - part.weight,
})

function besideLargest(parts: readonly Loss[]): Loss {
  const all = parts.reduce(
    (sum, part) => ({ nodes: sum.nodes + part.nodes, weight: sum.weight + part.weight }),
    NOTHING,
  )
  const largest = parts.reduce(
    (best, part) => (part.nodes > best.nodes || (part.nodes === best.nodes && part.weight > best.weight) ? part : best),
    NOTHING,
  )
  return less(all, largest)
}
