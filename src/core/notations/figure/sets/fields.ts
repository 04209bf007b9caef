import { nth } from '../../../graph'
import { aroundPoints, type Box, type Point } from '../../../scene'
import type { Circle } from './circles'

/** A set as it is drawn: an ellipse, its half axes turned by an angle. */
export interface Ellipse {
  readonly x: number
  readonly y: number
  readonly a: number
  readonly b: number
  /** In radians. */
  readonly turn: number
}

export const ellipseOf = ({ x, y, r }: Circle): Ellipse => ({ x, y, a: r, b: r, turn: 0 })

/**
 * Ellipses that cut the plane into all regions there can be, none of them small: four in the manner of Venn 1880, five after Grünbaum 1975. Their measures were
 * found by a search for the largest smallest region.
 */
const FOUR: readonly Ellipse[] = [
  { x: -0.197, y: 0.217, a: 0.961, b: 0.436, turn: 0.871 },
  { x: 0.037, y: -0.035, a: 0.961, b: 0.436, turn: 0.871 },
  { x: -0.037, y: -0.035, a: 0.961, b: 0.436, turn: -0.871 },
  { x: 0.197, y: 0.217, a: 0.961, b: 0.436, turn: -0.871 },
]
const FIVE: readonly Ellipse[] = Array.from({ length: 5 }, (_, at) => {
  const angle = (at * 2 * Math.PI) / 5 - Math.PI / 2
  return { x: 0.2345 * Math.cos(angle), y: 0.2345 * Math.sin(angle), a: 0.9987, b: 0.5761, turn: angle + 0.3405 }
})
export const allMeeting = (count: 4 | 5): readonly Ellipse[] => (count === 4 ? FOUR : FIVE)

export function isIn({ x, y, a, b, turn }: Ellipse, px: number, py: number): boolean {
  const [dx, dy] = [px - x, py - y]
  const [u, v] = [(dx * Math.cos(turn) + dy * Math.sin(turn)) / a, (dy * Math.cos(turn) - dx * Math.sin(turn)) / b]
  return u * u + v * v <= 1
}

export const edgeOf = ({ x, y, a, b, turn }: Ellipse, share: number): Point => {
  const [u, v] = [a * Math.cos(share * 2 * Math.PI), b * Math.sin(share * 2 * Math.PI)]
  return { x: x + u * Math.cos(turn) - v * Math.sin(turn), y: y + u * Math.sin(turn) + v * Math.cos(turn) }
}

/** Points all around an ellipse. */
export const edgesOf = (one: Ellipse): readonly Point[] => Array.from({ length: 72 }, (_, at) => edgeOf(one, at / 72))

/** The box around ellipses. */
export const boundsOf = (ellipses: readonly Ellipse[]): Box => aroundPoints(ellipses.flatMap(edgesOf), 0)

/** Sets stretched alike into a frame. A stretched circle is an ellipse; areas keep their shares. */
export function fitted(ellipses: readonly Ellipse[], frame: Box): readonly Ellipse[] {
  const { x, y, width, height } = boundsOf(ellipses)
  const scale = Math.min(frame.width / width, frame.height / height)
  const [left, top] = [frame.x + (frame.width - width * scale) / 2, frame.y + (frame.height - height * scale) / 2]
  return ellipses.map((one) => ({
    ...one,
    x: left + (one.x - x) * scale,
    y: top + (one.y - y) * scale,
    a: one.a * scale,
    b: one.b * scale,
  }))
}

/** Cells along the longer side: many sets have small regions. */
const CELLS = { few: 72, many: 110 } as const

/** The largest box in each region, by which sets hold it, a bit each: regions too small for any are missing. O(cells × regions) */
export function roomIn(ellipses: readonly Ellipse[], broad = 1.6): ReadonlyMap<number, Box> {
  const whole = boundsOf(ellipses)
  const size = Math.max(whole.width, whole.height) / (ellipses.length > 3 ? CELLS.many : CELLS.few)
  const [columns, rows] = [Math.ceil(whole.width / size), Math.ceil(whole.height / size)]
  const masks = new Int32Array(columns * rows)
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const [x, y] = [whole.x + (column + 0.5) * size, whole.y + (row + 0.5) * size]
      let mask = 0
      ellipses.forEach((one, at) => (mask |= isIn(one, x, y) ? 1 << at : 0))
      masks[row * columns + column] = mask
    }
  const found = new Map<number, Box>()
  for (let mask = 1; mask < 1 << ellipses.length; mask++) {
    const heights = new Int32Array(columns)
    let best = 0
    for (let row = 0; row < rows; row++) {
      for (let column = 0; column < columns; column++)
        heights[column] = nth(masks, row * columns + column) === mask ? nth(heights, column) + 1 : 0
      for (let left = 0; left < columns; left++) {
        if (heights[left] === 0) continue
        let high = nth(heights, left)
        for (let right = left; right < columns && nth(heights, right) > 0; right++) {
          high = Math.min(high, nth(heights, right))
          const wide = right - left + 1
          // Text wants breadth: height beyond that of a square helps little.
          const worth = Math.min(wide, high * broad * 2) * Math.min(high, wide / broad + 2)
          if (worth <= best) continue
          best = worth
          found.set(mask, {
            x: whole.x + left * size + size / 2,
            y: whole.y + (row - high + 1) * size + size / 2,
            width: Math.max(size * 0.2, (wide - 1) * size),
            height: Math.max(size * 0.2, (high - 1) * size),
          })
        }
      }
    }
  }
  return found
}

/** Of each region, by which sets hold it, the point that is deepest in it, or where there is no such region the one that comes nearest to it. O(cells × regions) */
export function spotsIn(ellipses: readonly Ellipse[]): ReadonlyMap<number, Point> {
  const { x, y, width, height } = boundsOf(ellipses)
  const size = Math.max(width, height) / CELLS.few
  const best = new Map<number, { readonly spot: Point; readonly off: number }>()
  for (let row = 0; row * size <= height; row++)
    for (let column = 0; column * size <= width; column++) {
      const spot = { x: x + column * size, y: y + row * size }
      const outside = ellipses.map((one) => outsideBy(one, spot))
      for (let mask = 1; mask < 1 << ellipses.length; mask++) {
        const off = Math.max(...outside.map((by, at) => ((mask >> at) & 1 ? by : -by)))
        if (off < (best.get(mask)?.off ?? Infinity)) best.set(mask, { spot, off })
      }
    }
  return new Map([...best].map(([mask, { spot }]) => [mask, spot]))
}

/** About how far a point is outside an ellipse; below nothing within it. */
function outsideBy({ x, y, a, b, turn }: Ellipse, point: Point): number {
  const [dx, dy] = [point.x - x, point.y - y]
  const [u, v] = [dx * Math.cos(turn) + dy * Math.sin(turn), dy * Math.cos(turn) - dx * Math.sin(turn)]
  return (Math.hypot(u / a, v / b) - 1) * Math.min(a, b)
}
