import { nth } from '../../graph'
import type { Ports } from './ports'
import type { Route } from './grid'
import type { FlowShape, ShapeNode } from './shape'

/** How far apart the turns of lines are that leave one side of a shape and spread. */
const STEP = 5
const CLEAR = 4
/** Lines may meet a side up to such a share of its half. */
const REACH = 0.92
/** Where they spread, they meet it nearer to its middle. */
const NEAR = { box: 0.8, diamond: 0.66, round: 0.66 } as const

/** Where one line meets its shape, and how far from the side it turns to its own place. */
interface Spread {
  readonly near: number
  readonly turn: number
}

/** Lines that need more room than the side of their shape has: a shape is never larger for them. */
export interface Fans {
  /** By edge; undefined where a line runs straight on from its place on the side. */
  readonly out: readonly (Spread | undefined)[]
  readonly in: readonly (Spread | undefined)[]
  /** By node: how far before its sides lines have turned. */
  readonly outReach: Float64Array
  readonly inReach: Float64Array
}

/**
 * Lines that leave or reach one side of a shape spread right beside it, the outermost first, so that they do not cross.
 * O(edges · log edges)
 */
export function fansOf({ nodes, edges }: FlowShape, routes: readonly Route[], ports: Ports): Fans {
  const leaving = nodes.map((): number[] => [])
  const arriving = nodes.map((): number[] => [])
  routes.forEach(({ exit, entry }, edge) => {
    const { from, to } = nth(edges, edge)
    if (exit === 'right') leaving[from]?.push(edge)
    if (entry === 'left' && to >= 0) arriving[to]?.push(edge)
  })
  const [out, outReach] = spreads(nodes, leaving, ports.out)
  const [into, inReach] = spreads(nodes, arriving, ports.in)
  return { out, in: into, outReach, inReach }
}

function spreads(
  nodes: readonly ShapeNode[],
  ends: readonly (readonly number[])[],
  offset: Float64Array,
): [(Spread | undefined)[], Float64Array] {
  const found: (Spread | undefined)[] = []
  const reach = new Float64Array(nodes.length)
  nodes.forEach(({ halfV, form }, node) => {
    const at = (edge: number) => nth(offset, edge)
    const own = ends[node] ?? []
    const most = Math.max(0, ...own.map((edge) => Math.abs(at(edge))))
    if (most <= halfV * REACH) return
    for (const side of [-1, 1]) {
      const list = own.filter((edge) => Math.sign(at(edge)) === side).sort((a, b) => Math.abs(at(b)) - Math.abs(at(a)))
      list.forEach((edge, place) => {
        found[edge] = { near: (at(edge) / most) * halfV * NEAR[form], turn: STEP * (place + 1) }
      })
      reach[node] = Math.max(nth(reach, node), list.length === 0 ? 0 : STEP * list.length + CLEAR)
    }
  })
  return [found, reach]
}
