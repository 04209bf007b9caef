import { containerOf, type Field, type Kind, type RelationKind } from '../../notation'
import { unreadAddresses, unreadRouter } from './addresses'
import { unreadPorts } from './ports'
import { unreadVlans } from './vlans'

/** A network holds devices, zones and subnets, and what joins them. */
export const networks = containerOf('network', 'Network')
export const network = networks.field
const order: Field = { id: 'order', label: 'Order', type: 'number', hidden: true }
const zone: Field = { id: 'zone', label: 'Zone', type: 'reference', refers: ['zone'], place: true }

export const DEVICE_TYPES = [
  'router',
  'switch',
  'firewall',
  'server',
  'storage',
  'access point',
  'endpoint',
  'radio',
  'cloud service',
] as const
export type DeviceType = (typeof DEVICE_TYPES)[number]

/** From the least trusted to the most. */
export const TRUSTS = ['none', 'low', 'medium', 'high'] as const
export type Trust = (typeof TRUSTS)[number]

export const MEDIA = ['copper', 'multimode fibre', 'single-mode fibre', 'radio', 'leased line'] as const
export const DUPLEXES = ['full', 'half', 'auto'] as const
/** Classes of copper (ISO/IEC 11801, TIA-568) and of fibre (ISO/IEC 11801). */
export const CATEGORIES = ['5', '5e', '6', '6A', '7', '8.1', 'OM2', 'OM3', 'OM4', 'OM5', 'OS1', 'OS2'] as const
export const PROTOCOLS = ['any', 'tcp', 'udp', 'icmp'] as const
export type Protocol = (typeof PROTOCOLS)[number]
/** Who sends: the one end; the one end, and the other answers; either end, whoever begins. */
export const DIRECTIONS = ['one way', 'with answers', 'both ways'] as const
export const VERDICTS = ['allow', 'deny'] as const

/** What a power source gives at its port, by the amendments of IEEE 802.3: af (type 1), at (2), bt (3 and 4). */
export const POE = ['af', 'at', 'bt type 3', 'bt type 4'] as const

const watts = (id: string, label: string): Field => ({ id, label, type: 'number', unit: 'W', min: 0, max: 1_000_000 })
const speed = (id: string, label: string): Field => ({
  id,
  label,
  type: 'number',
  unit: 'Mbit/s',
  min: 0,
  max: 100_000_000,
})
const hours = (id: string, label: string): Field => ({ id, label, type: 'number', unit: 'h', min: 0, max: 1e9 })
const up: readonly Field[] = [hours('mtbf', 'MTBF'), hours('mttr', 'MTTR')]
const protocol: Field = { id: 'protocol', label: 'Protocol', type: 'choice', choices: PROTOCOLS }
/** Addresses that whichever of several devices is up answers to (RFC 5798). */
const shared: Field = { id: 'shared', label: 'Shared addresses', type: 'list', fault: unreadAddresses }
const portNumbers: Field = { id: 'port', label: 'Port', type: 'text', fault: unreadPorts }
const END_KINDS = ['zone', 'subnet', 'device'] as const

export const entityKinds: readonly Kind[] = [
  { id: 'network', title: 'Network', plural: 'Networks', fields: [] },
  {
    id: 'zone',
    title: 'Zone',
    plural: 'Zones',
    fields: [{ id: 'trust', label: 'Trust', type: 'choice', choices: TRUSTS }, network, order],
  },
  {
    id: 'device',
    title: 'Device',
    plural: 'Devices',
    nameField: { id: 'hostname', label: 'Host' },
    fields: [
      { id: 'type', label: 'Type', type: 'choice', choices: DEVICE_TYPES },
      zone,
      { id: 'addresses', label: 'Addresses', type: 'list' },
      shared,
      { id: 'router', label: 'Router id', type: 'text', fault: unreadRouter },
      { id: 'vrf', label: 'VRF', type: 'text' },
      { id: 'critical', label: 'Critical', type: 'flag' },
      { id: 'passes', label: 'Passes traffic on', type: 'choice', choices: ['yes', 'no'] },
      { id: 'model', label: 'Model', type: 'text' },
      { id: 'serial', label: 'Serial', type: 'text' },
      ...up,
      { id: 'rack', label: 'Rack', type: 'reference', refers: ['rack'], place: true },
      { id: 'unit', label: 'Lowest unit', type: 'integer', min: 1, max: 100 },
      { id: 'height', label: 'Units', type: 'integer', min: 1, max: 100 },
      watts('watts', 'Power'),
      watts('budget', 'PoE budget'),
      network,
      order,
    ],
  },
  {
    id: 'port',
    title: 'Port',
    plural: 'Ports',
    fields: [
      { id: 'device', label: 'Device', type: 'reference', refers: ['device'] },
      { id: 'addresses', label: 'Addresses', type: 'list' },
      shared,
      { id: 'mac', label: 'MAC', type: 'text' },
      { id: 'vlan', label: 'VLAN', type: 'integer', min: 1, max: 4094 },
      { id: 'tagged', label: 'Tagged VLANs', type: 'list', fault: unreadVlans },
      speed('speed', 'Speed'),
      { id: 'duplex', label: 'Duplex', type: 'choice', choices: DUPLEXES },
      { id: 'mtu', label: 'MTU', type: 'integer', unit: 'B', min: 68, max: 65_535 },
      { id: 'medium', label: 'Medium', type: 'choice', choices: MEDIA },
      { id: 'poe', label: 'Gives PoE', type: 'choice', choices: POE },
      watts('draws', 'Draws PoE'),
      { id: 'vrf', label: 'VRF', type: 'text' },
      order,
    ],
  },
  {
    id: 'subnet',
    title: 'Subnet',
    plural: 'Subnets',
    fields: [
      { id: 'prefix', label: 'Prefix', type: 'text' },
      { id: 'vlan', label: 'VLAN', type: 'integer', min: 1, max: 4094 },
      { id: 'gateway', label: 'Gateway', type: 'text' },
      { id: 'reserved', label: 'Reserved', type: 'list' },
      { id: 'vrf', label: 'VRF', type: 'text' },
      zone,
      network,
      order,
    ],
  },
  {
    id: 'rack',
    title: 'Rack',
    plural: 'Racks',
    fields: [
      { id: 'site', label: 'Site', type: 'reference', refers: ['site'], place: true },
      { id: 'units', label: 'Units', type: 'integer', min: 1, max: 100 },
      watts('watts', 'Power'),
      order,
    ],
  },
  {
    id: 'neighbours',
    title: 'Neighbour table',
    plural: 'Neighbour tables',
    fields: [{ id: 'seen', label: 'Seen', type: 'list' }, network],
  },
  {
    id: 'filter',
    title: 'Rule',
    plural: 'Rules',
    fields: [
      { id: 'device', label: 'Firewall', type: 'reference', refers: ['device'] },
      { id: 'verdict', label: 'Verdict', type: 'choice', choices: VERDICTS },
      { id: 'source', label: 'From', type: 'reference', refers: END_KINDS },
      { id: 'destination', label: 'To', type: 'reference', refers: END_KINDS },
      protocol,
      portNumbers,
      network,
      order,
    ],
  },
]

export const relationKinds: readonly RelationKind[] = [
  {
    id: 'cable',
    title: 'is cabled to',
    sources: ['port'],
    targets: ['port'],
    fields: [
      { id: 'label', label: 'Label', type: 'text' },
      { id: 'medium', label: 'Medium', type: 'choice', choices: MEDIA },
      { id: 'category', label: 'Category', type: 'choice', choices: CATEGORIES },
      { id: 'length', label: 'Length', type: 'number', unit: 'm', min: 0, max: 50_000_000 },
      speed('capacity', 'Capacity'),
      ...up,
    ],
  },
  {
    id: 'traffic',
    title: 'sends to',
    sources: ['device'],
    targets: ['device'],
    fields: [
      { id: 'direction', label: 'Direction', type: 'choice', choices: DIRECTIONS },
      protocol,
      portNumbers,
      speed('load', 'Load'),
      { id: 'needed', label: 'Needed', type: 'flag' },
    ],
  },
  { id: 'hosts', title: 'hosts', sources: ['device'], targets: ['system'], fields: [] },
  { id: 'located-at', title: 'stands at', sources: ['device'], targets: ['site'], fields: [] },
]
