import { Incidence, cutsOf, nearest, nth, wayTo } from '../../graph'
import { Recall, type Day, type Id, type Model } from '../../model'
import { capacityOf, netsOn, type Cable, type Device, type Net } from './structure'

/** A network as a graph: its devices by number, its cables as edges. A cable from a device to itself leads nowhere. */
export interface Topology {
  readonly net: Net
  readonly incidence: Incidence
  readonly index: ReadonlyMap<Id, number>
  readonly cables: readonly Cable[]
  readonly edgeOf: ReadonlyMap<Cable, number>
  /** Whether traffic goes through a device, and what a cable costs a way: little for a fast one. */
  readonly passes: Uint8Array
  readonly cost: Float64Array
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
  const topology: Topology = {
    net,
    incidence: new Incidence({ nodes: net.devices.length, edges }),
    index,
    cables,
    edgeOf: new Map(cables.map((cable, edge) => [cable, edge])),
    passes: Uint8Array.from(net.devices, (device) => (device.passes ? 1 : 0)),
    cost: Float64Array.from(cables, (cable) => 1 / (capacityOf(cable) ?? 1000)),
  }
  known.set(net, topology)
  return topology
}

export const passesAt =
  ({ passes }: Topology) =>
  (node: number): boolean =>
    passes[node] === 1

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
export function partsOf(
  { incidence, passes }: Topology,
  { nodes, edges }: Down,
): { part: Int32Array; sizes: number[] } {
  const count = passes.length
  const part = new Int32Array(count).fill(-1)
  const sizes: number[] = []
  const queue = new Int32Array(count)
  /** Takes a part of nodes that all pass on, or all do not. */
  const spread = (start: number, own: number) => {
    part[start] = sizes.length
    queue[0] = start
    let length = 1
    for (let at = 0; at < length; at++) {
      const node = nth(queue, at)
      for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
        const edge = incidence.edge(place)
        const next = incidence.other(edge, node)
        if (part[next] !== -1 || passes[next] !== own || edges.has(edge) || nodes.has(next)) continue
        part[next] = sizes.length
        queue[length++] = next
      }
    }
    sizes.push(length)
  }
  for (let node = 0; node < count; node++)
    if (passes[node] === 1 && part[node] === -1 && !nodes.has(node)) spread(node, 1)
  // How many hang on each part counts for which of them is the largest: all of those that they reach, before they choose.
  const eachReached = (node: number, tell: (part: number) => void) => {
    for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
      const edge = incidence.edge(place)
      const next = incidence.other(edge, node)
      if (passes[next] === 1 && !edges.has(edge) && !nodes.has(next)) tell(nth(part, next))
    }
  }
  const seen = new Int32Array(sizes.length).fill(-1)
  for (let node = 0; node < count; node++)
    if (passes[node] === 0 && !nodes.has(node))
      eachReached(node, (one) => {
        if (seen[one] === node) return
        seen[one] = node
        sizes[one] = nth(sizes, one) + 1
      })
  for (let node = 0; node < count; node++) {
    if (passes[node] === 1 || nodes.has(node)) continue
    let best = -1
    eachReached(node, (one) => {
      if (best < 0 || nth(sizes, one) > nth(sizes, best)) best = one
    })
    part[node] = best
  }
  // What is cabled to nothing but its like.
  for (let node = 0; node < count; node++)
    if (passes[node] === 0 && part[node] === -1 && !nodes.has(node)) spread(node, 0)
  return { part, sizes }
}

/** Devices that no longer hang together with the largest part of what they belonged to. O(devices + cables) */
export function cutOffBy(topology: Topology, down: Down): number[] {
  const whole = wholeOf(topology)
  const { part, sizes } = partsOf(topology, down)
  // Of each part of the whole the largest part that is left, the one with what is critical before others.
  const critical = new Int32Array(sizes.length)
  topology.net.devices.forEach((device, node) => {
    const own = nth(part, node)
    if (own >= 0 && device.critical) critical[own] = nth(critical, own) + 1
  })
  const largest = new Int32Array(whole.length).fill(-1)
  const weight = (one: number) => nth(sizes, one) * 1e6 + nth(critical, one)
  for (let node = 0; node < part.length; node++) {
    const [own, left] = [nth(whole, node), nth(part, node)]
    if (left >= 0 && (nth(largest, own) < 0 || weight(left) > weight(nth(largest, own)))) largest[own] = left
  }
  const cut: number[] = []
  for (let node = 0; node < part.length; node++)
    if (nth(part, node) >= 0 && largest[nth(whole, node)] !== part[node]) cut.push(node)
  return cut
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
    // What hangs on several places of one part loses nothing with one of its cables.
    const end = [a, b].find((node) => topology.passes[node] === 0 && incidence.degree(node) > 1)
    if (end !== undefined && isWithin(topology, end)) return
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

/** Whether all that a device is cabled to passes traffic on, and belongs to one part of the network. */
function isWithin(topology: Topology, node: number): boolean {
  const { incidence, passes } = topology
  const whole = wholeOf(topology)
  for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
    const next = incidence.other(incidence.edge(place), node)
    if (passes[next] !== 1 || whole[next] !== whole[node]) return false
  }
  return true
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
        cost: (edge) => nth(topology.cost, edge),
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

/** `lan1 – p1, p3 – eth0`: the ports that a way leads through. */
export function portsOf({ cables, devices }: Way): string {
  return cables
    .map(({ a, b }, at) => (a.device === devices[at] ? `${a.name} – ${b.name}` : `${b.name} – ${a.name}`))
    .join(', ')
}

const all = new Recall<readonly Topology[]>()
export const topologiesOn = (model: Model, day: Day): readonly Topology[] =>
  all.of(model, day, () => netsOn(model, day).map(topologyOf))
