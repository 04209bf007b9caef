import type { Area, FlowPlaces, FlowShape, ShapeEdge, ShapeNode, Spot } from '../src/core/layout'

/** Made-up processes of a given size: sequences, decisions, things done at once, loops and shortcuts, over lanes. The same seed gives the same process. */
export function madeUpProcess(size: number, lanes: number, seed: number): FlowShape {
  let state = seed * 2654435761 + 12345
  const dice = () => {
    state = (Math.imul(state ^ (state >>> 15), 2246822519) + 374761393) >>> 0
    return (state >>> 8) / 2 ** 24
  }
  const nodes: ShapeNode[] = []
  const edges: ShapeEdge[] = []
  let lane = 0
  const node = (form: ShapeNode['form']): number => {
    if (dice() < 0.25) lane = Math.floor(dice() * lanes)
    const box = form === 'box'
    nodes.push({
      lane,
      phase: -1,
      halfU: box ? 48 : form === 'diamond' ? 22 : 14,
      halfV: box ? 22 : form === 'diamond' ? 22 : 14,
      form,
      ...(box ? {} : { name: { u: 40 + Math.floor(dice() * 50), v: 28 } }),
    })
    return nodes.length - 1
  }
  const edge = (from: number, to: number, label = false) => {
    edges.push({ from, to, sort: 'flow', ...(label ? { label: { u: 20 + Math.floor(dice() * 40), v: 12 } } : {}) })
  }
  /** A block of about so many steps; answers its first and last node. */
  const block = (budget: number, depth: number): [number, number] => {
    if (budget <= 1 || depth > 6) {
      const one = node('box')
      return [one, one]
    }
    const sort = dice()
    if (sort < 0.5 || budget < 5) {
      const left = Math.max(1, Math.floor(budget * (0.3 + 0.4 * dice())))
      const a = block(left, depth + 1)
      const b = block(budget - left, depth + 1)
      edge(a[1], b[0])
      return [a[0], b[1]]
    }
    if (sort < 0.88) {
      const split = node('diamond')
      const ways = 2 + (dice() < 0.25 ? 1 : 0)
      const parts = Array.from({ length: ways }, (_, i) =>
        i > 0 && dice() < 0.2 ? undefined : block(Math.max(1, Math.floor((budget - 2) / ways)), depth + 1),
      )
      const join = node('diamond')
      for (const part of parts) {
        if (!part) {
          edge(split, join, true)
          continue
        }
        edge(split, part[0], true)
        edge(part[1], join)
      }
      return [split, join]
    }
    const join = node('diamond')
    const body = block(budget - 2, depth + 1)
    const split = node('diamond')
    edge(join, body[0])
    edge(body[1], split)
    edge(split, join, true)
    return [join, split]
  }
  const start = node('round')
  let last = start
  while (nodes.length < size - 2) {
    const part = block(Math.min(size - nodes.length - 2, 12 + Math.floor(dice() * 30)), 0)
    edge(last, part[0])
    last = part[1]
  }
  edge(last, node('round'))
  return { nodes, edges, lanes: Array.from({ length: lanes }, () => ({ pool: 0, least: 60 })) }
}

interface Segment {
  readonly edge: number
  readonly along: boolean
  readonly at: number
  readonly from: number
  readonly to: number
}

export function segmentsOf(ways: FlowPlaces['ways']): Segment[] {
  return ways.flatMap((way, edge) =>
    way.slice(1).flatMap((end, i): Segment[] => {
      const start = way[i]
      if (!start) return []
      const along = Math.abs(start.v - end.v) < 0.01
      if (!along && Math.abs(start.u - end.u) > 0.01) throw new Error(`edge ${edge} is not right-angled`)
      const [a, b] = along ? [start.u, end.u] : [start.v, end.v]
      if (Math.abs(a - b) < 0.01) return []
      return [{ edge, along, at: along ? start.v : start.u, from: Math.min(a, b), to: Math.max(a, b) }]
    }),
  )
}

export interface Faults {
  shapes: number
  lineShapes: number
  shared: number
  labels: number
  crossings: number
}

const boxOf = (spot: Spot | undefined, halfU: number, halfV: number): Area => ({
  u: (spot?.u ?? 0) - halfU,
  v: (spot?.v ?? 0) - halfV,
  du: 2 * halfU,
  dv: 2 * halfV,
})
const meet = (a: Area, b: Area, gap = 0): boolean =>
  a.u < b.u + b.du + gap && b.u < a.u + a.du + gap && a.v < b.v + b.dv + gap && b.v < a.v + a.dv + gap
const areaOf = ({ along, at, from, to }: Segment): Area =>
  along ? { u: from, v: at, du: to - from, dv: 0 } : { u: at, v: from, du: 0, dv: to - from }

/** Everything that must not be: shapes over shapes, lines through shapes or along each other, texts under anything; and how often lines cross. */
export function faultsOf(shape: FlowShape, places: FlowPlaces): Faults {
  const faults: Faults = { shapes: 0, lineShapes: 0, shared: 0, labels: 0, crossings: 0 }
  const boxes = shape.nodes.map(({ halfU, halfV }, i) => boxOf(places.nodes[i], halfU, halfV))
  boxes.forEach((a, i) => boxes.slice(i + 1).forEach((b) => (faults.shapes += meet(a, b) ? 1 : 0)))
  const segments = segmentsOf(places.ways)
  for (const segment of segments)
    boxes.forEach((box, node) => {
      const { from, to } = shape.edges[segment.edge] ?? { from: -1, to: -1 }
      // A line may touch the shapes it begins and ends at, from outside: a diamond's or circle's box is larger than its shape.
      const inner = node === from || node === to ? -24 : -0.01
      if (meet(areaOf(segment), box, inner)) faults.lineShapes++
    })
  for (let i = 0; i < segments.length; i++)
    for (let j = i + 1; j < segments.length; j++) {
      const [a, b] = [segments[i], segments[j]]
      if (!a || !b || a.edge === b.edge) continue
      if (a.along === b.along) {
        if (Math.abs(a.at - b.at) < 0.5 && a.from < b.to - 0.01 && b.from < a.to - 0.01) faults.shared++
      } else if (a.at > b.from + 0.01 && a.at < b.to - 0.01 && b.at > a.from + 0.01 && b.at < a.to - 0.01)
        faults.crossings++
    }
  const texts = [
    ...places.names.flatMap((area, node) => (area ? [{ area, edge: -1, node }] : [])),
    ...places.labels.flatMap((area, edge) => (area ? [{ area, edge, node: -1 }] : [])),
  ]
  texts.forEach(({ area, node }, i) => {
    for (const segment of segments) if (meet(areaOf(segment), area)) faults.labels++
    boxes.forEach((box, other) => (faults.labels += other !== node && meet(box, area, -0.01) ? 1 : 0))
    for (const other of texts.slice(i + 1)) if (meet(area, other.area, -0.01)) faults.labels++
  })
  return faults
}

/** Processes without any plan: lines that lead anywhere, messages, phases, long names and labels of two lines. The same seed gives the same process. */
export function anyProcess(seed: number): FlowShape {
  let state = seed * 2654435761 + 99
  const dice = (sides: number) => {
    state = (Math.imul(state ^ (state >>> 15), 2246822519) + 374761393) >>> 0
    return Math.floor(((state >>> 8) / 2 ** 24) * sides)
  }
  const forms = ['box', 'box', 'diamond', 'round'] as const
  const half = { box: [56, 22], diamond: [22, 22], round: [14, 14] } as const
  const [count, lanes] = [3 + dice(18), 1 + dice(4)]
  const phases = dice(3) === 0 ? 1 + dice(3) : 0
  const nodes = Array.from({ length: count }, (): ShapeNode => {
    const form = forms[dice(4)] ?? 'box'
    const [halfU, halfV] = half[form]
    const tall = form === 'box' && dice(3) === 0
    return {
      lane: dice(lanes),
      phase: phases > 0 ? dice(phases + 1) - 1 : -1,
      halfU,
      halfV: tall ? 29.5 : halfV,
      form,
      ...(form === 'box' || dice(3) === 0 ? {} : { name: { u: 20 + dice(90), v: 13 * (1 + dice(3)) } }),
    }
  })
  const edges: ShapeEdge[] = []
  for (let i = 0; i < count - 1 + dice(count); i++) {
    const [from, to] = i < count - 1 ? [i, dice(5) === 0 ? dice(count) : i + 1] : [dice(count), dice(count)]
    if (from === to) continue
    const label = dice(2) === 0 ? { label: { u: 15 + dice(78), v: 13 * (1 + dice(2)) } } : {}
    edges.push({ from, to, sort: dice(8) === 0 ? 'message' : 'flow', ...label })
  }
  return { nodes, edges, lanes: Array.from({ length: lanes }, (_, i) => ({ pool: i > 1 ? 1 : 0, least: 84 })) }
}

/** The same process with its flow running down. */
export function upright({ nodes, edges, lanes }: FlowShape): FlowShape {
  const flip = ({ u, v }: Spot): Spot => ({ u: v, v: u })
  return {
    nodes: nodes.map(({ name, ...node }) => ({
      ...node,
      halfU: node.halfV,
      halfV: node.halfU,
      ...(name ? { name: flip(name) } : {}),
    })),
    edges: edges.map(({ label, ...edge }) => ({ ...edge, ...(label ? { label: flip(label) } : {}) })),
    lanes: lanes.map((lane) => ({ ...lane, least: 150 })),
  }
}
