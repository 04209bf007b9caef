import { nth } from '../../graph'
import { channelsOf } from './channels'
import { columnsOf, type Columns } from './columns'
import { labelsOf, waysOf } from './drawn'
import { acrossOf, alongOf, type Along, type Plan } from './extents'
import { fansOf } from './fans'
import { gridOf } from './grid'
import { nameArea, namesOf } from './names'
import { longer, orderOf, withHanging, type Order } from './order'
import { portsOf } from './ports'
import { routesOf } from './route'
import { rowsOf } from './rows'
import type { FlowPlaces, FlowShape, Spot } from './shape'

export * from './shape'
export { roomFor } from './ports'

/** In which columns the nodes of a flowchart stand, and in which order: what lines cross is told by it, all but what the ways of lines decide. */
export interface FlowOrder {
  readonly columns: Columns
  readonly order: Order
  /** Whether nothing more is looked for. */
  readonly isSettled: boolean
}

/** What is decided before any way is looked for: cheap beside the rest. */
export function flowOrder(shape: FlowShape): FlowOrder {
  const columns = columnsOf(shape)
  return { columns, order: orderOf(shape, columns), isSettled: false }
}

/** The same with all that is looked for before any way is: what tells several shapes apart by their crossings best. */
export function settledOrder(shape: FlowShape): FlowOrder {
  const { columns, order } = flowOrder(shape)
  return { columns, order: shape.isThorough === true ? longer(shape, order) : order, isSettled: true }
}

/**
 * A flowchart with lanes: columns by flow, rows by lane, and right-angled lines that run along no other and through no shape, with room for
 * every name and label. The same shape always gives the same places; near linear but for the choice of ways, which is O(edges × pieces laid) and
 * stops looking for fewer crossings at a bound.
 */
export function flowchart(shape: FlowShape, ahead: FlowOrder = flowOrder(shape)): FlowPlaces {
  const { columns, order } = ahead
  const rows = rowsOf(
    shape,
    columns,
    withHanging(shape.isThorough === true && !ahead.isSettled ? longer(shape, order) : order),
  )
  const grid = gridOf(shape, columns.count, rows)
  const { routes, plain, looked } = routesOf(shape, columns, rows, grid, shape.mostLooked)
  const ports = portsOf(shape, routes, columns, rows, grid)
  const fans = fansOf(shape, routes, ports)
  const channels = channelsOf(shape, routes, ports, grid)
  const names = namesOf(shape, routes, ports)
  return { ...placed({ shape, columns, rows, grid, routes, ports, fans, channels, names }), plain, looked }
}

/** Everything in px: first along the flow, then across it, then the lines from place to place. */
function placed(plan: Plan): Omit<FlowPlaces, 'plain' | 'looked'> {
  const { shape, columns, rows, names } = plan
  const [along, across] = [alongOf(plan), acrossOf(plan)]
  const spots = shape.nodes.map((_, node): Spot => ({
    u: nth(along.middle, nth(columns.column, node)),
    v: nth(across.middle, nth(rows.row, node)),
  }))
  return {
    nodes: spots,
    names: shape.nodes.map((node, index) => nameArea(node, nth(spots, index), names.places[index])),
    ways: waysOf(plan, spots, along, across),
    labels: labelsOf(plan, spots),
    lanes: across.lanes,
    phases: phasePlaces(shape, columns.column, along),
    cuts: along.cuts,
    length: along.length,
    breadth: across.breadth,
    column: columns.column,
    row: rows.row,
  }
}

function phasePlaces({ nodes }: FlowShape, column: Int32Array, { middle, half, length }: Along): FlowPlaces['phases'] {
  const phases = Math.max(-1, ...nodes.map(({ phase }) => phase)) + 1
  const firsts = Array.from({ length: phases }, (_, phase) =>
    Math.min(...nodes.flatMap((node, index) => (node.phase === phase ? [nth(column, index)] : []))),
  )
  const begins = firsts.map((at, phase) =>
    !Number.isFinite(at) ? undefined : phase === 0 ? 0 : nth(middle, at) - nth(half, at) - 5,
  )
  return begins.map((from, phase) => {
    if (from === undefined) return undefined
    const to = begins.slice(phase + 1).find((one) => one !== undefined) ?? length
    return { from, to }
  })
}
