import { nth } from '../graph'
import type { Point } from './rightAngled'

/** A text that belongs to a point, with its size, and how far from the point its marker reaches. */
export interface Labelled extends Point {
  readonly width: number
  readonly height: number
  readonly radius: number
}

export interface LabelPlace {
  /** The upper left corner of the text. */
  readonly x: number
  readonly y: number
  /** It stands so far off that a line has to lead to it. */
  readonly isFar: boolean
}

interface Box {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** Directions in which a text may stand from its point, the better ones first: right, left, above, below, then between. */
const TOWARDS = [
  [1, 0],
  [-1, 0],
  [0, -1],
  [0, 1],
  [1, -1],
  [1, 1],
  [-1, -1],
  [-1, 1],
] as const
const GAP = 4
const RING = 12

/**
 * Places for texts beside their points, so that none meets another one or a marker: the most crowded point first, each in the first free
 * place of rings around it (after Imhof 1975, who orders the places). There is always one further out. O(texts² × rings).
 */
export function placeLabels(labels: readonly Labelled[]): LabelPlace[] {
  const taken: Box[] = labels.map(({ x, y, radius }) => ({
    x: x - radius,
    y: y - radius,
    width: 2 * radius,
    height: 2 * radius,
  }))
  const crowd = labels.map(
    (one) =>
      labels.filter((other) => Math.abs(other.x - one.x) < one.width && Math.abs(other.y - one.y) < 3 * one.height)
        .length,
  )
  const order = labels.map((_, at) => at).sort((a, b) => nth(crowd, b) - nth(crowd, a) || a - b)
  const places = new Array<LabelPlace>(labels.length)
  for (const at of order) {
    const label = nth(labels, at)
    for (let ring = 0; ; ring++) {
      const found = TOWARDS.map((way) => beside(label, way, GAP + ring * RING)).find(
        (box) => !taken.some((other) => isMeeting(box, other)),
      )
      if (!found) continue
      taken.push(found)
      places[at] = { x: found.x, y: found.y, isFar: ring > 1 }
      break
    }
  }
  return places
}

function beside({ x, y, width, height, radius }: Labelled, [dx, dy]: readonly [number, number], off: number): Box {
  const out = radius + off
  const left = dx > 0 ? x + out : dx < 0 ? x - out - width : x - width / 2
  const top = dy > 0 ? y + out : dy < 0 ? y - out - height : y - height / 2
  return { x: left, y: top, width, height }
}

const isMeeting = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width + 1 && b.x < a.x + a.width + 1 && a.y < b.y + b.height + 1 && b.y < a.y + a.height + 1
