import { nth } from '../../../graph'
import { flowchart, middleOfWay, type FlowShape, type Point } from '../../../layout'
import type { Day, Id, Model, View } from '../../../model'
import { spacingOf, type Picture } from '../../../notation'
import {
  around,
  aroundPoints,
  kit,
  textWidth,
  wrap,
  type Box,
  type Item,
  type Link,
  type Mark,
  type Scene,
} from '../../../scene'
import { componentGestures } from '../components/gestures'
import {
  componentsOn,
  pathOf,
  type Component,
  type Components,
  type DeploymentNode,
  type Offer,
  type Port,
  type Use,
} from '../components/structure'
import type { Classifier } from '../structure'
import { openHead } from './heads'

export const components: Picture = {
  ...componentGestures,
  draw,
  needs: [
    'component-port.component',
    'deployment-node.device',
    'deployment-node.within',
    'deployment-node beside',
    'deployment-node name',
    'deploys beside',
    'deploys beyond',
  ],
}

const SPREAD = { tight: 0.5, normal: 0.8, airy: 1.4 } as const
const NAME = { size: 12, line: 16 } as const
const WORD = { size: 10, line: 13 } as const
const BOX = { least: 120, most: 190, pad: 14, icon: 16 } as const
/** The ball of a provided interface, and the socket around it (11.6.4). */
const BALL = { radius: 6, socket: 11 } as const
const PORT = 10
/** A node is drawn as a box seen from above and from the right (19.4.4). */
const CUBE = 8
const FRAME = { head: 24, pad: 16, between: 20 } as const
const HOLD = 10
const MOST = 500

interface Node {
  readonly id: Id
  readonly facts: readonly Id[]
  readonly is: 'component' | 'interface'
  readonly component: Component | undefined
  readonly name: readonly string[]
  readonly lane: DeploymentNode | undefined
  readonly width: number
  readonly height: number
  /** It stands for a component that is drawn elsewhere. */
  readonly isAgain: boolean
}

interface Edge {
  readonly from: number
  readonly to: number
  readonly offer?: Offer
  readonly use?: Use
}

/** Requirers to the left of what they require, providers to its right, each node in a strip of its own. O(layout) */
function draw(model: Model, view: View, day: Day): Scene {
  const all = componentsOn(model, day)
  if (all.components.length + all.nodes.length === 0) return NOTHING
  if (all.components.length > MOST)
    throw new RangeError(
      `${all.components.length.toLocaleString('en')} components are too many for one picture: ${MOST} is the most`,
    )
  const hasNodes = view.options['nodes'] !== false && all.nodes.length > 0
  const nodes = nodesOf(all, hasNodes)
  const lanes = lanesOf(all, nodes, hasNodes)
  const edges = edgesOf(all, nodes)
  const shape: FlowShape = {
    nodes: nodes.map(({ is, width, height, lane, name }) => ({
      lane: Math.max(0, lanes.indexOf(lane)),
      phase: -1,
      halfU: width / 2,
      halfV: height / 2,
      form: is === 'interface' ? ('round' as const) : ('box' as const),
      ...(is === 'interface'
        ? {
            name: {
              u: Math.ceil(Math.max(...name.map((line) => textWidth(line, WORD.size, 'text400')))) + 4,
              v: name.length * WORD.line,
            },
          }
        : {}),
    })),
    edges: edges.map(({ from, to, offer }) => ({
      from,
      to,
      sort: 'flow' as const,
      ...(offer?.port
        ? { label: { u: Math.ceil(textWidth(offer.port.name, WORD.size, 'text400')) + 8, v: WORD.line } }
        : {}),
    })),
    lanes: lanes.map((lane, at) => ({ pool: at, least: lane ? 70 : 50 })),
    isThorough: true,
    isCentred: true,
    mostLooked: 4_000_000,
    apart: 20,
    spacing: SPREAD[spacingOf(view)],
  }
  const places = apart(flowchart(shape), hasNodes ? FRAME.between : 0)
  const boxes = nodes.map(({ width, height }, at): Box => {
    const { u, v } = nth(places.nodes, at)
    return { x: u - width / 2, y: v - height / 2, width, height }
  })
  const frames = framesOf(lanes, nodes, boxes, places.lanes)
  const ways = edges.map((_, at) => (places.ways[at] ?? []).map(({ u, v }): Point => ({ x: u, y: v })))
  const links = edges.map((edge, at): Link => linkOf(edge, nth(ways, at), boxes))
  const ports = portItems(all, edges, ways, nodes, boxes)
  const items = [
    ...frames.map(({ node, box }) => frameItem(node, box)),
    ...nodes.map((one, at) => nodeItem(one, nth(boxes, at), places.names[at])),
    ...ports,
    ...edges.map((edge, at) => linkItem(edge, nth(ways, at), nodes)),
  ]
  return {
    bounds: around(
      [
        ...items.map(({ box }) => box),
        ...links.map(({ bounds }) => bounds),
        ...frames.map(({ box }) => ({ ...box, y: box.y - CUBE, width: box.width + CUBE })),
      ],
      14,
    ),
    backdrop: frames.flatMap(({ box }) => frameMarks(box)),
    items,
    links,
    headline: headlineOf(all),
    summary: `Components: ${all.components
      .slice(0, 40)
      .map(({ name }) => name)
      .join(', ')}.`,
  }
}

type Places = Pick<ReturnType<typeof flowchart>, 'nodes' | 'names' | 'ways' | 'lanes'>

/** Strips so much farther apart, for what stands around them: everything in a strip moves with it. */
function apart({ nodes, names, ways, lanes }: Places, by: number): Places {
  const shift = <T extends { readonly v: number }>(one: T): T => ({
    ...one,
    v: one.v + by * Math.max(0, lanes.filter(({ from }) => from < one.v).length - 1),
  })
  return {
    nodes: nodes.map(shift),
    names: names.map((area) => area && shift(area)),
    ways: ways.map((way) => way.map(shift)),
    lanes: lanes.map(({ from, to }, at) => ({ from: from + at * by, to: to + at * by })),
  }
}

const NOTHING: Scene = {
  bounds: { x: 0, y: 0, width: 400, height: 200 },
  backdrop: [],
  items: [],
  links: [],
  headline: 'no components',
  summary: 'No components yet.',
}

const count = (number: number, one: string): string => `${number.toLocaleString('en')} ${one}${number === 1 ? '' : 's'}`
const headlineOf = ({ components: list, nodes }: Components): string =>
  [count(list.length, 'component'), ...(nodes.length > 0 ? [count(nodes.length, 'node')] : [])].join(', ')

/** Components in the node that deploys them first, again in any other one, and interfaces beside whoever provides them. */
function nodesOf(all: Components, hasNodes: boolean): readonly Node[] {
  const found: Node[] = []
  const shape = (name: string) => {
    const lines = wrap(name, BOX.most - 2 * BOX.pad - BOX.icon, NAME.size, 'text700', 3)
    const widest = Math.max(...lines.map((line) => textWidth(line, NAME.size, 'text700')))
    return {
      name: lines,
      width: Math.max(BOX.least, Math.ceil(widest) + 2 * BOX.pad + BOX.icon),
      height: 24 + lines.length * NAME.line + 8,
    }
  }
  for (const one of all.components) {
    const common = { facts: [one.id], is: 'component' as const, component: one, ...shape(one.name) }
    found.push({ ...common, id: one.id, lane: hasNodes ? one.nodes[0] : undefined, isAgain: false })
    if (hasNodes)
      for (const node of new Set(one.nodes.slice(1)))
        if (node !== one.nodes[0])
          found.push({ ...common, id: `${node.id}~${one.id}` as Id, lane: node, isAgain: true })
  }
  for (const to of new Set(all.offers.map((offer) => offer.to))) {
    const offers = all.offers.filter((offer) => offer.to === to)
    const home = (offers.find(({ sort }) => sort === 'provides') ?? offers[0])?.component
    found.push(ballOf(to, hasNodes ? home?.nodes[0] : undefined))
  }
  return found
}

const ballOf = (to: Classifier, lane: DeploymentNode | undefined): Node => ({
  id: to.id,
  facts: [to.id],
  is: 'interface',
  component: undefined,
  name: wrap(to.name, 110, WORD.size, 'text400', 2),
  lane,
  width: 2 * BALL.socket,
  height: 2 * BALL.socket,
  isAgain: false,
})

/** The nodes that hold something, or that nothing stands in; then what runs nowhere. */
function lanesOf(all: Components, nodes: readonly Node[], hasNodes: boolean): readonly (DeploymentNode | undefined)[] {
  const used = new Set(nodes.map(({ lane }) => lane))
  const lanes = hasNodes ? all.nodes.filter((one) => used.has(one) || one.inner.length === 0) : []
  return used.has(undefined) || lanes.length === 0 ? [...lanes, undefined] : lanes
}

function edgesOf(all: Components, nodes: readonly Node[]): readonly Edge[] {
  const index = new Map(nodes.map(({ id }, at) => [id, at]))
  const at = (id: Id) => index.get(id) ?? 0
  return [
    ...all.offers.map((offer): Edge =>
      offer.sort === 'requires'
        ? { from: at(offer.component.id), to: at(offer.to.id), offer }
        : { from: at(offer.to.id), to: at(offer.component.id), offer },
    ),
    ...all.uses.map((use): Edge => ({ from: at(use.a.id), to: at(use.b.id), use })),
  ]
}

function framesOf(
  lanes: readonly (DeploymentNode | undefined)[],
  nodes: readonly Node[],
  boxes: readonly Box[],
  places: readonly { readonly from: number; readonly to: number }[],
): readonly { readonly node: DeploymentNode; readonly box: Box }[] {
  return lanes.flatMap((node, at) => {
    const lane = places[at]
    if (!node || !lane) return []
    const own = nodes.flatMap(({ lane: home }, index) => (home === node ? [nth(boxes, index)] : []))
    const title = frameTitle(node)
    const least = textWidth(title, NAME.size, 'text700') + 90
    const left = own.length === 0 ? 0 : Math.min(...own.map(({ x }) => x)) - FRAME.pad
    const right = own.length === 0 ? least : Math.max(...own.map(({ x, width }) => x + width)) + FRAME.pad
    const top = Math.min(lane.from + 8, ...own.map(({ y }) => y - 8)) - FRAME.head
    const bottom = Math.max(lane.to - 10, ...own.map(({ y, height }) => y + height + 10))
    return [{ node, box: { x: left, y: top, width: Math.max(least, right - left), height: bottom - top } }]
  })
}

const frameTitle = (node: DeploymentNode): string =>
  pathOf(node)
    .map(({ name }) => name)
    .join(' / ')

function frameMarks({ x, y, width, height }: Box): Mark[] {
  const edge = { fill: 'head', stroke: 'outline', 'stroke-width': 1.2 } as const
  return [
    kit.path(`M${x} ${y}L${x + CUBE} ${y - CUBE}H${x + width + CUBE}L${x + width} ${y}Z`, edge),
    kit.path(
      `M${x + width} ${y}L${x + width + CUBE} ${y - CUBE}V${y + height - CUBE}L${x + width} ${y + height}Z`,
      edge,
    ),
    kit.rect({ x, y, width, height }, { fill: 'sheet', stroke: 'outline', 'stroke-width': 1.2 }),
  ]
}

/** The name of a node and its keyword, on ground that hides what runs beneath them. */
function titleMarks(node: DeploymentNode, width: number): Mark[] {
  const [title, keyword] = [frameTitle(node), node.entity.fields['device'] === undefined ? '«node»' : '«device»']
  const ground = (x: number, words: string, size: number, face: 'text700' | 'text400') =>
    kit.rect({ x: x - 3, y: 5, width: textWidth(words, size, face) + 6, height: 16 }, { fill: 'sheet', stroke: 'none' })
  const right = width - 8 - textWidth(keyword, WORD.size, 'text400')
  return [
    ground(10, title, NAME.size, 'text700'),
    ground(right, keyword, WORD.size, 'text400'),
    kit.text(10, 17, title, { fill: 'ink', 'font-size': NAME.size, 'font-weight': 700 }),
    kit.text(right, 16, keyword, { fill: 'ink-quiet', 'font-size': WORD.size }),
  ]
}

const frameItem = (node: DeploymentNode, box: Box): Item => ({
  id: node.id,
  facts: [node.id],
  label: `node ${node.name}`,
  box,
  marks: titleMarks(node, box.width),
  ground: true,
  texts: [
    {
      part: 'name',
      label: 'Node',
      value: node.name,
      box: { x: 6, y: 4, width: Math.max(60, box.width - 80), height: 18 },
    },
  ],
})

function nodeItem(one: Node, box: Box, named: { u: number; v: number; du: number; dv: number } | undefined): Item {
  const { width, height } = box
  if (one.is === 'interface') {
    const [cx, cy] = [width / 2, height / 2]
    const name = named
      ? { x: named.u - box.x, y: named.v - box.y, width: named.du }
      : { x: 0, y: height + 2, width: 60 }
    return {
      id: one.id,
      facts: one.facts,
      label: `interface ${one.name.join(' ')}`,
      box,
      marks: [
        kit.circle(cx, cy, BALL.radius, { fill: 'plate', stroke: 'line', 'stroke-width': 1.3 }),
        ...kit.lines(name.x + name.width / 2, name.y + 10, WORD.line, one.name, {
          fill: 'ink',
          'font-size': WORD.size,
          'text-anchor': 'middle',
        }),
      ],
      texts: [
        {
          part: 'name',
          label: 'Interface',
          value: one.name.join(' '),
          box: { x: name.x, y: name.y, width: name.width, height: one.name.length * WORD.line },
        },
      ],
    }
  }
  return {
    id: one.id,
    facts: one.facts,
    label: `component ${one.name.join(' ')}`,
    box,
    marks: componentMarks(one, box),
    texts: [
      {
        part: 'name',
        label: 'Component',
        value: one.component?.name ?? '',
        box: { x: 4, y: 20, width: width - 8, height: one.name.length * NAME.line + 4 },
      },
    ],
    handles: one.isAgain
      ? []
      : [{ id: 'tie', box: { x: width - 6, y: height / 2 - 5, width: 8, height: 10 }, pulls: 'line' }],
    ...(one.lane ? { parent: one.lane.id } : {}),
  }
}

/** A box with its keyword and the sign of a component in its corner (11.6.4). */
function componentMarks({ name, isAgain }: Node, { width, height }: Box): Mark[] {
  const [x, y] = [width - 21, 6]
  const sign = { fill: 'plate', stroke: 'outline', 'stroke-width': 1 } as const
  return [
    kit.rect(
      { x: 0.5, y: 0.5, width: width - 1, height: height - 1 },
      {
        rx: 2,
        fill: 'plate',
        stroke: 'outline',
        'stroke-width': 1.2,
        ...(isAgain ? { 'stroke-dasharray': '5 3' } : {}),
      },
    ),
    kit.rect({ x: x + 3, y, width: 11, height: 13 }, sign),
    kit.rect({ x, y: y + 2.5, width: 6, height: 3 }, sign),
    kit.rect({ x, y: y + 7.5, width: 6, height: 3 }, sign),
    kit.text(BOX.pad - 4, 16, '«component»', { fill: 'ink-quiet', 'font-size': WORD.size }),
    ...kit.lines(width / 2, 35, NAME.line, name, {
      fill: 'ink',
      'font-size': NAME.size,
      'font-weight': 700,
      'text-anchor': 'middle',
    }),
  ]
}

function linkOf({ offer, use, from, to }: Edge, way: readonly Point[], boxes: readonly Box[]): Link {
  const relation = offer?.relation ?? use?.relation
  const [source, target] = offer ? [offer.component.id, offer.to.id] : [use?.a.id, use?.b.id]
  const marks = offer ? offerMarks(offer, way, nth(boxes, offer.sort === 'requires' ? to : from)) : dependencyMarks(way)
  return {
    id: (relation?.id ?? '') as Id,
    source: source ?? ('' as Id),
    target: target ?? ('' as Id),
    bounds: aroundPoints(way.length > 0 ? way : [{ x: 0, y: 0 }], 14),
    marks,
  }
}

const LINE = { fill: 'none', stroke: 'line', 'stroke-width': 1.2 } as const

function dependencyMarks(way: readonly Point[]): Mark[] {
  const [end, before] = [way.at(-1), way.at(-2)]
  return end && before ? [kit.path(kit.way(way, 8), { ...LINE, 'stroke-dasharray': '5 3' }), openHead(end, before)] : []
}

/** A line to the ball of what is provided, or to a socket about the ball of what is required. */
function offerMarks({ sort }: Offer, way: readonly Point[], ball: Box): Mark[] {
  const centre = { x: ball.x + ball.width / 2, y: ball.y + ball.height / 2 }
  const along = sort === 'requires' ? way : way.toReversed()
  const [end, before] = [along.at(-1), along.at(-2)]
  if (!end || !before) return []
  const [dx, dy] = [Math.sign(end.x - before.x), Math.sign(end.y - before.y)]
  if (sort === 'provides') {
    const reach = Math.max(0, (centre.x - end.x) * dx + (centre.y - end.y) * dy - BALL.radius)
    return [kit.path(kit.way([...along, { x: end.x + dx * reach, y: end.y + dy * reach }], 8), LINE)]
  }
  const r = BALL.socket
  // Half a circle on the side from which the line comes.
  const from = { x: centre.x + dy * r, y: centre.y - dx * r }
  const to = { x: centre.x - dy * r, y: centre.y + dx * r }
  return [
    kit.path(kit.way(along, 8), LINE),
    kit.path(`M${from.x} ${from.y}A${r} ${r} 0 0 0 ${to.x} ${to.y}`, { ...LINE, 'stroke-width': 1.4 }),
  ]
}

/** The squares of ports where lines meet their component; one to which none leads stands at the left. */
function portItems(
  all: Components,
  edges: readonly Edge[],
  ways: readonly (readonly Point[])[],
  nodes: readonly Node[],
  boxes: readonly Box[],
): readonly Item[] {
  const places = new Map<Port, Point[]>()
  edges.forEach(({ offer }, at) => {
    const way = ways[at] ?? []
    const end = offer?.sort === 'requires' ? way[0] : way.at(-1)
    if (offer?.port && end) places.set(offer.port, [...(places.get(offer.port) ?? []), end])
  })
  return all.components.flatMap((one) => {
    const box = boxes[nodes.findIndex(({ id }) => id === one.id)]
    return one.ports.flatMap((port, at): Item[] => {
      if (!box) return []
      const met = places.get(port) ?? [{ x: box.x, y: box.y + 12 + at * 16 }]
      return met.map((point, nthPlace): Item => {
        const isLeft = Math.abs(point.x - box.x) < 1
        // Above the line beside the component; beneath it where the line leads down.
        const isBelow = Math.abs(point.y - box.y - box.height) < 1
        const name = kit.text(isLeft ? -3 : PORT + 3, isBelow ? PORT + 9 : -4, port.name, {
          fill: 'ink-quiet',
          'font-size': WORD.size,
          'text-anchor': isLeft ? 'end' : 'start',
        })
        return {
          id: nthPlace === 0 ? port.id : (`${port.id}~${nthPlace}` as Id),
          facts: [port.id],
          label: `port ${port.name}`,
          box: { x: point.x - PORT / 2, y: point.y - PORT / 2, width: PORT, height: PORT },
          marks: [
            kit.rect({ x: 0, y: 0, width: PORT, height: PORT }, { fill: 'plate', stroke: 'line', 'stroke-width': 1.2 }),
            ...(nthPlace === 0 ? [name] : []),
          ],
          texts:
            nthPlace === 0
              ? [
                  {
                    part: 'name',
                    label: 'Port',
                    value: port.name,
                    box: { x: isLeft ? -60 : PORT, y: -16, width: 60, height: 14 },
                  },
                ]
              : [],
          parent: one.id,
        }
      })
    })
  })
}

function linkItem({ offer, use }: Edge, way: readonly Point[], nodes: readonly Node[]): Item {
  const middle = middleOfWay(way) ?? { x: 0, y: 0 }
  const id = offer?.id ?? use?.id ?? nodes[0]?.id ?? ('' as Id)
  return {
    id,
    facts: [id],
    label: offer
      ? `${offer.component.name} ${offer.sort} ${offer.to.name}`
      : `${use?.a.name ?? ''} uses ${use?.b.name ?? ''}`,
    box: { x: middle.x - HOLD / 2, y: middle.y - HOLD / 2, width: HOLD, height: HOLD },
    marks: [],
    texts: [],
    ...(offer ? { parent: offer.component.id } : use ? { parent: use.a.id } : {}),
  }
}
