import fc from 'fast-check'
import { UndirectedGraph } from 'graphology'
import { connectedComponents } from 'graphology-components'
import { bidirectional } from 'graphology-shortest-path/unweighted'
import { describe, expect, it } from 'vitest'
import { cutsOf, disjointWays, Incidence, nearest, reliability, wayTo, type Undirected } from '../../src/core/graph'

/** Zachary’s karate club, 34 members and 78 ties (Zachary 1977), counted from one. */
const KARATE =
  `1-2 1-3 2-3 1-4 2-4 3-4 1-5 1-6 1-7 5-7 6-7 1-8 2-8 3-8 4-8 1-9 3-9 3-10 1-11 5-11 6-11 1-12 1-13 4-13 1-14 2-14 3-14 4-14
6-17 7-17 1-18 2-18 1-20 2-20 1-22 2-22 24-26 25-26 3-28 24-28 25-28 3-29 24-30 27-30 2-31 9-31 1-32 25-32 26-32 29-32 3-33 9-33 15-33
16-33 19-33 21-33 23-33 24-33 30-33 31-33 32-33 9-34 10-34 14-34 15-34 16-34 19-34 20-34 21-34 23-34 24-34 27-34 28-34 29-34 30-34 31-34
32-34 33-34`
    .split(/\s+/)
    .map((tie) => tie.split('-').map((one) => Number(one) - 1) as [number, number])

const small = fc
  .record({ nodes: fc.integer({ min: 2, max: 9 }), pairs: fc.array(fc.tuple(fc.nat(8), fc.nat(8)), { maxLength: 16 }) })
  .map(({ nodes, pairs }): Undirected => ({ nodes, edges: pairs.map(([a, b]) => [a % nodes, b % nodes] as const) }))

const RUNS = { numRuns: Number(process.env['RUNS'] ?? 500) }

/** The parts of a graph without some nodes and edges, by graphology. */
function partsWithout({ nodes, edges }: Undirected, gone: { node?: number; edge?: number }): number[][] {
  const graph = new UndirectedGraph({ allowSelfLoops: true })
  for (let node = 0; node < nodes; node++) if (node !== gone.node) graph.addNode(node)
  edges.forEach(([a, b], edge) => {
    if (edge !== gone.edge && a !== gone.node && b !== gone.node && a !== b && !graph.hasEdge(a, b)) graph.addEdge(a, b)
  })
  return connectedComponents(graph).map((part) => part.map(Number))
}

/** How many are no longer with the largest part of what they belonged to: told one by one. */
function lostWithout(graph: Undirected, gone: { node?: number; edge?: number }, of: number): number {
  const whole = partsWithout(graph, {}).find((part) => part.includes(of)) ?? []
  const left = partsWithout(graph, gone).filter((part) => part.some((node) => whole.includes(node)))
  const sizes = left.map((part) => part.length)
  return sizes.reduce((sum, size) => sum + size, 0) - Math.max(0, ...sizes)
}

describe('what hangs on one node or edge', () => {
  it('is what brute force finds, on any small graph (components by npm graphology-components)', () =>
    fc.assert(
      fc.property(small, (graph) => {
        const cuts = cutsOf(new Incidence(graph))
        for (let node = 0; node < graph.nodes; node++)
          expect(cuts.byNode[node]?.nodes).toBe(lostWithout(graph, { node }, node))
        graph.edges.forEach(([a], edge) => expect(cuts.byEdge[edge]?.nodes).toBe(lostWithout(graph, { edge }, a)))
        expect(cuts.sizes.toSorted()).toEqual(
          partsWithout(graph, {})
            .map((part) => part.length)
            .toSorted(),
        )
      }),
      RUNS,
    ))

  it('of the karate club is the first member alone, and the tie to the twelfth', () => {
    const graph = { nodes: 34, edges: KARATE }
    const cuts = cutsOf(new Incidence(graph))
    expect(KARATE).toHaveLength(78)
    expect(cuts.byNode.flatMap(({ nodes }, node) => (nodes > 0 ? [[node + 1, nodes]] : []))).toEqual([[1, 6]])
    expect(cuts.byEdge.flatMap(({ nodes }, edge) => (nodes > 0 ? [KARATE[edge]?.map((one) => one + 1)] : []))).toEqual([
      [1, 12],
    ])
  })
})

describe('shortest ways', () => {
  it('are as short as those of npm graphology-shortest-path, on any small graph', () =>
    fc.assert(
      fc.property(small, (graph) => {
        const theirs = new UndirectedGraph({ allowSelfLoops: true })
        for (let node = 0; node < graph.nodes; node++) theirs.addNode(node)
        for (const [a, b] of graph.edges) if (!theirs.hasEdge(a, b)) theirs.addEdge(a, b)
        const incidence = new Incidence(graph)
        const found = nearest(incidence, 0)
        for (let node = 0; node < graph.nodes; node++)
          expect(wayTo(incidence, found, node)?.length).toBe(
            node === 0
              ? 0
              : (bidirectional(theirs, 0, node)?.length ?? 0) - 1 < 0
                ? undefined
                : (bidirectional(theirs, 0, node)?.length ?? 1) - 1,
          )
      }),
      RUNS,
    ))
})

describe('disjoint ways', () => {
  it('are as many as the least cut has parts (Menger 1927), do not meet, and do not survive the cut', () =>
    fc.assert(
      fc.property(small, (graph) => {
        const incidence = new Incidence(graph)
        const { ways, cut } = disjointWays(incidence, 0, 1)
        expect(cut.nodes.length + cut.edges.length).toBe(ways.length)
        const [nodes, edges] = [new Set<number>(), new Set<number>()]
        for (const way of ways) {
          let at = 0
          for (const edge of way) {
            expect(edges.has(edge)).toBe(false)
            edges.add(edge)
            at = incidence.other(edge, at)
            expect(at === 1 || !nodes.has(at)).toBe(true)
            nodes.add(at)
          }
          expect(at).toBe(1)
        }
        const left = nearest(incidence, 0, {
          passes: (node) => !cut.nodes.includes(node),
          closed: (edge) =>
            cut.edges.includes(edge) || incidence.graph.edges[edge]?.some((end) => cut.nodes.includes(end)) === true,
        })
        expect(left.steps[1]).toBe(-1)
      }),
      RUNS,
    ))

  it('of the karate club between its two heads are six: so many apart, and a cut of as many', () => {
    const incidence = new Incidence({ nodes: 34, edges: KARATE })
    const { ways, cut } = disjointWays(incidence, 0, 33)
    const inner = ways.map((way) => {
      let at = 0
      return way.map((edge) => (at = incidence.other(edge, at))).slice(0, -1)
    })
    expect(new Set(inner.flat()).size).toBe(inner.flat().length)
    const left = nearest(incidence, 0, {
      passes: (node) => !cut.nodes.includes(node),
      closed: (edge) => cut.edges.includes(edge),
    })
    expect(left.steps[33]).toBe(-1)
    expect([ways.length, cut.nodes.length + cut.edges.length]).toEqual([6, 6])
  })
})

describe('availability (Barlow & Proschan 1975; closed forms from memory, enumerated here as well)', () => {
  const edgesUp = (graph: Undirected, up: number) => ({
    incidence: new Incidence(graph),
    node: () => 1,
    edge: () => up,
    passes: () => true,
  })
  it('in a row is the product', () =>
    expect(
      reliability(
        edgesUp(
          {
            nodes: 4,
            edges: [
              [0, 1],
              [1, 2],
              [2, 3],
            ],
          },
          0.9,
        ),
        0,
        3,
      ),
    ).toEqual({ value: expect.closeTo(0.729, 9), method: 'exact' }))
  it('side by side is one less the product of the rests', () =>
    expect(
      reliability(
        edgesUp(
          {
            nodes: 2,
            edges: [
              [0, 1],
              [0, 1],
              [0, 1],
            ],
          },
          0.9,
        ),
        0,
        1,
      ).value,
    ).toBeCloseTo(0.999, 9))
  it('of a bridge of five parts with 0.9 each is 0.97848', () => {
    const bridge: Undirected = {
      nodes: 4,
      edges: [
        [0, 1],
        [0, 2],
        [1, 2],
        [1, 3],
        [2, 3],
      ],
    }
    expect(reliability(edgesUp(bridge, 0.9), 0, 3).value).toBeCloseTo(0.97848, 9)
  })

  it('of any small network is the sum over all its states', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 5 }),
        fc.array(fc.record({ a: fc.nat(4), b: fc.nat(4), up: fc.constantFrom(0, 0.3, 0.9, 1) }), { maxLength: 6 }),
        fc.array(fc.constantFrom(0.5, 0.95, 1), { minLength: 5, maxLength: 5 }),
        (nodes, edges, ups) => {
          const graph: Undirected = { nodes, edges: edges.map(({ a, b }) => [a % nodes, b % nodes] as const) }
          const node = (at: number) => ups[at] ?? 1
          const edge = (at: number) => edges[at]?.up ?? 1
          const parts = nodes + edges.length
          let sum = 0
          for (let state = 0; state < 1 << parts; state++) {
            const isUp = (part: number) => (state & (1 << part)) !== 0
            let chance = 1
            for (let part = 0; part < parts; part++) {
              const own = part < nodes ? node(part) : edge(part - nodes)
              chance *= isUp(part) ? own : 1 - own
            }
            if (chance === 0 || !isUp(0) || !isUp(1)) continue
            const reached = new Set([0])
            for (const at of reached)
              graph.edges.forEach(([a, b], number) => {
                if (!isUp(nodes + number)) return
                if (a === at && isUp(b)) reached.add(b)
                if (b === at && isUp(a)) reached.add(a)
              })
            if (reached.has(1)) sum += chance
          }
          const found = reliability({ incidence: new Incidence(graph), node, edge, passes: () => true }, 0, 1)
          expect(found.method).toBe('exact')
          expect(found.value).toBeCloseTo(sum, 8)
        },
      ),
      { numRuns: Number(process.env['RUNS'] ?? 200) },
    ))
})
