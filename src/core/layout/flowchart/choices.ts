import { nth } from '../../graph'
import type { Columns } from './columns'
import { route, type Grid, type Route, type Side } from './grid'
import type { Rows } from './rows'
import type { FlowShape } from './shape'

export interface Choices {
  /** Ways from a node to another. A loop may go around its lanes, and what crosses others so many rows off. */
  readonly between: (edge: number, loop: boolean, reach?: number) => Route[]
  /** Ways from a node to the border of a lane. */
  readonly toBorder: (from: number, lane: number) => Route[]
}

type Stretch = readonly [along: boolean, at: number, from: number, to: number]

/** How a way leaves a node towards a lying channel, or comes from there: by a side, along some pieces, and where it then is along the flow. */
interface Stub {
  readonly side: Side
  readonly middle: boolean
  readonly pieces: readonly Stretch[]
  readonly x: number
}

/** The ways that an edge may take on a grid, whatever lies on it. */
export function choicesOf(shape: FlowShape, { column }: Columns, rows: Rows, grid: Grid): Choices {
  const { edges } = shape
  const isFit = fitting(shape)
  const spot = (node: number): Spot => {
    const row = nth(rows.row, node)
    return { x: 4 * nth(column, node) + 2, y: nth(grid.middle, row), row }
  }
  return {
    between: (edge, loop, reach = 0) => {
      const { from, to, sort } = nth(edges, edge)
      const [start, goal] = [spot(from), spot(to)]
      const isMessage = sort === 'message'
      const near = channelsNear(start.row, goal.row, sort === 'flow' && loop, reach, rows, grid)
      const kept = nth(rows.reserved, edge)
      return [
        ...(start.x < goal.x && !isMessage ? forward(start, goal) : []),
        ...neighbouring(start, goal, isMessage),
        ...upright(start, goal),
        ...near.flatMap((h) => through(h, start, goal, isMessage)),
        ...(kept < 0 ? [] : alongRow(nth(grid.middle, kept), start, goal)),
        ...around(start, goal, grid),
      ].filter((way) => isFit(way, edge))
    },
    toBorder: (from, lane) => borderWays(spot(from), nth(rows.first, lane), grid),
  }
}

/**
 * Which ways suit an edge: where something is written beside the ends of lines, all leave with the flow and arrive with it, and the middle of a
 * side is taken only by a line that has it to itself.
 */
function fitting({ edges }: FlowShape): (way: Route, edge: number) => boolean {
  if (!edges.some(({ beside }) => beside)) return () => true
  const [leaving, arriving] = [new Map<number, Set<number>>(), new Map<number, Set<number>>()]
  edges.forEach(({ from, to, joins }, edge) => {
    // Lines that leave as one are one: told apart from edges by a sign.
    leaving.set(from, (leaving.get(from) ?? new Set()).add(joins === undefined ? edge : -1 - joins))
    arriving.set(to, (arriving.get(to) ?? new Set()).add(edge))
  })
  return ({ exit, entry, middleOut, middleIn }, edge) => {
    const { from, to } = nth(edges, edge)
    if (exit !== 'right' || entry !== 'left') return false
    return (!middleOut || leaving.get(from)?.size === 1) && (!middleIn || arriving.get(to)?.size === 1)
  }
}

interface Spot {
  readonly x: number
  readonly y: number
  readonly row: number
}

/** Which way the goal lies across the flow: −1 above, 1 below; and the sides that look there. */
const TOWARDS: Readonly<Record<-1 | 1, Side>> = { [-1]: 'top', [1]: 'bottom' }
const across = (start: Spot, goal: Spot): -1 | 1 => (goal.row > start.row ? 1 : -1)
const towards = (way: -1 | 1): Side => TOWARDS[way]
const against = (way: -1 | 1): Side => TOWARDS[way === 1 ? -1 : 1]

/** Across the flow at one place between two columns. */
const bend = (at: number, { x: x1, y: y1 }: Spot, { x: x2, y: y2 }: Spot, middleOut: boolean, middleIn: boolean) =>
  route('right', 'left', middleOut, middleIn, [
    [true, y1, x1 + 1, at],
    [false, at, y1, y2],
    [true, y2, at, x2 - 1],
  ])

/** With the flow: straight on, by one bend on either side, or by a corner. */
function forward(start: Spot, goal: Spot): Route[] {
  const [{ x: x1, y: y1 }, { x: x2, y: y2 }] = [start, goal]
  if (start.row === goal.row) return [route('right', 'left', true, true, [[true, y1, x1 + 1, x2 - 1]])]
  const way = across(start, goal)
  return [
    bend(x1 + 2, start, goal, false, true),
    bend(x2 - 2, start, goal, true, false),
    ...(x2 === x1 + 4 ? [bend(x1 + 2, start, goal, false, false)] : []),
    route(towards(way), 'left', true, true, [
      [false, x1, y1 + way, y2],
      [true, y2, x1, x2 - 1],
    ]),
    route('right', against(way), true, true, [
      [true, y1, x1 + 1, x2],
      [false, x2, y1, y2 - way],
    ]),
  ]
}

/** Through the channel between two columns there is always a way, since a channel carries any number of lines. */
const neighbouring = (start: Spot, goal: Spot, isMessage: boolean): Route[] =>
  goal.x === start.x + 4 && (isMessage || start.row === goal.row) ? [bend(start.x + 2, start, goal, false, false)] : []

/** Straight up or down within a column. */
function upright(start: Spot, goal: Spot): Route[] {
  if (start.x !== goal.x || start.row === goal.row) return []
  const way = across(start, goal)
  return [route(towards(way), against(way), true, true, [[false, start.x, start.y + way, goal.y - way]])]
}

/** The ways from a node to a lying channel: out at its front and across, or straight up or down to it. */
function stubs({ x, y }: Spot, h: number, front: 'right' | 'left'): Stub[] {
  const out = front === 'right' ? 1 : -1
  const turn = x + 2 * out
  const ahead: Stub = {
    side: front,
    middle: false,
    pieces: [
      [true, y, x + out, turn],
      [false, turn, y, h],
    ],
    x: turn,
  }
  const way = h > y ? 1 : -1
  return h === y ? [ahead] : [ahead, { side: towards(way), middle: true, pieces: [[false, x, y + way, h]], x }]
}

const backwards = (pieces: readonly Stretch[]): Stretch[] =>
  pieces.map(([along, at, from, to]): Stretch => [along, at, to, from]).reverse()

/** Along a lying channel, from one stub to another. */
function through(h: number, start: Spot, goal: Spot, isMessage: boolean): Route[] {
  return stubs(start, h, 'right').flatMap((out) =>
    stubs(goal, h, 'left').flatMap((into) => {
      if (out.x === into.x || (isMessage && out.side !== 'right' && into.side === 'left')) return []
      const pieces = [...out.pieces, [true, h, out.x, into.x] as const, ...backwards(into.pieces)]
      return [route(out.side, into.side, out.middle, into.middle, pieces)]
    }),
  )
}

/** By the row that is kept free for an edge. */
const alongRow = (q: number, start: Spot, goal: Spot): Route[] =>
  q === start.y || q === goal.y ? [] : through(q, start, goal, false)

/** Down one channel and along two others: between lanes that are far from each other. */
function around(start: Spot, goal: Spot, grid: Grid): Route[] {
  const way = across(start, goal)
  const [leave, arrive] = way > 0 ? [grid.after, grid.before] : [grid.before, grid.after]
  const [h1, h2] = [nth(leave, start.row), nth(arrive, goal.row)]
  if (start.row === goal.row || h1 === h2) return []
  const { x: x1, y: y1 } = start
  const { x: x2, y: y2 } = goal
  return [x1 - 2, x1 + 2, x2 - 2, x2 + 2].map((k) =>
    route(towards(way), against(way), true, true, [
      [false, x1, y1 + way, h1],
      [true, h1, x1, k],
      [false, k, h1, h2],
      [true, h2, k, x2],
      [false, x2, h2, y2 - way],
    ]),
  )
}

function borderWays({ x, y, row }: Spot, lane: number, grid: Grid): Route[] {
  const way = lane > row ? 1 : -1
  const [leave, arrive] = way > 0 ? [grid.after, grid.before] : [grid.before, grid.after]
  const [h, end] = [nth(leave, row), nth(arrive, lane)]
  return [
    route(towards(way), 'border', true, true, [[false, x, y + way, end]]),
    ...[x - 2, x + 2].map((k) =>
      route(towards(way), 'border', true, true, [
        [false, x, y + way, h],
        [true, h, x, k],
        [false, k, h, end],
      ]),
    ),
    route('right', 'border', false, true, [
      [true, y, x + 1, x + 2],
      [false, x + 2, y, end],
    ]),
  ]
}

/** Channels along the flow that a way between two rows may take: those beside both or so many rows off, and for a loop the edges of their lanes. */
function channelsNear(r: number, s: number, loop: boolean, reach: number, { first }: Rows, grid: Grid): number[] {
  const found = new Set<number>()
  const last = grid.before.length - 1
  for (const one of [r, s])
    for (let near = Math.max(0, one - reach); near <= Math.min(last, one + reach); near++)
      found.add(nth(grid.before, near)).add(nth(grid.after, near))
  if (loop)
    for (const one of [r, s]) {
      const lane = first.findLastIndex((begins, index) => begins <= one && index < first.length - 1)
      found.add(nth(grid.before, nth(first, lane))).add(nth(grid.after, nth(first, lane + 1) - 1))
    }
  return [...found]
}
