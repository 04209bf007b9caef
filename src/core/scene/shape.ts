import svgpath from 'svgpath'
import { around, type Box, type Mark, type Point } from './mark'
import { textWidth, type Cut } from './text'

/** The path data of a mark’s outline; of a text, an image and a group there is none. */
export function outlineOf(mark: Mark): string | undefined {
  switch (mark.tag) {
    case 'path':
      return mark.attrs.d
    case 'circle': {
      const { cx, cy, r } = mark.attrs
      return `M${cx - r} ${cy}a${r} ${r} 0 1 1 ${2 * r} 0a${r} ${r} 0 1 1 ${-2 * r} 0Z`
    }
    case 'rect': {
      const { x, y, width, height } = mark.attrs
      const r = Math.min(mark.attrs.rx ?? 0, width / 2, height / 2)
      if (r <= 0) return `M${x} ${y}h${width}v${height}h${-width}Z`
      const corner = (dx: number, dy: number) => `a${r} ${r} 0 0 1 ${dx} ${dy}`
      return `M${x + r} ${y}h${width - 2 * r}${corner(r, r)}v${height - 2 * r}${corner(-r, r)}h${2 * r - width}${corner(-r, -r)}v${2 * r - height}${corner(r, -r)}Z`
    }
    default:
      return undefined
  }
}

/** The cut of the fonts that a text is set in. */
export const cutOf = ({ attrs }: Extract<Mark, { tag: 'text' }>): Cut =>
  attrs['font-family'] === 'mono' ? 'mono400' : (attrs['font-weight'] ?? 400) >= 600 ? 'text700' : 'text400'

// Of the shipped fonts: how far letters stand above and below their baseline, as a share of the type size.
const ASCENT = 0.76
const DESCENT = 0.22

/** The smallest box around a mark, without the breadth of its lines; from the origin that its own places count from. O(points) */
export function boxOf(mark: Mark): Box {
  switch (mark.tag) {
    case 'text': {
      const { x, y, transform, 'font-size': size, 'text-anchor': anchor = 'start' } = mark.attrs
      const width = textWidth(mark.children[0], size, cutOf(mark))
      const left = anchor === 'start' ? x : anchor === 'middle' ? x - width / 2 : x - width
      const box = { x: left, y: y - size * ASCENT, width, height: size * (ASCENT + DESCENT) }
      return transform === undefined ? box : around(turned(box, transform), 0)
    }
    case 'image':
      return mark.attrs
    case 'g': {
      const [sx = 1, sy = sx] = numbersOf(mark.attrs.transform ?? '')
      const { x, y, width, height } = around(mark.children.map(boxOf), 0)
      return { x: x * sx, y: y * sy, width: width * sx, height: height * sy }
    }
    case 'rect':
      return mark.attrs
    default:
      return around(strokesOf(mark).flat().map(dot), 0)
  }
}

/** Whether a mark is met at a point, or nearer to it than `within`: a line along its way, a filled shape all over. O(points) */
export function meets(mark: Mark, at: Point, within: number): boolean {
  if (mark.tag === 'g') {
    const [sx = 1, sy = sx] = numbersOf(mark.attrs.transform ?? '')
    return mark.children.some((child) => meets(child, { x: at.x / sx, y: at.y / sy }, within / Math.max(sx, sy)))
  }
  if (mark.tag === 'text' || mark.tag === 'image') {
    const { x, y, width, height } = boxOf(mark)
    return at.x >= x - within && at.x <= x + width + within && at.y >= y - within && at.y <= y + height + within
  }
  const ways = strokesOf(mark)
  if (mark.attrs.fill !== 'none' && isInside(ways, at)) return true
  const reach = within + (mark.attrs['stroke-width'] ?? 1) / 2
  return ways.some((points) => points.some((end, i) => i > 0 && distance(at, points[i - 1] ?? end, end) <= reach))
}

const dot = ({ x, y }: Point): Box => ({ x, y, width: 0, height: 0 })
const numbersOf = (transform: string): number[] => (transform.match(/-?\d+(?:\.\d+)?(?:e-?\d+)?/g) ?? []).map(Number)

/** The corners of a box that is turned by degrees about a point. */
function turned({ x, y, width, height }: Box, transform: string): Box[] {
  const [degrees = 0, cx = 0, cy = 0] = numbersOf(transform)
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
  return [x, x + width].flatMap((px) =>
    [y, y + height].map((py) =>
      dot({ x: cx + (px - cx) * cos - (py - cy) * sin, y: cy + (px - cx) * sin + (py - cy) * cos }),
    ),
  )
}

/** Pieces that a curve is taken apart into. */
const PIECES = 8

/** A mark’s outline as ways of straight pieces. */
function strokesOf(mark: Mark): Point[][] {
  const d = outlineOf(mark)
  if (d === undefined) return []
  const ways: Point[][] = []
  let way: Point[] = []
  let start: Point = { x: 0, y: 0 }
  svgpath(d)
    .abs()
    .unarc()
    .unshort()
    .iterate(([name, ...to], _index, x, y) => {
      if (name === 'M') {
        start = { x: to[0] ?? 0, y: to[1] ?? 0 }
        ways.push((way = [start]))
      } else if (name === 'Z') way.push(start)
      else if (name === 'H') way.push({ x: to[0] ?? x, y })
      else if (name === 'V') way.push({ x, y: to[0] ?? y })
      else
        for (let i = 1; i <= (name === 'L' ? 1 : PIECES); i++)
          way.push(onCurve([x, y, ...to], name === 'L' ? 1 : i / PIECES))
    })
  return ways
}

/** The point at `t` of a line, a quadratic or a cubic curve through its controls, by de Casteljau. */
function onCurve(controls: readonly number[], t: number): Point {
  let left = controls
  while (left.length > 2) left = left.slice(2).map((value, i) => (1 - t) * (left[i] ?? value) + t * value)
  return { x: left[0] ?? 0, y: left[1] ?? 0 }
}

function distance({ x, y }: Point, a: Point, b: Point): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y]
  const t = Math.min(1, Math.max(0, ((x - a.x) * dx + (y - a.y) * dy) / (dx * dx + dy * dy || 1)))
  return Math.hypot(x - a.x - t * dx, y - a.y - t * dy)
}

/** By the number of sides that a ray to the right crosses. */
function isInside(ways: readonly (readonly Point[])[], { x, y }: Point): boolean {
  let inside = false
  for (const points of ways)
    points.forEach((b, i) => {
      const a = points[i === 0 ? points.length - 1 : i - 1] ?? b
      if (a.y > y !== b.y > y && x < a.x + ((y - a.y) / (b.y - a.y)) * (b.x - a.x)) inside = !inside
    })
  return inside
}

/** The point half along a mark’s first way; undefined where it has none. O(points) */
export function middleOf(mark: Mark): Point | undefined {
  const [points = []] = strokesOf(mark)
  const lengths = points.map((point, i) =>
    Math.hypot(point.x - (points[i - 1] ?? point).x, point.y - (points[i - 1] ?? point).y),
  )
  let left = lengths.reduce((sum, length) => sum + length, 0) / 2
  for (const [i, point] of points.entries()) {
    const [before, length = 0] = [points[i - 1] ?? point, lengths[i]]
    if (length >= left && length > 0) {
      const t = left / length
      return { x: before.x + (point.x - before.x) * t, y: before.y + (point.y - before.y) * t }
    }
    left -= length
  }
  return points[0]
}
