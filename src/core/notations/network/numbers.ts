import { numberOf, textOf } from '../../notation'
import { disjointWays, nth } from '../../graph'
import type { Day, Id, Model } from '../../model'
import type { NumberSheet, SheetRow } from '../../notation'
import { availabilityBetween } from './availability'
import { flowWays, flowWords, usualOf } from './carried'
import { firewallsOf, passageFor } from './firewall'
import { lossesOf, MOST_IN_PAIRS, type Worst } from './losses'
import { freeUnits, rackUnits } from './racked'
import { capacityOf, netsOn, type Device, type Net } from './structure'
import { nextFree, roomIn, subnetsOf } from './subnets'
import { partsOf, passesAt, topologyOf, weaknessesOf, NOTHING_DOWN, type Topology } from './topology'
import { portsOf, waysOf } from './ways'

const column = (id: string, label: string, unit: string | null = null) => ({ id, label, unit })
const inEach = (find: (net: Net) => readonly SheetRow[]) => (model: Model, day: Day) => netsOn(model, day).flatMap(find)
const countedId = (_model: Model, _day: Day, row: SheetRow): readonly Id[] =>
  typeof row['id'] === 'string' ? (row['id'].split(' ') as Id[]) : []

const devices: NumberSheet = {
  id: 'devices',
  title: 'Devices',
  columns: [
    column('id', 'Id'),
    column('device', 'Device'),
    column('cutsOff', 'Cuts off', 'devices'),
    column('cutsOffCritical', 'Of them critical', 'devices'),
    column('reaches', 'Reaches', 'devices'),
    column('critical', 'Critical'),
  ],
  rows: inEach((net) => {
    const topology = topologyOf(net)
    const lost = new Map(
      weaknessesOf(topology).flatMap(({ of, cutOff }) => ('device' in of ? [[of.device, cutOff] as const] : [])),
    )
    const reaches = reachOf(topology)
    return net.devices.map((device, node): SheetRow => {
      const cutOff = lost.get(device) ?? []
      return {
        id: device.id,
        device: device.name,
        cutsOff: cutOff.length,
        cutsOffCritical: cutOff.filter(({ critical }) => critical).length,
        reaches: nth(reaches, node),
        critical: device.critical,
      }
    })
  }),
  counted: countedId,
  chart: { sort: 'bars', key: 'id', label: 'device', values: ['cutsOff', 'cutsOffCritical', 'reaches'] },
}

/** How many other devices each one reaches: through what passes on, with what hangs on that. O(devices + cables) */
export function reachOf(topology: Topology): number[] {
  const { net, incidence } = topology
  const { part } = partsOf(topology, NOTHING_DOWN)
  const passes = passesAt(topology)
  // Those that hang on each part, and what of a part each of them stands beside.
  const members = new Map<number, Set<number>>()
  const partsAt = (node: number): Set<number> => {
    if (passes(node)) return new Set([nth(part, node)])
    const found = new Set<number>()
    for (let place = incidence.first(node); place < incidence.first(node + 1); place++) {
      const next = incidence.other(incidence.edge(place), node)
      if (passes(next)) found.add(nth(part, next))
    }
    return found.size > 0 ? found : new Set([nth(part, node)])
  }
  const own = net.devices.map((_, node) => partsAt(node))
  own.forEach((parts, node) => {
    for (const one of parts) members.set(one, (members.get(one) ?? new Set()).add(node))
  })
  return own.map((parts) => {
    const lists = [...parts].map((one) => members.get(one) ?? new Set<number>())
    if (lists.length === 1) return (lists[0]?.size ?? 1) - 1
    return new Set(lists.flatMap((list) => [...list])).size - 1
  })
}

const cables: NumberSheet = {
  id: 'cables',
  title: 'Cables',
  columns: [
    column('id', 'Id'),
    column('cable', 'Cable'),
    column('load', 'Load', 'Mbit/s'),
    column('capacity', 'Capacity', 'Mbit/s'),
    column('share', 'Share', '%'),
    column('cutsOff', 'Its loss cuts off', 'devices'),
  ],
  rows: inEach((net) => {
    const topology = topologyOf(net)
    const carried = usualOf(topology)
    const lost = new Map(
      weaknessesOf(topology).flatMap(({ of, cutOff }) => ('cable' in of ? [[of.cable, cutOff.length] as const] : [])),
    )
    return net.cables.map((cable): SheetRow => {
      const load = rounded(carried.get(cable)?.load ?? 0)
      const capacity = capacityOf(cable)
      return {
        id: cable.id,
        cable: `${cable.a.device.name} ${cable.a.name} – ${cable.b.device.name} ${cable.b.name}`,
        load,
        capacity: capacity ?? null,
        share: capacity === undefined || capacity === 0 ? null : rounded((load / capacity) * 100, 2),
        cutsOff: lost.get(cable) ?? 0,
      }
    })
  }),
  counted: countedId,
  chart: { sort: 'bars', key: 'id', label: 'cable', values: ['share', 'load'] },
}

const rounded = (value: number, digits = 3): number => Math.round(value * 10 ** digits) / 10 ** digits

const subnets: NumberSheet = {
  id: 'subnets',
  title: 'Subnets',
  columns: [
    column('id', 'Id'),
    column('subnet', 'Subnet'),
    column('prefix', 'Prefix'),
    column('addresses', 'Addresses'),
    column('used', 'Used'),
    column('reserved', 'Reserved'),
    column('free', 'Free'),
    column('nextFree', 'Next free'),
  ],
  rows: inEach((net) =>
    subnetsOf(net).map((subnet): SheetRow => {
      const { hosts, used, reserved, free } = roomIn(subnet)
      return {
        id: subnet.entity.id,
        subnet: subnet.entity.name,
        prefix: textOf(subnet.entity, 'prefix') ?? '',
        addresses: Number(hosts),
        used: Number(used),
        reserved: Number(reserved),
        free: Number(free),
        nextFree: nextFree(subnet) ?? null,
      }
    }),
  ),
  counted: countedId,
  chart: { sort: 'bars', key: 'id', label: 'subnet', values: ['used', 'free'] },
}

const flows: NumberSheet = {
  id: 'flows',
  title: 'Flows',
  columns: [
    column('id', 'Id'),
    column('flow', 'Flow'),
    column('verdict', 'Verdict'),
    column('rule', 'Rule'),
    column('path', 'Way'),
    column('hops', 'Cables'),
    column('availability', 'Availability'),
    column('method', 'Method'),
    column('needed', 'Needed'),
  ],
  rows: inEach((net) => {
    if (net.flows.length === 0) return []
    const topology = topologyOf(net)
    const firewalls = firewallsOf(net)
    return [...flowWays(topology)].map(([flow, way]): SheetRow => {
      const passage = way && passageFor(firewalls, flow, way)
      const found = availabilityBetween(topology, flow.from, flow.to)
      return {
        id: flow.id,
        flow: flowWords(flow),
        verdict: !way ? 'no way' : passage?.allowed === false ? 'denied' : 'allowed',
        rule: passage?.by?.entity.name ?? (passage?.allowed === false ? 'none matches' : null),
        path: way?.devices.map(({ name }) => name).join(' – ') ?? null,
        hops: way?.cables.length ?? null,
        availability: found ? rounded(found.value, 9) : null,
        method: found?.method ?? null,
        needed: flow.relation.fields['needed'] === true,
      }
    })
  }),
  counted: countedId,
  chart: { sort: 'bars', key: 'id', label: 'flow', values: ['availability', 'hops'] },
}

/** What lies between two devices. */
export function between(topology: Topology, from: Device, to: Device) {
  const { index, incidence, net, cables: all } = topology
  const [a, b] = [index.get(from.id) ?? -1, index.get(to.id) ?? -1]
  const shortest = waysOf(topology).between(from, to)
  const { ways, cut } = disjointWays(incidence, a, b, passesAt(topology))
  return {
    shortest,
    ways,
    cut: [
      ...cut.nodes.map((node) => nth(net.devices, node).name),
      ...cut.edges.map((edge) => {
        const { a: one, b: other } = nth(all, edge)
        return `${one.device.name} ${one.name} – ${other.device.name} ${other.name}`
      }),
    ],
  }
}

const pair: NumberSheet = {
  id: 'pair',
  title: 'Pairs',
  columns: [
    column('id', 'Id'),
    column('from', 'From'),
    column('to', 'To'),
    column('shortest', 'Shortest way', 'cables'),
    column('disjoint', 'Ways apart'),
    column('minimumCut', 'Least cut'),
    column('way', 'Way'),
    column('ports', 'Its ports'),
    column('cut', 'What cuts it'),
    column('availability', 'Availability'),
    column('method', 'Method'),
  ],
  rows: (model, day, { from, to } = {}) =>
    netsOn(model, day).flatMap((net) => {
      const topology = topologyOf(net)
      return pairsIn(net, from, to).map(([a, b]): SheetRow => {
        const { shortest, ways, cut } = between(topology, a, b)
        const found = availabilityBetween(topology, a, b)
        return {
          id: `${a.id} ${b.id}`,
          from: a.name,
          to: b.name,
          shortest: shortest?.cables.length ?? null,
          disjoint: ways.length,
          minimumCut: cut.length,
          way: shortest?.devices.map(({ name }) => name).join(' – ') ?? null,
          ports: shortest ? portsOf(shortest) : null,
          cut: cut.join(', ') || null,
          availability: found ? rounded(found.value, 9) : null,
          method: found?.method ?? null,
        }
      })
    }),
  counted: countedId,
}

/** The pair that is asked for, else the ends of all flows, each pair once. */
function pairsIn(net: Net, from: string | undefined, to: string | undefined): (readonly [Device, Device])[] {
  const named = (text: string) =>
    net.byId.get(text as Id) ?? net.devices.find(({ name }) => name.toLowerCase() === text.toLowerCase())
  if (from !== undefined && to !== undefined) {
    const [a, b] = [named(from), named(to)]
    return a && b && a !== b ? [[a, b]] : []
  }
  const seen = new Set<string>()
  return net.flows.flatMap(({ from: a, to: b }) => {
    const key = [a.id, b.id].sort().join(' ')
    if (seen.has(key) || a === b) return []
    seen.add(key)
    return [[a, b] as const]
  })
}

const MOST_SHOWN = 20

const PAIRS_BEYOND = `pairs of the busiest and the worst: beyond ${MOST_IN_PAIRS} devices and cables not every pair is tried`

const losses: NumberSheet = {
  id: 'losses',
  title: 'Losses',
  columns: [
    column('id', 'Id'),
    column('losses', 'Losses'),
    column('what', 'What fails'),
    column('neededLost', 'Needed flows lost'),
    column('flowsLost', 'Flows lost'),
    column('cutOffCritical', 'Critical cut off', 'devices'),
    column('cutOff', 'Cut off', 'devices'),
    column('method', 'Method'),
  ],
  rows: inEach((net) => {
    const { singles, pairs, isExact } = lossesOf(net)
    const row = (worst: Worst, method: string): SheetRow => ({
      id: worst.ids.join(' '),
      losses: worst.ids.length,
      what: worst.names.join(' and '),
      neededLost: worst.neededLost,
      flowsLost: worst.flowsLost,
      cutOffCritical: worst.cutOffCritical,
      cutOff: worst.cutOff,
      method,
    })
    const counts = ({ cutOff, flowsLost }: Worst) => cutOff + flowsLost > 0
    return [
      ...singles
        .filter(counts)
        .slice(0, MOST_SHOWN)
        .map((one) => row(one, 'every single one')),
      ...pairs.slice(0, MOST_SHOWN).map((one) => row(one, isExact ? 'every pair' : PAIRS_BEYOND)),
    ]
  }),
  counted: countedId,
}

const racks: NumberSheet = {
  id: 'racks',
  title: 'Racks',
  columns: [
    column('id', 'Id'),
    column('rack', 'Rack'),
    column('units', 'Units'),
    column('free', 'Free units'),
    column('devices', 'Devices'),
    column('watts', 'Power drawn', 'W'),
    column('supply', 'Power there is', 'W'),
    column('share', 'Share', '%'),
  ],
  rows: (model, day) => {
    const all = netsOn(model, day).flatMap((net) => net.devices)
    return model.ofKind('rack').map((rack): SheetRow => {
      const own = all.filter((device) => device.rack?.id === rack.id)
      const watts = own.reduce((sum, { entity }) => sum + (numberOf(entity, 'watts') ?? 0), 0)
      const supply = numberOf(rack, 'watts')
      return {
        id: rack.id,
        rack: rack.name,
        units: rackUnits(rack),
        free: freeUnits(rack, own),
        devices: own.length,
        watts,
        supply: supply ?? null,
        share: supply === undefined || supply === 0 ? null : rounded((watts / supply) * 100, 1),
      }
    })
  },
  counted: countedId,
  chart: { sort: 'bars', key: 'id', label: 'rack', values: ['free', 'watts', 'share'] },
}

export const numbers: readonly NumberSheet[] = [devices, cables, subnets, flows, pair, losses, racks]
