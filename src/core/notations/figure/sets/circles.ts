import { nth } from '../../../graph'

export interface Circle {
  readonly x: number
  readonly y: number
  readonly r: number
}

/** The area that two circles share, their middles so far apart (the sum of two circular segments). O(1) */
export function lensArea(a: number, b: number, apart: number): number {
  if (apart >= a + b) return 0
  const small = Math.min(a, b)
  if (apart <= Math.abs(a - b)) return Math.PI * small * small
  const angle = (own: number, other: number) =>
    Math.acos(Math.max(-1, Math.min(1, (apart * apart + own * own - other * other) / (2 * apart * own))))
  const segment = (r: number, half: number) => r * r * (half - Math.sin(half) * Math.cos(half))
  return segment(a, angle(a, b)) + segment(b, angle(b, a))
}

/** How far apart the middles of two circles stand that share an area; touching or one within the other where they cannot share just so much. O(log precision) */
export function apartFor(a: number, b: number, area: number): number {
  let [low, high] = [Math.abs(a - b), a + b]
  for (let round = 0; round < 60; round++) {
    const middle = (low + high) / 2
    if (lensArea(a, b, middle) > area) low = middle
    else high = middle
  }
  return (low + high) / 2
}

const LINES = 240
/** While circles are moved. */
const COARSE = 64

/** The areas of all that up to three circles cut the plane into, by which circles hold it (a bit each; 0 is not counted). By lines across, exact along each. O(lines) */
export function regionAreas(circles: readonly Circle[], lines = LINES): Float64Array {
  const areas = new Float64Array(1 << circles.length)
  const top = Math.min(...circles.map(({ y, r }) => y - r))
  const bottom = Math.max(...circles.map(({ y, r }) => y + r))
  const step = (bottom - top) / lines
  for (let line = 0; line < lines; line++) {
    const at = top + (line + 0.5) * step
    const ends: [number, number][] = []
    circles.forEach(({ x, y, r }, index) => {
      const reach = r * r - (at - y) * (at - y)
      if (reach <= 0) return
      const half = Math.sqrt(reach)
      ends.push([x - half, 1 << index], [x + half, 1 << index])
    })
    ends.sort((a, b) => a[0] - b[0])
    let [mask, from] = [0, 0]
    for (const [x, bit] of ends) {
      if (mask > 0) areas[mask] = nth(areas, mask) + (x - from) * step
      mask ^= bit
      from = x
    }
  }
  return areas
}

/** How much of the whole lies in another region than it should, from 0 to 1: half the sum of what each share is off. */
export function misfit(circles: readonly Circle[], wanted: ArrayLike<number>, lines = LINES): number {
  const areas = regionAreas(circles, lines)
  const [all, whole] = [
    areas.reduce((sum, area) => sum + area, 0),
    Array.from(wanted).reduce((sum, area) => sum + area, 0),
  ]
  let off = 0
  for (let mask = 1; mask < areas.length; mask++)
    off += Math.abs(nth(areas, mask) / (all || 1) - nth(wanted, mask) / (whole || 1))
  return off / 2
}

/**
 * Up to three circles whose regions have areas as near to the wanted ones as circles can: two exactly, three by moving and sizing them from where each pair
 * shares what it should, until nothing gains (Nelder & Mead 1965). `wanted` by the circles that hold a region, a bit each; areas of a whole of any
 * size. O(steps × lines)
 */
export function trueCircles(count: number, wanted: ArrayLike<number>): readonly Circle[] {
  const within = (mask: number) => {
    let sum = 0
    for (let one = 1; one < wanted.length; one++) if ((one & mask) === mask) sum += nth(wanted, one)
    return sum
  }
  const radii = Array.from({ length: count }, (_, at) => Math.sqrt(Math.max(1e-9, within(1 << at)) / Math.PI))
  const [a = 1, b = 1, c = 1] = radii
  if (count === 1) return [{ x: 0, y: 0, r: a }]
  const ab = apartFor(a, b, within(3))
  if (count === 2)
    return [
      { x: 0, y: 0, r: a },
      { x: ab, y: 0, r: b },
    ]
  const [ac, bc] = [apartFor(a, c, within(5)), apartFor(b, c, within(6))]
  const x = ab > 1e-9 ? (ac * ac - bc * bc + ab * ab) / (2 * ab) : 0
  const begin = [ab, x, Math.sqrt(Math.max(0, ac * ac - x * x)), a, b, c]
  const circlesOf = ([bx = 0, cx = 0, cy = 0, ra = 1, rb = 1, rc = 1]: readonly number[]): Circle[] => [
    { x: 0, y: 0, r: Math.abs(ra) },
    { x: bx, y: 0, r: Math.abs(rb) },
    { x: cx, y: cy, r: Math.abs(rc) },
  ]
  const cost = (at: readonly number[]) => misfit(circlesOf(at), wanted, COARSE)
  const span = Math.max(a, b, c)
  // From where pairs share what they should, and from where all three meet.
  const meeting = [span * 0.9, span * 0.45, span * 0.8, a, b, c]
  const ends = [begin, meeting].map((from) => least(cost, least(cost, from, span * 0.35), span * 0.1))
  return circlesOf(ends.reduce((best, next) => (cost(next) < cost(best) ? next : best)))
}

const STEPS = 130

/** A point of a small cost, from a first one on: the downhill simplex of Nelder & Mead 1965 with its usual factors. O(steps × cost) */
export function least(
  cost: (at: readonly number[]) => number,
  from: readonly number[],
  reach: number,
): readonly number[] {
  const corners = [from, ...from.map((_, axis) => from.map((value, at) => (at === axis ? value + reach : value)))].map(
    (at) => ({ at, cost: cost(at) }),
  )
  const along = (centre: readonly number[], to: readonly number[], share: number) => {
    const at = centre.map((value, axis) => value + (nth(to, axis) - value) * share)
    return { at, cost: cost(at) }
  }
  for (let step = 0; step < STEPS; step++) {
    corners.sort((one, other) => one.cost - other.cost)
    const [best, worst, second] = [nth(corners, 0), nth(corners, corners.length - 1), nth(corners, corners.length - 2)]
    if (worst.cost - best.cost < 1e-7) break
    const others = corners.slice(0, -1)
    const centre = from.map((_, axis) => others.reduce((sum, { at }) => sum + nth(at, axis), 0) / others.length)
    const reflected = along(centre, worst.at, -1)
    let next = reflected
    if (reflected.cost < best.cost) {
      const further = along(centre, worst.at, -2)
      if (further.cost < reflected.cost) next = further
    } else if (reflected.cost >= second.cost)
      next = along(centre, reflected.cost < worst.cost ? reflected.at : worst.at, 0.5)
    if (next.cost < worst.cost) corners[corners.length - 1] = next
    else for (let at = 1; at < corners.length; at++) corners[at] = along(best.at, nth(corners, at).at, 0.5)
  }
  corners.sort((one, other) => one.cost - other.cost)
  return nth(corners, 0).at
}
