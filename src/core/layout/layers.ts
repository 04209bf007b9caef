import { nth, topological } from '../graph'

export interface Downwards {
  readonly from: number
  readonly to: number
}

interface Branch {
  readonly node: number
  readonly edge: number
  readonly parent: number
}

/**
 * The layer of every node, from 0: each edge leads at least one layer down, and all edges together pass as few layers as they can. Exact: the network
 * simplex of Gansner, Koutsofios, North & Vo 1993 over a tree of edges that pass none, where the gain of moving a branch is what leaves it less what
 * arrives. O(exchanges × (nodes + edges)), with at most 4 exchanges for each node and edge. @throws RangeError where edges go in a circle
 */
export function layersOf(count: number, edges: readonly Downwards[]): Int32Array {
  const ties: number[][] = Array.from({ length: count }, () => [])
  const below: number[][] = Array.from({ length: count }, () => [])
  const gain = new Int32Array(count)
  edges.forEach(({ from, to }, edge) => {
    ties[from]?.push(edge)
    ties[to]?.push(edge)
    below[from]?.push(to)
    gain[from] = nth(gain, from) + 1
    gain[to] = nth(gain, to) - 1
  })
  const layer = new Int32Array(count)
  const order = topological(count, (one) => nth(below, one))
  if (order.length < count) throw new RangeError('edges go in a circle')
  for (const node of order)
    for (const next of nth(below, node)) layer[next] = Math.max(nth(layer, next), nth(layer, node) + 1)
  const slack = (edge: number): number => {
    const { from, to } = nth(edges, edge)
    return nth(layer, to) - nth(layer, from) - 1
  }
  const otherEnd = (edge: number, node: number): number => {
    const { from, to } = nth(edges, edge)
    return from === node ? to : from
  }
  const inTree = new Uint8Array(edges.length)
  const known = new Uint8Array(count)
  for (let root = 0; root < count; root++) if (known[root] === 0) settle(root)
  return layer

  /** Lays out all that hangs together with a node, which then begins at layer 0. */
  function settle(root: number): void {
    const members = grow(root)
    // Taken in turn, so that exchanges that gain nothing come to an end.
    let turn = 0
    for (let left = 4 * members.length + 4 * edges.length; left > 0; left--) {
      const branches = branchesFrom(root)
      const sum = Int32Array.from(gain)
      for (const { node, parent } of branches.toReversed())
        if (parent >= 0) sum[parent] = nth(sum, parent) + nth(sum, node)
      const found = branches.findIndex((_, at) => isBetter(nth(branches, (at + turn) % branches.length), sum))
      if (found < 0) break
      const at = (found + turn) % branches.length
      turn = at + 1
      exchange(branches, at, nth(sum, nth(branches, at).node) > 0)
    }
    const first = Math.min(...members.map((node) => nth(layer, node)))
    for (const node of members) layer[node] = nth(layer, node) - first
  }
  /** Whether all would be shorter if the branch went where its edge in the tree lets it. */
  function isBetter({ node, edge, parent }: Branch, sum: Int32Array): boolean {
    if (parent < 0) return false
    const isAbove = nth(edges, edge).from === node
    return isAbove ? nth(sum, node) < 0 : nth(sum, node) > 0
  }
  /** Moves a branch as far as the next edge lets it, which takes the place of its own in the tree. */
  function exchange(branches: readonly Branch[], at: number, isDown: boolean): void {
    const inBranch = new Uint8Array(count)
    const { node: top, edge: own } = nth(branches, at)
    const moved: number[] = []
    inBranch[top] = 1
    for (const { node, parent } of branches.slice(at)) {
      if (node !== top && (parent < 0 || inBranch[parent] === 0)) continue
      inBranch[node] = 1
      moved.push(node)
    }
    let [next, room] = [-1, Infinity]
    for (const node of moved)
      for (const edge of nth(ties, node)) {
        const { from, to } = nth(edges, edge)
        const isInWay = isDown ? from === node && inBranch[to] === 0 : to === node && inBranch[from] === 0
        if (isInWay && slack(edge) < room) [next, room] = [edge, slack(edge)]
      }
    if (next < 0) throw new RangeError('a branch with a gain and nothing in its way')
    for (const node of moved) layer[node] = nth(layer, node) + (isDown ? room : -room)
    inTree[own] = 0
    inTree[next] = 1
  }
  /** A tree of edges that pass no layer: what is nearest is moved up to it until all that hangs together is in it. */
  function grow(root: number): readonly number[] {
    const members = [root]
    known[root] = 1
    for (;;) {
      let [next, least] = [-1, Infinity]
      for (const node of members)
        for (const edge of nth(ties, node))
          if (known[otherEnd(edge, node)] === 0 && slack(edge) < least) [next, least] = [edge, slack(edge)]
      if (next < 0) return members
      const { from, to } = nth(edges, next)
      const isNewBelow = known[from] === 1
      for (const node of members) layer[node] = nth(layer, node) + (isNewBelow ? least : -least)
      const added = isNewBelow ? to : from
      known[added] = 1
      members.push(added)
      inTree[next] = 1
    }
  }
  /** The tree from its root on, each node after that which it hangs on. */
  function branchesFrom(root: number): readonly Branch[] {
    const branches: Branch[] = [{ node: root, edge: -1, parent: -1 }]
    const walk = (at: number): void => {
      const { node, edge: above } = nth(branches, at)
      for (const edge of nth(ties, node))
        if (inTree[edge] === 1 && edge !== above) branches.push({ node: otherEnd(edge, node), edge, parent: node })
    }
    for (let at = 0; at < branches.length; at++) walk(at)
    return branches
  }
}
