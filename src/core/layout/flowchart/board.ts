import { nth } from '../../graph'
import type { Grid, Piece, Route } from './grid'
import type { FlowShape } from './shape'

const COST = { bend: 6, crossing: 26, step: 0.25, row: 0.35 }

interface Laid {
  readonly edge: number
  readonly from: number
  readonly to: number
  readonly ends: Ends | undefined
  /** Whether it takes the middle of its row or column for itself. */
  readonly takes: boolean
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

const NODE = 1
const ROW = 2
const COLUMN = 4

/** A way that an edge may take, with what does not change about it. */
export interface Way {
  readonly route: Route
  /** What it costs by itself: bends and length, and what is said against its ends. */
  readonly base: number
  /** Where each piece enters and leaves its channel; found out when first asked for. */
  ends: readonly (Ends | undefined)[] | undefined
}

export function wayOf(route: Route, against: number): Way {
  let base = against + COST.bend * (route.pieces.length - 1)
  for (const { along, from, to } of route.pieces) base += Math.abs(to - from) * (along ? COST.step : COST.row)
  return { route, base, ends: undefined }
}

/** What is taken: places by nodes, and middles of rows and columns by lines. */
export class Board {
  /** What stands at each position, v × width + u: a node, a line on the middle of its row, one on the middle of its column. */
  private readonly taken: Uint8Array
  private readonly ways: (Way | undefined)[] = []
  /** Pieces that lie along the flow, and those across it, by their place. */
  private readonly lying: Laid[][]
  private readonly upright: Laid[][]
  /** Places and lines that were looked at in search of crossings: what the search has cost so far. */
  looked = 0
  private readonly width: number
  private readonly middles: Set<number>

  constructor(shape: FlowShape, column: Int32Array, row: Int32Array, grid: Grid) {
    this.width = 4 * grid.columns + 5
    this.middles = new Set(grid.middle)
    this.lying = Array.from({ length: grid.breadth + 1 }, () => [])
    this.upright = Array.from({ length: this.width }, () => [])
    this.taken = new Uint8Array(this.width * (grid.breadth + 1))
    shape.nodes.forEach((_, node) => {
      this.taken[nth(grid.middle, nth(row, node)) * this.width + 4 * nth(column, node) + 2] = NODE
    })
  }

  /** Whether a way leads through no node and lies along no other, beginning and ending at its own nodes. */
  isFree(way: Way): boolean {
    return this.meets(way, NODE | ROW, NODE | COLUMN) === 0
  }

  /** The edges that a way lies along; undefined where it leads through a node. */
  holders(way: Way): Set<number> | undefined {
    if (this.meets(way, NODE, NODE) !== 0) return undefined
    const edges = new Set<number>()
    way.route.pieces.forEach(({ along, at, from, to }, index) => {
      if (!this.takes(way, index)) return
      for (const other of nth(along ? this.lying : this.upright, at))
        if (other.takes && other.from <= Math.max(from, to) && other.to >= Math.min(from, to)) edges.add(other.edge)
    })
    return edges
  }

  cost(way: Way): number {
    return way.base + COST.crossing * this.crossings(way)
  }

  /** How often a way crosses those that are laid, as far as can be told before lines have their tracks; `crossed` takes their edges. */
  crossings(way: Way, crossed?: Set<number>): number {
    const { pieces } = way.route
    const ends = this.endsOf(way)
    let found = 0
    for (let index = 0; index < pieces.length; index++) {
      const piece = pieces[index]
      if (!piece) continue
      const { along, at } = piece
      const from = Math.min(piece.from, piece.to)
      const to = Math.max(piece.from, piece.to)
      const others = along ? this.upright : this.lying
      for (let place = from + 1; place < to; place++) {
        const there = others[place] ?? []
        this.looked += 1 + there.length
        for (const other of there)
          if (at > other.from && at < other.to) {
            found++
            crossed?.add(other.edge)
          }
      }
      const own = ends[index]
      if (!own) continue
      const beside = (along ? this.lying : this.upright)[at] ?? []
      this.looked += beside.length
      for (const other of beside)
        if (other.ends && other.from < to && from < other.to && interleave(own, other.ends)) {
          found++
          crossed?.add(other.edge)
        }
    }
    return found
  }

  lay(way: Way, edge: number): void {
    this.mark(way, true)
    const ends = this.endsOf(way)
    way.route.pieces.forEach(({ along, at, from, to }, index) => {
      const laid = {
        edge,
        from: Math.min(from, to),
        to: Math.max(from, to),
        ends: ends[index],
        takes: this.takes(way, index),
      }
      ;(along ? this.lying : this.upright)[at]?.push(laid)
    })
    this.ways[edge] = way
  }

  /** Takes a way up again. */
  lift(edge: number): void {
    const way = this.ways[edge]
    if (!way) return
    this.mark(way, false)
    for (const { along, at } of way.route.pieces) {
      const places = along ? this.lying : this.upright
      places[at] = places[at]?.filter((one) => one.edge !== edge) ?? []
    }
    this.ways[edge] = undefined
  }

  private endsOf(way: Way): readonly (Ends | undefined)[] {
    const { pieces } = way.route
    return (way.ends ??= pieces.map((piece, index) => (this.isChannel(piece) ? endsOf(pieces, index) : undefined)))
  }

  private isChannel({ along, at }: Piece): boolean {
    return along ? !this.middles.has(at) : at % 4 !== 2
  }

  /** A line with a place of its own at a side takes nothing on the row's middle, nor does one within a channel. */
  private takes({ route: { pieces, middleOut, middleIn } }: Way, index: number): boolean {
    const piece = pieces[index]
    if (!piece || this.isChannel(piece)) return false
    return !piece.along || ((index > 0 || middleOut) && (index < pieces.length - 1 || middleIn))
  }

  /** The first of such signs at a position that a way takes, on rows and on columns; 0 where there is none. */
  private meets(way: Way, onRow: number, onColumn: number): number {
    const { pieces } = way.route
    for (let index = 0; index < pieces.length; index++) {
      const piece = pieces[index]
      if (!piece || !this.takes(way, index)) continue
      const { first, last, step } = this.stretch(piece)
      const signs = piece.along ? onRow : onColumn
      for (let key = first; key <= last; key += step) {
        const found = nth(this.taken, key) & signs
        if (found !== 0) return found
      }
    }
    return 0
  }

  private mark(way: Way, taken: boolean): void {
    way.route.pieces.forEach((piece, index) => {
      if (!this.takes(way, index)) return
      const { first, last, step } = this.stretch(piece)
      const sign = piece.along ? ROW : COLUMN
      for (let key = first; key <= last; key += step)
        this.taken[key] = taken ? nth(this.taken, key) | sign : nth(this.taken, key) & ~sign
    })
  }

  private stretch({ along, at, from, to }: Piece): { first: number; last: number; step: number } {
    const [low, high] = [Math.min(from, to), Math.max(from, to)]
    return along
      ? { first: at * this.width + low, last: at * this.width + high, step: 1 }
      : { first: low * this.width + at, last: high * this.width + at, step: this.width }
  }
}
