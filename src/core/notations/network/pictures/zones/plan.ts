import { nth } from '../../../../graph'
import { flowOrder, type FlowOrder, type FlowShape } from '../../../../layout'
import type { Cable, Device } from '../../structure'
import { blocksIn, blockSize, type Block, type BlockSize } from './blocks'
import type { Box, Tiers } from './boxes'
import { lanesOf, levelsAsStated, levelsOf, putAround } from './levels'
import { twinsIn } from './twins'

/** From one line at a side to the next: room for the name of a port. */
const APART = 20
const LEAST_APART = 10

/** How a network is arranged: in which tiers its boxes stand, and whether neighbours as far along stand above one another or one after another. */
export interface Manner {
  readonly tiers: Tiers
  readonly neighbours: 'above one another' | 'one after another'
  /** Whether what a cable leads from comes first by how far it is from the tier before, or by what was stated first. */
  readonly levels: 'by distance' | 'as stated'
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
  levels: 'by distance',
  twins: 'side by side',
  devices: 'as stated',
  cables: 'as stated',
  search: 'short',
}
/** In search of ways with fewer crossings no more than so much is looked at. */
const MOST_LOOKED = 20_000_000
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

/** What is decided about a network before any way is looked for. */
export interface Plan {
  readonly boxes: readonly Box[]
  readonly cables: readonly Cable[]
  readonly measures: Measures
  readonly manner: Manner
  readonly shape: FlowShape
  readonly ahead: FlowOrder
  /** Devices that stand by themselves: the first nodes of the shape; then come those that hang on one other, by it. */
  readonly singles: readonly Device[]
  readonly blocks: readonly Block[]
  /** Of every node. */
  readonly sizes: readonly BlockSize[]
  /** Cables that are lines of their own: the first edges of the shape; then come those to blocks. */
  readonly drawn: readonly Cable[]
  /** The first and last lane of each box. */
  readonly laneOf: readonly { readonly first: number; readonly last: number }[]
}

/**
 * A network as a flowchart whose phases are the tiers and whose lanes the boxes that stand above one another. What hangs on one device by one
 * cable each stands at a rail. Grows as the order of a flowchart does.
 */
export function planOf(
  boxes: readonly Box[],
  cables: readonly Cable[],
  measures: Measures,
  labelOf: (cable: Cable) => { readonly u: number; readonly v: number } | undefined,
  manner: Manner = USUAL,
): Plan {
  const { card, stub, above, tap, spacing, named } = measures
  const devices = boxes.flatMap((box) => box.devices)
  const index = new Map(devices.map((device, at) => [device, at]))
  const at = (device: Device) => index.get(device) ?? -1
  const joined = cables.map(({ a, b }) => [at(a.device), at(b.device)] as const)
  const tierOf = boxes.flatMap((box) => box.devices.map(() => box.tier))
  const level = manner.levels === 'as stated' ? levelsAsStated(tierOf) : levelsOf(devices, joined, tierOf)
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
  return { boxes, cables, measures, manner, shape, ahead: flowOrder(shape), singles, blocks, sizes, drawn, laneOf }
}

/** So high a side is for so many lines: they meet it in its straight part. */
export const heightFor = (lines: number, named: boolean): number =>
  2 * Math.ceil(((named ? APART : LEAST_APART) * Math.floor(lines / 2) + 8) / 0.92)
