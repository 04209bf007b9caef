import { Board } from './board'
import { choicesOf } from './choices'
import type { Columns } from './columns'
import type { Grid, Route, Side } from './grid'
import type { Rows } from './rows'
import type { FlowShape } from './shape'

const PASSES = 2
/** How many rows off a way may go that crosses another one. */
const WIDER = 4
/** How many others may have to yield to a way that is to cross fewer. */
const YIELDING = 3
/** What a line costs that leaves or arrives at the top or bottom of a shape that is no diamond. */
const CORNER = 2

/**
 * A right-angled way for every edge: through empty places only, and no two along each other. Short ways are laid first; of the ways an edge may
 * take, the cheapest by bends, length and crossings with those laid before; then those that cross are laid anew, by pairs or by making others yield.
 * O(edges × pieces laid).
 */
export function routesOf(shape: FlowShape, columns: Columns, rows: Rows, grid: Grid): Route[] {
  const { nodes, edges } = shape
  const { column, back } = columns
  const { row } = rows
  const { between, toBorder } = choicesOf(shape, columns, rows, grid)
  const board = new Board(shape, column, row, grid)
  const span = (index: number): number => {
    const { from = 0, to = 0 } = edges[index] ?? {}
    if (to < 0) return 1000
    const across = Math.abs((row[from] ?? 0) - (row[to] ?? 0))
    return Math.abs((column[from] ?? 0) - (column[to] ?? 0)) * 2 + across + (back[index] === 1 ? 500 : 0)
  }
  const order = edges.map((_, index) => index).sort((a, b) => span(a) - span(b) || a - b)
  const routes: Route[] = []
  const choices: Route[][] = []
  for (const index of order) {
    const { from = 0, to = 0 } = edges[index] ?? {}
    choices[index] = to < 0 ? toBorder(from, -1 - to) : between(index, back[index] === 1)
    lay(index)
  }
  settle()
  // What still crosses something may go further around.
  let wider = false
  for (const index of order) {
    const now = routes[index]
    const { to = 0 } = edges[index] ?? {}
    if (!now || to < 0) continue
    board.lift(index)
    if (board.crossings(now) > 0) {
      choices[index]?.push(...between(index, back[index] === 1, WIDER))
      lay(index)
      wider = true
    } else board.lay(now, index)
  }
  if (wider) settle()
  return routes

  /** Ways laid first could not know of those laid later: each looks again, as long as that helps. */
  function settle(): void {
    for (let pass = 0; pass < PASSES; pass++) if (!lookAgain()) return
  }

  function lookAgain(): boolean {
    let better = false
    for (const index of order) {
      const now = routes[index]
      if (!now) continue
      board.lift(index)
      const before = weigh(now, index)
      const crosses = board.crossings(now) > 0
      if (lay(index) < before - 0.01) better = true
      else if (crosses && (exchange(index) || makeWay(index))) better = true
    }
    return better
  }

  /** Two ways that cross, neither of which can yield alone: both are taken up, and the cheapest pair of ways is laid. */
  function exchange(index: number): boolean {
    const now = routes[index]
    if (!now) return false
    for (const other of board.crossed(now)) {
      const then = routes[other]
      // Each pair is looked at once, from its first edge.
      if (!then || other < index) continue
      board.lift(index)
      let least = weigh(now, index) - 0.01
      board.lift(other)
      least += weigh(then, other)
      let best: readonly [Route, Route] | undefined
      // With the first way laid, the second costs as much as without it, or more.
      const [ones, twos] = [free(index), free(other)]
      const cheapest = twos[0]?.cost ?? Infinity
      for (const one of ones) {
        if (one.cost + cheapest >= least) break
        board.lay(one.way, index)
        for (const two of twos) {
          if (one.cost + two.cost >= least) break
          if (!board.isFree(two.way)) continue
          const sum = one.cost + weigh(two.way, other)
          if (sum >= least) continue
          least = sum
          best = [one.way, two.way]
        }
        board.lift(index)
      }
      const [first, second] = best ?? [now, then]
      board.lay(first, index)
      board.lay(second, other)
      routes[index] = first
      routes[other] = second
      if (best) return true
    }
    return false
  }

  /** A way that others lie on is taken all the same when they find other ways and all of them together cost less. */
  function makeWay(index: number): boolean {
    const now = routes[index]
    if (!now) return false
    board.lift(index)
    const own = weigh(now, index)
    for (const way of choices[index] ?? []) {
      const saved = own - weigh(way, index)
      const holders = saved > 0 ? [...(board.holders(way) ?? [])] : []
      if (holders.length === 0 || holders.length > YIELDING) continue
      const held = holders.flatMap((edge) => {
        const then = routes[edge]
        return then ? [{ edge, then, cost: weigh(then, edge) }] : []
      })
      for (const { edge } of held) board.lift(edge)
      board.lay(way, index)
      let left = saved - 0.01
      const moved = held.every(({ edge, cost }) => {
        const [best] = free(edge)
        left -= (best?.cost ?? Infinity) - cost
        if (!best || left <= 0) return false
        board.lay(best.way, edge)
        routes[edge] = best.way
        return true
      })
      if (moved) {
        routes[index] = way
        return true
      }
      board.lift(index)
      for (const { edge } of held) board.lift(edge)
      for (const { edge, then } of held) {
        board.lay(then, edge)
        routes[edge] = then
      }
    }
    board.lay(now, index)
    return false
  }

  /** The ways of an edge that are free, the cheapest first. */
  function free(index: number): { way: Route; cost: number }[] {
    return (choices[index] ?? [])
      .filter((way) => board.isFree(way))
      .map((way) => ({ way, cost: weigh(way, index) }))
      .sort((a, b) => a.cost - b.cost)
  }

  function weigh(way: Route, index: number): number {
    return board.cost(way) + preference(way, index)
  }

  /** Lays the cheapest way that is free, and answers its cost. */
  function lay(index: number): number {
    let best: Route | undefined
    let least = Infinity
    for (const candidate of choices[index] ?? []) {
      if (!board.isFree(candidate)) continue
      const cost = weigh(candidate, index)
      if (cost < least) {
        least = cost
        best = candidate
      }
    }
    if (!best) throw new RangeError('an edge found no way')
    board.lay(best, index)
    routes[index] = best
    return least
  }

  function preference({ exit, entry }: Route, index: number): number {
    const { from = 0, to = 0 } = edges[index] ?? {}
    const corner = (node: number, side: Side | 'border') =>
      (side === 'top' || side === 'bottom') && nodes[node]?.form !== 'diamond'
        ? CORNER * (nodes[node]?.form === 'round' ? 3 : 1)
        : 0
    return corner(from, exit) + (to < 0 ? 0 : corner(to, entry))
  }
}
