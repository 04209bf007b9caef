import { nth } from '../../../../graph'
import { flowchart, type FlowShape, type Point, type Spot } from '../../../../layout'
import type { Cable, Device } from '../../structure'
import { blocksIn, blockSize, placeBlock } from './blocks'
import type { Area, Box, CableWay, Tiers } from './boxes'
import { lanesOf, levelsOf, putAround } from './levels'
import { twinsIn } from './twins'

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
/** From one line at a side to the next: room for the name of a port. */
const APART = 20
const LEAST_APART = 10

/** How a network is arranged: in which tiers its boxes stand, and whether neighbours as far along stand above one another or one after another. */
export interface Manner {
  readonly tiers: Tiers
  readonly neighbours: 'above one another' | 'one after another'
  /** Whether two hubs of the same devices stand side by side, or these between them. */
  readonly twins: 'side by side' | 'around'
  /** In what order devices and cables are gone through where nothing else decides. */
  readonly devices: Order
  readonly cables: Order
  /** How long to look for an order that crosses less. */
  readonly search: 'short' | 'longer'
}
type Order = 'as stated' | 'backwards'

const ordered = <T>(list: readonly T[], order: Order): readonly T[] =>
  order === 'backwards' ? list.toReversed() : list

export const USUAL: Manner = {
  tiers: 'few',
  neighbours: 'above one another',
  twins: 'side by side',
  devices: 'as stated',
  cables: 'as stated',
  search: 'short',
}
/** In search of ways with fewer crossings no more than so much is looked at. */
const MOST_LOOKED = 20_000_000
/** What each device and cable costs besides what is looked at. */
const BASE_EFFORT = 2000

export interface Measures {
  readonly card: { readonly width: number; readonly height: number }
  /** Kept free beside a card and above it, for the names of its ports. */
  readonly stub: number
  readonly above: number
  /** From a rail to a card. */
  readonly tap: number
  readonly spacing: number
  /** Whether names of ports stand at the lines. */
  readonly named: boolean
}

/**
 * Devices in their boxes, boxes in tiers from left to right, cables by right angles: a flowchart whose phases are the tiers and whose lanes
 * the boxes that stand above one another. What hangs on one device by one cable each stands at a rail. Nothing overlaps, by its
 * construction. Grows as the flowchart does.
 */
export function arrange(
  boxes: readonly Box[],
  cables: readonly Cable[],
  measures: Measures,
  labelOf: (cable: Cable) => { readonly u: number; readonly v: number } | undefined,
  manner: Manner = USUAL,
): Arranged {
  const { card, stub, above, tap, spacing, named } = measures
  const devices = boxes.flatMap((box) => box.devices)
  const index = new Map(devices.map((device, at) => [device, at]))
  const at = (device: Device) => index.get(device) ?? -1
  const joined = cables.map(({ a, b }) => [at(a.device), at(b.device)] as const)
  const tierOf = boxes.flatMap((box) => box.devices.map(() => box.tier))
  const level = levelsOf(devices, joined, tierOf)
  const { lane, lanes, laneOf } = lanesOf(boxes, joined, tierOf)
  const seconds = manner.twins === 'around' ? twinsIn(boxes, cables) : new Set<Device>()
  const isBefore = putAround(boxes, seconds, level, at)
  const blocks = ordered(blocksIn(boxes, cables), manner.devices)
  const inBlock = new Set(blocks.flatMap(({ leaves }) => leaves.map(({ device }) => device)))
  const onRail = new Set(blocks.flatMap(({ leaves }) => leaves.map(({ cable }) => cable)))
  const singles = ordered(devices, manner.devices).filter((device) => !inBlock.has(device))
  const nodeOf = new Map(singles.map((device, node) => [device, node]))
  const node = (device: Device) => nodeOf.get(device) ?? -1
  const empty = boxes.flatMap((box, number) => (box.devices.length === 0 ? [{ box, number }] : []))
  // From the lower to the higher; what stands level is joined without deciding anything.
  const drawn = ordered(cables, manner.cables).filter((cable) => !onRail.has(cable))
  const edges = [
    ...drawn.map((cable) => {
      const [a, b] = [cable.a.device, cable.b.device]
      const [low, high] = [nth(level, at(a)), nth(level, at(b))]
      const label = labelOf(cable)
      return {
        from: node(low > high ? b : a),
        to: node(low > high ? a : b),
        sort: low === high && manner.neighbours === 'above one another' ? ('message' as const) : ('flow' as const),
        ...(label ? { label } : {}),
      }
    }),
    ...blocks.map(({ hub, leaves }, number) => {
      const block = singles.length + number
      const isFirst = nth(level, at(leaves[0]?.device ?? hub)) < nth(level, at(hub))
      return { from: isFirst ? block : node(hub), to: isFirst ? node(hub) : block, sort: 'flow' as const }
    }),
  ]
  const [out, into] = [new Int32Array(singles.length + blocks.length), new Int32Array(singles.length + blocks.length)]
  for (const { from, to, sort } of edges) {
    out[from] = nth(out, from) + 1
    into[to] = nth(into, to) + 1
    if (sort === 'message') {
      out[to] = nth(out, to) + 1
      into[from] = nth(into, from) + 1
    }
  }
  const sizes = [
    ...singles.map((_, number) => ({
      width: card.width,
      height: Math.max(card.height, heightFor(Math.max(nth(out, number), nth(into, number)), named)),
    })),
    ...blocks.map((block) => blockSize(block, card, tap)),
    ...empty.map(() => ({ width: 140, height: 44 })),
  ]
  const shape: FlowShape = {
    isThorough: manner.search === 'longer',
    mostLooked: MOST_LOOKED,
    after: boxes.flatMap(({ devices: own }) => {
      const second = own.find((device) => seconds.has(device))
      if (!second) return []
      const others = own.flatMap((device) => (inBlock.has(device) || device === second ? [] : [node(device)]))
      const hung = blocks.flatMap(({ hub }, number) => (own.includes(hub) ? [singles.length + number] : []))
      return [...others, ...hung].map(
        (other) => (isBefore.has(second) ? [node(second), other] : [other, node(second)]) as readonly [number, number],
      )
    }),
    nodes: sizes.map(({ width, height }, number) => {
      const block = blocks[number - singles.length]
      const device = block?.hub ?? singles[number]
      const bare = empty[number - singles.length - blocks.length]
      return {
        lane: device ? nth(lane, at(device)) : nth(laneOf, bare?.number ?? 0).first,
        phase: device ? nth(tierOf, at(device)) : (bare?.box.tier ?? 0),
        halfU: width / 2 + (block ? 2 : stub),
        halfV: height / 2 + (block ? 2 : above),
        form: 'box' as const,
      }
    }),
    edges,
    lanes: Array.from({ length: lanes }, (_, number) => ({ pool: number, least: 72 })),
    spacing,
    apart: named ? APART : LEAST_APART,
  }
  const places = flowchart(shape)
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
    ways.set(cable, { shared: [], own: nth(edges, edge).from === node(cable.a.device) ? way : way.reverse() })
    const area = places.labels[edge]
    if (area) labels.set(cable, { ...spot({ u: area.u, v: area.v }), width: area.du, height: area.dv })
  })
  blocks.forEach((block, number) => {
    const edge = drawn.length + number
    const way = wayOf(edge)
    const outwards = nth(edges, edge).from === node(block.hub) ? way : way.reverse()
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

/** So high a side is for so many lines: they meet it in its straight part. */
export const heightFor = (lines: number, named: boolean): number =>
  2 * Math.ceil(((named ? APART : LEAST_APART) * Math.floor(lines / 2) + 8) / 0.92)
