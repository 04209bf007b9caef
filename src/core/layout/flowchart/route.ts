import { nth } from '../../graph'
import { Board, wayOf } from './board'
import { choicesOf } from './choices'
import type { Columns } from './columns'
import type { Grid, Route, Side } from './grid'
import { Laying } from './laying'
import type { Rows } from './rows'
import type { FlowShape } from './shape'

const PASSES = 2
/** What the search for fewer crossings may cost, in places and lines looked at: some seconds. Then ways stay as they have been laid. */
const MOST_LOOKED = 120_000_000
/** How many rows off a way may go that crosses another one. */
const WIDER = 4
/** What a line costs that leaves or arrives at the top or bottom of a shape that is no diamond. */
const CORNER = { diamond: 0, box: 2, round: 6 } as const

/**
 * A right-angled way for every edge: through empty places only, and no two along each other. Short ways are laid first; of the ways an edge may
 * take, the cheapest by bends, length and crossings with those laid before; then those that cross are laid anew, by pairs or by making others yield.
 * O(edges × pieces laid), the search for fewer crossings up to a bound; `plain` where it was cut short.
 */
export function routesOf(
  shape: FlowShape,
  columns: Columns,
  rows: Rows,
  grid: Grid,
  most = MOST_LOOKED,
): { readonly routes: readonly Route[]; readonly plain: boolean; readonly looked: number } {
  const { edges } = shape
  const { between, toBorder } = choicesOf(shape, columns, rows, grid)
  const board = new Board(shape, columns.column, rows.row, grid)
  const laying = new Laying(board, most)
  const order = shortestFirst(shape, columns, rows)
  const isLoop = (edge: number) => columns.back[edge] === 1
  const offer = (edge: number, routes: readonly Route[]) =>
    laying.offer(
      edge,
      routes.map((route) => wayOf(route, preference(shape, route, edge))),
    )
  for (const edge of order) {
    const { from, to } = nth(edges, edge)
    offer(edge, to < 0 ? toBorder(from, -1 - to) : between(edge, isLoop(edge)))
    laying.lay(edge)
  }
  settle(laying, order, false)
  // What still crosses something may go further around.
  let isWider = false
  for (const edge of order) {
    if (nth(edges, edge).to < 0) continue
    if (laying.isSpent) break
    const now = nth(laying.ways, edge)
    board.lift(edge)
    if (board.crossings(now) === 0) {
      board.lay(now, edge)
      continue
    }
    offer(edge, between(edge, isLoop(edge), WIDER))
    laying.lay(edge)
    isWider = true
  }
  if (isWider) settle(laying, order, true)
  return { routes: laying.ways.map(({ route }) => route), plain: laying.isSpent, looked: board.looked }
}

/** Lines with the flow before loops, and those to the border of a lane last. */
function shortestFirst({ edges }: FlowShape, { column, back }: Columns, { row }: Rows): readonly number[] {
  const spans = edges.map(({ from, to }, edge) => {
    if (to < 0) return 1000
    const [along, across] = [column, row].map((places) => Math.abs(nth(places, from) - nth(places, to)))
    return (along ?? 0) * 2 + (across ?? 0) + (back[edge] === 1 ? 500 : 0)
  })
  return edges.map((_, edge) => edge).sort((a, b) => nth(spans, a) - nth(spans, b) || a - b)
}

/** Ways laid first could not know of those laid later: each looks again, as long as that helps. */
function settle(laying: Laying, order: readonly number[], together: boolean): void {
  for (let pass = 0; pass < PASSES; pass++) {
    let isBetter = false
    for (const edge of order) {
      if (laying.isSpent) return
      if (laying.again(edge, together)) isBetter = true
    }
    if (!isBetter) return
  }
}

function preference({ nodes, edges }: FlowShape, { exit, entry }: Route, edge: number): number {
  const { from, to } = nth(edges, edge)
  const corner = (node: number, side: Side | 'border') =>
    side === 'top' || side === 'bottom' ? CORNER[nth(nodes, node).form] : 0
  return corner(from, exit) + (to < 0 ? 0 : corner(to, entry))
}
