import { nth } from '../../graph'
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
  const rows = nth(first, lanes.length)
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
    for (let row = nth(first, lane); row < nth(first, lane + 1); row++) {
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

export function route(
  exit: Side,
  entry: Side | 'border',
  middleOut: boolean,
  middleIn: boolean,
  pieces: readonly (readonly [along: boolean, at: number, from: number, to: number])[],
): Route {
  return {
    exit,
    entry,
    middleOut,
    middleIn,
    pieces: pieces.map(([along, at, from, to]) => ({ along, at, from, to })),
  }
}
