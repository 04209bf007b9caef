import { stratify, tree, type HierarchyPointNode } from 'd3-hierarchy'
import fc from 'fast-check'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { tidyTree, type TreeShape } from '../../src/core/layout'

/**
 * The tidy tree against the aesthetics of Reingold & Tilford 1981 ("Tidier drawings of trees") and against npm d3-hierarchy's
 * tree(), which follows Buchheim, Jünger & Leipert 2002 ("Improving Walker's algorithm to run in linear time"), on the `flare`
 * hierarchy of npm vega-datasets.
 */
interface Row {
  readonly id: string
  readonly parentId: string | null
}
const W = 100
const H = 40
const GAPS = { across: 10, down: 20 }

function flare(): Row[] {
  const rows = JSON.parse(readFileSync('node_modules/vega-datasets/data/flare.json', 'utf8')) as {
    id: number
    parent?: number
  }[]
  return rows.map(({ id, parent }) => ({ id: String(id), parentId: parent === undefined ? null : String(parent) }))
}

function laidOut(
  rows: readonly Row[],
  width: (index: number) => number = () => W,
  height: (index: number) => number = () => H,
) {
  const root = stratify<Row>()
    .id((row) => row.id)
    .parentId((row) => row.parentId)([...rows])
  const nodes: (typeof root)[] = []
  root.eachBefore((node) => void nodes.push(node))
  const index = new Map(nodes.map((node, i) => [node, i]))
  const widths = nodes.map((_, i) => width(i))
  const shape: TreeShape = {
    parent: Int32Array.from(nodes, (node) => (node.parent ? (index.get(node.parent) ?? -1) : -1)),
    left: Float64Array.from(widths, (w) => w / 2),
    right: Float64Array.from(widths, (w) => w / 2),
    height: Float64Array.from(nodes, (_, i) => height(i)),
  }
  const { x, y } = tidyTree(shape, GAPS)
  const boxes = nodes.map((_, i) => ({
    x: (x[i] ?? 0) - (widths[i] ?? 0) / 2,
    y: y[i] ?? 0,
    width: widths[i] ?? 0,
    height: height(i),
  }))
  const children = nodes.map((node) => (node.children ?? []).map((child) => index.get(child) ?? -1))
  return { root, x: Array.from(x), boxes, children }
}
type Laid = ReturnType<typeof laidOut>

const extent = (values: readonly number[]) => Math.max(...values) - Math.min(...values)

function expectNoOverlap({ boxes }: Laid): void {
  const sorted = [...boxes].sort((a, b) => a.x - b.x)
  sorted.forEach((a, i) => {
    for (const b of sorted.slice(i + 1)) {
      if (b.x >= a.x + a.width + GAPS.across - 1e-6) break
      const apart = a.y + a.height + GAPS.down <= b.y + 1e-6 || b.y + b.height + GAPS.down <= a.y + 1e-6
      expect(apart).toBe(true)
    }
  })
}
function expectOrder({ children, x }: Laid): void {
  for (const list of children) expect([...list].sort((a, b) => (x[a] ?? 0) - (x[b] ?? 0))).toEqual(list)
}
function expectCentred({ children, x }: Laid): void {
  children.forEach((list, node) => {
    const [first, last] = [list[0], list.at(-1)]
    if (first === undefined || last === undefined) return
    expect(x[node]).toBeCloseTo(((x[first] ?? 0) + (x[last] ?? 0)) / 2, 6)
  })
}
/** Each subtree's shape as text: subtrees of one shape must have one drawing, up to where they stand. */
function expectEqualSubtrees({ children, x }: Laid): void {
  const shapes: string[] = []
  const drawings: string[] = []
  const seen = new Map<string, string>()
  for (let i = children.length - 1; i >= 0; i--) {
    const list = children[i] ?? []
    shapes[i] = `(${list.map((child) => shapes[child]).join('')})`
    drawings[i] = list.map((child) => `${((x[child] ?? 0) - (x[i] ?? 0)).toFixed(4)}[${drawings[child]}]`).join()
    const known = seen.get(shapes[i] ?? '')
    if (known !== undefined) expect(drawings[i]).toBe(known)
    seen.set(shapes[i] ?? '', drawings[i] ?? '')
  }
}
function d3Width({ root }: Laid): number {
  const xs: number[] = []
  tree<Row>()
    .nodeSize([W + GAPS.across, H + GAPS.down])
    .separation(() => 1)(root)
    .each((node: HierarchyPointNode<Row>) => void xs.push(node.x))
  return extent(xs)
}

describe('the tidy tree on flare (252 nodes)', () => {
  const laid = laidOut(flare())
  it('lays out all of it', () => expect(laid.boxes).toHaveLength(252))
  it('lets no two boxes overlap', () => expectNoOverlap(laid))
  it('keeps the order of siblings', () => expectOrder(laid))
  it('centres a parent over its children', () => expectCentred(laid))
  it('draws equal subtrees equally', () => expectEqualSubtrees(laid))
  it('is at most 1.05 times as wide as d3-hierarchy’s tree()', () =>
    expect(extent(laid.x)).toBeLessThanOrEqual(1.05 * d3Width(laid)))
})

describe('the tidy tree on any tree', () => {
  const trees = fc
    .array(fc.nat(), { minLength: 1, maxLength: 120 })
    .map((picks): Row[] => [
      { id: '0', parentId: null },
      ...picks.map((pick, i) => ({ id: String(i + 1), parentId: String(pick % (i + 1)) })),
    ])
  it('holds the same five with boxes of one size', () => {
    fc.assert(
      fc.property(trees, (rows) => {
        const laid = laidOut(rows)
        expectNoOverlap(laid)
        expectOrder(laid)
        expectCentred(laid)
        expectEqualSubtrees(laid)
        expect(extent(laid.x)).toBeLessThanOrEqual(1.05 * d3Width(laid) + 1e-6)
      }),
      { numRuns: 150 },
    )
  })
  it('never overlaps and keeps order with boxes of any size (van der Ploeg 2014)', () => {
    fc.assert(
      fc.property(trees, fc.infiniteStream(fc.integer({ min: 5, max: 300 })), (rows, sizes) => {
        const list = [...sizes.take(rows.length * 2)]
        const laid = laidOut(
          rows,
          (i) => list[i] ?? 10,
          (i) => list[rows.length + i] ?? 10,
        )
        expectNoOverlap(laid)
        expectOrder(laid)
        expectCentred(laid)
      }),
      { numRuns: 150 },
    )
  })
  it('sets the trees of a forest side by side', () => {
    const one = new Float64Array([50, 50, 50])
    const { x, y } = tidyTree({ parent: Int32Array.from([-1, -1, 1]), left: one, right: one, height: one }, GAPS)
    expect([...x, ...y]).toEqual([50, 160, 160, 0, 0, 70])
  })
  it('takes an empty forest', () => {
    const none = new Float64Array()
    expect(tidyTree({ parent: new Int32Array(), left: none, right: none, height: none }, GAPS).x).toHaveLength(0)
  })
})
