import { nth } from '../../../../graph'
import { flowchart, type FlowShape, type Point, type Spot } from '../../../../layout'
import type { Cable, Device } from '../../structure'
import { placeBlock } from './blocks'
import type { Area, CableWay } from './boxes'
import type { Plan } from './plan'

export interface Arranged {
  /** By box. */
  readonly boxes: readonly Area[]
  /** By device. */
  readonly devices: ReadonlyMap<Device, Area>
  /** From its first port to its second, from border to border; of those on a rail from the hub outwards. */
  readonly ways: ReadonlyMap<Cable, CableWay>
  readonly labels: ReadonlyMap<Cable, Area>
  readonly width: number
  readonly height: number
  /** Places and lines looked at in search of it. */
  readonly effort: number
}

/** Between two tiers, and what boxes reach beyond what stands in them. */
const TIER_GAP = 34
const REACH = { left: 4, right: 8, above: 4, below: 4, outer: 14 } as const
/** Above the uppermost boxes stand their tabs. */
const TAB = 20
/** What each device and cable costs besides what is looked at. */
const BASE_EFFORT = 2000

/**
 * Devices in their boxes, boxes in tiers from left to right, cables by right angles. Nothing overlaps, by its construction. Grows as the
 * flowchart does.
 */
export function arrange({
  boxes,
  measures,
  manner,
  shape,
  ahead,
  singles,
  blocks,
  sizes,
  drawn,
  laneOf,
}: Plan): Arranged {
  const { card, tap } = measures
  const { edges } = shape
  const node = new Map(singles.map((device, number) => [device, number]))
  const places = flowchart(shape, ahead)
  const cuts = cutsBetween(shape, places.column, places.cuts)
  const shift = (u: number) => REACH.outer + u + TIER_GAP * cuts.filter((cut) => u > cut).length
  const spot = ({ u, v }: Spot): Point => ({ x: shift(u), y: TAB + v })
  const areas = sizes.map(({ width, height }, number): Area => {
    const middle = spot(nth(places.nodes, number))
    return { x: middle.x - width / 2, y: middle.y - height / 2, width, height }
  })
  const width = shift(places.length) + REACH.outer
  const placed = new Map(singles.map((device, number) => [device, nth(areas, number)]))
  const ways = new Map<Cable, CableWay>()
  const labels = new Map<Cable, Area>()
  const wayOf = (edge: number) => {
    const { from, to } = nth(edges, edge)
    return toBorders((places.ways[edge] ?? []).map(spot), nth(areas, from), nth(areas, to))
  }
  drawn.forEach((cable, edge) => {
    const way = wayOf(edge)
    ways.set(cable, { shared: [], own: nth(edges, edge).from === node.get(cable.a.device) ? way : way.reverse() })
    const area = places.labels[edge]
    if (area) labels.set(cable, { ...spot({ u: area.u, v: area.v }), width: area.du, height: area.dv })
  })
  blocks.forEach((block, number) => {
    const edge = drawn.length + number
    const way = wayOf(edge)
    const outwards = nth(edges, edge).from === node.get(block.hub) ? way : way.reverse()
    const entry = outwards.at(-1) ?? { x: 0, y: 0 }
    const laid = placeBlock(block, nth(areas, singles.length + number), card, tap, entry)
    block.leaves.forEach(({ device, cable }, leaf) => {
      placed.set(device, nth(laid.cards, leaf))
      const { shared, own } = nth(laid.ways, leaf)
      ways.set(cable, { shared: [...outwards, ...shared.slice(1)], own })
    })
  })
  return {
    boxes: boxes.map(({ tier }, number): Area => {
      const { first, last } = nth(laneOf, number)
      const [begin, end] = [cuts[tier - 1], cuts[tier]]
      const x = begin === undefined ? 2 : shift(begin) + TIER_GAP - REACH.left
      const right = end === undefined ? width - 2 : shift(end) + REACH.right
      const [top, bottom] = [nth(places.lanes, first).from, nth(places.lanes, last).to]
      return { x, y: TAB + top - REACH.above, width: right - x, height: bottom - top + REACH.above + REACH.below }
    }),
    devices: placed,
    ways,
    labels,
    width,
    height: TAB + places.breadth + REACH.below + 2,
    effort: places.looked + BASE_EFFORT * (sizes.length + edges.length) * (manner.search === 'longer' ? 2 : 1),
  }
}

/** The end of each tier but the last: right before its next one’s first column. */
function cutsBetween({ nodes }: FlowShape, column: Int32Array, cuts: readonly number[]): number[] {
  const tiers = Math.max(-1, ...nodes.map(({ phase }) => phase)) + 1
  return Array.from({ length: Math.max(0, tiers - 1) }, (_, tier) => {
    const first = Math.min(...nodes.flatMap(({ phase }, node) => (phase > tier ? [nth(column, node)] : [])))
    return nth(cuts, first - 1)
  })
}

/** Ends of a line are led on through what is kept free beside a device. */
function toBorders(way: readonly Point[], from: Area, to: Area): Point[] {
  const [first, second] = [way[0], way[1]]
  const [last, before] = [way.at(-1), way.at(-2)]
  if (!first || !second || !last || !before) return [...way]
  return [touching(first, second, from), ...way.slice(1, -1), touching(last, before, to)]
}

/** Where a line that comes from `next` meets a device. */
function touching(end: Point, next: Point, { x, y, width, height }: Area): Point {
  if (Math.abs(end.y - next.y) < 0.01) return { x: next.x < x + width / 2 ? x : x + width, y: end.y }
  return { x: end.x, y: next.y < y + height / 2 ? y : y + height }
}
