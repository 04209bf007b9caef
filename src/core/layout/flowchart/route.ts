import type { Columns } from './columns'
import type { Rows } from './rows'
import type { FlowShape } from './shape'

/**
 * Positions before anything has a length. Along the flow, column c has its left half at 4c + 1, its middle at 4c + 2 and its right half at
 * 4c + 3, and the channel before it is 4c. Across it, each row has three positions likewise, with a channel before it and, at the end of a
 * lane, one after it; channels carry as many lines as need be, side by side.
 */
export interface Grid {
  readonly columns: number
  /** The middle of each row. */
  readonly middle: Int32Array
  /** The channel before and after each row. */
  readonly before: Int32Array
  readonly after: Int32Array
  readonly breadth: number
  /** The border of each lane, where a message to the lane as a whole ends. */
  readonly border: Int32Array
}

export function gridOf({ lanes }: FlowShape, columns: number, { first }: Rows): Grid {
  const rows = first[lanes.length] ?? 0
  const grid = {
    columns,
    middle: new Int32Array(rows),
    before: new Int32Array(rows),
    after: new Int32Array(rows),
    breadth: 0,
  }
  const border = new Int32Array(lanes.length)
  let at = 0
  for (let lane = 0; lane < lanes.length; lane++) {
    border[lane] = at
    for (let row = first[lane] ?? 0; row < (first[lane + 1] ?? 0); row++) {
      grid.before[row] = at
      grid.middle[row] = at + 2
      grid.after[row] = at + 4
      at += 4
    }
    at += 1
  }
  return { ...grid, breadth: at, border }
}

export type Side = 'left' | 'right' | 'top' | 'bottom'

/** A straight piece of a way at a fixed position: along the flow at v, or across it at u. */
export interface Piece {
  readonly along: boolean
  readonly at: number
  readonly from: number
  readonly to: number
}

export interface Route {
  readonly exit: Side
  readonly entry: Side | 'border'
  /** Whether the line leaves, and arrives, at the middle of the side; else it has a place of its own there. */
  readonly middleOut: boolean
  readonly middleIn: boolean
  /** Pieces in turn, along and across the flow alternately, beginning with the exit's. */
  readonly pieces: readonly Piece[]
}

const PASSES = 2
/** How many rows off a way may go that crosses another one. */
const WIDER = 4
const COST = { bend: 6, crossing: 26, step: 0.25, row: 0.35, corner: 2 }

/**
 * A right-angled way for every edge: through empty places only, and no two along each other. Short ways are laid first; of the ways an edge may
 * take, the cheapest by bends, length and crossings with those laid before. O(edges × pieces laid).
 */
export function routesOf(
  shape: FlowShape,
  { column, back }: Columns,
  { row, first, reserved }: Rows,
  grid: Grid,
): Route[] {
  const { nodes, edges } = shape
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
      const before = board.cost(now) + preference(now, index)
      const crosses = board.crossings(now) > 0
      if (lay(index) < before - 0.01) better = true
      else if (crosses && exchange(index)) better = true
    }
    return better
  }

  /** Two ways that cross, neither of which can yield alone: both are taken up, and the other one chooses last. */
  function exchange(index: number): boolean {
    const now = routes[index]
    if (!now) return false
    for (const other of board.crossed(now)) {
      const then = routes[other]
      if (!then) continue
      const before = both(index, other)
      board.lift(index)
      board.lift(other)
      lay(index)
      lay(other)
      if (both(index, other) < before - 0.01) return true
      board.lift(index)
      board.lift(other)
      for (const [edge, way] of [
        [index, now],
        [other, then],
      ] as const) {
        board.lay(way, edge)
        routes[edge] = way
      }
    }
    return false
  }

  function both(a: number, b: number): number {
    return [a, b].reduce((sum, edge) => {
      const way = routes[edge]
      return way ? sum + board.cost(way) + preference(way, edge) : sum
    }, 0)
  }

  /** Lays the cheapest way that is free, and answers its cost. */
  function lay(index: number): number {
    let best: Route | undefined
    let least = Infinity
    for (const candidate of choices[index] ?? []) {
      if (!board.isFree(candidate)) continue
      const cost = board.cost(candidate) + preference(candidate, index)
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
        ? COST.corner * (nodes[node]?.form === 'round' ? 3 : 1)
        : 0
    return corner(from, exit) + (to < 0 ? 0 : corner(to, entry))
  }

  function between(edge: number, against: boolean, reach = 0): Route[] {
    const { from = 0, to = 0, sort = 'flow' } = edges[edge] ?? {}
    const [i, j] = [column[from] ?? 0, column[to] ?? 0]
    const [r, s] = [row[from] ?? 0, row[to] ?? 0]
    const [y1, y2] = [grid.middle[r] ?? 0, grid.middle[s] ?? 0]
    const [x1, x2] = [4 * i + 2, 4 * j + 2]
    const list: Route[] = []
    const forward = j > i
    const across = sort === 'message'
    if (forward && !across) {
      if (r === s) list.push(route('right', 'left', true, true, [[true, y1, x1 + 1, x2 - 1]]))
      else {
        list.push(
          route('right', 'left', false, true, [
            [true, y1, x1 + 1, x1 + 2],
            [false, x1 + 2, y1, y2],
            [true, y2, x1 + 2, x2 - 1],
          ]),
        )
        list.push(
          route('right', 'left', true, false, [
            [true, y1, x1 + 1, x2 - 2],
            [false, x2 - 2, y1, y2],
            [true, y2, x2 - 2, x2 - 1],
          ]),
        )
        if (j === i + 1)
          list.push(
            route('right', 'left', false, false, [
              [true, y1, x1 + 1, x1 + 2],
              [false, x1 + 2, y1, y2],
              [true, y2, x2 - 2, x2 - 1],
            ]),
          )
        const out: Side = s > r ? 'bottom' : 'top'
        list.push(
          route(out, 'left', true, true, [
            [false, x1, y1 + Math.sign(y2 - y1), y2],
            [true, y2, x1, x2 - 1],
          ]),
        )
        const in_: Side = s > r ? 'top' : 'bottom'
        list.push(
          route('right', in_, true, true, [
            [true, y1, x1 + 1, x2],
            [false, x2, y1, y2 - Math.sign(y2 - y1)],
          ]),
        )
      }
    }
    if (i === j && r !== s) {
      const down = s > r
      list.push(
        route(down ? 'bottom' : 'top', down ? 'top' : 'bottom', true, true, [
          [false, x1, y1 + (down ? 1 : -1), y2 + (down ? -1 : 1)],
        ]),
      )
    }
    for (const h of channelsNear(r, s, sort === 'flow' && against, reach)) {
      for (const exit of ['right', 'top', 'bottom'] as const)
        for (const entry of ['left', 'top', 'bottom'] as const) {
          if (across && (exit === 'right' || entry === 'left') && exit !== 'right') continue
          const way: [boolean, number, number, number][] = []
          const outX = exit === 'right' ? x1 + 2 : x1
          const inX = entry === 'left' ? x2 - 2 : x2
          if (exit === 'right') way.push([true, y1, x1 + 1, outX], [false, outX, y1, h])
          else {
            if (exit === 'top' ? h >= y1 : h <= y1) continue
            way.push([false, x1, y1 + (exit === 'top' ? -1 : 1), h])
          }
          way.push([true, h, outX, inX])
          if (entry === 'left') way.push([false, inX, h, y2], [true, y2, inX, x2 - 1])
          else {
            if (entry === 'top' ? h >= y2 : h <= y2) continue
            way.push([false, x2, h, y2 + (entry === 'top' ? -1 : 1)])
          }
          if (outX === inX) continue
          list.push(route(exit, entry, exit !== 'right', entry !== 'left', way))
        }
    }
    const kept = reserved[edge] ?? -1
    if (kept >= 0) list.push(...alongRow(grid.middle[kept] ?? 0))
    // Down one channel and along two others: between lanes that are far from each other.
    const down = y2 > y1
    const [h1, h2] = down ? [grid.after[r] ?? 0, grid.before[s] ?? 0] : [grid.before[r] ?? 0, grid.after[s] ?? 0]
    if (r !== s && h1 !== h2)
      for (const k of [4 * i, 4 * i + 4, 4 * j, 4 * j + 4])
        if (k !== x1 && k !== x2) {
          const [exit, entry]: [Side, Side] = down ? ['bottom', 'top'] : ['top', 'bottom']
          list.push(
            route(exit, entry, true, true, [
              [false, x1, y1 + (down ? 1 : -1), h1],
              [true, h1, x1, k],
              [false, k, h1, h2],
              [true, h2, k, x2],
              [false, x2, h2, y2 - (down ? 1 : -1)],
            ]),
          )
        }
    return list

    /** By the row that is kept free for this edge. */
    function alongRow(q: number): Route[] {
      const found: Route[] = []
      for (const exit of ['right', 'top', 'bottom'] as const)
        for (const entry of ['left', 'top', 'bottom'] as const) {
          if (exit !== 'right' && (exit === 'top' ? q >= y1 : q <= y1)) continue
          if (entry !== 'left' && (entry === 'top' ? q >= y2 : q <= y2)) continue
          const [outX, inX] = [exit === 'right' ? x1 + 2 : x1, entry === 'left' ? x2 - 2 : x2]
          const way: [boolean, number, number, number][] = []
          if (exit === 'right') way.push([true, y1, x1 + 1, outX], [false, outX, y1, q])
          else way.push([false, x1, y1 + (exit === 'top' ? -1 : 1), q])
          way.push([true, q, outX, inX])
          if (entry === 'left') way.push([false, inX, q, y2], [true, y2, inX, x2 - 1])
          else way.push([false, x2, q, y2 + (entry === 'top' ? -1 : 1)])
          if (q !== y1 && q !== y2 && outX !== inX)
            found.push(route(exit, entry, exit !== 'right', entry !== 'left', way))
        }
      return found
    }
  }

  function toBorder(from: number, lane: number): Route[] {
    const [i, r] = [column[from] ?? 0, row[from] ?? 0]
    const [x, y] = [4 * i + 2, grid.middle[r] ?? 0]
    const rowOfLane = first[lane] ?? 0
    const below = rowOfLane > r
    const end = below ? (grid.before[rowOfLane] ?? 0) : (grid.after[rowOfLane] ?? 0)
    const exit: Side = below ? 'bottom' : 'top'
    const h = below ? (grid.after[r] ?? 0) : (grid.before[r] ?? 0)
    const beside = [4 * i, 4 * i + 4].flatMap((k) => [
      route(exit, 'border', true, true, [
        [false, x, y + (below ? 1 : -1), h],
        [true, h, x, k],
        [false, k, h, end],
      ]),
    ])
    return [
      route(exit, 'border', true, true, [[false, x, y + (below ? 1 : -1), end]]),
      ...beside,
      route('right', 'border', false, true, [
        [true, y, x + 1, x + 2],
        [false, x + 2, y, end],
      ]),
    ]
  }

  /** Channels along the flow that a way between two rows may take: those beside both or so many rows off, and for a loop the edges of their lanes. */
  function channelsNear(r: number, s: number, loop: boolean, reach: number): number[] {
    const found = new Set<number>()
    const last = grid.before.length - 1
    for (const one of [r, s])
      for (let near = Math.max(0, one - reach); near <= Math.min(last, one + reach); near++) {
        found.add(grid.before[near] ?? 0)
        found.add(grid.after[near] ?? 0)
      }
    if (loop)
      for (const one of [r, s]) {
        const lane = laneOfRow(one)
        found.add(grid.before[first[lane] ?? 0] ?? 0)
        found.add(grid.after[(first[lane + 1] ?? 1) - 1] ?? 0)
      }
    return [...found]
  }

  function laneOfRow(one: number): number {
    let lane = 0
    while (lane + 1 < first.length - 1 && (first[lane + 1] ?? 0) <= one) lane++
    return lane
  }
}

function route(
  exit: Side,
  entry: Side | 'border',
  middleOut: boolean,
  middleIn: boolean,
  pieces: readonly [along: boolean, at: number, from: number, to: number][],
): Route {
  return {
    exit,
    entry,
    middleOut,
    middleIn,
    pieces: pieces.map(([along, at, from, to]) => ({ along, at, from, to })),
  }
}

interface Laid {
  readonly edge: number
  readonly from: number
  readonly to: number
  readonly ends: Ends | undefined
}

/** Where a piece enters its channel and where it leaves it: on which of its two sides, and how far along. */
type Ends = readonly [enterSide: number, enter: number, leaveSide: number, leave: number]

function endsOf(pieces: readonly Piece[], index: number): Ends | undefined {
  const [before, piece, after] = [pieces[index - 1], pieces[index], pieces[index + 1]]
  if (!before || !piece || !after) return undefined
  return [Math.sign(before.from - piece.at), piece.from, Math.sign(after.to - piece.at), piece.to]
}

const NOTHING: readonly Laid[] = []

/** Two ways through one channel have to cross, whatever their tracks, when their four ends alternate around it. */
function interleave([s1, a1, s2, a2]: Ends, [t1, b1, t2, b2]: Ends): boolean {
  // Around the channel: down one side and up the other.
  const place = (side: number, at: number): number => (side < 0 ? at : 1e6 - at)
  const [p, q] = [place(s1, a1), place(s2, a2)]
  const [low, high] = [Math.min(p, q), Math.max(p, q)]
  const [r, s] = [place(t1, b1), place(t2, b2)]
  // Ends at one place leave it open.
  if (r === low || r === high || s === low || s === high) return false
  return (r > low && r < high) !== (s > low && s < high)
}

/** What is taken: places by nodes, and middles of rows and columns by lines. */
class Board {
  private readonly cells: Set<number>
  /** Positions on the middles of rows and columns that a line takes, each as v × width + u. */
  private readonly rowsTaken = new Set<number>()
  private readonly columnsTaken = new Set<number>()
  private readonly routes = new Map<number, Route>()
  /** Pieces that lie along the flow, and those across it, by their place. */
  private readonly lying = new Map<number, Laid[]>()
  private readonly upright = new Map<number, Laid[]>()
  private readonly width: number
  private readonly middles: Set<number>

  constructor(shape: FlowShape, column: Int32Array, row: Int32Array, grid: Grid) {
    this.width = 4 * grid.columns + 5
    this.middles = new Set(grid.middle)
    this.cells = new Set()
    shape.nodes.forEach((_, node) => {
      this.cells.add((grid.middle[row[node] ?? 0] ?? 0) * this.width + 4 * (column[node] ?? 0) + 2)
    })
  }

  /** Whether a way leads through no node and lies along no other, beginning and ending at its own nodes. */
  isFree({ pieces, middleOut, middleIn }: Route): boolean {
    return pieces.every((piece, index) => {
      const first = index === 0 && !middleOut
      const last = index === pieces.length - 1 && !middleIn
      // A line with a place of its own at a side takes nothing on the row's middle.
      if (piece.along && (first || last) && this.middles.has(piece.at)) return true
      const taken = piece.along ? this.rowsTaken : this.columnsTaken
      return this.positions(piece).every((key) => !this.cells.has(key) && !taken.has(key))
    })
  }

  cost(route: Route): number {
    let cost = COST.bend * (route.pieces.length - 1) + COST.crossing * this.crossings(route)
    for (const { along, from, to } of route.pieces) cost += Math.abs(to - from) * (along ? COST.step : COST.row)
    return cost
  }

  /** How often a way crosses those that are laid, as far as can be told before lines have their tracks. */
  crossings(route: Route): number {
    let found = 0
    this.eachCrossing(route, () => found++)
    return found
  }

  /** The edges whose ways a way crosses. */
  crossed(route: Route): Set<number> {
    const edges = new Set<number>()
    this.eachCrossing(route, (edge) => edges.add(edge))
    return edges
  }

  private eachCrossing({ pieces }: Route, visit: (edge: number) => void): void {
    for (let index = 0; index < pieces.length; index++) {
      const piece = pieces[index]
      if (!piece) continue
      const { along, at } = piece
      const [from, to] = [Math.min(piece.from, piece.to), Math.max(piece.from, piece.to)]
      const others = along ? this.upright : this.lying
      for (let place = from + 1; place < to; place++)
        for (const other of others.get(place) ?? NOTHING) if (at > other.from && at < other.to) visit(other.edge)
      const ends = this.isChannel(piece) ? endsOf(pieces, index) : undefined
      if (!ends) continue
      for (const other of (along ? this.lying : this.upright).get(at) ?? NOTHING)
        if (other.ends && other.from < to && from < other.to && interleave(ends, other.ends)) visit(other.edge)
    }
  }

  private isChannel({ along, at }: Piece): boolean {
    return along ? !this.middles.has(at) : at % 4 !== 2
  }

  lay(route: Route, edge: number): void {
    for (const { piece, keys } of this.takenBy(route))
      for (const key of keys) (piece.along ? this.rowsTaken : this.columnsTaken).add(key)
    route.pieces.forEach((piece, index) => {
      const { along, at, from, to } = piece
      const ends = this.isChannel(piece) ? endsOf(route.pieces, index) : undefined
      const laid = { edge, from: Math.min(from, to), to: Math.max(from, to), ends }
      const places = along ? this.lying : this.upright
      const place = places.get(at)
      if (place) place.push(laid)
      else places.set(at, [laid])
    })
    this.routes.set(edge, route)
  }

  /** Takes a way up again. */
  lift(edge: number): void {
    const route = this.routes.get(edge)
    if (!route) return
    for (const { piece, keys } of this.takenBy(route))
      for (const key of keys) (piece.along ? this.rowsTaken : this.columnsTaken).delete(key)
    for (const { along, at } of route.pieces) {
      const places = along ? this.lying : this.upright
      places.set(at, places.get(at)?.filter((one) => one.edge !== edge) ?? [])
    }
    this.routes.delete(edge)
  }

  private takenBy({ pieces, middleOut, middleIn }: Route): { piece: Piece; keys: number[] }[] {
    return pieces.map((piece, index) => {
      const own = (index === 0 && !middleOut) || (index === pieces.length - 1 && !middleIn)
      return { piece, keys: piece.along && own && this.middles.has(piece.at) ? [] : this.positions(piece) }
    })
  }

  /** The positions of a piece that runs on the middle of a row or of a column; none for one within a channel. */
  private positions({ along, at, from, to }: Piece): number[] {
    const [a, b] = [Math.min(from, to), Math.max(from, to)]
    if (along ? !this.middles.has(at) : at % 4 !== 2) return []
    const keys: number[] = []
    for (let position = a; position <= b; position++)
      keys.push(along ? at * this.width + position : position * this.width + at)
    return keys
  }
}
