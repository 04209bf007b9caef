import { flowchart, type Area, type FlowPlaces, type FlowShape, type Point, type Spot } from '../../../layout'
import type { Day, Entity, Id, Model, Relation, View } from '../../../model'
import { aroundPoints, kit, textWidth, wrap, type Box, type Item, type Link, type Mark } from '../../../scene'
import { covers } from '../../../model'
import { UNNAMED } from '../kinds'
import { calledNode, inFlowOrder, numbersIn, type FlowNode, type Process } from '../structure'
import { letters, piecesMarks, type LineSort } from './flowLines'
import { NAME, shapeOf, type Shape, type ShapeSet } from './shapes'
import { inOne, toPage, type InStrips, type PageAim } from './strips'

/** A process laid out and drawn, its places in the sheet’s coordinates. */
export interface DrawnFlow {
  readonly places: FlowPlaces
  readonly strips: InStrips
  readonly items: readonly Item[]
  readonly links: readonly Link[]
  /** The points of each line, as it runs. */
  readonly ways: ReadonlyMap<Id, readonly Point[]>
}

interface Edge {
  readonly relation: Relation
  readonly from: number
  readonly to: number
  readonly sort: LineSort
  readonly label: readonly string[]
  /** Drawn as a tie, though it decides the columns: an event stands after the step it happens during. */
  readonly isTie?: boolean
}

export const LABEL = { size: 10.5, line: 13, width: 92 }

interface FlowWish {
  readonly model: Model
  readonly view: View
  readonly day: Day
  readonly process: Process
  /** The lanes drawn, or none: then everything stands in one. */
  readonly lanes: readonly Entity[]
  readonly shapes: ShapeSet
  /** Exclusive gateways have their cross: the rule unless it is said otherwise. */
  readonly isCrossed?: boolean
  readonly down: boolean
  readonly showData: boolean
  readonly showPhases: boolean
  readonly showNumbers: boolean
  /** As a flowchart takes it: 1 is usual. */
  readonly spacing?: number
  /** In strips beneath one another. */
  readonly toPage?: PageAim | undefined
}

/** Lays a process out and draws its elements and lines, the upper left corner of the first lane at a point. O(layout). */
export function drawFlow(wish: FlowWish, left: number, top: number): DrawnFlow {
  const { view, process, lanes, down } = wish
  const nodes = inFlowOrder(process).filter(({ kind }) => kind !== 'data' || wish.showData)
  const shapes = nodes.map((node) => shapeOf(node, wish.shapes, wish.isCrossed))
  const indexOf = new Map(nodes.map(({ id }, index) => [id, index]))
  const laneIndex = new Map(lanes.map(({ id }, index) => [id, index]))
  const rest = lanes.length
  const loose = nodes.some(({ lane }) => lane === undefined || !laneIndex.has(lane)) || rest === 0
  const pools = new Map([...new Set(lanes.map((lane) => lane.fields['pool']))].map((pool, index) => [pool, index]))
  const phaseIndex = new Map(process.phases.map(({ id }, index) => [id, index]))
  const edges = [...edgesOf(wish, indexOf, laneIndex), ...duringEdges(nodes, indexOf)]
  const flip = <T extends { u: number; v: number }>(size: T) => (down ? { ...size, u: size.v, v: size.u } : size)
  const shape: FlowShape = {
    nodes: nodes.map((node, index) => {
      const { width, height, form, outside } = shapes[index] ?? emptyShape
      const size = outside.length === 0 ? undefined : { u: widthOf(outside), v: outside.length * NAME.line }
      const pin = view.pins[node.id]
      return {
        lane: node.lane === undefined ? rest : (laneIndex.get(node.lane) ?? rest),
        phase: wish.showPhases && node.phase !== undefined ? (phaseIndex.get(node.phase) ?? -1) : -1,
        halfU: (down ? height : width) / 2,
        halfV: (down ? width : height) / 2,
        form,
        ...(size ? { name: flip(size) } : {}),
        ...(pin ? { nudge: down ? [pin[1], pin[0]] : [pin[0], pin[1]] } : {}),
      }
    }),
    edges: edges.map(({ from, to, sort, label }) => {
      const size = labelSize(label)
      return { from, to, sort, ...(size ? { label: flip(size) } : {}) }
    }),
    lanes: [
      ...lanes.map((lane) => ({
        pool: pools.get(lane.fields['pool']) ?? 0,
        least:
          typeof lane.fields['height'] === 'number'
            ? lane.fields['height']
            : (down ? 150 : 84) * Math.min(1, wish.spacing ?? 1),
      })),
      ...(loose ? [{ pool: pools.size, least: 60 }] : []),
    ],
    ...(wish.spacing === undefined ? {} : { spacing: wish.spacing }),
  }
  const laid = flowchart(shape)
  const strips = wish.toPage && !down ? toPage(laid, wish.toPage) : inOne(laid)
  const { places } = strips
  const goesOn = letters()
  const at = ({ u, v }: Spot): { x: number; y: number } =>
    down ? { x: left + v, y: top + u } : { x: left + u, y: top + v }
  const boxAt = ({ u, v, du, dv }: Area): Box =>
    down ? { x: left + v, y: top + u, width: dv, height: du } : { x: left + u, y: top + v, width: du, height: dv }
  const numbers = wish.showNumbers ? numbersIn(process) : undefined
  const items = nodes.map((node, index) => {
    const middle = places.nodes[index]
    const name = places.names[index]
    return nodeItem(
      node,
      shapes[index] ?? emptyShape,
      at(middle ?? { u: 0, v: 0 }),
      name && boxAt(name),
      numbers?.get(node.id),
    )
  })
  const links = edges.flatMap(({ relation, sort, from, isTie }, index): Link[] => {
    const pieces = (strips.pieces[index] ?? []).map((piece) => piece.map(at))
    const marks = piecesMarks(pieces, isTie ? 'tie' : sort, relation, nodes[from], goesOn)
    const bounds = aroundPoints(pieces.length > 0 ? pieces.flat() : [{ x: 0, y: 0 }], pieces.length > 1 ? 20 : 6)
    return [{ id: relation.id, source: relation.source, target: relation.target, bounds, marks }]
  })
  const handles = edges.flatMap(({ relation, sort, label, isTie }, index): Item[] => {
    if (sort === 'tie' || isTie) return []
    const area = places.labels[index]
    return [
      flowHandle(
        relation,
        label,
        area && boxAt(area),
        (strips.pieces[index]?.[0] ?? []).map(at),
        nodes[indexOf.get(relation.source) ?? -1],
      ),
    ]
  })
  const ways = new Map(
    edges.map(({ relation, from }, index) => {
      const way = (strips.pieces[index] ?? []).flat().map(at)
      return [relation.id, nodes[from]?.id === relation.source ? way : way.reverse()] as const
    }),
  )
  return { places, strips, items: [...handles, ...items], links, ways }
}

const emptyShape: Shape = { width: 0, height: 0, form: 'box', marks: [], outside: [] }

const widthOf = (lines: readonly string[]): number =>
  Math.ceil(Math.max(...lines.map((text) => textWidth(text, NAME.size, 'text400'))))

function labelSize(lines: readonly string[]): { u: number; v: number } | undefined {
  if (lines.length === 0) return undefined
  return {
    u: Math.ceil(Math.max(...lines.map((text) => textWidth(text, LABEL.size, 'text400')))),
    v: lines.length * LABEL.line,
  }
}

function edgesOf(
  { model, day, process: { flows, messages, pools }, lanes, showData }: FlowWish,
  indexOf: ReadonlyMap<Id, number>,
  laneIndex: ReadonlyMap<Id, number>,
): Edge[] {
  const edges: Edge[] = []
  for (const relation of flows) {
    const [from, to] = [indexOf.get(relation.source), indexOf.get(relation.target)]
    if (from !== undefined && to !== undefined && from !== to)
      edges.push({
        relation,
        from,
        to,
        sort: 'flow',
        label: wrap(flowLabel(relation), LABEL.width, LABEL.size, 'text400', 2),
      })
  }
  const poolLane = new Map(pools.map(({ id }) => [id, lanes.find((lane) => lane.fields['pool'] === id)?.id]))
  const end = (id: Id): number | undefined => {
    const node = indexOf.get(id)
    if (node !== undefined) return node
    const lane = poolLane.get(id)
    const index = lane === undefined ? undefined : laneIndex.get(lane)
    return index === undefined ? undefined : -1 - index
  }
  for (const relation of messages) {
    const [a, b] = [end(relation.source), end(relation.target)]
    if (a === undefined || b === undefined || (a < 0 && b < 0) || a === b) continue
    const label = wrap(
      typeof relation.fields['label'] === 'string' ? relation.fields['label'] : '',
      LABEL.width,
      LABEL.size,
      'text400',
      2,
    )
    // A message from a pool as a whole is laid the other way round and drawn as it runs.
    edges.push(
      a < 0
        ? { relation, from: b, to: a, sort: 'message', label }
        : { relation, from: a, to: b, sort: 'message', label },
    )
  }
  if (showData)
    for (const kind of ['reads', 'writes'])
      for (const relation of model.relationsOfKind(kind)) {
        const [from, to] = [indexOf.get(relation.source), indexOf.get(relation.target)]
        if (from !== undefined && to !== undefined && covers(relation, day))
          edges.push({ relation, from, to, sort: 'tie', label: [] })
      }
  return edges
}

const duringEdges = (nodes: readonly FlowNode[], indexOf: ReadonlyMap<Id, number>): Edge[] =>
  nodes.flatMap(({ during }, to): Edge[] => {
    const from = during && indexOf.get(during.target)
    return from === undefined || during === undefined
      ? []
      : [{ relation: during, from, to, sort: 'flow', label: [], isTie: true }]
  })

/** What stands at a line: its label, else its condition; with its share. */
export function flowLabel({ fields }: Relation): string {
  const { label, condition, share } = fields
  const words = typeof label === 'string' ? label : typeof condition === 'string' ? condition : ''
  const part = typeof share === 'number' ? `${Number((share * 100).toFixed(1))} %` : ''
  return [words, part].filter(Boolean).join(' ')
}

function nodeItem(
  node: FlowNode,
  { width, height, marks, outside }: Shape,
  middle: { x: number; y: number },
  name: Box | undefined,
  number: string | undefined,
): Item {
  const box = { x: middle.x - width / 2, y: middle.y - height / 2, width, height }
  const more: Mark[] = []
  if (name) more.push(...nameMarks(outside, { ...name, x: name.x - box.x, y: name.y - box.y }))
  if (number) more.push(kit.text(0, -4, number, { fill: 'ink-quiet', 'font-family': 'mono', 'font-size': 9 }))
  const editable = name
    ? {
        ...name,
        x: name.x - box.x - 8,
        y: name.y - box.y - 3,
        width: Math.max(90, name.width + 16),
        height: name.height + 6,
      }
    : { x: 4, y: 4, width: Math.max(90, width - 8), height: Math.max(22, height - 8) }
  return {
    id: node.id,
    facts: [node.id],
    label: `${calledNode(node)}, ${node.type}`,
    box,
    // Above it stands its name.
    ...(name && name.y < box.y ? { signs: { x: 2, y: height - 2 } } : {}),
    marks: [...marks, ...more],
    texts: [
      { part: 'name', label: 'Name', value: node.entity.name === UNNAMED ? '' : node.entity.name, box: editable },
    ],
    ...(node.into[0] ? { parent: node.into[0].source } : {}),
  }
}

const nameMarks = (lines: readonly string[], box: Box): Mark[] =>
  lines.map((text, index) =>
    kit.text(box.x + box.width / 2, box.y + index * NAME.line + 11, text, {
      fill: 'ink',
      'font-size': NAME.size,
      'text-anchor': 'middle',
    }),
  )

const HANDLE = 12

/** A line’s own item: its label, or a small place in the middle of its longest stretch by which it can be taken. */
export function flowHandle(
  relation: Relation,
  label: readonly string[],
  area: Box | undefined,
  way: readonly { x: number; y: number }[],
  source: FlowNode | undefined,
): Item {
  const middle = middleOf(way)
  const box = area ?? { x: middle.x - HANDLE / 2, y: middle.y - HANDLE / 2, width: HANDLE, height: HANDLE }
  const written = relation.fields['label']
  return {
    id: relation.id,
    facts: [relation.id],
    label: `line ${label.join(' ') || 'without a label'}${source ? ` from ${calledNode(source)}` : ''}`,
    box,
    marks: area
      ? label.map((text, index) => kit.text(0, index * LABEL.line + 10, text, { fill: 'ink', 'font-size': LABEL.size }))
      : [],
    texts: [
      {
        part: 'label',
        label: 'Label',
        value: typeof written === 'string' ? written : '',
        box: { x: -4, y: -3, width: Math.max(90, box.width + 8), height: box.height + 6 },
      },
    ],
  }
}

function middleOf(way: readonly { x: number; y: number }[]): { x: number; y: number } {
  let best = way[0] ?? { x: 0, y: 0 }
  let longest = -1
  way.forEach((end, i) => {
    const start = way[i - 1]
    if (!start) return
    const length = Math.abs(end.x - start.x) + Math.abs(end.y - start.y)
    if (length > longest) {
      longest = length
      best = { x: (start.x + end.x) / 2, y: (start.y + end.y) / 2 }
    }
  })
  return best
}
