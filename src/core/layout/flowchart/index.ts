import { nth } from '../../graph'
import { besideOf, type Beside } from './beside'
import { columnsOf, type Columns } from './columns'
import { fansOf, type Fans } from './fans'
import { portsOf, type Ports } from './ports'
import { gridOf, type Grid, type Piece, type Route } from './grid'
import { routesOf } from './route'
import { orderOf } from './order'
import { rowsOf, type Rows } from './rows'
import { tracksOf } from './tracks'
import type { Area, FlowPlaces, FlowShape, ShapeNode, Spot } from './shape'

export * from './shape'

const STEP = 9
const PAD = {
  channel: 8,
  arrow: 13,
  beside: 6,
  least: 30,
  edge: 16,
  row: 22,
  passing: 3,
  pools: 26,
  name: 4,
  corner: 5,
}

/**
 * A flowchart with lanes: columns by flow, rows by lane, and right-angled lines that run along no other and through no shape, with room for
 * every name and label. The same shape always gives the same places; near linear but for the choice of ways, which is O(edges × pieces laid) and
 * stops looking for fewer crossings at a bound.
 */
export function flowchart(shape: FlowShape): FlowPlaces {
  const columns = columnsOf(shape)
  const rows = rowsOf(shape, columns, orderOf(shape, columns))
  const grid = gridOf(shape, columns.count, rows)
  const { routes, plain } = routesOf(shape, columns, rows, grid)
  const ports = portsOf(shape, routes, columns, rows, grid)
  return { ...placed(shape, columns, rows, grid, routes, ports, fansOf(shape, routes, ports)), plain }
}

interface Channel {
  readonly pieces: { readonly edge: number; readonly index: number }[]
}

function placed(
  shape: FlowShape,
  { column, count }: Columns,
  { row, first }: Rows,
  grid: Grid,
  routes: readonly Route[],
  ports: Ports,
  fans: Fans,
): Omit<FlowPlaces, 'plain'> {
  const { nodes, edges, lanes } = shape
  const middles = new Map([...grid.middle].map((at, one) => [at, one]))
  const upright = new Map<number, Channel>()
  const lying = new Map<number, Channel>()
  routes.forEach(({ pieces }, edge) =>
    pieces.forEach((piece, index) => {
      if (piece.along && !middles.has(piece.at)) put(lying, piece.at, edge, index)
      if (!piece.along && piece.at % 4 === 0) put(upright, piece.at, edge, index)
    }),
  )
  const trackOf = new Map<Piece, number>()
  const pieceAt = (edge: number, index: number): Piece | undefined => routes[edge]?.pieces[index]
  const sideOf = (end: number | undefined, at: number) => (end === undefined ? 0 : Math.sign(end - at))
  const assign = (channels: Map<number, Channel>, keyOf: (edge: number, index: number, end: 'from' | 'to') => number) =>
    new Map(
      [...channels].map(([at, { pieces }]) => {
        const lines = pieces.map(({ edge, index }) => ({
          from: keyOf(edge, index, 'from'),
          to: keyOf(edge, index, 'to'),
          fromSide: sideOf(pieceAt(edge, index - 1)?.from, at),
          toSide: sideOf(pieceAt(edge, index + 1)?.to, at),
        }))
        const { track, count: tracks } = tracksOf(lines)
        pieces.forEach(({ edge, index }, i) => {
          const piece = pieceAt(edge, index)
          if (piece) trackOf.set(piece, nth(track, i))
        })
        return [at, tracks] as const
      }),
    )
  // First the upright channels, whose lines end at places on nodes; then the lying ones, whose lines end on upright tracks.
  const uprightTracks = assign(upright, (edge, index, end) => {
    const pieces = routes[edge]?.pieces ?? []
    const piece = pieces[index]
    const offset =
      end === 'from' && index === 1
        ? nth(ports.out, edge)
        : end === 'to' && index === pieces.length - 2
          ? nth(ports.in, edge)
          : 0
    return (piece?.[end] ?? 0) + offset / 1000
  })
  const lyingTracks = assign(lying, (edge, index, end) => {
    const neighbour = pieceAt(edge, end === 'from' ? index - 1 : index + 1)
    const at = pieceAt(edge, index)?.[end] ?? 0
    return neighbour && at % 4 === 0 ? at + ((trackOf.get(neighbour) ?? 0) + 1) / 1000 : at
  })

  const names = namePlaces(shape, routes)
  const beside = besideOf(shape, routes, ports)
  const lift = nodes.map((node, index) => liftOf(node, index, names[index], beside))
  /** A label above or below its shape stands clear of what leaves beside it, where it reaches over that. */
  const clear = (node: number, label: Spot, taken: Float64Array): number => {
    const { halfU, halfV } = nth(nodes, node)
    return label.u + PAD.corner > halfU ? Math.max(halfV, nth(taken, node)) : halfV
  }
  const colHalf = new Float64Array(count).fill(10)
  nodes.forEach((node, index) => {
    const name = node.name
    const need = Math.max(node.halfU, name ? (names[index] === 'corner' ? name.u + 8 : name.u / 2) : 0)
    const at = nth(column, index)
    colHalf[at] = Math.max(nth(colHalf, at), need)
  })
  // Before the tracks of a channel there is room for labels and for lines that spread, behind them for lines that come together.
  const band = new Float64Array(count + 1)
  const gather = new Float64Array(count + 1).fill(PAD.arrow)
  nodes.forEach(({ halfU }, node) => {
    const at = nth(column, node)
    const [out, into] = [nth(fans.outReach, node), nth(fans.inReach, node)]
    if (out > 0) band[at + 1] = Math.max(nth(band, at + 1), halfU + out - nth(colHalf, at))
    if (into > 0) gather[at] = Math.max(nth(gather, at), halfU + into + PAD.arrow - nth(colHalf, at))
  })
  edges.forEach(({ from, label }, edge) => {
    if (!label) return
    const at = nth(column, from)
    const reach = routes[edge]?.exit === 'right' ? nth(nodes, from).halfU + nth(fans.outReach, from) : 0
    band[at + 1] = Math.max(nth(band, at + 1), reach + 5 + label.u + 3 - nth(colHalf, at))
  })

  // Along the flow.
  const columnU = new Float64Array(count)
  const channelU = new Float64Array(count + 1)
  let u = 0
  for (let k = 0; k <= count; k++) {
    channelU[k] = u
    const tracks = uprightTracks.get(4 * k) ?? 0
    const room = PAD.channel + Math.max(0, nth(band, k)) + tracks * STEP + nth(gather, k)
    const least = k === 0 || k === count ? PAD.edge : PAD.least
    u += k === 0 || k === count ? Math.max(least, tracks > 0 || nth(band, k) > 0 ? room : 0) : Math.max(least, room)
    if (k < count) {
      columnU[k] = u + nth(colHalf, k)
      u += 2 * nth(colHalf, k)
    }
  }
  const length = u

  // Across it.
  const rowCount = grid.middle.length
  // A row through which lines only pass is no higher than they need.
  const up = new Float64Array(rowCount).fill(PAD.passing)
  const down = new Float64Array(rowCount).fill(PAD.passing)
  nodes.forEach((node, index) => {
    const r = nth(row, index)
    const half = node.halfV
    const name = node.name ? node.name.v + PAD.name + nth(lift, index) : 0
    const above = half + (names[index] === 'above' || names[index] === 'corner' ? name : 0)
    const below = half + (names[index] === 'below' ? name : 0)
    up[r] = Math.max(nth(up, r), above, PAD.row)
    down[r] = Math.max(nth(down, r), below, PAD.row)
  })
  // Lines that spread need the room of their row.
  edges.forEach(({ from, to }, edge) => {
    const room = (node: number, offset: number) => {
      const r = nth(row, node)
      up[r] = Math.max(nth(up, r), 5 - offset)
      down[r] = Math.max(nth(down, r), 5 + offset)
    }
    if (fans.out[edge]) room(from, nth(ports.out, edge))
    if (fans.in[edge] && to >= 0) room(to, nth(ports.in, edge))
  })
  edges.forEach(({ from, label }, edge) => {
    const { exit } = nth(routes, edge)
    if (!label || exit === undefined) return
    const r = nth(row, from)
    const offset = nth(ports.out, edge)
    if (exit === 'top') up[r] = Math.max(nth(up, r), clear(from, label, beside.rightTop) + label.v + 4)
    else if (exit === 'bottom') down[r] = Math.max(nth(down, r), clear(from, label, beside.rightBottom) + label.v + 4)
    else up[r] = Math.max(nth(up, r), label.v + 4 - offset)
  })
  const rowV = new Float64Array(rowCount)
  const channelV = new Map<number, number>()
  const lanePlaces: { from: number; to: number }[] = []
  const breadthOf = (at: number, inner: boolean) => {
    const tracks = lyingTracks.get(at) ?? 0
    return tracks > 0 ? tracks * STEP + 2 * PAD.beside : inner ? 14 : 10
  }
  let v = 0
  lanes.forEach((lane, index) => {
    if (index > 0 && lanes[index - 1]?.pool !== lane.pool) v += PAD.pools
    const from = v
    const rowsHere = Array.from({ length: nth(first, index + 1) - nth(first, index) }, (_, i) => nth(first, index) + i)
    const needed = rowsHere.reduce(
      (sum, r) => sum + nth(up, r) + nth(down, r) + breadthOf(nth(grid.before, r), r !== rowsHere[0]),
      breadthOf(nth(grid.after, rowsHere.at(-1) ?? 0), false),
    )
    const spare = Math.max(0, lane.least - needed) / 2
    v += spare
    for (const r of rowsHere) {
      channelV.set(nth(grid.before, r), v)
      v += breadthOf(nth(grid.before, r), r !== rowsHere[0]) + nth(up, r)
      rowV[r] = v
      v += nth(down, r)
    }
    const last = nth(grid.after, rowsHere.at(-1) ?? 0)
    channelV.set(last, v)
    v += breadthOf(last, false) + spare
    lanePlaces.push({ from, to: v })
  })

  const spots = nodes.map((_, index): Spot => ({ u: nth(columnU, nth(column, index)), v: nth(rowV, nth(row, index)) }))
  const coordinate = (edge: number, index: number): number => {
    const { pieces } = nth(routes, edge)
    const piece = pieces[index]
    if (!piece) return 0
    const track = (trackOf.get(piece) ?? 0) + 0.5
    if (!piece.along) {
      const k = piece.at / 4
      if (!Number.isInteger(k)) return nth(columnU, (piece.at - 2) / 4)
      return nth(channelU, k) + PAD.channel + Math.max(0, nth(band, k)) + track * STEP
    }
    const r = middles.get(piece.at)
    if (r === undefined) return (channelV.get(piece.at) ?? 0) + PAD.beside + track * STEP
    const offset = index === 0 ? nth(ports.out, edge) : index === pieces.length - 1 ? nth(ports.in, edge) : 0
    return nth(rowV, r) + offset
  }
  const ways = edges.map(({ from, to }, edge): Spot[] => {
    const { pieces, exit, entry } = nth(routes, edge)
    const at = pieces.map((_, index) => coordinate(edge, index))
    const [out, into] = [fans.out[edge], fans.in[edge]]
    const way: Spot[] = [leaving(nodes[from], spots[from], exit, out?.near ?? ports.out[edge] ?? 0)]
    const start = spots[from]
    if (out && start) {
      const turn = start.u + nth(nodes, from).halfU + out.turn
      way.push({ u: turn, v: start.v + out.near }, { u: turn, v: start.v + nth(ports.out, edge) })
    }
    for (let i = 0; i + 1 < pieces.length; i++) {
      const [a, b] = [nth(at, i), nth(at, i + 1)]
      way.push(pieces[i]?.along ? { u: b, v: a } : { u: a, v: b })
    }
    if (entry === 'border') {
      const lane = lanePlaces[-1 - to]
      const lastU = at.at(-1) ?? 0
      const fromV = way.at(-1)?.v ?? 0
      way.push({ u: lastU, v: lane ? (fromV < lane.from ? lane.from : lane.to) : fromV })
      return way
    }
    const goal = spots[to]
    if (into && goal) {
      const turn = goal.u - nth(nodes, to).halfU - into.turn
      way.push({ u: turn, v: goal.v + nth(ports.in, edge) }, { u: turn, v: goal.v + into.near })
    }
    way.push(leaving(nodes[to], goal, entry, into?.near ?? ports.in[edge] ?? 0))
    return way
  })
  const labels = edges.map(({ from, label }, edge): Area | undefined => {
    const spot = spots[from]
    const { exit } = nth(routes, edge)
    if (!label || !spot || exit === undefined) return undefined
    const size = { du: label.u, dv: label.v }
    if (exit === 'right') {
      const u = spot.u + nth(nodes, from).halfU + nth(fans.outReach, from) + 5
      return { u, v: spot.v + nth(ports.out, edge) - label.v - 2, ...size }
    }
    const u = spot.u + PAD.corner
    return exit === 'top'
      ? { u, v: spot.v - clear(from, label, beside.rightTop) - label.v - 2, ...size }
      : { u, v: spot.v + clear(from, label, beside.rightBottom) + 2, ...size }
  })
  return {
    nodes: spots,
    names: nodes.map((node, index) => nameArea(node, spots[index], names[index], nth(lift, index))),
    ways,
    labels,
    lanes: lanePlaces,
    phases: phasePlaces(shape, column, columnU, colHalf, length),
    length,
    breadth: v,
    column,
    row,
  }
}

function put(map: Map<number, Channel>, at: number, edge: number, index: number): void {
  const known = map.get(at)
  if (known) known.pieces.push({ edge, index })
  else map.set(at, { pieces: [{ edge, index }] })
}

type NamePlace = 'above' | 'below' | 'corner' | undefined

/** A name stands on the side of its shape that no line uses: a diamond's above, if it can, a circle's below. */
function namePlaces({ nodes, edges }: FlowShape, routes: readonly Route[]): NamePlace[] {
  const used = nodes.map(() => ({ top: false, bottom: false }))
  routes.forEach(({ exit, entry }, edge) => {
    const { from, to } = nth(edges, edge)
    const mark = (node: number, side: string) => {
      const sides = used[node]
      if (sides && (side === 'top' || side === 'bottom')) sides[side] = true
    }
    mark(from, exit)
    if (to >= 0) mark(to, entry)
  })
  return nodes.map(({ name, form }, node) => {
    if (!name) return undefined
    const { top, bottom } = nth(used, node)
    if (form === 'diamond') return !top ? 'above' : !bottom ? 'below' : 'corner'
    return !bottom ? 'below' : !top ? 'above' : 'corner'
  })
}

/** How much farther off a name has to stand because it reaches over what leaves or arrives beside its shape. */
function liftOf({ name, halfU, halfV }: ShapeNode, node: number, place: NamePlace, beside: Beside): number {
  if (!name || !place) return 0
  const over = (reach: number) => reach > halfU + 3
  const right = place !== 'corner' && over(name.u / 2)
  const left = over(place === 'corner' ? name.u + 7 : name.u / 2)
  const [rights, lefts] =
    place === 'below' ? [beside.rightBottom, beside.leftBottom] : [beside.rightTop, beside.leftTop]
  const taken = Math.max(right ? nth(rights, node) : 0, left ? nth(lefts, node) : 0)
  return Math.max(0, taken - halfV - PAD.name)
}

function nameArea(
  { name, halfV }: ShapeNode,
  spot: Spot | undefined,
  place: NamePlace,
  lift: number,
): Area | undefined {
  if (!name || !spot || !place) return undefined
  const size = { du: name.u, dv: name.v }
  if (place === 'below') return { u: spot.u - name.u / 2, v: spot.v + halfV + PAD.name + lift, ...size }
  const v = spot.v - halfV - PAD.name - lift - name.v
  return place === 'above' ? { u: spot.u - name.u / 2, v, ...size } : { u: spot.u - 7 - name.u, v, ...size }
}

/** Where a line meets the border of a node's shape. */
function leaving(node: ShapeNode | undefined, spot: Spot | undefined, side: string, offset: number): Spot {
  if (!node || !spot) return { u: 0, v: 0 }
  const half = { u: node.halfU, v: node.halfV }
  if (side === 'top') return { u: spot.u, v: spot.v - half.v }
  if (side === 'bottom') return { u: spot.u, v: spot.v + half.v }
  const share = Math.abs(offset) / half.v
  const reach =
    node.form === 'diamond'
      ? half.u * (1 - share)
      : node.form === 'round'
        ? half.u * Math.sqrt(Math.max(0, 1 - share * share))
        : half.u
  return { u: spot.u + (side === 'right' ? reach : -reach), v: spot.v + offset }
}

function phasePlaces(
  { nodes }: FlowShape,
  column: Int32Array,
  columnU: Float64Array,
  colHalf: Float64Array,
  length: number,
): FlowPlaces['phases'] {
  const phases = Math.max(-1, ...nodes.map(({ phase }) => phase)) + 1
  const firsts = Array.from({ length: phases }, (_, phase) =>
    Math.min(...nodes.flatMap((node, index) => (node.phase === phase ? [nth(column, index)] : []))),
  )
  const begins = firsts.map((at, phase) =>
    !Number.isFinite(at) ? undefined : phase === 0 ? 0 : nth(columnU, at) - nth(colHalf, at) - 5,
  )
  return begins.map((from, phase) => {
    if (from === undefined) return undefined
    const to = begins.slice(phase + 1).find((one) => one !== undefined) ?? length
    return { from, to }
  })
}
