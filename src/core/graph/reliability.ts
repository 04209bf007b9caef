import { dice } from './dice'
import { Heap } from './heap'
import { nth } from './order'
import type { Incidence } from './undirected'

/** A network whose nodes and edges are up by chance, each by itself. */
export interface Uncertain {
  readonly incidence: Incidence
  /** How likely a node is up, from 0 to 1. */
  readonly node: (node: number) => number
  readonly edge: (edge: number) => number
  readonly passes: (node: number) => boolean
}

export interface Reliability {
  readonly value: number
  /** Exact to the last digits that count, or by simulation. */
  readonly method: 'exact' | 'simulated'
}

/** Subproblems that are looked at, what of the chance may be left open, and draws of the simulation. */
const MOST_EVENTS = 4000
const LEFT_OPEN = 1e-10
const DRAWS = 40_000

interface Event {
  readonly up: ReadonlySet<number>
  readonly down: ReadonlySet<number>
  readonly chance: number
}

/**
 * How likely two nodes hang together: by taking a shortest way apart into the cases that all of it is up, or its first part is down, or only
 * its second, and so on (Dotson & Gobien 1979), the likeliest case first, until nothing that counts is left. Where that takes too many cases
 * it is simulated, with a seed of its own. O(cases × (nodes + edges))
 */
export function reliability(network: Uncertain, source: number, target: number): Reliability {
  const { nodes } = network.incidence.graph
  // A part is a node, or an edge behind all nodes.
  const chanceOf = (part: number) => (part < nodes ? network.node(part) : network.edge(part - nodes))
  const open = new Heap<Event>()
  open.push({ up: new Set(), down: new Set(), chance: 1 }, -1)
  let [value, left, count] = [0, 1, 0]
  for (let event = open.pop(); event !== undefined && left > LEFT_OPEN; event = open.pop()) {
    if (++count > MOST_EVENTS) return { value: simulated(network, source, target), method: 'simulated' }
    left -= event.chance
    const way = wayAvoiding(network, source, target, event.down)
    if (!way) continue
    const up = new Set(event.up)
    let { chance } = event
    for (const part of way) {
      if (up.has(part)) continue
      const own = chanceOf(part)
      const lost = chance * (1 - own)
      if (lost > 0) {
        left += lost
        open.push({ up: new Set(up), down: new Set([...event.down, part]), chance: lost }, -lost)
      }
      up.add(part)
      chance *= own
    }
    value += chance
  }
  return { value, method: 'exact' }
}

/** The nodes and edges of a shortest way that avoids some; undefined where there is none. */
function wayAvoiding(
  { incidence, passes }: Uncertain,
  source: number,
  target: number,
  down: ReadonlySet<number>,
): number[] | undefined {
  const { nodes } = incidence.graph
  if (down.has(source) || down.has(target)) return undefined
  const by = new Int32Array(nodes).fill(-2)
  by[source] = -1
  const queue = [source]
  for (const node of queue) {
    if (node === target) break
    if (node !== source && !passes(node)) continue
    for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
      const edge = incidence.edge(place)
      const next = incidence.other(edge, node)
      if (by[next] !== -2 || down.has(next) || down.has(nodes + edge)) continue
      by[next] = edge
      queue.push(next)
    }
  }
  if (by[target] === -2) return undefined
  const way: number[] = [target]
  for (let at = target; nth(by, at) >= 0;) {
    const edge = nth(by, at)
    way.push(nodes + edge)
    way.push((at = incidence.other(edge, at)))
  }
  return way
}

function simulated(network: Uncertain, source: number, target: number): number {
  const { nodes, edges } = network.incidence.graph
  const draw = dice(source * 7919 + target)
  let together = 0
  for (let round = 0; round < DRAWS; round++) {
    const down = new Set<number>()
    for (let node = 0; node < nodes; node++) if (network.node(node) < 1 && draw() >= network.node(node)) down.add(node)
    edges.forEach((_, edge) => {
      if (network.edge(edge) < 1 && draw() >= network.edge(edge)) down.add(nodes + edge)
    })
    if (wayAvoiding(network, source, target, down)) together++
  }
  return together / DRAWS
}
