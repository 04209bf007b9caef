import { nth } from '../../graph'
import type { Channels } from './channels'
import type { Columns } from './columns'
import type { Fans } from './fans'
import type { Grid, Piece, Route } from './grid'
import { halfOf, reachOf, type Names } from './names'
import type { Ports } from './ports'
import { PAD, roomAt } from './room'
import type { Rows } from './rows'
import type { FlowShape, Spot } from './shape'

/** What is known of a flowchart before it has lengths. */
export interface Plan {
  readonly shape: FlowShape
  readonly columns: Columns
  readonly rows: Rows
  readonly grid: Grid
  readonly routes: readonly Route[]
  readonly ports: Ports
  readonly fans: Fans
  readonly channels: Channels
  readonly names: Names
}

/** Lengths along the flow: the middle of each column with half its width, the channel before it, and the room in front of its tracks. */
export interface Along {
  readonly middle: Float64Array
  readonly half: Float64Array
  readonly channel: Float64Array
  readonly band: Float64Array
  /** Right behind the tracks before each column but the first. */
  readonly cuts: readonly number[]
  readonly length: number
}

/** O(nodes + edges) */
export function alongOf(plan: Plan): Along {
  const { count } = plan.columns
  const half = halves(plan)
  const room = roomAt(plan.shape.spacing)
  const { band, gather } = roomsBeside(plan, half)
  const [middle, channel] = [new Float64Array(count), new Float64Array(count + 1)]
  const cuts: number[] = []
  let u = 0
  for (let k = 0; k <= count; k++) {
    channel[k] = u
    const tracks = plan.channels.upright(4 * k)
    const isEdge = k === 0 || k === count
    const needed = room.channel + nth(band, k) + tracks * room.step + nth(gather, k)
    u += isEdge ? Math.max(PAD.edge, tracks > 0 || nth(band, k) > 0 ? needed : 0) : Math.max(room.least, needed)
    if (k === count) break
    if (k > 0) cuts.push(nth(channel, k) + room.channel + nth(band, k) + tracks * room.step + 1)
    middle[k] = u + nth(half, k)
    u += 2 * nth(half, k)
  }
  return { middle, half, channel, band, cuts, length: u }
}

function halves({ shape, columns: { column, count }, names }: Plan): Float64Array {
  const half = new Float64Array(count).fill(10)
  shape.nodes.forEach((node, index) => raise(half, nth(column, index), halfOf(node, names.places[index])))
  return half
}

/** Before the tracks of a channel there is room for labels and for lines that spread, behind them for lines that come together. */
function roomsBeside({ shape, columns: { column, count }, fans, routes }: Plan, half: Float64Array) {
  const band = new Float64Array(count + 1)
  const gather = new Float64Array(count + 1).fill(PAD.arrow)
  shape.nodes.forEach(({ halfU }, node) => {
    const at = nth(column, node)
    const [out, into] = [nth(fans.outReach, node), nth(fans.inReach, node)]
    if (out > 0) raise(band, at + 1, halfU + out - nth(half, at))
    if (into > 0) raise(gather, at, halfU + into + PAD.arrow - nth(half, at))
  })
  shape.edges.forEach(({ from, label }, edge) => {
    if (!label) return
    const at = nth(column, from)
    const reach = nth(routes, edge).exit === 'right' ? nth(shape.nodes, from).halfU + nth(fans.outReach, from) : 0
    raise(band, at + 1, reach + 5 + label.u + 3 - nth(half, at))
  })
  return { band, gather }
}

const raise = (list: Float64Array, index: number, least: number): void => {
  list[index] = Math.max(nth(list, index), least)
}

/** Lengths across the flow: the middle of each row, the beginning of each channel, and the lanes. */
export interface Across {
  readonly middle: Float64Array
  readonly channel: ReadonlyMap<number, number>
  readonly lanes: readonly { readonly from: number; readonly to: number }[]
  readonly breadth: number
}

/** O(nodes + edges + rows) */
export function acrossOf(plan: Plan): Across {
  const { shape, rows, grid, channels } = plan
  const { up, down } = heights(plan)
  const middle = new Float64Array(grid.middle.length)
  const channel = new Map<number, number>()
  const lanes: { from: number; to: number }[] = []
  const room = roomAt(shape.spacing)
  const breadthOf = (at: number, isInner: boolean) => {
    const tracks = channels.lying(at)
    return tracks > 0 ? tracks * room.step + 2 * room.beside : isInner ? room.inner : room.outer
  }
  let v = 0
  shape.lanes.forEach((lane, index) => {
    if (index > 0 && shape.lanes[index - 1]?.pool !== lane.pool) v += PAD.pools
    const from = v
    const [first, end] = [nth(rows.first, index), nth(rows.first, index + 1)]
    const last = nth(grid.after, end - 1)
    let needed = breadthOf(last, false)
    for (let r = first; r < end; r++) needed += nth(up, r) + nth(down, r) + breadthOf(nth(grid.before, r), r !== first)
    const spare = Math.max(0, lane.least - needed) / 2
    v += spare
    for (let r = first; r < end; r++) {
      channel.set(nth(grid.before, r), v)
      v += breadthOf(nth(grid.before, r), r !== first) + nth(up, r)
      middle[r] = v
      v += nth(down, r)
    }
    channel.set(last, v)
    v += breadthOf(last, false) + spare
    lanes.push({ from, to: v })
  })
  return { middle, channel, lanes, breadth: v }
}

/** How far each row reaches above and below its middle; one through which lines only pass is no higher than they need. */
function heights({ shape, rows: { row }, grid, routes, ports, fans, names }: Plan) {
  const [up, down] = [grid.middle, grid.middle].map((rows) => new Float64Array(rows.length).fill(PAD.passing))
  if (!up || !down) throw new RangeError('no rows')
  const { nodes, edges } = shape
  const least = roomAt(shape.spacing).row
  const room = (node: number, above: number, below: number) => {
    raise(up, nth(row, node), above)
    raise(down, nth(row, node), below)
  }
  nodes.forEach((node, index) => {
    const { above, below } = reachOf(node, names.places[index])
    room(index, Math.max(above, least), Math.max(below, least))
  })
  edges.forEach(({ from, to, label }, edge) => {
    const { exit } = nth(routes, edge)
    const [out, into] = [nth(ports.out, edge), nth(ports.in, edge)]
    // Lines that spread need the room of their row.
    if (fans.out[edge]) room(from, 5 - out, 5 + out)
    if (fans.in[edge] && to >= 0) room(to, 5 - into, 5 + into)
    if (!label) return
    if (exit === 'top') room(from, clearOf(shape, names, from, label, 'top') + label.v + 4, 0)
    else if (exit === 'bottom') room(from, 0, clearOf(shape, names, from, label, 'bottom') + label.v + 4)
    else room(from, label.v + 4 - out, 0)
  })
  return { up, down }
}

/** How far a label above or below its shape stands off its middle: clear of what leaves beside it, where it reaches over that. */
export function clearOf(
  { nodes }: FlowShape,
  { beside }: Names,
  node: number,
  label: Spot,
  side: 'top' | 'bottom',
): number {
  const { halfU, halfV } = nth(nodes, node)
  const taken = side === 'top' ? beside.rightTop : beside.rightBottom
  return label.u + PAD.corner > halfU ? Math.max(halfV, nth(taken, node)) : halfV
}

/** Where a piece of a way lies: how far along the flow where it crosses it, else how far across. */
export function placeOf(plan: Plan, along: Along, across: Across, middles: ReadonlyMap<number, number>) {
  const room = roomAt(plan.shape.spacing)
  return (edge: number, piece: Piece, index: number): number => {
    const { pieces } = nth(plan.routes, edge)
    const track = (plan.channels.trackOf(piece) + 0.5) * room.step
    if (!piece.along) {
      const k = piece.at / 4
      return Number.isInteger(k)
        ? nth(along.channel, k) + room.channel + nth(along.band, k) + track
        : nth(along.middle, (piece.at - 2) / 4)
    }
    const r = middles.get(piece.at)
    if (r === undefined) return (across.channel.get(piece.at) ?? 0) + room.beside + track
    const { ports } = plan
    const offset = index === 0 ? nth(ports.out, edge) : index === pieces.length - 1 ? nth(ports.in, edge) : 0
    return nth(across.middle, r) + offset
  }
}
