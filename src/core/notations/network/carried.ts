import { numberOf, textOf } from '../../notation'
import { nth } from '../../graph'
import { capacityOf, type Cable, type Device, type Flow, type Net } from './structure'
import { cutOffBy, NOTHING_DOWN, topologyOf, type Down, type Topology } from './topology'
import { Ways, waysOf, type Way } from './ways'

/** The way that each flow takes; undefined for one that finds none. */
export type FlowWays = ReadonlyMap<Flow, Way | undefined>

/** O(devices + cables) for each device that something is sent from, once for each network. */
export function flowWays(topology: Topology): FlowWays {
  const found = usual.get(topology) ?? foundBy(waysOf(topology), topology.net.flows)
  usual.set(topology, found)
  return found
}
const usual = new WeakMap<Topology, FlowWays>()

const foundBy = (ways: Ways, flows: readonly Flow[]): FlowWays =>
  new Map(flows.map((flow) => [flow, ways.between(flow.from, flow.to)]))

/** The ways that flows take while something is out of order: those that do not lead there stay as they are. */
function waysWithout(topology: Topology, down: Down): FlowWays {
  const ways = new Ways(topology, down)
  const isTouched = ({ devices, cables }: Way) =>
    devices.some(({ id }) => down.nodes.has(topology.index.get(id) ?? -1)) ||
    cables.some((cable) => down.edges.has(topology.edgeOf.get(cable) ?? -1))
  return new Map(
    [...flowWays(topology)].map(([flow, way]) => [
      flow,
      way && isTouched(way) ? ways.between(flow.from, flow.to) : way,
    ]),
  )
}

/** What a cable carries, in Mbit/s, and which way: from its first port to its second, the other way round. */
export interface Carried {
  readonly load: number
  readonly onward: boolean
  readonly back: boolean
  readonly flows: readonly Flow[]
}

/**
 * What flows put on each cable that they go through; a flow counts on each cable of its way, in both directions together. Cables of one link share what
 * goes along it by what each carries. O(flows × their ways + cables)
 */
function carriedBy(topology: Topology, ways: FlowWays, down: Down = NOTHING_DOWN): ReadonlyMap<Cable, Carried> {
  const carried = new Map<Cable, Load>()
  for (const [flow, way] of ways) {
    if (!way) continue
    const both = (textOf(flow.relation, 'direction') ?? 'one way') !== 'one way'
    way.cables.forEach((cable, at) => {
      const known = carried.get(cable) ?? { load: 0, onward: false, back: false, flows: [] }
      carried.set(cable, known)
      const isOnward = cable.a.device === nth(way.devices, at)
      known.load += numberOf(flow.relation, 'load') ?? 0
      known.flows.push(flow)
      if (isOnward || both) known.onward = true
      if (!isOnward || both) known.back = true
    })
  }
  for (const link of new Set(topology.links.values()))
    for (const [cable, share] of shared(
      link.filter((one) => !down.edges.has(topology.edgeOf.get(one) ?? -1)),
      carried,
    ))
      carried.set(cable, share)
  return carried
}

type Load = { load: number; onward: boolean; back: boolean; flows: Flow[] }

/** What each cable of a link carries of all that goes along it; nothing where nothing does. */
function shared(link: readonly Cable[], carried: ReadonlyMap<Cable, Load>): (readonly [Cable, Load])[] {
  const [first] = link
  const used = link.flatMap((cable) => {
    const own = carried.get(cable)
    return own ? [{ cable, own }] : []
  })
  if (!first || used.length === 0) return []
  const load = used.reduce((sum, { own }) => sum + own.load, 0)
  const flows = used.flatMap(({ own }) => own.flows)
  // Said the same way round for all of them: by the devices at their ends.
  const isTurned = (cable: Cable) => cable.a.device !== first.a.device
  const onward = used.some(({ cable, own }) => (isTurned(cable) ? own.back : own.onward))
  const back = used.some(({ cable, own }) => (isTurned(cable) ? own.onward : own.back))
  const known = link.flatMap((cable) => capacityOf(cable) ?? [])
  const usual = known.length === 0 ? 1 : known.reduce((sum, one) => sum + one, 0) / known.length
  const whole = link.reduce((sum, cable) => sum + (capacityOf(cable) ?? usual), 0)
  return link.map((cable) => [
    cable,
    {
      load: whole === 0 ? load / link.length : (load * (capacityOf(cable) ?? usual)) / whole,
      onward: isTurned(cable) ? back : onward,
      back: isTurned(cable) ? onward : back,
      flows,
    },
  ])
}

/** What cables carry while nothing is out of order. */
export function usualOf(topology: Topology): ReadonlyMap<Cable, Carried> {
  const found = carriedUsually.get(topology) ?? carriedBy(topology, flowWays(topology))
  carriedUsually.set(topology, found)
  return found
}
const carriedUsually = new WeakMap<Topology, ReadonlyMap<Cable, Carried>>()

/** Whether more goes through a cable than it can carry. */
export function isOverloaded(cable: Cable, carried: Carried | undefined): boolean {
  const capacity = capacityOf(cable)
  return carried !== undefined && capacity !== undefined && carried.load > capacity * (1 + ROUNDING)
}
/** What shares of a link may come to by rounding. */
const ROUNDING = 1e-9

/** What a network loses while something is out of order. */
export interface Lost {
  readonly down: Down
  readonly cutOff: readonly Device[]
  /** Flows that find no way any more, needed ones first. */
  readonly lost: readonly Flow[]
  /** Flows that go another way than usual. */
  readonly rerouted: readonly Flow[]
  /** Cables that carry more than they can, and did not before. */
  readonly overloaded: readonly Cable[]
  readonly ways: FlowWays
  readonly carried: ReadonlyMap<Cable, Carried>
}

/** What is out of order when devices, cables or all of a site are. */
export function downBy(net: Net, ids: ReadonlySet<string>): Down {
  return {
    nodes: new Set(
      net.devices.flatMap(({ id, site }, node) =>
        ids.has(id) || (site !== undefined && ids.has(site.id)) ? [node] : [],
      ),
    ),
    edges: new Set(topologyOf(net).cables.flatMap(({ id }, edge) => (ids.has(id) ? [edge] : []))),
  }
}

/** O(devices + cables), and as much again for each device whose flows have to go another way. */
export function lostBy(net: Net, ids: ReadonlySet<string>): Lost {
  const topology = topologyOf(net)
  const down = downBy(net, ids)
  const before = flowWays(topology)
  const ways = waysWithout(topology, down)
  const carried = carriedBy(topology, ways, down)
  const usually = usualOf(topology)
  const isElsewhere = (cable: Cable, other: Cable | undefined) =>
    cable !== other && !(other && topology.links.get(cable)?.includes(other))
  const isLost = (flow: Flow) => ways.get(flow) === undefined && before.get(flow) !== undefined
  const lost = net.flows.filter(isLost)
  return {
    down,
    cutOff: cutOffBy(topology, down).map((node) => nth(net.devices, node)),
    lost: [...lost.filter(isNeeded), ...lost.filter((flow) => !isNeeded(flow))],
    rerouted: net.flows.filter((flow) => {
      const [was, now] = [before.get(flow), ways.get(flow)]
      return (
        was !== undefined && now !== undefined && was.cables.some((cable, at) => isElsewhere(cable, now.cables[at]))
      )
    }),
    overloaded: topology.cables.filter(
      (cable) => isOverloaded(cable, carried.get(cable)) && !isOverloaded(cable, usually.get(cable)),
    ),
    ways,
    carried,
  }
}

export const isNeeded = ({ relation }: Flow): boolean => relation.fields['needed'] === true

/** `ticket-1 → db-1`. */
export const flowWords = ({ from, to }: Pick<Flow, 'from' | 'to'>): string => `${from.name} → ${to.name}`

/** `tcp 443`. */
export function sentWords({ relation }: Flow): string {
  const protocol = textOf(relation, 'protocol')
  return [protocol === 'any' ? undefined : protocol, textOf(relation, 'port')].filter(Boolean).join(' ')
}
