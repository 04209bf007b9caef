import type { Area, FlowPlaces, Spot } from '../../../layout'

interface Stretch {
  readonly from: number
  readonly to: number
}

/** A part of a long flow, drawn beneath the one before: what it shows along the flow, and where its lanes lie; one that has nothing in it is left out. */
export interface Strip extends Stretch {
  readonly down: number
  readonly lanes: readonly (Stretch | undefined)[]
  /** Where it ends across the flow. */
  readonly bottom: number
}

/** A flow in strips: its places there, and its lines in pieces, each of which goes on in the next. */
export interface InStrips {
  readonly strips: readonly Strip[]
  readonly places: FlowPlaces
  readonly pieces: readonly (readonly (readonly Spot[])[])[]
  /** How far all strips reach along the flow and across it. */
  readonly length: number
  readonly breadth: number
}

/** What strips are to come near to: a page’s width over its height. `head` and `above` are drawn before and over each strip, in px. */
export interface PageAim {
  readonly shape: number
  readonly head: number
  readonly above: number
}

/** Room at the ends of a strip for what goes on, and between strips. */
const LEAD = 36
const BETWEEN = 26
const MOST_STRIPS = 8
/** How far a piece reaches beyond its strip, so that its letter has room behind it. */
const OUT = LEAD - 24

/** A flow as one strip, as it was laid out. */
export const inOne = (places: FlowPlaces): InStrips => ({
  strips: [{ from: 0, to: places.length, down: 0, lanes: places.lanes, bottom: places.breadth }],
  places,
  pieces: places.ways.map((way) => [way]),
  length: places.length,
  breadth: places.breadth,
})

/** A flow in as many strips as come nearest to a page’s shape, cut between its columns, where a phase begins if one does near by. O(nodes + points) */
export function toPage(places: FlowPlaces, { shape, head, above }: PageAim): InStrips {
  let best = inOne(places)
  let least = Infinity
  for (let count = 1; count <= MOST_STRIPS; count++) {
    const parts = cutInto(places, places.length / count)
    const found = parts.length === 1 ? inOne(places) : placedIn(places, parts, above)
    const misfit = Math.abs(Math.log((found.length + head) / (found.breadth + above) / shape))
    if (misfit < least - 0.01) [best, least] = [found, misfit]
  }
  return best
}

function cutInto(places: FlowPlaces, length: number): Stretch[] {
  const begins = places.phases.flatMap((phase) =>
    phase ? (places.cuts.findLast((cut) => cut <= phase.from) ?? []) : [],
  )
  const parts: Stretch[] = []
  let from = 0
  while (places.length - from > length * 1.15) {
    const near = (cut: number) => cut > from + length * 0.4 && cut <= from + length * 1.1
    const to = begins.findLast(near) ?? places.cuts.findLast(near) ?? places.cuts.find((cut) => cut > from + 1)
    if (to === undefined || to >= places.length) break
    parts.push({ from, to })
    from = to
  }
  return [...parts, { from, to: places.length }]
}

/** A piece of a way in the strip that it lies in, where it was laid out. */
interface Piece {
  readonly at: number
  readonly points: Spot[]
}

function placedIn(places: FlowPlaces, parts: readonly Stretch[], above: number): InStrips {
  const stripAt = (u: number): number =>
    Math.max(
      0,
      parts.findLastIndex(({ from }) => from <= u),
    )
  const pieces = places.ways.map((way) => piecesOf(way, parts, stripAt))
  const strips = stacked(places, parts, usedLanes(places, parts, pieces.flat(), stripAt), above)
  const moved = ({ u, v }: Spot, at: number): Spot => {
    const strip = strips[at]
    return strip ? { u: u - strip.from + (at > 0 ? LEAD : 0), v: acrossIn(places, strip, v) } : { u, v }
  }
  const area = (one: Area | undefined, at: number): Area | undefined => one && { ...one, ...moved(one, at) }
  const leads = (at: number) => (at > 0 ? LEAD : 0) + (at < parts.length - 1 ? LEAD : 0)
  return {
    strips,
    places: {
      ...places,
      nodes: places.nodes.map((spot) => moved(spot, stripAt(spot.u))),
      names: places.names.map((one, index) => area(one, stripAt(places.nodes[index]?.u ?? 0))),
      labels: places.labels.map((one) => area(one, stripAt(one?.u ?? 0))),
    },
    pieces: pieces.map((list) => list.map(({ at, points }) => points.map((spot) => moved(spot, at)))),
    length: Math.max(...parts.map(({ from, to }, at) => to - from + leads(at))),
    breadth: strips.at(-1)?.bottom ?? 0,
  }
}

/** Of each strip the lanes that something stands in, or that a line runs along or ends in. */
function usedLanes(
  { lanes, nodes }: FlowPlaces,
  parts: readonly Stretch[],
  pieces: readonly Piece[],
  stripAt: (u: number) => number,
): readonly ReadonlySet<number>[] {
  const used = parts.map(() => new Set<number>())
  const take = (at: number, v: number) => {
    const lane = lanes.findIndex(({ from, to }) => v >= from - 1 && v <= to + 1)
    if (lane >= 0) used[at]?.add(lane)
  }
  for (const { u, v } of nodes) take(stripAt(u), v)
  for (const { at, points } of pieces)
    points.forEach((spot, index) => {
      const next = points[index + 1]
      // A line that only crosses a lane needs none of it.
      if (index === 0 || !next || next.v === spot.v) take(at, spot.v)
    })
  return used
}

/** The strips one beneath the other, each with the lanes that it uses. */
function stacked(
  { lanes }: FlowPlaces,
  parts: readonly Stretch[],
  used: readonly ReadonlySet<number>[],
  above: number,
): Strip[] {
  let down = 0
  return parts.map((part, at) => {
    let v = down
    let last: number | undefined
    const own = lanes.map((lane, index) => {
      if (!used[at]?.has(index)) return undefined
      // Between pools there is room.
      const gap = last === undefined || lane.from - (lanes[index - 1]?.to ?? lane.from) === 0 ? 0 : POOLS
      last = index
      const place = { from: v + gap, to: v + gap + lane.to - lane.from }
      v = place.to
      return place
    })
    const strip = { ...part, down, lanes: own, bottom: v }
    down = v + above + BETWEEN
    return strip
  })
}

/** Between lanes of two pools. */
const POOLS = 26

/** Where something laid out at `v` lies in a strip: in its lane, or between two lanes that the strip has. */
function acrossIn({ lanes }: FlowPlaces, strip: Strip, v: number): number {
  let end = strip.down
  for (const [index, lane] of lanes.entries()) {
    const own = strip.lanes[index]
    if (v < lane.from) return end
    if (own && v <= lane.to) return own.from + v - lane.from
    if (own) end = own.to
  }
  return end
}

/** Less of a phase than this is no part of it: what is left before the next one begins. */
const LEAST_PART = 40

/** The parts of a stretch along the flow, where they lie in their strips. */
export function partsOf(stretch: Stretch, { strips }: InStrips): (Stretch & Pick<Strip, 'down' | 'bottom'>)[] {
  const [only, second] = strips
  if (only && !second) return [{ ...stretch, down: only.down, bottom: only.bottom }]
  return strips.flatMap(({ down, bottom, ...strip }, at) => {
    const [from, to] = [Math.max(stretch.from, strip.from), Math.min(stretch.to, strip.to)]
    const lead = (at > 0 ? LEAD : 0) - strip.from
    return to - from < LEAST_PART ? [] : [{ from: from + lead, to: to + lead, down, bottom }]
  })
}

/** A way cut where it leaves a strip: each piece reaches out a little beyond it. */
function piecesOf(way: readonly Spot[], parts: readonly Stretch[], stripAt: (u: number) => number): Piece[] {
  const [first] = way
  if (!first) return []
  const pieces: Piece[] = []
  let now: Piece = { points: [first], at: stripAt(first.u) }
  for (const [index, to] of way.entries()) {
    if (index === 0) continue
    const [a, b] = [now.at, stripAt(to.u)]
    const step = Math.sign(b - a)
    for (let at = a; at !== b; at += step) {
      const cut = parts[step > 0 ? at + 1 : at]?.from ?? 0
      now.points.push({ u: cut + step * OUT, v: to.v })
      pieces.push(now)
      now = { points: [{ u: cut - step * OUT, v: to.v }], at: at + step }
    }
    now.points.push(to)
  }
  return [...pieces, now]
}
