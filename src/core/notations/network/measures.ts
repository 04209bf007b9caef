import { nth } from '../../graph'
import { counted, type Day, type Id, type Model, type View } from '../../model'
import type { Measure } from '../../notation'
import { percentWords, uptimeOf } from './availability'
import { flowWords, isNeeded, lostBy, sentWords, usualOf } from './carried'
import { between, reachOf } from './numbers'
import { speedText } from './speed'
import { capacityOf, netShown, type Cable, type Device, type Net } from './structure'
import { nextFree, roomIn, subnetsOf, subnetWith } from './subnets'
import { topologyOf, weaknessesOf } from './topology'
import { portsOf } from './ways'

interface Measures {
  readonly of: string
  readonly list: readonly Measure[]
}

/** Figures about what is selected, else about what is taken down or asked for, else about the whole network. */
export function measuresOf(model: Model, day: Day, selected: Id | undefined, view: View): Measures {
  const net = netShown(model, view, day)
  const device = selected === undefined ? undefined : net.byId.get(selected)
  const cable = net.cables.find(({ id }) => id === selected)
  if (device) return { of: 'from here', list: [...ofDevice(net, device), ...asked(net, view)] }
  if (cable) return { of: 'of this cable', list: ofCable(net, cable) }
  const subnet = subnetsOf(net).find(({ entity }) => entity.id === selected)
  if (subnet) {
    const { hosts, used, reserved, free } = roomIn(subnet)
    return {
      of: 'of this subnet',
      list: [
        { label: 'Addresses', value: grouped(hosts) },
        { label: 'Used', value: grouped(used) },
        { label: 'Reserved', value: grouped(reserved) },
        { label: 'Free', value: grouped(free) },
        { label: 'Next free', value: nextFree(subnet) ?? 'none' },
      ],
    }
  }
  return { of: 'of this network', list: [...asked(net, view), ...ofNet(net)] }
}

const grouped = (value: bigint): string => value.toLocaleString('en')

function ofDevice(net: Net, device: Device): Measure[] {
  const topology = topologyOf(net)
  const node = topology.index.get(device.id) ?? 0
  const cutOff = weaknessesOf(topology).find(({ of }) => 'device' in of && of.device === device)?.cutOff ?? []
  const carried = usualOf(topology)
  const busiest = device.ports
    .flatMap(({ cables }) => cables)
    .flatMap((cable) => {
      const capacity = capacityOf(cable)
      return capacity === undefined || capacity === 0
        ? []
        : [{ capacity, share: (carried.get(cable)?.load ?? 0) / capacity }]
    })
    .sort((a, b) => b.share - a.share)[0]
  const uptime = uptimeOf(device.entity)
  const subnets = new Set(device.addresses.flatMap((stated) => subnetWith(net, stated) ?? []))
  const free = device.ports.filter(({ cables }) => cables.length === 0).length
  return [
    { label: 'Reaches', value: `${nth(reachOf(topology), node)} of ${net.devices.length - 1}` },
    {
      label: 'Cuts off',
      value: `${cutOff.length}${cutOff.some(({ critical }) => critical) ? `, ${cutOff.filter(({ critical }) => critical).length} critical` : ''}`,
    },
    { label: 'Ports', value: `${device.ports.length}, ${free} free` },
    ...(uptime === undefined ? [] : [{ label: 'Availability', value: percentWords(uptime) }]),
    ...(busiest
      ? [{ label: 'Busiest', value: `${Math.round(busiest.share * 100)} % of ${speedText(busiest.capacity)}` }]
      : []),
    ...[...subnets].map((subnet) => ({
      label: `Free in /${subnet.prefix.length}`,
      value: grouped(roomIn(subnet).free),
    })),
  ]
}

function ofCable(net: Net, cable: Cable): Measure[] {
  const topology = topologyOf(net)
  const carried = usualOf(topology).get(cable)
  const capacity = capacityOf(cable)
  const cutOff = weaknessesOf(topology).find(({ of }) => 'cable' in of && of.cable === cable)?.cutOff ?? []
  const link = topology.links.get(cable)
  const speeds = link?.flatMap((one) => capacityOf(one) ?? [])
  const together = speeds && speeds.length > 0 ? `, ${speedText(speeds.reduce((sum, one) => sum + one, 0))}` : ''
  return [
    ...(link ? [{ label: 'One link of', value: `${link.length} cables${together}` }] : []),
    { label: 'Load', value: `${Math.round((carried?.load ?? 0) * 100) / 100} Mbit/s` },
    { label: 'Capacity', value: capacity === undefined ? 'not stated' : speedText(capacity) },
    ...(capacity ? [{ label: 'Share', value: `${Math.round(((carried?.load ?? 0) / capacity) * 100)} %` }] : []),
    { label: 'Cuts off', value: String(cutOff.length) },
    ...(carried?.flows ?? [])
      .slice(0, MOST_LISTED)
      .map((flow) => ({ label: sentWords(flow) || 'flow', value: flowWords(flow) })),
  ]
}

const MOST_LISTED = 12

/** What the view asks: what is lost with what is taken down, and what lies between two devices. */
function asked(net: Net, view: View): Measure[] {
  const list: Measure[] = []
  const ids = view.options['down']
  if (Array.isArray(ids) && ids.length > 0) {
    const { down, cutOff, lost, rerouted, overloaded } = lostBy(net, new Set(ids as readonly string[]))
    list.push(
      { label: 'Down', value: String(down.nodes.size + down.edges.size) },
      { label: 'Cut off', value: String(cutOff.length) },
      { label: 'Other way', value: `${rerouted.length} ${rerouted.length === 1 ? 'flow' : 'flows'}` },
      ...overloaded
        .slice(0, MOST_LISTED)
        .map(({ a, b }) => ({ label: 'Overloaded', value: `${a.device.name} – ${b.device.name}` })),
      { label: 'Flows lost', value: `${lost.length}, ${lost.filter(isNeeded).length} needed` },
      ...lost
        .slice(0, MOST_LISTED)
        .map((flow) => ({ label: isNeeded(flow) ? 'needed' : 'not needed', value: flowWords(flow) })),
      ...(lost.length > MOST_LISTED ? [{ label: '', value: `and ${lost.length - MOST_LISTED} more` }] : []),
    )
  }
  const [from, to] = (Array.isArray(view.options['ways']) ? (view.options['ways'] as readonly Id[]) : []).map((id) =>
    net.byId.get(id),
  )
  if (from && to && from !== to) {
    const { shortest, ways, cut } = between(topologyOf(net), from, to)
    list.push(
      { label: 'Ways', value: `${from.name} – ${to.name}` },
      { label: 'Shortest', value: shortest ? counted(shortest.cables.length, 'cable') : 'none' },
      ...(shortest ? [{ label: 'By ports', value: portsOf(shortest) }] : []),
      { label: 'Ways apart', value: String(ways.length) },
      { label: 'Least cut', value: cut.length === 0 ? 'nothing' : cut.join(', ') },
    )
  }
  return list
}

function ofNet(net: Net): Measure[] {
  const topology = topologyOf(net)
  const weak = weaknessesOf(topology)
  const critical = weak.filter(({ cutOff }) => cutOff.some((device) => device.critical))
  const rooms = subnetsOf(net)
  const load = net.flows.reduce(
    (sum, { relation }) => sum + (typeof relation.fields['load'] === 'number' ? relation.fields['load'] : 0),
    0,
  )
  return [
    {
      label: 'Devices',
      value: `${net.devices.length}, ${net.devices.filter(({ critical }) => critical).length} critical`,
    },
    { label: 'Cables', value: String(net.cables.length) },
    { label: 'Subnets', value: String(rooms.length) },
    { label: 'Addresses', value: String(net.devices.reduce((sum, { addresses }) => sum + addresses.length, 0)) },
    { label: 'Single points', value: `${weak.length}, ${critical.length} critical` },
    {
      label: 'Flows',
      value: `${net.flows.length}, ${load >= 1000 ? `${(load / 1000).toFixed(1)} Gbit/s` : `${Math.round(load)} Mbit/s`} in all`,
    },
    { label: 'Rules', value: String(net.filters.length) },
  ]
}
