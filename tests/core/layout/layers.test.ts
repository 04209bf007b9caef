import dagre from '@dagrejs/dagre'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { nth } from '../../../src/core/graph'
import { layersOf, type Downwards } from '../../../src/core/layout'

const lengthOf = (edges: readonly Downwards[], layer: ArrayLike<number>): number =>
  edges.reduce((sum, { from, to }) => sum + nth(layer, to) - nth(layer, from), 0)

const downwards = (nodes: number, most: number, least = 0) =>
  fc.array(
    fc
      .tuple(fc.nat(nodes - 1), fc.nat(nodes - 1))
      .filter(([a, b]) => a !== b)
      .map(([a, b]): Downwards => ({ from: Math.min(a, b), to: Math.max(a, b) })),
    { minLength: least, maxLength: most, size: 'max' },
  )

/** The least length of all, by trying every layer for every node. */
function leastOf(count: number, edges: readonly Downwards[]): number {
  let least = Infinity
  const layer = new Array<number>(count).fill(0)
  const place = (node: number): void => {
    if (node === count) {
      least = Math.min(least, lengthOf(edges, layer))
      return
    }
    const first = edges.reduce((most, { from, to }) => (to === node ? Math.max(most, nth(layer, from) + 1) : most), 0)
    for (let at = first; at < count; at++) {
      layer[node] = at
      place(node + 1)
    }
  }
  place(0)
  return least
}

describe('layers', () => {
  it('lead every edge down, and are as short as any can be', () =>
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 5 }), downwards(5, 12), (count, all) => {
        const edges = all.filter(({ to }) => to < count)
        const layer = layersOf(count, edges)
        for (const { from, to } of edges) expect(nth(layer, to)).toBeGreaterThan(nth(layer, from))
        expect(Math.min(...layer)).toBe(0)
        expect(lengthOf(edges, layer)).toBe(leastOf(count, edges))
      }),
      { numRuns: 60, seed: 3 },
    ))
  it('come to the same length as those of @dagrejs/dagre', () =>
    fc.assert(
      fc.property(downwards(40, 90, 50), (edges) => {
        const graph = new dagre.graphlib.Graph({ multigraph: true })
        graph.setGraph({ ranker: 'network-simplex' })
        graph.setDefaultEdgeLabel(() => ({}))
        for (let node = 0; node < 40; node++) graph.setNode(String(node), { width: 1, height: 1 })
        edges.forEach(({ from, to }, at) => graph.setEdge(String(from), String(to), {}, String(at)))
        dagre.layout(graph)
        // Empty ranks are left out between what hangs together: lengths are compared by the order of ranks that are used.
        const ranks = Array.from({ length: 40 }, (_, node) =>
          Number((graph.node(String(node)) as { rank?: number }).rank),
        )
        const used = [...new Set(ranks)].sort((a, b) => a - b)
        const theirs = lengthOf(
          edges,
          ranks.map((rank) => used.indexOf(rank)),
        )
        expect(lengthOf(edges, layersOf(40, edges))).toBe(theirs)
      }),
      { numRuns: 30, seed: 5 },
    ))
  it('refuse a circle', () => {
    const edges = [
      { from: 0, to: 1 },
      { from: 1, to: 0 },
    ]
    expect(() => layersOf(2, edges)).toThrow('circle')
  })
})
