import { nth } from '../../graph'
import { join, type Id } from '../../model'
import { flowWays, isNeeded } from './carried'
import type { Device, Flow, Net } from './structure'
import { cutOffBy, isJoined, partsOf, topologyOf, weakIn, weaknessesOf, type Topology, type Weakness } from './topology'

/** What is lost when one or two devices or cables fail. */
export interface Worst {
  readonly ids: readonly Id[]
  readonly names: readonly string[]
  readonly cutOff: number
  readonly cutOffCritical: number
  readonly flowsLost: number
  readonly neededLost: number
}

/** Up to so many devices and cables every pair is tried; beyond, pairs of the worst by themselves and of those that most flows go through. */
export const MOST_IN_PAIRS = 120
/** Devices and cables walked through for these pairs, all in all: about a second. */
const MOST_WALKED = 2_000_000

interface Part {
  readonly id: Id
  readonly name: string
  /** Its number as a device or as a cable; −1 for what it is not. */
  readonly node: number
  readonly edge: number
}

export interface Losses {
  readonly singles: readonly Worst[]
  readonly pairs: readonly Worst[]
  /** Whether every pair has been tried. */
  readonly isExact: boolean
}

const known = new WeakMap<Net, Losses>()

/**
 * Every loss of one and of two, the worst first: by needed flows, then flows, critical devices, devices. O(devices + cables) for each loss of one that
 * cuts off or that a flow goes through, and for each pair that is tried.
 */
export function lossesOf(net: Net): Losses {
  const found = known.get(net)
  if (found) return found
  const topology = topologyOf(net)
  const parts: Part[] = [
    ...net.devices.map(({ id, name }, node) => ({ id, name, node, edge: -1 })),
    ...topology.cables.map(({ id, a, b }, edge) => ({
      id,
      name: `${a.device.name} ${a.name} – ${b.device.name} ${b.name}`,
      node: -1,
      edge,
    })),
  ]
  const loss = new Loss(net, topology)
  const singles = sorted(parts.map((part) => loss.of([part])))
  const isExact = parts.length <= MOST_IN_PAIRS
  const tried = isExact ? parts : likely(loss, parts, singles)
  const alone = new Map(singles.map((one) => [one.ids[0], rank(one)]))
  const pairs: Worst[] = []
  for (let i = 0; i < tried.length; i++)
    for (let j = i + 1; j < tried.length; j++) {
      const [one, other] = [nth(tried, i), nth(tried, j)]
      const both = loss.of([one, other])
      // A pair counts by what the two lose together that neither does alone.
      if (rank(both) > (alone.get(one.id) ?? 0) + (alone.get(other.id) ?? 0)) pairs.push(both)
    }
  const losses = { singles, pairs: sorted(pairs), isExact }
  known.set(net, losses)
  return losses
}

/** Parts that are worth being tried in pairs where there are too many. */
function likely({ uses }: Loss, parts: readonly Part[], singles: readonly Worst[]): Part[] {
  const busy = [...uses].sort((a, b) => b[1].length - a[1].length).map(([id]) => id)
  const each = Math.max(2, Math.floor(Math.sqrt(MOST_WALKED / (2 * parts.length))))
  const wanted = new Set([...busy.slice(0, each), ...singles.slice(0, each).flatMap(({ ids }) => ids)])
  return parts.filter(({ id }) => wanted.has(id))
}

/** What losses come to, without the ways that flows find instead. */
class Loss {
  /** The flows that go through a device, not at their ends, or through a cable. */
  readonly uses = new Map<Id, Flow[]>()
  readonly #endings = new Map<Id, Flow[]>()
  readonly #weak: ReadonlyMap<Id, Weakness>

  constructor(
    private readonly net: Net,
    private readonly topology: Topology,
  ) {
    for (const [flow, way] of flowWays(topology)) {
      if (!way) continue
      for (const { id } of [...way.devices.slice(1, -1), ...way.cables]) join(this.uses, id, flow)
      for (const id of new Set([flow.from.id, flow.to.id])) join(this.#endings, id, flow)
    }
    this.#weak = new Map(
      weaknessesOf(topology).map((weakness) => [
        'device' in weakness.of ? weakness.of.device.id : weakness.of.cable.id,
        weakness,
      ]),
    )
  }

  of(parts: readonly Part[]): Worst {
    const ended = parts.flatMap(({ id }) => this.#endings.get(id) ?? [])
    const through = parts.flatMap(({ id }) => this.uses.get(id) ?? [])
    const { cutOff, severed } = this.#plain(parts, through) ?? this.#search(parts, through)
    const lost = [...new Set([...ended, ...severed])]
    return {
      ids: parts.map(({ id }) => id),
      names: parts.map(({ name }) => name),
      cutOff: cutOff.length,
      cutOffCritical: cutOff.filter(({ critical }) => critical).length,
      flowsLost: lost.length,
      neededLost: lost.filter(isNeeded).length,
    }
  }

  /** What the loss of one comes to where that is known without a search. */
  #plain([part, more]: readonly Part[], through: readonly Flow[]) {
    if (!part || more) return undefined
    const weakness = this.#weak.get(part.id)
    const { nodes, edges } = weakIn(this.topology).parts
    if (weakness?.isPlain) {
      const cutOff = new Set(weakness.cutOff)
      return { cutOff: weakness.cutOff, severed: through.filter(({ from, to }) => cutOff.has(from) || cutOff.has(to)) }
    }
    return (nodes[part.node] ?? edges[part.edge]) === 1 ? undefined : { cutOff: [], severed: [] }
  }

  #search(parts: readonly Part[], through: readonly Flow[]) {
    const { net, topology } = this
    const down = {
      nodes: new Set(parts.flatMap(({ node }) => (node < 0 ? [] : [node]))),
      edges: new Set(parts.flatMap(({ edge }) => (edge < 0 ? [] : [edge]))),
    }
    const left = partsOf(topology, down)
    const at = ({ id }: Device) => topology.index.get(id) ?? -1
    return {
      cutOff: cutOffBy(topology, down, left).map((node) => nth(net.devices, node)),
      severed: through.filter(({ from, to }) => !isJoined(topology, down, left, at(from), at(to))),
    }
  }
}

const rank = (one: Worst): number => one.neededLost * 1e9 + one.flowsLost * 1e6 + one.cutOffCritical * 1e3 + one.cutOff
const sorted = (list: readonly Worst[]): Worst[] => [...list].sort((a, b) => rank(b) - rank(a))
