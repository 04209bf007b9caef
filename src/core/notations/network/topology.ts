import { Incidence, cutsOf, nth } from '../../graph'
import { grouped, Recall, type Day, type Id, type Model } from '../../model'
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
  /** By cable all cables of the link that it belongs to, itself among them: several between two switches are one (IEEE 802.1AX, §6.2). */
  readonly links: ReadonlyMap<Cable, readonly Cable[]>
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
  const links = linksOf(cables)
  const costs = new Map(
    [...new Set(links.values())].map((link): [readonly Cable[] | undefined, number] => [link, costOf(link)]),
  )
  const topology: Topology = {
    net,
    links,
    incidence: new Incidence({ nodes: net.devices.length, edges }),
    index,
    cables,
    edgeOf: new Map(cables.map((cable, edge) => [cable, edge])),
    passes: Uint8Array.from(net.devices, (device) => (device.passes ? 1 : 0)),
    cost: Float64Array.from(cables, (cable) => costs.get(links.get(cable)) ?? costOf([cable])),
  }
  known.set(net, topology)
  return topology
}

const costOf = (link: readonly Cable[]): number => 1 / link.reduce((sum, one) => sum + (capacityOf(one) ?? 1000), 0)

/** What a cable costs a way while some are out of order: as much as those of its link that are left. O(cables of the link) */
export function costWithout({ links, cables, cost, edgeOf }: Topology, edge: number, { edges }: Down): number {
  const link = edges.size === 0 ? undefined : links.get(nth(cables, edge))
  return link ? costOf(link.filter((cable) => !edges.has(edgeOf.get(cable) ?? -1))) : nth(cost, edge)
}

/** Links of more than one cable, by each of these. O(cables) */
function linksOf(cables: readonly Cable[]): ReadonlyMap<Cable, readonly Cable[]> {
  const isSwitch = ({ type }: Device) => type === 'switch'
  const joining = cables.filter(({ a, b }) => isSwitch(a.device) && isSwitch(b.device))
  const pairs = grouped(joining, ({ a, b }) => [a.device.id, b.device.id].sort().join(' '))
  return new Map([...pairs.values()].flatMap((link) => (link.length < 2 ? [] : link.map((cable) => [cable, link]))))
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

/**
 * Devices that no longer hang together with the largest part of what they belonged to. What passes nothing on belongs where it usually does, as
 * long as it is cabled to anything of that. O(devices + cables)
 */
export function cutOffBy(topology: Topology, down: Down, { part, sizes } = partsOf(topology, down)): number[] {
  const { incidence, passes, net } = topology
  const whole = wholeOf(topology)
  // Of each part of the whole the largest part that is left, the one with what is critical before others.
  const critical = new Int32Array(sizes.length)
  net.devices.forEach((device, node) => {
    const own = nth(part, node)
    if (own >= 0 && device.critical) critical[own] = nth(critical, own) + 1
  })
  const largest = new Int32Array(whole.length).fill(-1)
  const weight = (one: number) => nth(sizes, one) * 1e6 + nth(critical, one)
  const enter = (node: number) => {
    const [own, left] = [nth(whole, node), nth(part, node)]
    if (left >= 0 && (nth(largest, own) < 0 || weight(left) > weight(nth(largest, own)))) largest[own] = left
  }
  for (let node = 0; node < part.length; node++) if (passes[node] === 1) enter(node)
  const passing = Uint8Array.from(largest, (one) => (one < 0 ? 0 : 1))
  for (let node = 0; node < part.length; node++) if (passing[nth(whole, node)] === 0) enter(node)
  const isAt = (node: number, wanted: number): boolean => {
    for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
      const edge = incidence.edge(place)
      const next = incidence.other(edge, node)
      if (passes[next] === 1 && part[next] === wanted && !down.edges.has(edge)) return true
    }
    return false
  }
  const cut: number[] = []
  for (let node = 0; node < part.length; node++) {
    if (nth(part, node) < 0) continue
    const wanted = nth(largest, nth(whole, node))
    if (part[node] !== wanted && (passes[node] === 1 || !isAt(node, wanted))) cut.push(node)
  }
  return cut
}

/** Whether anything leads from one device to another while something is out of order. O(cables of the two) */
export function isJoined(
  { incidence, passes }: Topology,
  { nodes, edges }: Down,
  { part }: { readonly part: Int32Array },
  a: number,
  b: number,
): boolean {
  if (nodes.has(a) || nodes.has(b)) return false
  if (a === b) return true
  const reached = new Set(passes[a] === 1 ? [nth(part, a)] : [])
  for (let place = incidence.first(a); place < incidence.first(a + 1); place++) {
    const edge = incidence.edge(place)
    const next = incidence.other(edge, a)
    if (edges.has(edge) || nodes.has(next)) continue
    if (next === b) return true
    if (passes[a] === 0 && passes[next] === 1) reached.add(nth(part, next))
  }
  if (passes[b] === 1) return reached.has(nth(part, b))
  for (let place = incidence.first(b); place < incidence.first(b + 1); place++) {
    const edge = incidence.edge(place)
    const next = incidence.other(edge, b)
    if (!edges.has(edge) && !nodes.has(next) && passes[next] === 1 && reached.has(nth(part, next))) return true
  }
  return false
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
  /** Whether that is all that changes: what is cut off hangs on it alone, and nothing else goes elsewhere. */
  readonly isPlain: boolean
}

export interface Weaknesses {
  readonly list: readonly Weakness[]
  /** Devices and cables, by number, whose loss may part some from others: 1 where it has to be looked at. */
  readonly parts: { readonly nodes: Uint8Array; readonly edges: Uint8Array }
}

const weak = new WeakMap<Topology, Weaknesses>()

/**
 * Every device and cable whose loss alone cuts others off, with those. Only articulation points and bridges can be such: of the network in
 * which what passes nothing on stands once at each of its cables. O(devices + cables) for these, and as much again for each of them.
 */
export const weaknessesOf = (topology: Topology): readonly Weakness[] => weakIn(topology).list

export function weakIn(topology: Topology): Weaknesses {
  const known = weak.get(topology)
  if (known) return known
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
  const parts = { nodes: new Uint8Array(nodes), edges: new Uint8Array(edges.length) }
  const add = (of: Weakness['of'], down: Partial<Down>) => {
    for (const node of down.nodes ?? []) parts.nodes[node] = 1
    for (const edge of down.edges ?? []) parts.edges[edge] = 1
    const cutOff = cutOffBy(topology, { ...NOTHING_DOWN, ...down }).map((node) => nth(net.devices, node))
    if (cutOff.length > 0) list.push({ of, cutOff, isPlain: false })
  }
  const isMeeting = (node: number) =>
    topology.passes[node] === 0 && incidence.degree(node) > 1 && hangsOnItsLike(topology, node)
  for (let node = 0; node < nodes; node++) {
    const loss = nth(cuts.byNode, node).nodes
    if (loss === 0 && !isMeeting(node)) continue
    // Where all that is lost hangs on its cables alone, that needs no search.
    const hung = hangingOn(topology, node, loss)
    const device = nth(net.devices, node)
    if (!hung) add({ device }, { nodes: new Set([node]) })
    else if (hung.length > 0)
      list.push({ of: { device }, cutOff: hung.map((one) => nth(net.devices, one)), isPlain: true })
  }
  cuts.byEdge.forEach((loss, edge) => {
    if (loss.nodes === 0) return
    const [a, b] = nth(edges, edge)
    // What hangs on several places of one part loses nothing with one of its cables.
    const end = [a, b].find((node) => topology.passes[node] === 0 && incidence.degree(node) > 1)
    if (end !== undefined && isWithin(topology, end)) return
    // What hangs on one cable alone is cut off with it: that needs no search.
    const alone = [a, b].find((node) => incidence.degree(node) === 1)
    const cable = nth(cables, edge)
    const other = a === alone ? b : a
    if (alone !== undefined && topology.passes[other] === 1 && incidence.degree(other) > 1)
      list.push({ of: { cable }, cutOff: [nth(net.devices, alone)], isPlain: true })
    else add({ cable }, { edges: new Set([edge]) })
  })
  const weaknesses = { list, parts }
  weak.set(topology, weaknesses)
  return weaknesses
}

/**
 * What hangs on one device alone, in order, where the so many places that its loss cuts off are all next to it; undefined where they are not. A place is
 * what has one cable, or one of several cables of what passes nothing on and is held by another.
 */
function hangingOn(topology: Topology, node: number, places: number): number[] | undefined {
  const { incidence, passes } = topology
  if (passes[node] === 0) return undefined
  const whole = wholeOf(topology)
  const alone: number[] = []
  let held = 0
  for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
    const next = incidence.other(incidence.edge(place), node)
    if (incidence.degree(next) === 1) alone.push(next)
    else if (passes[next] === 0) {
      let isHeld = false
      for (let far = incidence.first(next); far < incidence.first(next + 1); far++) {
        const other = incidence.other(incidence.edge(far), next)
        isHeld ||= other !== node && passes[other] === 1 && whole[other] === whole[next]
      }
      if (!isHeld) return undefined
      held++
    }
  }
  return alone.length + held === places ? alone.sort((a, b) => a - b) : undefined
}

/** Whether a device is cabled to nothing that passes traffic on. */
function hangsOnItsLike({ incidence, passes }: Topology, node: number): boolean {
  for (let place = incidence.first(node); place < incidence.first(node + 1); place++)
    if (passes[incidence.other(incidence.edge(place), node)] === 1) return false
  return true
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

const all = new Recall<readonly Topology[]>()
export const topologiesOn = (model: Model, day: Day): readonly Topology[] =>
  all.of(model, day, () => netsOn(model, day).map(topologyOf))
