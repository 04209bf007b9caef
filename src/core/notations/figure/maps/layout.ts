import { nth } from '../../../graph'
import { crossingsIn, flowchart, flowOrder, layersOf, type FlowOrder, type FlowShape } from '../../../layout'
import type { Box, Point, Size } from '../../../scene'
import { levelsOf, type Concept, type ConceptMap, type Link } from './structure'

/** Where concepts, phrases and lines stand in a frame, and how large all of it is drawn. */
export interface MapLaid {
  readonly boxes: ReadonlyMap<Concept, Box>
  readonly ways: ReadonlyMap<Link, readonly Point[]>
  readonly phrases: ReadonlyMap<Link, Box>
  readonly scale: number
}

/** How far things are let apart to meet the shape of the page, and how large they are drawn at most. */
const MOST = { stretch: 3, scale: 1.7 } as const
const SPACING = 0.8
const MOST_LOOKED = 500_000

/**
 * A map as a flowchart that runs down or to the right, from what is general to what it leads to: put in layers in several orders, of which those are laid out
 * whose lines cross least; in the direction in which it can be drawn largest, and stretched until it fills the frame. Grows as the flowchart does.
 */
export function layOutMap(
  map: ConceptMap,
  frame: Box,
  sizeOf: (one: Concept) => Size,
  phraseSize: (link: Link) => Size | undefined,
): MapLaid {
  const tried = [true, false].map((isDown) => {
    const plans = ranksOf(map).map((rank) => planOf(map, rank, isDown, sizeOf, phraseSize))
    return laidOut(
      map,
      plans.reduce((best, next) => (next.ahead.order.crossings < best.ahead.order.crossings ? next : best)),
      isDown,
      sizeOf,
    )
  })
  const best = tried.reduce((least, next) => (worth(next, frame) > worth(least, frame) ? next : least))
  return fitted(best, frame)
}

/** Orders in which concepts may stand above one another: from what nobody speaks of, as they were stated, the other way round, and by how much they say. */
function ranksOf(map: ConceptMap): readonly ReadonlyMap<Concept, number>[] {
  const { concepts } = map
  const levels = levelsOf(map)
  const stated = new Map(concepts.map((one, at) => [one, at]))
  const by = (key: (one: Concept) => number) => {
    const order = [...concepts].sort((a, b) => key(a) - key(b) || (stated.get(a) ?? 0) - (stated.get(b) ?? 0))
    return new Map(order.map((one, at) => [one, at]))
  }
  return [
    by((one) => levels.get(one) ?? 0),
    stated,
    by((one) => -(levels.get(one) ?? 0)),
    by((one) => one.said.length - one.says.length),
    by((one) => -one.said.length - one.says.length),
  ]
}

interface Plan {
  readonly edges: readonly {
    readonly from: number
    readonly to: number
    readonly isForward: boolean
    readonly link: Link
  }[]
  readonly shape: FlowShape
  readonly ahead: FlowOrder
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
/** So many crossings weigh as much as half the size. */
const FEW = 12
const worth = (raw: Raw, frame: Box): number =>
  scaleIn(raw, frame) * (FEW / (FEW + crossingsIn([...raw.ways.values()])))

function planOf(
  { concepts, links: all }: ConceptMap,
  rank: ReadonlyMap<Concept, number>,
  isDown: boolean,
  sizeOf: (one: Concept) => Size,
  phraseSize: (link: Link) => Size | undefined,
): Plan {
  const links = all.filter(({ from, to }) => from !== to)
  const index = new Map(concepts.map((one, at) => [one, at]))
  const edges = links.map((link) => {
    const isForward = (rank.get(link.from) ?? 0) < (rank.get(link.to) ?? 0)
    const [a, b] = isForward ? [link.from, link.to] : [link.to, link.from]
    return { from: index.get(a) ?? 0, to: index.get(b) ?? 0, isForward, link }
  })
  const column = layersOf(concepts.length, edges)
  const turned = ({ width, height }: Size) => (isDown ? { u: height, v: width } : { u: width, v: height })
  const shape: FlowShape = {
    nodes: concepts.map((one, at) => {
      const { u, v } = turned(sizeOf(one))
      return { lane: 0, phase: -1, column: nth(column, at), halfU: u / 2, halfV: v / 2, form: 'box' as const }
    }),
    edges: edges.map(({ from, to, link }) => {
      const phrase = phraseSize(link)
      return { from, to, sort: 'flow' as const, ...(phrase ? { label: turned(phrase) } : {}) }
    }),
    lanes: [{ pool: 0, least: 60 }],
    isThorough: true,
    isCentred: true,
    mostLooked: MOST_LOOKED,
    spacing: SPACING,
  }
  return { edges, shape, ahead: flowOrder(shape) }
}

function laidOut(
  { concepts }: ConceptMap,
  { edges, shape, ahead }: Plan,
  isDown: boolean,
  sizeOf: (one: Concept) => Size,
): Raw {
  const places = flowchart(shape, ahead)
  const at = ({ u, v }: { u: number; v: number }): Point => (isDown ? { x: v, y: u } : { x: u, y: v })
  return {
    boxes: new Map(
      concepts.map((one, place) => {
        const { width, height } = sizeOf(one)
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
