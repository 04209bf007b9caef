import { Incidence, cutsOf, nearest, nth, wayTo } from '../../graph'
import { Recall, type Day, type Id, type Model } from '../../model'
import { capacityOf, netsOn, type Cable, type Device, type Net } from './structure'

/** A network as a graph: its devices by number, its cables as edges. A cable from a device to itself leads nowhere. */
export interface Topology {
  readonly net: Net
  readonly incidence: Incidence
  readonly index: ReadonlyMap<Id, number>
  readonly cables: readonly Cable[]
}

const known = new WeakMap<Net, Topology>()

/** O(devices + cables), once for each network of a model and day. */
export function topologyOf(net: Net): Topology {
  const found = known.get(net)
  if (found) return found
  const index = new Map(net.devices.map(({ id }, at) => [id, at]))
  const at = ({ id }: Device) => index.get(id) ?? -1
  const cables = net.cables.filter(({ a, b }) => a.device !== b.device)
  const edges = cables.map(({ a, b }) => [at(a.device), at(b.device)] as const)
  const topology: Topology = { net, incidence: new Incidence({ nodes: net.devices.length, edges }), index, cables }
  known.set(net, topology)
  return topology
}

export const passesAt =
  ({ net }: Topology) =>
  (node: number): boolean =>
    nth(net.devices, node).passes

/** What is out of order: devices and cables by number. */
export interface Down {
  readonly nodes: ReadonlySet<number>
  readonly edges: ReadonlySet<number>
}
export const NOTHING_DOWN: Down = { nodes: new Set(), edges: new Set() }

/**
 * The part of the network that each device is in, by number, while something is out of order; −1 for what is. A device that passes nothing
 * on does not join those it is cabled to, and is in the largest of their parts. O(devices + cables)
 */
export function partsOf({ net, incidence }: Topology, { nodes, edges }: Down): { part: Int32Array; sizes: number[] } {
  const part = new Int32Array(net.devices.length).fill(-1)
  const sizes: number[] = []
  const up = (node: number) => !nodes.has(node)
  const neighbours = (node: number): number[] => {
    const list: number[] = []
    for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
      const edge = incidence.edge(place)
      const next = incidence.other(edge, node)
      if (!edges.has(edge) && up(next)) list.push(next)
    }
    return list
  }
  const spread = (start: number, within: (node: number) => boolean) => {
    part[start] = sizes.length
    const queue = [start]
    for (const node of queue)
      for (const next of neighbours(node))
        if (nth(part, next) < 0 && within(next)) {
          part[next] = sizes.length
          queue.push(next)
        }
    sizes.push(queue.length)
  }
  const passes = (node: number) => nth(net.devices, node).passes
  for (let node = 0; node < part.length; node++)
    if (up(node) && passes(node) && nth(part, node) < 0) spread(node, passes)
  // How many hang on each part counts for which of them is the largest: all of those that they reach, before they choose.
  const ends = [...part.keys()].filter((node) => up(node) && !passes(node))
  const reached = ends.map(
    (node) => new Set(neighbours(node).flatMap((next) => (passes(next) ? [nth(part, next)] : []))),
  )
  for (const list of reached) for (const one of list) sizes[one] = nth(sizes, one) + 1
  ends.forEach((node, at) => {
    let best = -1
    for (const one of nth(reached, at)) if (best < 0 || nth(sizes, one) > nth(sizes, best)) best = one
    part[node] = best
  })
  // What is cabled to nothing but its like.
  for (const node of ends) if (nth(part, node) < 0) spread(node, (next) => !passes(next) && nth(part, next) < 0)
  return { part, sizes }
}

/** Devices that no longer hang together with the largest part of what they belonged to. O(devices + cables) */
export function cutOffBy(topology: Topology, down: Down): number[] {
  const whole = wholeOf(topology)
  const { part, sizes } = partsOf(topology, down)
  // Of each part of the whole the largest part that is left, the one with what is critical before others.
  const largest = new Map<number, number>()
  const critical = new Map<number, number>()
  for (let node = 0; node < part.length; node++)
    if (nth(part, node) >= 0 && nth(topology.net.devices, node).critical)
      critical.set(nth(part, node), (critical.get(nth(part, node)) ?? 0) + 1)
  const weight = (one: number) => nth(sizes, one) * 1e6 + (critical.get(one) ?? 0)
  for (let node = 0; node < part.length; node++) {
    const [own, left] = [nth(whole, node), nth(part, node)]
    if (left < 0) continue
    const known = largest.get(own)
    if (known === undefined || weight(left) > weight(known)) largest.set(own, left)
  }
  return [...part.keys()].filter((node) => nth(part, node) >= 0 && largest.get(nth(whole, node)) !== nth(part, node))
}

const wholes = new WeakMap<Topology, Int32Array>()
/** The part that each device is in while all is in order. */
export function wholeOf(topology: Topology): Int32Array {
  const found = wholes.get(topology) ?? partsOf(topology, NOTHING_DOWN).part
  wholes.set(topology, found)
  return found
}

/** A device or a cable whose loss cuts others off. */
export interface Weakness {
  readonly of: { readonly device: Device } | { readonly cable: Cable }
  readonly cutOff: readonly Device[]
}

const weak = new WeakMap<Topology, readonly Weakness[]>()

/**
 * Every device and cable whose loss alone cuts others off, with those. Only articulation points and bridges can be such: of the network in
 * which what passes nothing on stands once at each of its cables. O(devices + cables) for these, and as much again for each of them.
 */
export function weaknessesOf(topology: Topology): readonly Weakness[] {
  const found = weak.get(topology)
  if (found) return found
  const { net, cables, incidence } = topology
  const { nodes, edges } = incidence.graph
  let count = nodes
  const taken = new Uint8Array(nodes)
  const own = (node: number): number => {
    if (nth(net.devices, node).passes) return node
    if (nth(taken, node) === 0) return ((taken[node] = 1), node)
    return count++
  }
  const split = edges.map(([a, b]) => [own(a), own(b)] as const)
  const cuts = cutsOf(new Incidence({ nodes: count, edges: split }))
  const list: Weakness[] = []
  const add = (of: Weakness['of'], down: Partial<Down>) => {
    const cutOff = cutOffBy(topology, { ...NOTHING_DOWN, ...down }).map((node) => nth(net.devices, node))
    if (cutOff.length > 0) list.push({ of, cutOff })
  }
  for (let node = 0; node < nodes; node++)
    if (nth(cuts.byNode, node).nodes > 0) add({ device: nth(net.devices, node) }, { nodes: new Set([node]) })
  cuts.byEdge.forEach((loss, edge) => {
    if (loss.nodes === 0) return
    const [a, b] = nth(edges, edge)
    // What hangs on one cable alone is cut off with it: that needs no search.
    const alone = [a, b].find((node) => incidence.degree(node) === 1)
    const cable = nth(cables, edge)
    if (alone !== undefined && incidence.degree(a === alone ? b : a) > 1)
      list.push({ of: { cable }, cutOff: [nth(net.devices, alone)] })
    else add({ cable }, { edges: new Set([edge]) })
  })
  weak.set(topology, list)
  return list
}

/** A way through the network. */
export interface Way {
  readonly cables: readonly Cable[]
  /** All devices on it, both ends included. */
  readonly devices: readonly Device[]
}

/** Ways from one device to others: of the fewest cables, then the fastest. */
export class Ways {
  readonly #found = new Map<number, ReturnType<typeof nearest>>()

  constructor(
    readonly topology: Topology,
    private readonly down: Down = NOTHING_DOWN,
  ) {}

  /** O(devices + cables) for the first way from a device, then O(way). */
  between(from: Device, to: Device): Way | undefined {
    const { topology, down } = this
    const [a, b] = [topology.index.get(from.id) ?? -1, topology.index.get(to.id) ?? -1]
    if (a < 0 || b < 0 || down.nodes.has(a) || down.nodes.has(b)) return undefined
    const passes = passesAt(topology)
    const found =
      this.#found.get(a) ??
      nearest(topology.incidence, a, {
        cost: (edge) => slowness(nth(topology.cables, edge)),
        passes: (node) => passes(node) && !down.nodes.has(node),
        closed: (edge) => down.edges.has(edge),
      })
    this.#found.set(a, found)
    const edges = wayTo(topology.incidence, found, b)
    return edges && wayOf(topology, a, edges)
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

/** What a cable costs a way: little for a fast one. */
const slowness = (cable: Cable): number => 1 / (capacityOf(cable) ?? 1000)

/** `lan1 – p1, p3 – eth0`: the ports that a way leads through. */
export function portsOf({ cables, devices }: Way): string {
  return cables
    .map(({ a, b }, at) => (a.device === devices[at] ? `${a.name} – ${b.name}` : `${b.name} – ${a.name}`))
    .join(', ')
}

const all = new Recall<readonly Topology[]>()
export const topologiesOn = (model: Model, day: Day): readonly Topology[] =>
  all.of(model, day, () => netsOn(model, day).map(topologyOf))
