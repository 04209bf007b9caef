import type { Grid, Piece, Route } from './grid'
import type { FlowShape } from './shape'

const COST = { bend: 6, crossing: 26, step: 0.25, row: 0.35 }

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
  const enter = turn(before.from - before.to, before.at, pieces[index - 2]?.from)
  const leave = turn(after.to - after.from, after.at, pieces[index + 2]?.to)
  const sides = [Math.sign(before.from - piece.at), Math.sign(after.to - piece.at)] as const
  return piece.along
    ? [sides[0], piece.from + enter, sides[1], piece.to + leave]
    : [sides[0], piece.from, sides[1], piece.to]
}

/**
 * Lines that share an upright channel enter a lying one in an order: what came from the left stands left, the more so the nearer it came in. The
 * share of one position by which it does; told at the lying channel only, so that a crossing counts once.
 */
function turn(reach: number, at: number, far: number | undefined): number {
  return far === undefined ? 0 : (0.4 * Math.sign(far - at)) / (1 + Math.abs(reach))
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
export class Board {
  private readonly cells: Set<number>
  /** Positions on the middles of rows and columns that an edge takes, each as v × width + u. */
  private readonly rowsTaken = new Map<number, number>()
  private readonly columnsTaken = new Map<number, number>()
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
      if (this.isOwn(piece, index === 0 && !middleOut, index === pieces.length - 1 && !middleIn)) return true
      const taken = piece.along ? this.rowsTaken : this.columnsTaken
      return this.positions(piece).every((key) => !this.cells.has(key) && !taken.has(key))
    })
  }

  /** The edges that a way lies along; undefined where it leads through a node. */
  holders(route: Route): Set<number> | undefined {
    const edges = new Set<number>()
    for (const { piece, keys } of this.takenBy(route))
      for (const key of keys) {
        if (this.cells.has(key)) return undefined
        const edge = (piece.along ? this.rowsTaken : this.columnsTaken).get(key)
        if (edge !== undefined) edges.add(edge)
      }
    return edges
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
      for (const key of keys) (piece.along ? this.rowsTaken : this.columnsTaken).set(key, edge)
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
      const own = this.isOwn(piece, index === 0 && !middleOut, index === pieces.length - 1 && !middleIn)
      return { piece, keys: own ? [] : this.positions(piece) }
    })
  }

  /** A line with a place of its own at a side takes nothing on the row's middle. */
  private isOwn({ along, at }: Piece, first: boolean, last: boolean): boolean {
    return along && (first || last) && this.middles.has(at)
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
