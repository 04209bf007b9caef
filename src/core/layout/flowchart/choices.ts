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

/** The ways that an edge may take on a grid, whatever lies on it. */
export function choicesOf(
  { edges }: FlowShape,
  { column }: Columns,
  { row, first, reserved }: Rows,
  grid: Grid,
): Choices {
  return { between, toBorder }

  function between(edge: number, against: boolean, reach = 0): Route[] {
    const { from, to, sort } = nth(edges, edge)
    const [i, j] = [nth(column, from), nth(column, to)]
    const [r, s] = [nth(row, from), nth(row, to)]
    const [y1, y2] = [nth(grid.middle, r), nth(grid.middle, s)]
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
    // Through the channel between two columns there is always a way, since a channel carries any number of lines.
    if (j === i + 1 && (across || r === s))
      list.push(
        route('right', 'left', false, false, [
          [true, y1, x1 + 1, x1 + 2],
          [false, x1 + 2, y1, y2],
          [true, y2, x2 - 2, x2 - 1],
        ]),
      )
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
    const kept = nth(reserved, edge)
    if (kept >= 0) list.push(...alongRow(nth(grid.middle, kept)))
    // Down one channel and along two others: between lanes that are far from each other.
    const down = y2 > y1
    const [h1, h2] = down ? [nth(grid.after, r), nth(grid.before, s)] : [nth(grid.before, r), nth(grid.after, s)]
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
    const [i, r] = [nth(column, from), nth(row, from)]
    const [x, y] = [4 * i + 2, nth(grid.middle, r)]
    const rowOfLane = nth(first, lane)
    const below = rowOfLane > r
    const end = below ? nth(grid.before, rowOfLane) : nth(grid.after, rowOfLane)
    const exit: Side = below ? 'bottom' : 'top'
    const h = below ? nth(grid.after, r) : nth(grid.before, r)
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
        found.add(nth(grid.before, near))
        found.add(nth(grid.after, near))
      }
    if (loop)
      for (const one of [r, s]) {
        const lane = laneOfRow(one)
        found.add(nth(grid.before, nth(first, lane)))
        found.add(nth(grid.after, nth(first, lane + 1) - 1))
      }
    return [...found]
  }

  function laneOfRow(one: number): number {
    let lane = 0
    while (lane + 1 < first.length - 1 && nth(first, lane + 1) <= one) lane++
    return lane
  }
}
