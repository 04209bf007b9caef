import { numberOf, textOf } from '../../../notation'
import type { Day, Model, View } from '../../../model'
import type { FileExport } from '../../../notation'
import { addressText } from '../addresses'
import { capacityOf, netShown, type Cable, type Device, type Net, type Port } from '../structure'
import { L2, L3, LINK, NETWORKS, OWN, POINT, SUPPORTING } from './topologyNames'

export const topologyExport = {
  id: 'topology',
  title: 'Network topology (RFC 8345)',
  extension: '.json',
  mediaType: 'application/yang-data+json',
  write: (model: Model, view: View, day: Day) => `${JSON.stringify(written(netShown(model, view, day)), null, 2)}\n`,
} satisfies FileExport

type Json = Readonly<Record<string, unknown>>

function written(net: Net): Json {
  const name = net.entity?.name ?? 'network'
  const [layer2, layer3] = [`${name}/layer-2`, `${name}/layer-3`]
  const byDevice = (cable: Cable) => [cable.a, cable.b] as const
  const routed = net.devices.filter(
    ({ addresses, entity }) => addresses.length > 0 || textOf(entity, 'router') !== undefined,
  )
  const isRouted = ({ id, device }: Port) => device.addresses.some(({ port }) => port?.id === id)
  return {
    [NETWORKS]: {
      network: [
        {
          'network-id': layer2,
          'network-types': { [`${L2}:l2-topology`]: {} },
          node: net.devices.map((device) => nodeOf(device)),
          [LINK]: net.cables.flatMap((cable) => linksOf(cable, `${L2}:l2-link-attributes`, rateOf(cable))),
        },
        {
          'network-id': layer3,
          'network-types': { [`${L3}:l3-unicast-topology`]: {} },
          'supporting-network': [{ 'network-ref': layer2 }],
          node: routed.map((device) => ({
            'node-id': device.id,
            'supporting-node': [{ 'network-ref': layer2, 'node-ref': device.id }],
            [`${L3}:l3-node-attributes`]: {
              name: device.name,
              ...(textOf(device.entity, 'router') === undefined
                ? {}
                : { 'router-id': [textOf(device.entity, 'router')] }),
            },
            ...ownAddresses(device, undefined),
            [POINT]: device.ports.filter(isRouted).map((port) => ({
              'tp-id': port.id,
              [SUPPORTING]: [{ 'network-ref': layer2, 'node-ref': device.id, 'tp-ref': port.id }],
              [`${L3}:l3-termination-point-attributes`]: {
                'ip-address': device.addresses
                  .filter((one) => one.port === port && !one.shared)
                  .map(({ address }) => addressText(address)),
              },
              ...ownAddresses(device, port),
            })),
          })),
          [LINK]: net.cables
            .filter((cable) => byDevice(cable).every(isRouted))
            .flatMap((cable) => linksOf(cable, `${L3}:l3-link-attributes`, {})),
        },
      ],
    },
  }
}

/** Addresses with the lengths of their prefixes, those of a device itself, and those that it shares: RFC 8346 has a place for none of these. */
function ownAddresses({ addresses }: Device, port: Port | undefined): Json {
  const here = addresses.filter((one) => one.port === port)
  const texts = (shared: boolean) => here.filter((one) => one.shared === shared).map(({ text }) => text)
  const own = {
    ...(texts(false).length > 0 ? { addresses: texts(false) } : {}),
    ...(texts(true).length > 0 ? { shared: texts(true) } : {}),
  }
  return Object.keys(own).length > 0 ? { [OWN]: own } : {}
}

function nodeOf(device: Device): Json {
  const { type, zone, site, entity, critical } = device
  const own = {
    ...(type === undefined ? {} : { type }),
    ...(zone ? { zone: zone.name, ...(zone.trust === undefined ? {} : { trust: zone.trust }) } : {}),
    ...(site ? { site: site.name } : {}),
    ...(critical ? { critical } : {}),
    ...(textOf(entity, 'model') === undefined ? {} : { model: textOf(entity, 'model') }),
    ...(textOf(entity, 'serial') === undefined ? {} : { serial: textOf(entity, 'serial') }),
  }
  return {
    'node-id': device.id,
    [`${L2}:l2-node-attributes`]: { name: device.name },
    ...(Object.keys(own).length > 0 ? { [OWN]: own } : {}),
    [POINT]: device.ports.map(pointOf),
  }
}

function pointOf({ id, name, entity }: Port): Json {
  const mac = textOf(entity, 'mac')
  const speed = numberOf(entity, 'speed')
  const [vlan, mtu] = [numberOf(entity, 'vlan'), numberOf(entity, 'mtu')]
  return {
    'tp-id': id,
    [`${L2}:l2-termination-point-attributes`]: {
      'interface-name': name,
      ...(mac === undefined ? {} : { 'mac-address': mac }),
      ...(mtu === undefined ? {} : { 'max-frame-size': mtu }),
      // Decimals are texts in RFC 7951.
      ...(speed === undefined ? {} : { rate: speed.toFixed(2) }),
      ...(vlan === undefined ? {} : { 'port-vlan-id': vlan }),
    },
  }
}

function rateOf(cable: Cable): Json {
  const capacity = capacityOf(cable)
  return capacity === undefined ? {} : { rate: capacity.toFixed(2) }
}

/** A cable is a link each way: those of RFC 8345 are directed. */
const linksOf = ({ id, a, b, relation }: Cable, member: string, attributes: Json): Json[] =>
  [[id, a, b] as const, [`${id}-back`, b, a] as const].map(([link, from, to]) => ({
    'link-id': link,
    source: { 'source-node': from.device.id, 'source-tp': from.id },
    destination: { 'dest-node': to.device.id, 'dest-tp': to.id },
    ...(Object.keys(attributes).length > 0 ? { [member]: attributes } : {}),
    ...(textOf(relation, 'label') === undefined ? {} : { [OWN]: { label: textOf(relation, 'label') } }),
  }))
