import { nth } from '../../graph'
import { clearOf, placeOf, type Across, type Along, type Plan } from './extents'
import type { Side } from './grid'
import { PAD } from './room'
import type { Area, ShapeNode, Spot } from './shape'

/** The lines as the places that they turn at, from the border of one shape to that of the other. O(pieces) */
export function waysOf(plan: Plan, spots: readonly Spot[], along: Along, across: Across): Spot[][] {
  const { shape, routes, ports, fans, grid } = plan
  const middles = new Map([...grid.middle].map((at, row) => [at, row]))
  const place = placeOf(plan, along, across, middles)
  return shape.edges.map(({ from, to }, edge) => {
    const { pieces, exit, entry } = nth(routes, edge)
    const at = pieces.map((piece, index) => place(edge, piece, index))
    const turns = pieces.slice(0, -1).map(({ along: isAlong }, i): Spot => {
      const [a, b] = [nth(at, i), nth(at, i + 1)]
      return isAlong ? { u: b, v: a } : { u: a, v: b }
    })
    const way = [
      ...endOf(nth(shape.nodes, from), nth(spots, from), exit, nth(ports.out, edge), fans.out[edge]),
      ...turns,
    ]
    if (entry !== 'border') {
      const end = endOf(nth(shape.nodes, to), nth(spots, to), entry, nth(ports.in, edge), fans.in[edge])
      return [...way, ...end.reverse()]
    }
    const lane = nth(across.lanes, -1 - to)
    const { v } = nth(way, way.length - 1)
    return [...way, { u: nth(at, at.length - 1), v: v < lane.from ? lane.from : lane.to }]
  })
}

/** Where a line meets its shape, and the turns by which it spreads right beside it. */
function endOf(
  node: ShapeNode,
  spot: Spot,
  side: Side,
  offset: number,
  spread: { readonly near: number; readonly turn: number } | undefined,
): Spot[] {
  const border = meeting(node, spot, side, spread?.near ?? offset)
  if (!spread) return [border]
  const u = spot.u + (side === 'left' ? -1 : 1) * (node.halfU + spread.turn)
  return [border, { u, v: spot.v + spread.near }, { u, v: spot.v + offset }]
}

/** Where a line meets the border of a node’s shape. */
function meeting({ halfU, halfV, form }: ShapeNode, spot: Spot, side: Side, offset: number): Spot {
  if (side === 'top' || side === 'bottom') return { u: spot.u, v: spot.v + (side === 'top' ? -halfV : halfV) }
  const share = Math.abs(offset) / halfV
  const part = { diamond: 1 - share, round: Math.sqrt(Math.max(0, 1 - share * share)), box: 1 }[form]
  return { u: spot.u + (side === 'right' ? 1 : -1) * halfU * part, v: spot.v + offset }
}

/** The labels of the lines, beside where these leave. O(edges) */
export function labelsOf({ shape, routes, ports, fans, names }: Plan, spots: readonly Spot[]): (Area | undefined)[] {
  return shape.edges.map(({ from, label }, edge) => {
    if (!label) return undefined
    const spot = nth(spots, from)
    const { exit } = nth(routes, edge)
    const size = { du: label.u, dv: label.v }
    if (exit === 'right') {
      const u = spot.u + nth(shape.nodes, from).halfU + nth(fans.outReach, from) + 5
      return { u, v: spot.v + nth(ports.out, edge) - label.v - 2, ...size }
    }
    const u = spot.u + PAD.corner
    return exit === 'top'
      ? { u, v: spot.v - clearOf(shape, names, from, label, 'top') - label.v - 2, ...size }
      : { u, v: spot.v + clearOf(shape, names, from, label, 'bottom') + 2, ...size }
  })
}
