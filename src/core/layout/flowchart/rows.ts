import { nth, reach, topological } from '../../graph'
import { lists, type Columns } from './columns'
import type { Order } from './order'
import type { FlowShape } from './shape'

export interface Rows {
  /** The row of every node, counted through all lanes. */
  readonly row: Int32Array
  /** The row kept free for a line that passes columns; −1 for others. */
  readonly reserved: Int32Array
  /** The first row of each lane, and one more for the end. */
  readonly first: Int32Array
  readonly count: number
}

const PASSES = 3

/**
 * Rows from the order within columns: every node and every passing line beneath what stands above it in its columns, and as near as can be to the
 * row of what leads to it, so that the main way is straight. O(passes × items).
 */
export function rowsOf(shape: FlowShape, { column, back }: Columns, { chains, columns }: Order): Rows {
  const { nodes, edges, lanes } = shape
  const items = nodes.length + chains.length
  const laneOf = (item: number): number => nodes[item]?.lane ?? chains[item - nodes.length]?.lane ?? 0
  const { below, loose } = beneath(columns, items, nodes.length, laneOf)
  const inLane = new Int32Array(items)
  const order = topological(items, (item) => nth(below, item))
  for (const item of order)
    for (const under of nth(below, item)) inLane[under] = Math.max(nth(inLane, under), nth(inLane, item) + 1)

  const flows = edges.flatMap(({ sort, to }, index) => (sort === 'flow' && to >= 0 && back[index] === 0 ? [index] : []))
  const into = lists(nodes.length, flows, (edge) => nth(edges, edge).to)
  const byColumn = nodes.map((_, node) => node).sort((a, b) => nth(column, a) - nth(column, b))
  for (let pass = 0; pass < PASSES; pass++)
    for (const node of byColumn) {
      const rows = (into[node] ?? []).flatMap((edge) => {
        const from = nth(edges, edge).from
        return laneOf(from) === laneOf(node) ? [{ from, row: nth(inLane, from) }] : []
      })
      const main = rows.sort((a, b) => a.row - b.row)[0]
      if (main && main.row > nth(inLane, node) && !leadsTo(below, node, main.from)) lower(node, main.row)
    }
  // A way that leads on to something lower stands there from its beginning.
  const out = lists(nodes.length, flows, (edge) => nth(edges, edge).from)
  for (const node of [...byColumn].reverse()) {
    const own = nth(inLane, node)
    // What leads straight to it comes along, unless it leads elsewhere as well.
    const held = (into[node] ?? []).some((edge) => {
      const from = nth(edges, edge).from
      return laneOf(from) === laneOf(node) && inLane[from] === own && (out[from] ?? []).length > 1
    })
    const after = (out[node] ?? []).flatMap((edge) => {
      const to = nth(edges, edge).to
      return laneOf(to) === laneOf(node) ? [to] : []
    })
    const [next] = after
    if (!held && next !== undefined && after.length === 1 && nth(inLane, next) > own && !leadsTo(below, node, next))
      lower(node, nth(inLane, next))
  }
  if (shape.isCentred === true) centre()
  nodes.forEach(({ nudge }, node) => {
    if (nudge && nudge[1] > 0) lower(node, nth(inLane, node) + nudge[1])
  })

  const most = new Int32Array(lanes.length).fill(1)
  for (let item = 0; item < items; item++)
    if (!loose.has(item)) most[laneOf(item)] = Math.max(nth(most, laneOf(item)), nth(inLane, item) + 1)
  const first = new Int32Array(lanes.length + 1)
  for (let lane = 0; lane < lanes.length; lane++) first[lane + 1] = nth(first, lane) + nth(most, lane)
  const rowOf = (item: number) => nth(first, laneOf(item)) + nth(inLane, item)
  const reserved = new Int32Array(edges.length).fill(-1)
  chains.forEach(({ edge }, index) => {
    const item = nodes.length + index
    if (!loose.has(item)) reserved[edge] = rowOf(item)
  })
  return { row: Int32Array.from(nodes, (_, node) => rowOf(node)), reserved, first, count: nth(first, lanes.length) }

  /** What leads to several things of its lane stands over the middle one of them. */
  function centre(): void {
    for (const node of [...byColumn].reverse()) {
      const after = (out[node] ?? [])
        .map((edge) => nth(edges, edge).to)
        .filter((to) => laneOf(to) === laneOf(node))
        .sort((a, b) => nth(inLane, a) - nth(inLane, b))
      const middle = after[(after.length - 1) >> 1]
      if (middle === undefined || after.length < 2 || leadsTo(below, node, middle)) continue
      lower(node, nth(inLane, middle))
    }
  }

  /** Puts an item on a row, and what stands beneath it as far down as that asks for. */
  function lower(item: number, to: number): void {
    const open = [{ item, to }]
    for (let next = open.pop(); next; next = open.pop()) {
      if (nth(inLane, next.item) >= next.to) continue
      inLane[next.item] = next.to
      for (const under of nth(below, next.item)) open.push({ item: under, to: next.to + 1 })
    }
  }
}

interface Beneath {
  /** What stands right beneath each item in the columns that it is in. */
  readonly below: readonly ReadonlySet<number>[]
  readonly loose: ReadonlySet<number>
}

/**
 * What stands beneath what. Passing lines that change places with others ask for a circle: they give up their row one by one, and then stand in
 * no column. Nodes alone, each in one column, ask for none. O(lines given up × items)
 */
function beneath(columns: Order['columns'], items: number, nodes: number, laneOf: (item: number) => number): Beneath {
  const loose = new Set<number>()
  for (;;) {
    const below: Set<number>[] = Array.from({ length: items }, () => new Set())
    for (const column of columns) {
      const list = column.filter((item) => !loose.has(item))
      list.forEach((item, index) => {
        const next = list[index + 1]
        if (next !== undefined && laneOf(next) === laneOf(item)) below[item]?.add(next)
      })
    }
    const placed = new Set(topological(items, (item) => nth(below, item)))
    const stuck = below.findIndex((_, item) => item >= nodes && !placed.has(item))
    if (stuck < 0) return { below, loose }
    loose.add(stuck)
  }
}

const leadsTo = (below: readonly ReadonlySet<number>[], from: number, goal: number): boolean =>
  reach([from], (item) => nth(below, item)).has(goal)
