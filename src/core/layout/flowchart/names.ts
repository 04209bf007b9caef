import { nth } from '../../graph'
import { besideOf, type Beside } from './beside'
import type { Route } from './grid'
import type { Ports } from './ports'
import { PAD } from './room'
import type { Area, FlowShape, ShapeNode, Spot } from './shape'

/** Where the name of a shape stands that has no room within it, and how much farther off because it reaches over what is beside its shape. */
interface NamePlace {
  readonly at: 'above' | 'below' | 'corner'
  readonly lift: number
}

/** Where names stand, and how far lines and labels beside a shape reach above and below it. */
export interface Names {
  readonly places: readonly (NamePlace | undefined)[]
  readonly beside: Beside
}

/** A name stands on the side of its shape that no line uses: a diamond’s above, if it can, a circle’s below. O(nodes + edges) */
export function namesOf(shape: FlowShape, routes: readonly Route[], ports: Ports): Names {
  const { nodes, edges } = shape
  const used = { top: new Set<number>(), bottom: new Set<number>() }
  routes.forEach(({ exit, entry }, edge) => {
    const { from, to } = nth(edges, edge)
    if (exit === 'top' || exit === 'bottom') used[exit].add(from)
    if ((entry === 'top' || entry === 'bottom') && to >= 0) used[entry].add(to)
  })
  const beside = besideOf(shape, routes, ports)
  const places = nodes.map((node, index): NamePlace | undefined => {
    if (!node.name) return undefined
    const [top, bottom] = [!used.top.has(index), !used.bottom.has(index)]
    const at =
      node.form === 'diamond'
        ? top
          ? 'above'
          : bottom
            ? 'below'
            : 'corner'
        : bottom
          ? 'below'
          : top
            ? 'above'
            : 'corner'
    return { at, lift: liftOf(node, index, at, beside) }
  })
  return { places, beside }
}

function liftOf({ name, halfU, halfV }: ShapeNode, node: number, at: NamePlace['at'], beside: Beside): number {
  if (!name) return 0
  const over = (reach: number) => reach > halfU + 3
  const right = at !== 'corner' && over(name.u / 2)
  const left = over(at === 'corner' ? name.u + 7 : name.u / 2)
  const [rights, lefts] = at === 'below' ? [beside.rightBottom, beside.leftBottom] : [beside.rightTop, beside.leftTop]
  const taken = Math.max(right ? nth(rights, node) : 0, left ? nth(lefts, node) : 0)
  return Math.max(0, taken - halfV - PAD.name)
}

/** How far a name makes its shape reach above and below the middle. */
export function reachOf({ name, halfV }: ShapeNode, place: NamePlace | undefined): { above: number; below: number } {
  const more = name && place ? name.v + PAD.name + place.lift : 0
  return place?.at === 'below' ? { above: halfV, below: halfV + more } : { above: halfV + more, below: halfV }
}

/** How far a shape with its name reaches to one side along the flow. */
export const halfOf = ({ halfU, name }: ShapeNode, place: NamePlace | undefined): number =>
  Math.max(halfU, name ? (place?.at === 'corner' ? name.u + 8 : name.u / 2) : 0)

export function nameArea({ name, halfV }: ShapeNode, spot: Spot, place: NamePlace | undefined): Area | undefined {
  if (!name || !place) return undefined
  const size = { du: name.u, dv: name.v }
  const off = halfV + PAD.name + place.lift
  if (place.at === 'below') return { u: spot.u - name.u / 2, v: spot.v + off, ...size }
  const v = spot.v - off - name.v
  return { u: place.at === 'above' ? spot.u - name.u / 2 : spot.u - 7 - name.u, v, ...size }
}
