import { Incidence, nth } from '../../graph'
import type { Cable, Device } from './structure'
import { costWithout, NOTHING_DOWN, type Down, type Topology } from './topology'

/** A way through the network. */
export interface Way {
  readonly cables: readonly Cable[]
  /** All devices on it, both ends included. */
  readonly devices: readonly Device[]
}

/** What passes traffic on: ways lead through these alone, and to others only at their ends. */
interface Core {
  /** The number of each device among those that pass on; −1 for others. */
  readonly of: Int32Array
  readonly nodes: readonly number[]
  readonly incidence: Incidence
  /** By edge of the core its edge of the network. */
  readonly edges: readonly number[]
}

const cores = new WeakMap<Topology, Core>()

/** O(devices + cables), once for each network. */
function coreOf(topology: Topology): Core {
  const found = cores.get(topology)
  if (found) return found
  const { passes, incidence } = topology
  const of = new Int32Array(passes.length).fill(-1)
  const nodes: number[] = []
  passes.forEach((one, node) => {
    if (one === 1) of[node] = nodes.push(node) - 1
  })
  const edges: number[] = []
  const pairs = incidence.graph.edges.flatMap(([a, b], edge) => {
    const [one, other] = [nth(of, a), nth(of, b)]
    if (one < 0 || other < 0) return []
    edges.push(edge)
    return [[one, other] as const]
  })
  const core = { of, nodes, incidence: new Incidence({ nodes: nodes.length, edges: pairs }), edges }
  cores.set(topology, core)
  return core
}

/** How what passes on is reached from one device. */
interface Reached {
  /** Cables away from it; −1 for what is not reached. */
  readonly steps: Int32Array
  /** The sum of what the cables cost on the way there. */
  readonly price: Float64Array
  /** The last cable of the way there. */
  readonly by: Int32Array
  /** When it was come to. */
  readonly turn: Int32Array
}

/** Ways from one device to others: of the fewest cables, then the fastest, then those stated first. */
export class Ways {
  readonly #reached = new Map<number, Reached>()

  constructor(
    readonly topology: Topology,
    private readonly down: Down = NOTHING_DOWN,
  ) {}

  /** O(what passes on and the cables between it) for the first way from a device, then O(way + cables at its end). */
  between(from: Device, to: Device): Way | undefined {
    const { topology, down } = this
    const [a, b] = [topology.index.get(from.id) ?? -1, topology.index.get(to.id) ?? -1]
    if (a < 0 || b < 0 || down.nodes.has(a) || down.nodes.has(b)) return undefined
    if (a === b) return wayOf(topology, a, [])
    const reached = this.#reached.get(a) ?? this.#reach(a)
    this.#reached.set(a, reached)
    const { of } = coreOf(topology)
    const last = topology.passes[b] === 1 ? nth(reached.by, nth(of, b)) : this.#lastTo(a, b, reached)
    if (last < 0) return undefined
    const edges: number[] = []
    for (let [edge, at] = [last, b]; ;) {
      edges.push(edge)
      at = topology.incidence.other(edge, at)
      if (at === a) break
      edge = nth(reached.by, nth(of, at))
    }
    return wayOf(topology, a, edges.reverse())
  }

  #reach(start: number): Reached {
    const { topology, down } = this
    const { of, nodes, incidence, edges } = coreOf(topology)
    const count = nodes.length
    const reached = {
      steps: new Int32Array(count).fill(-1),
      price: new Float64Array(count),
      by: new Int32Array(count).fill(-1),
      turn: new Int32Array(count),
    }
    const { steps, price, by, turn } = reached
    const queue = new Int32Array(count)
    let length = 0
    const come = (next: number, step: number, whole: number, edge: number) => {
      const known = nth(steps, next)
      if (known >= 0 && (known !== step || whole >= nth(price, next))) return
      if (down.edges.has(edge) || down.nodes.has(nth(nodes, next))) return
      if (known < 0) {
        steps[next] = step
        turn[next] = length
        queue[length++] = next
      }
      price[next] = whole
      by[next] = edge
    }
    if (nth(of, start) >= 0) {
      steps[nth(of, start)] = 0
      queue[length++] = nth(of, start)
    } else {
      const all = topology.incidence
      for (let place = all.first(start); place < all.first(start + 1); place++) {
        const edge = all.edge(place)
        const next = nth(of, all.other(edge, start))
        if (next >= 0) come(next, 1, costWithout(topology, edge, down), edge)
      }
    }
    // What is come to stands in the order of its steps, so that its price is settled before it is left.
    for (let at = 0; at < length; at++) {
      const node = nth(queue, at)
      for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
        const own = incidence.edge(place)
        const edge = nth(edges, own)
        come(
          incidence.other(own, node),
          nth(steps, node) + 1,
          nth(price, node) + costWithout(topology, edge, down),
          edge,
        )
      }
    }
    return reached
  }

  /** The last cable to a device that passes nothing on; −1 where none leads there. */
  #lastTo(a: number, b: number, { steps, price, turn }: Reached): number {
    const { topology, down } = this
    const { incidence } = topology
    const { of } = coreOf(topology)
    let best = { edge: -1, steps: Infinity, price: Infinity, turn: Infinity }
    for (let place = incidence.first(b); place < incidence.first(b + 1); place++) {
      const edge = incidence.edge(place)
      if (down.edges.has(edge)) continue
      const before = incidence.other(edge, b)
      const core = nth(of, before)
      if (before !== a && (core < 0 || nth(steps, core) < 0)) continue
      const found =
        before === a
          ? { edge, steps: 1, price: costWithout(topology, edge, down), turn: -1 }
          : {
              edge,
              steps: nth(steps, core) + 1,
              price: nth(price, core) + costWithout(topology, edge, down),
              turn: nth(turn, core),
            }
      if ((found.steps - best.steps || found.price - best.price || found.turn - best.turn) < 0) best = found
    }
    return best.edge
  }
}

/** Ways of all networks while nothing is out of order, remembered with what they lead through. */
const ways = new WeakMap<Topology, Ways>()
export function waysOf(topology: Topology): Ways {
  const found = ways.get(topology) ?? new Ways(topology)
  ways.set(topology, found)
  return found
}

export function wayOf({ net, cables, incidence }: Topology, from: number, edges: readonly number[]): Way {
  let at = from
  const devices = [nth(net.devices, at)]
  for (const edge of edges) devices.push(nth(net.devices, (at = incidence.other(edge, at))))
  return { cables: edges.map((edge) => nth(cables, edge)), devices }
}

/** `lan1 – p1, p3 – eth0`: the ports that a way leads through. */
export function portsOf({ cables, devices }: Way): string {
  return cables
    .map(({ a, b }, at) => (a.device === devices[at] ? `${a.name} – ${b.name}` : `${b.name} – ${a.name}`))
    .join(', ')
}
