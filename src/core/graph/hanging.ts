import { nth } from './order'

/** A node that hangs on another one by an edge, so many edges away from the rest. */
export interface Hanging {
  readonly node: number
  readonly on: number
  readonly edge: number
  readonly depth: number
}

/**
 * Nodes that hang on the rest by one edge, directly or by others that do: the nearest to the rest first, else in their own order. The rest is what has
 * circles: where there are none, nothing hangs on anything. O(nodes + edges, and the order of what hangs)
 */
export function hanging(
  count: number,
  edges: readonly { readonly from: number; readonly to: number }[],
): readonly Hanging[] {
  const ties: { other: number; edge: number }[][] = Array.from({ length: count }, () => [])
  edges.forEach(({ from, to }, edge) => {
    ties[from]?.push({ other: to, edge })
    ties[to]?.push({ other: from, edge })
  })
  const left = Int32Array.from(ties, ({ length }) => length)
  const isPeeled = new Uint8Array(count)
  const peeled: { node: number; on: number; edge: number }[] = []
  const bare = Array.from(left, (_, node) => node).filter((node) => left[node] === 1)
  for (let node = bare.pop(); node !== undefined; node = bare.pop()) {
    const tie = left[node] === 1 ? nth(ties, node).find(({ other }) => isPeeled[other] === 0) : undefined
    if (!tie) continue
    isPeeled[node] = 1
    peeled.push({ node, on: tie.other, edge: tie.edge })
    left[tie.other] = nth(left, tie.other) - 1
    if (left[tie.other] === 1) bare.push(tie.other)
  }
  const depth = new Int32Array(count)
  // What a tree was peeled to has no edge left.
  const isOfTree = Uint8Array.from(left, (ties) => (ties === 0 ? 1 : 0))
  for (const { node, on } of peeled.toReversed()) {
    depth[node] = nth(depth, on) + 1
    isOfTree[node] = nth(isOfTree, on)
  }
  return peeled
    .filter(({ node }) => isOfTree[node] === 0)
    .map((one) => ({ ...one, depth: nth(depth, one.node) }))
    .sort((a, b) => a.depth - b.depth || a.node - b.node)
}
