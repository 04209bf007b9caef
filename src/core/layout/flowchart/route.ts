import { nth } from '../../graph'
import { Board, wayOf, type Way } from './board'
import { choicesOf } from './choices'
import type { Columns } from './columns'
import type { Grid, Route, Side } from './grid'
import type { Rows } from './rows'
import type { FlowShape } from './shape'

const PASSES = 2
/** What the search for fewer crossings may cost, in places and lines looked at: some seconds. Then ways stay as they have been laid. */
const MOST_LOOKED = 120_000_000
/** How many rows off a way may go that crosses another one. */
const WIDER = 4
/** How many others may have to yield to a way that is to cross fewer. */
const YIELDING = 3
/** What a line costs that leaves or arrives at the top or bottom of a shape that is no diamond. */
const CORNER = 2

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
): { readonly routes: readonly Route[]; readonly plain: boolean } {
  const { nodes, edges } = shape
  const { column, back } = columns
  const { row } = rows
  const { between, toBorder } = choicesOf(shape, columns, rows, grid)
  const board = new Board(shape, column, row, grid)
  const span = (index: number): number => {
    const { from, to } = nth(edges, index)
    if (to < 0) return 1000
    const across = Math.abs(nth(row, from) - nth(row, to))
    return Math.abs(nth(column, from) - nth(column, to)) * 2 + across + (back[index] === 1 ? 500 : 0)
  }
  const order = edges.map((_, index) => index).sort((a, b) => span(a) - span(b) || a - b)
  const ways: Way[] = []
  /** The ways that each edge may take, the cheapest by themselves first. */
  const choices: Way[][] = []
  /** Crossings that could not be helped, as the two ways that cross, and ways that nobody yielded to: not tried again as long as they are there. */
  const hopeless = new Map<Way, Set<Way | undefined>>()
  for (const index of order) {
    const { from, to } = nth(edges, index)
    offer(index, to < 0 ? toBorder(from, -1 - to) : between(index, back[index] === 1))
    lay(index)
  }
  settle(false)
  // What still crosses something may go further around.
  let wider = false
  for (const index of order) {
    const now = ways[index]
    const { to } = nth(edges, index)
    if (!now || to < 0) continue
    if (isSpent()) break
    board.lift(index)
    if (board.crossings(now) > 0) {
      offer(index, between(index, back[index] === 1, WIDER))
      lay(index)
      wider = true
    } else board.lay(now, index)
  }
  if (wider) settle(true)
  return { routes: ways.map(({ route }) => route), plain: isSpent() }

  function isSpent(): boolean {
    return board.looked > most
  }

  function offer(index: number, routes: readonly Route[]): void {
    const known = choices[index] ?? []
    choices[index] = [...known, ...routes.map((one) => wayOf(one, preference(one, index)))].sort(
      (a, b) => a.base - b.base,
    )
  }

  /** Ways laid first could not know of those laid later: each looks again, as long as that helps. */
  function settle(together: boolean): void {
    for (let pass = 0; pass < PASSES; pass++) if (!lookAgain(together)) return
  }

  /** Each edge by itself, and with `together` those that cross with what they cross as well. */
  function lookAgain(together: boolean): boolean {
    let better = false
    for (const index of order) {
      const now = ways[index]
      if (!now) continue
      if (isSpent()) return false
      board.lift(index)
      const before = board.cost(now)
      const crosses = before > now.base
      if (lay(index) < before - 0.01) better = true
      else if (together && crosses && (exchange(index) || makeWay(index))) better = true
    }
    return better
  }

  /** Two ways that cross, neither of which can yield alone: both are taken up, and the cheapest pair of ways is laid. */
  function exchange(index: number): boolean {
    const now = ways[index]
    if (!now) return false
    const crossed = new Set<number>()
    board.crossings(now, crossed)
    for (const other of crossed) {
      const then = ways[other]
      // Each pair is looked at once, from its first edge.
      if (!then || other < index || hopeless.get(now)?.has(then) || isSpent()) continue
      board.lift(index)
      let least = board.cost(now) - 0.01
      board.lift(other)
      least += board.cost(then)
      let best: readonly [Way, Way] | undefined
      // With the first way laid, the second costs as much as without it, or more.
      const cheapest = free(other, least)[0]?.cost ?? Infinity
      for (const one of free(index, least - cheapest)) {
        if (one.cost + cheapest >= least || isSpent()) break
        board.lay(one.way, index)
        const two = cheapestOf(other, least - one.cost)
        if (two) {
          least = one.cost + two.cost
          best = [one.way, two.way]
        }
        board.lift(index)
      }
      const [first, second] = best ?? [now, then]
      put(index, first)
      put(other, second)
      if (best) return true
      giveUp(now, then)
    }
    return false
  }

  function giveUp(now: Way, then?: Way): void {
    const known = hopeless.get(now)
    if (known) known.add(then)
    else hopeless.set(now, new Set([then]))
  }

  /** A way that others lie on is taken all the same when they find other ways and all of them together cost less. */
  function makeWay(index: number): boolean {
    const now = ways[index]
    if (!now || hopeless.get(now)?.has(undefined)) return false
    board.lift(index)
    const own = board.cost(now)
    for (const way of nth(choices, index)) {
      if (way.base >= own || isSpent()) break
      const holders = [...(board.holders(way) ?? [])]
      if (holders.length === 0 || holders.length > YIELDING) continue
      const saved = own - board.cost(way)
      if (saved <= 0) continue
      const held = holders.flatMap((edge) => {
        const then = ways[edge]
        return then ? [{ edge, then, cost: board.cost(then) }] : []
      })
      for (const { edge } of held) board.lift(edge)
      board.lay(way, index)
      let left = saved - 0.01
      const moved = held.every(({ edge, cost }) => {
        const best = cheapestOf(edge, cost + left)
        if (!best) return false
        left -= best.cost - cost
        put(edge, best.way)
        return true
      })
      if (moved) {
        ways[index] = way
        return true
      }
      board.lift(index)
      for (const { edge } of held) board.lift(edge)
      for (const { edge, then } of held) put(edge, then)
    }
    board.lay(now, index)
    giveUp(now)
    return false
  }

  function put(index: number, way: Way): void {
    board.lay(way, index)
    ways[index] = way
  }

  /** The ways of an edge that are free and cost less than so much, the cheapest first. */
  function free(index: number, most: number): { way: Way; cost: number }[] {
    const found: { way: Way; cost: number }[] = []
    for (const way of nth(choices, index)) {
      if (way.base >= most) break
      if (board.isFree(way)) found.push({ way, cost: board.cost(way) })
    }
    return found.sort((a, b) => a.cost - b.cost)
  }

  /** The cheapest way of an edge that is free and costs less than so much. */
  function cheapestOf(index: number, most: number): { way: Way; cost: number } | undefined {
    let best: { way: Way; cost: number } | undefined
    for (const way of nth(choices, index)) {
      if (way.base >= (best?.cost ?? most)) break
      if (!board.isFree(way)) continue
      const cost = board.cost(way)
      if (cost < (best?.cost ?? most)) best = { way, cost }
    }
    return best
  }

  /** Lays the cheapest way that is free, and answers its cost. */
  function lay(index: number): number {
    const best = cheapestOf(index, Infinity)
    if (!best) throw new RangeError('an edge found no way')
    put(index, best.way)
    return best.cost
  }

  function preference({ exit, entry }: Route, index: number): number {
    const { from, to } = nth(edges, index)
    const corner = (node: number, side: Side | 'border') =>
      (side === 'top' || side === 'bottom') && nodes[node]?.form !== 'diamond'
        ? CORNER * (nodes[node]?.form === 'round' ? 3 : 1)
        : 0
    return corner(from, exit) + (to < 0 ? 0 : corner(to, entry))
  }
}
