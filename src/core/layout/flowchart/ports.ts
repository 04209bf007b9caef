import { nth } from '../../graph'
import { join } from '../../model'
import type { Columns } from './columns'
import type { Grid, Route } from './grid'
import type { Rows } from './rows'
import type { FlowShape } from './shape'

/** How far from the middle of its side each edge leaves and arrives. */
export interface Ports {
  readonly out: Float64Array
  readonly in: Float64Array
}

/** Outgoing places are whole multiples of this, incoming ones lie between them, so that none meet across a channel. */
const APART = 10
const LABELLED = 20
/** Between a label and the line above it. */
const ROOM = 6
const outPlace =
  (apart: number) =>
  (index: number): number =>
    apart * (index + 1)
/** Where lines are named at their ends, the first keeps clear of the name of one that takes the middle. */
const inPlace =
  (apart: number) =>
  (index: number): number =>
    apart * (index + (apart < LABELLED ? 0.5 : 0.7))

/**
 * Places on the sides of nodes for lines that do not take the middle: in the order of where they go, so that they do not cross at once. One of
 * them takes the middle where no line of the row does. O(edges log edges).
 */
export function portsOf(
  { nodes, edges, apart = APART }: FlowShape,
  routes: readonly Route[],
  { column }: Columns,
  { row }: Rows,
  grid: Grid,
): Ports {
  const out = new Float64Array(edges.length)
  const into = new Float64Array(edges.length)
  const width = 4 * grid.columns + 5
  const taken = new Set<number>()
  const middles = new Set(grid.middle)
  const leaving = new Map<number, number[]>()
  const arriving = new Map<number, number[]>()
  /** The height of the highest label that leaves each node to the right. */
  const labels = new Float64Array(nodes.length)
  routes.forEach(({ exit, entry, pieces, middleOut, middleIn }, edge) => {
    pieces.forEach((piece, index) => {
      const own = (index === 0 && !middleOut) || (index === pieces.length - 1 && !middleIn)
      if (!piece.along || own || !middles.has(piece.at)) return
      const [from, to] = [Math.min(piece.from, piece.to), Math.max(piece.from, piece.to)]
      for (let at = from; at <= to; at++) taken.add(piece.at * width + at)
    })
    const { from, to, label } = nth(edges, edge)
    if (exit === 'right') labels[from] = Math.max(nth(labels, from), label?.v ?? 0)
    if (exit === 'right' && !middleOut) join(leaving, from, edge)
    if (entry === 'left' && !middleIn && to >= 0) join(arriving, to, edge)
  })
  nodes.forEach((_, node) => {
    const y = nth(grid.middle, nth(row, node))
    const x = 4 * nth(column, node) + 2
    const goal = (edge: number) => nth(nth(routes, edge).pieces, 1).to
    const source = (edge: number) => routes[edge]?.pieces.at(-2)?.from ?? 0
    const own = leaving.get(node) ?? []
    // Labels need more room than lines: that of the highest, in whole steps.
    const highest = nth(labels, node)
    const place = outPlace(highest > 0 ? Math.max(LABELLED, apart * Math.ceil((highest + ROOM) / apart)) : apart)
    spread(own, goal, y, place, out, [y * width + x + 1, y * width + x + 2], taken)
    spread(arriving.get(node) ?? [], source, y, inPlace(apart), into, [y * width + x - 1, y * width + x - 2], taken)
  })
  return { out, in: into }
}

function spread(
  edges: readonly number[],
  far: (edge: number) => number,
  middle: number,
  place: (index: number) => number,
  offsets: Float64Array,
  needed: readonly number[],
  taken: Set<number>,
): void {
  if (edges.length === 0) return
  const sorted = [...edges].sort((a, b) => far(a) - far(b) || a - b)
  let up = sorted.filter((edge) => far(edge) < middle)
  let down = sorted.filter((edge) => far(edge) >= middle)
  if (needed.every((key) => !taken.has(key)) && (up.length !== down.length || edges.length === 1)) {
    for (const key of needed) taken.add(key)
    if (up.length > down.length) up = up.slice(0, -1)
    else down = down.slice(1)
  }
  up.forEach((edge, index) => (offsets[edge] = -place(up.length - 1 - index)))
  down.forEach((edge, index) => (offsets[edge] = place(index)))
}
