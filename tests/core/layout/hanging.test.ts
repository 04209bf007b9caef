import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { hanging, nth } from '../../../src/core/graph'
import { flowchart, settledOrder, type FlowShape } from '../../../src/core/layout'
import { withHanging } from '../../../src/core/layout/flowchart/order'

interface Edge {
  readonly from: number
  readonly to: number
}

const NODES = 14
const graphs = fc.array(
  fc
    .tuple(fc.nat(NODES - 1), fc.nat(NODES - 1))
    .filter(([a, b]) => a !== b)
    .map(([from, to]): Edge => ({ from, to })),
  { maxLength: 20 },
)

/** Whether one node can still be reached from another when some edges are gone. */
function isTied(edges: readonly Edge[], from: number, to: number): boolean {
  const known = new Set([from])
  for (const one of known)
    for (const edge of edges) {
      if (edge.from === one) known.add(edge.to)
      if (edge.to === one) known.add(edge.from)
    }
  return known.has(to)
}

/** Nodes in a circle, or on a way between two circles: what is left when the ends of lines are taken away again and again. */
function restOf(edges: readonly Edge[]): ReadonlySet<number> {
  const isOnCircle = edges.map((edge, at) => isTied(edges.toSpliced(at, 1), edge.from, edge.to))
  const nodes = Array.from({ length: NODES }, (_, node) => node)
  const round = nodes.filter((node) =>
    edges.some(({ from, to }, at) => isOnCircle[at] && (from === node || to === node)),
  )
  return new Set(
    nodes.filter(
      (node) =>
        round.includes(node) ||
        edges.some((edge) => {
          if (edge.from !== node && edge.to !== node) return false
          const others = edges.filter(({ from, to }) => from !== node && to !== node)
          const ends = edges.flatMap(({ from, to }) => (from === node ? [to] : to === node ? [from] : []))
          const led = ends.filter((end) => round.some((one) => isTied(others, end, one)))
          return new Set(led).size > 1
        }),
    ),
  )
}

describe('what hangs on a graph', () => {
  it('is what is neither in a circle nor between two, where there are any, each after what it hangs on', () =>
    fc.assert(
      fc.property(graphs, (edges) => {
        const rest = restOf(edges)
        const loose = hanging(NODES, edges)
        const expected = Array.from({ length: NODES }, (_, node) => node).filter(
          (node) => !rest.has(node) && [...rest].some((one) => isTied(edges, node, one)),
        )
        expect(loose.map(({ node }) => node).toSorted((a, b) => a - b)).toEqual(expected)
        loose.forEach(({ node, on, edge, depth }, at) => {
          const { from, to } = nth(edges, edge)
          expect([from, to].toSorted((a, b) => a - b)).toEqual([node, on].toSorted((a, b) => a - b))
          const before = loose.slice(0, at).find((one) => one.node === on)
          expect(before?.depth ?? 0).toBe(depth - 1)
          expect(rest.has(on) || before !== undefined).toBe(true)
        })
      }),
    ))
})

describe('a flowchart that is steady', () => {
  const shapeOf = (count: number, edges: readonly Edge[], column: ArrayLike<number>): FlowShape => ({
    nodes: Array.from({ length: count }, (_, node) => ({
      lane: 0,
      phase: -1,
      column: nth(column, node),
      halfU: 20,
      halfV: 10,
      form: 'box' as const,
    })),
    edges: edges.map((edge) => ({ ...edge, sort: 'flow' as const })),
    lanes: [{ pool: 0, least: 60 }],
    isThorough: true,
    isSteady: true,
  })
  // A ring of layers, each node tied to two of the next one.
  const rows = 4
  const edges = Array.from({ length: 3 * rows }, (_, at) => [
    { from: at, to: rows * (Math.floor(at / rows) + 1) + ((at * 3) % rows) },
    { from: at, to: rows * (Math.floor(at / rows) + 1) + ((at * 3 + 1) % rows) },
  ]).flat()
  const column = Array.from({ length: 4 * rows }, (_, at) => Math.floor(at / rows))
  const plain = shapeOf(column.length, edges, column)

  it('keeps the order of everything when something more hangs on it', () => {
    const { order } = settledOrder(plain)
    for (let on = 0; on < 3 * rows; on++) {
      const more = shapeOf(
        column.length + 1,
        [...edges, { from: on, to: column.length }],
        [...column, nth(column, on) + 1],
      )
      const next = withHanging(settledOrder(more).order)
      const isOld = (item: number) => item !== column.length
      expect(next.columns.map((list) => list.filter(isOld))).toEqual(order.columns)
      expect(next.columns.flat()).toHaveLength(column.length + 1)
      expect(flowchart(more).nodes).toHaveLength(column.length + 1)
    }
  })
  it('puts what hangs on it where it crosses least, and tells how often lines cross', () => {
    const { order } = settledOrder(plain)
    for (let on = 0; on < 3 * rows; on++) {
      const at = nth(column, on) + 1
      const more = shapeOf(column.length + 1, [...edges, { from: on, to: column.length }], [...column, at])
      const next = withHanging(settledOrder(more).order)
      const crossed = (place: number): number => {
        const list = nth(order.columns, at).toSpliced(place, 0, column.length)
        const before = nth(order.columns, at - 1)
        return edges.filter(({ from, to }) => {
          const side = before.indexOf(from) - before.indexOf(on)
          return nth(column, to) === at && side * (list.indexOf(to) - place) < 0
        }).length
      }
      const least = Math.min(...Array.from({ length: rows + 1 }, (_, place) => crossed(place)))
      expect(next.crossings - order.crossings).toBe(least)
      expect(crossed(nth(next.columns, at).indexOf(column.length))).toBe(least)
    }
  })
})
