import { nth } from '../graph'
import type { Point } from './rightAngled'

interface Piece {
  readonly way: number
  readonly weight: number
  readonly a: Point
  readonly b: Point
  readonly left: number
  readonly right: number
}

/**
 * How often ways of straight pieces cross each other; those that run on top of each other, or only touch, do not. A way of some weight counts as so many.
 * O(pieces²) where all are as wide, less where they are short.
 */
export function crossingsIn(ways: readonly (readonly Point[])[], weightOf: (way: number) => number = () => 1): number {
  const pieces = ways
    .flatMap((points, way) =>
      points.slice(1).map((b, at): Piece => {
        const a = nth(points, at)
        return { way, weight: weightOf(way), a, b, left: Math.min(a.x, b.x), right: Math.max(a.x, b.x) }
      }),
    )
    .sort((p, q) => p.left - q.left)
  let found = 0
  pieces.forEach((p, at) => {
    for (let next = at + 1; next < pieces.length; next++) {
      const q = nth(pieces, next)
      if (q.left > p.right) break
      if (p.way !== q.way && areCrossing(p, q)) found += p.weight * q.weight
    }
  })
  return found
}

const turn = (p: Point, q: Point, r: Point): number => (q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x)
const areCrossing = (p: Piece, q: Piece): boolean =>
  turn(p.a, p.b, q.a) * turn(p.a, p.b, q.b) < -1e-9 && turn(q.a, q.b, p.a) * turn(q.a, q.b, p.b) < -1e-9
