import { nth } from '../../graph'
import type { Route } from './grid'
import type { Ports } from './ports'
import type { FlowShape } from './shape'

/** How far lines and their labels beside a shape reach above and below its middle. */
export interface Beside {
  readonly rightTop: Float64Array
  readonly rightBottom: Float64Array
  readonly leftTop: Float64Array
  readonly leftBottom: Float64Array
}

const GAP = 2

/** What lines that leave to the right and arrive from the left take above and below the middle of their nodes. O(edges) */
export function besideOf({ nodes, edges }: FlowShape, routes: readonly Route[], ports: Ports): Beside {
  const zeros = () => new Float64Array(nodes.length)
  const found = { rightTop: zeros(), rightBottom: zeros(), leftTop: zeros(), leftBottom: zeros() }
  const widen = (top: Float64Array, bottom: Float64Array, node: number, above: number, below: number) => {
    top[node] = Math.max(nth(top, node), above)
    bottom[node] = Math.max(nth(bottom, node), below)
  }
  edges.forEach(({ from, to, label }, edge) => {
    const { exit, entry } = nth(routes, edge)
    const [out, into] = [nth(ports.out, edge), nth(ports.in, edge)]
    if (exit === 'right')
      widen(found.rightTop, found.rightBottom, from, (label ? label.v + GAP : 0) - out + GAP, out + GAP)
    if (entry === 'left' && to >= 0) widen(found.leftTop, found.leftBottom, to, GAP - into, into + GAP)
  })
  return found
}
