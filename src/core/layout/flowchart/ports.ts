import { nth } from '../../graph'
import { join } from '../../model'
import type { Columns } from './columns'
import type { Grid, Route } from './grid'
import type { Rows } from './rows'
import type { FlowShape, ShapeEdge } from './shape'

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
  const isRoomy = edges.some(({ beside }) => beside)
  nodes.forEach((_, node) => {
    const y = nth(grid.middle, nth(row, node))
    const x = 4 * nth(column, node) + 2
    const goal = (edge: number) => nth(nth(routes, edge).pieces, 1).to
    const source = (edge: number) => routes[edge]?.pieces.at(-2)?.from ?? 0
    if (isRoomy) {
      spreadRoomy(leaving.get(node) ?? [], goal, ({ beside }) => beside?.out, 0, edges, out)
      spreadRoomy(arriving.get(node) ?? [], source, ({ beside }) => beside?.in, 5, edges, into)
      return
    }
    const own = leaving.get(node) ?? []
    // Labels need more room than lines: that of the highest, in whole steps.
    const highest = nth(labels, node)
    const place = outPlace(highest > 0 ? Math.max(LABELLED, apart * Math.ceil((highest + ROOM) / apart)) : apart)
    spread(own, goal, y, place, out, [y * width + x + 1, y * width + x + 2], taken)
    spread(arriving.get(node) ?? [], source, y, inPlace(apart), into, [y * width + x - 1, y * width + x - 2], taken)
  })
  return { out, in: into }
}

/** What a line that has something written beside it needs of a side, in px. */
export const roomFor = (beside: number): number => Math.max(ROOMY, 10 * Math.ceil((beside + ROOM) / 10))
const ROOMY = 20

/** Each line with the room behind it for what is written there, all of them around the middle; lines that leave as one take one place. */
function spreadRoomy(
  list: readonly number[],
  far: (edge: number) => number,
  beside: (edge: ShapeEdge) => number | undefined,
  shift: number,
  edges: readonly ShapeEdge[],
  offsets: Float64Array,
): void {
  const groups = new Map<number, number[]>()
  for (const edge of list) {
    const { joins } = nth(edges, edge)
    join(groups, shift > 0 || joins === undefined ? edge : -1 - joins, edge)
  }
  if (groups.size < 2) return
  const farOf = (group: readonly number[]) => group.reduce((sum, edge) => sum + far(edge), 0) / group.length
  const sorted = [...groups.values()].sort((a, b) => farOf(a) - farOf(b) || (a[0] ?? 0) - (b[0] ?? 0))
  const rooms = sorted.map((group) => roomFor(Math.max(0, ...group.map((edge) => beside(nth(edges, edge)) ?? 0))))
  const total = rooms.reduce((sum, room) => sum + room, 0)
  let at = -10 * Math.round(total / 20) + shift
  sorted.forEach((group, index) => {
    for (const edge of group) offsets[edge] = at
    at += nth(rooms, index)
  })
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
