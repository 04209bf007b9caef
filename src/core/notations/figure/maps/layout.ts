import { hanging, nth, type Hanging } from '../../../graph'
import {
  crossingsIn,
  flowchart,
  layersOf,
  settledOrder,
  type Downwards,
  type FlowOrder,
  type FlowPlaces,
  type FlowShape,
} from '../../../layout'
import type { Box, Point, Size } from '../../../scene'
import { levelsOf, within, type Concept, type ConceptMap, type Link } from './structure'

/** Where concepts, phrases and lines stand in a frame, and how large all of it is drawn. */
export interface MapLaid {
  readonly boxes: ReadonlyMap<Concept, Box>
  readonly ways: ReadonlyMap<Link, readonly Point[]>
  readonly phrases: ReadonlyMap<Link, Box>
  readonly scale: number
}

/** How far things are let apart to meet the shape of the page, and how large they are drawn at most. */
const MOST = { stretch: 3, scale: 1.7 } as const
/** So many faults weigh as much as half the size, and nothing gains by being larger than this. */
const FEW = 12
const ENOUGH = 1.2
const SPACING = 0.8
/** Room between concepts along and across the flow, about, in px. */
const ROUGH = { along: 45, across: 40 } as const
const MOST_LOOKED = 500_000

/**
 * A map as a flowchart that runs down or to the right, from what is general to what it leads to. What has circles is put in layers in several orders, of
 * which the one is laid out that promises to be large and has few lines that cross or lead back, and what hangs on it beside it, so that one more of it
 * moves little; in the direction that is better in the same way, and stretched until it fills the frame. Grows as the flowchart does.
 */
export function layOutMap(
  map: ConceptMap,
  frame: Box,
  sizeOf: (one: Concept) => Size,
  phraseSize: (link: Link) => Size | undefined,
): MapLaid {
  const ties = tiesOf(map)
  const sizes = map.concepts.map(sizeOf)
  const shape = (plan: Plan, isDown: boolean) => shapeOf(plan, isDown, sizes, phraseSize)
  const plans = ranksOf(map, ties).map((rank) => {
    const plan = planOf(map, ties, rank)
    return { plan, ahead: settledOrder(shape(plan, true)) }
  })
  const { plan, ahead } = mostBy(plans, (one) => expected(one.ahead.order, against(one.plan), sizes, frame))
  const running = (isDown: boolean) => laidOut(map, plan, isDown, sizes, flowchart(shape(plan, isDown), ahead))
  return fitted(
    mostBy([running(true), running(false)], (raw) =>
      worth(scaleIn(raw, frame), crossingsIn([...raw.ways.values()]) + against(plan)),
    ),
    frame,
  )
}

/** What an order is worth before anything is laid out: by how large it can be drawn about, in either direction, and by what crosses or leads back. */
function expected(
  { columns, crossings }: FlowOrder['order'],
  against: number,
  sizes: readonly Size[],
  frame: Box,
): number {
  const rough = (along: (size: Size) => number, across: (size: Size) => number) => {
    const layers = columns.map((list) => list.flatMap((item) => sizes[item] ?? []))
    return {
      length: layers.reduce((sum, list) => sum + ROUGH.along + Math.max(0, ...list.map(along)), 0),
      breadth: Math.max(...layers.map((list) => list.reduce((sum, size) => sum + ROUGH.across + across(size), 0))),
    }
  }
  const [down, right] = [
    rough(
      ({ height }) => height,
      ({ width }) => width,
    ),
    rough(
      ({ width }) => width,
      ({ height }) => height,
    ),
  ]
  const scale = Math.max(
    Math.min(MOST.scale, frame.height / down.length, frame.width / down.breadth),
    Math.min(MOST.scale, frame.width / right.length, frame.height / right.breadth),
  )
  return worth(scale, crossings + against)
}

const mostBy = <T>(list: readonly T[], valueOf: (one: T) => number): T =>
  list.map((one) => ({ one, value: valueOf(one) })).reduce((most, next) => (next.value > most.value ? next : most)).one

/** The links of a map between two concepts, as edges, and what hangs on the rest by one of them. */
interface Ties {
  readonly links: readonly Link[]
  readonly edges: readonly Downwards[]
  readonly loose: readonly Hanging[]
  readonly isLoose: Uint8Array
}

function tiesOf({ concepts, links: all }: ConceptMap): Ties {
  const links = all.filter(({ from, to }) => from !== to)
  const index = new Map(concepts.map((one, at) => [one, at]))
  const edges = links.map(({ from, to }) => ({ from: index.get(from) ?? 0, to: index.get(to) ?? 0 }))
  const loose = hanging(concepts.length, edges)
  const isLoose = new Uint8Array(concepts.length)
  for (const { node } of loose) isLoose[node] = 1
  return { links, edges, loose, isLoose }
}

/**
 * Orders in which concepts may stand above one another: from what nobody speaks of, as they were stated, the other way round, and by how much they say.
 * What hangs on the rest has no say in them.
 */
function ranksOf(map: ConceptMap, { isLoose }: Ties): readonly Float64Array[] {
  const places = map.concepts.flatMap((_, at) => (isLoose[at] === 0 ? [at] : []))
  const core = within(
    map,
    places.map((at) => nth(map.concepts, at)),
  )
  const levels = levelsOf(core)
  const by = (key: (one: Concept) => number) => {
    const rank = new Float64Array(map.concepts.length)
    const keys = core.concepts.map(key)
    keys
      .map((_, at) => at)
      .sort((a, b) => nth(keys, a) - nth(keys, b) || a - b)
      .forEach((at, order) => (rank[nth(places, at)] = order))
    return rank
  }
  return [
    by((one) => levels.get(one) ?? 0),
    by(() => 0),
    by((one) => -(levels.get(one) ?? 0)),
    by((one) => one.said.length - one.says.length),
    by((one) => -one.said.length - one.says.length),
  ]
}

/** The links as edges that lead from one layer to a later one, and the layer of every concept. */
interface Plan {
  readonly edges: readonly (Downwards & { readonly isForward: boolean; readonly link: Link })[]
  readonly layer: Int32Array
}

interface Raw {
  readonly boxes: Map<Concept, Box>
  readonly ways: Map<Link, readonly Point[]>
  readonly phrases: Map<Link, Box>
  readonly width: number
  readonly height: number
}

const scaleIn = ({ width, height }: Raw, frame: Box): number =>
  Math.min(MOST.scale, frame.width / width, frame.height / height)
const worth = (scale: number, faults: number): number => Math.min(ENOUGH, scale) * (FEW / (FEW + faults))
/** Links that lead up, or to the left, against the others. */
const against = ({ edges }: Plan): number => edges.filter(({ isForward }) => !isForward).length

function planOf({ concepts }: ConceptMap, ties: Ties, rank: Float64Array): Plan {
  const edges = ties.links.map((link, at) => {
    const { from, to } = nth(ties.edges, at)
    const isForward = isHanging(ties, from, to) || nth(rank, from) < nth(rank, to)
    return isForward ? { from, to, isForward, link } : { from: to, to: from, isForward, link }
  })
  return { edges, layer: layered(concepts.length, edges, ties) }
}

function shapeOf(
  { edges, layer }: Plan,
  isDown: boolean,
  sizes: readonly Size[],
  phraseSize: (link: Link) => Size | undefined,
): FlowShape {
  const turned = ({ width, height }: Size) => (isDown ? { u: height, v: width } : { u: width, v: height })
  return {
    nodes: sizes.map((size, at) => {
      const { u, v } = turned(size)
      return { lane: 0, phase: -1, column: nth(layer, at), halfU: u / 2, halfV: v / 2, form: 'box' as const }
    }),
    edges: edges.map(({ from, to, link }) => {
      const phrase = phraseSize(link)
      return { from, to, sort: 'flow' as const, ...(phrase ? { label: turned(phrase) } : {}) }
    }),
    lanes: [{ pool: 0, least: 60 }],
    isThorough: true,
    isSteady: true,
    isCentred: true,
    mostLooked: MOST_LOOKED,
    spacing: SPACING,
  }
}

const isHanging = ({ isLoose }: Ties, from: number, to: number): boolean => isLoose[from] === 1 || isLoose[to] === 1

/** Layers of what has circles, then of what hangs on it: right before or after that. */
function layered(count: number, edges: readonly Downwards[], ties: Ties): Int32Array {
  const layer = layersOf(
    count,
    edges.filter(({ from, to }) => !isHanging(ties, from, to)),
  )
  for (const { node, on, edge } of ties.loose) layer[node] = nth(layer, on) + (nth(edges, edge).to === node ? 1 : -1)
  const first = Math.min(...layer)
  return layer.map((one) => one - first)
}

function laidOut(
  { concepts }: ConceptMap,
  { edges }: Plan,
  isDown: boolean,
  sizes: readonly Size[],
  places: FlowPlaces,
): Raw {
  const at = ({ u, v }: { u: number; v: number }): Point => (isDown ? { x: v, y: u } : { x: u, y: v })
  return {
    boxes: new Map(
      concepts.map((one, place) => {
        const { width, height } = nth(sizes, place)
        const { x, y } = at(nth(places.nodes, place))
        return [one, { x: x - width / 2, y: y - height / 2, width, height }]
      }),
    ),
    ways: new Map(
      edges.map(({ link, isForward }, place) => {
        const way = (places.ways[place] ?? []).map(at)
        return [link, isForward ? way : way.reverse()]
      }),
    ),
    phrases: new Map(
      edges.flatMap(({ link }, place) => {
        const area = places.labels[place]
        if (!area) return []
        const { x, y } = at(area)
        const size = isDown ? { width: area.dv, height: area.du } : { width: area.du, height: area.dv }
        return [[link, { x, y, ...size }] as const]
      }),
    ),
    width: Math.max(1, isDown ? places.breadth : places.length),
    height: Math.max(1, isDown ? places.length : places.breadth),
  }
}

/** Everything as large as the frame lets it, then apart until it fills it: boxes are stretched with what is between them, so that nothing meets that did not. */
function fitted(raw: Raw, frame: Box): MapLaid {
  const all = [
    ...raw.boxes.values(),
    ...raw.phrases.values(),
    ...[...raw.ways.values()].flat().map(({ x, y }) => ({ x, y, width: 0, height: 0 })),
  ]
  const left = Math.min(...all.map(({ x }) => x))
  const top = Math.min(...all.map(({ y }) => y))
  const width = Math.max(1, Math.max(...all.map((box) => box.x + box.width)) - left)
  const height = Math.max(1, Math.max(...all.map((box) => box.y + box.height)) - top)
  const scale = Math.min(MOST.scale, frame.width / width, frame.height / height)
  const [sx, sy] = [
    Math.min(scale * MOST.stretch, frame.width / width),
    Math.min(scale * MOST.stretch, frame.height / height),
  ]
  const [x0, y0] = [frame.x + (frame.width - width * sx) / 2, frame.y + (frame.height - height * sy) / 2]
  const point = ({ x, y }: Point): Point => ({ x: x0 + (x - left) * sx, y: y0 + (y - top) * sy })
  const stretched = (box: Box): Box => ({ ...point(box), width: box.width * sx, height: box.height * sy })
  return {
    boxes: new Map([...raw.boxes].map(([one, box]) => [one, stretched(box)])),
    ways: new Map([...raw.ways].map(([link, way]) => [link, way.map(point)])),
    phrases: new Map([...raw.phrases].map(([link, box]) => [link, stretched(box)])),
    scale,
  }
}
