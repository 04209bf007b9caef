import type { Point } from './rightAngled'

/** The longest straight piece of a way; the first of equals. O(points) */
export function longestPiece(way: readonly Point[]): readonly [Point, Point] | undefined {
  let best: readonly [Point, Point] | undefined
  let most = -1
  way.forEach((end, at) => {
    const start = way[at - 1]
    if (!start) return
    const length = Math.hypot(end.x - start.x, end.y - start.y)
    if (length > most) [most, best] = [length, [start, end]]
  })
  return best
}

/** The middle of its longest piece. */
export function middleOfWay(way: readonly Point[]): Point | undefined {
  const best = longestPiece(way)
  return best && { x: (best[0].x + best[1].x) / 2, y: (best[0].y + best[1].y) / 2 }
}
