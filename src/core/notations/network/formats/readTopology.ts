import { counted, parseJson, type Fields } from '../../../model'
import { clip, LIMITS, type ImportedFile, type Refusal, type Wish } from '../../../notation'
import { readInterface } from '../addresses'
import { DEVICE_TYPES, TRUSTS } from '../kinds'
import { bring, Unplaced, wordsOf, type ToldCable, type ToldDevice } from './bring'
import { L2, L3, LINK, NETWORKS, OWN, POINT, SUPPORTING } from './topologyNames'

type Json = Readonly<Record<string, unknown>>

/** What a file is at fault with, and where. */
class Fault extends Error {}

const isRecord = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value)

/** A member by its name, with its module or without where it is of the same one. */
function member(json: Json, name: string): unknown {
  return json[name] ?? json[name.slice(name.indexOf(':') + 1)]
}

function listOf(json: Json, name: string, path: string): { readonly value: Json; readonly path: string }[] {
  const list = member(json, name)
  if (list === undefined) return []
  if (!Array.isArray(list)) throw new Fault(`${path}.${name} is no list`)
  return (list as unknown[]).map((value, at) => {
    const here = `${path}.${name}[${at}]`
    if (!isRecord(value)) throw new Fault(`${here} is no object`)
    return { value, path: here }
  })
}

function textIn(json: Json, name: string, path: string): string {
  const value = member(json, name)
  if (typeof value !== 'string' || value.trim() === '') throw new Fault(`${path} has no “${name}”`)
  if (value.length > LIMITS.name)
    throw new Fault(`${path}.${name} has ${value.length} characters; ${LIMITS.name} is the most`)
  return value
}

const recordIn = (json: Json, name: string): Json => {
  const value = member(json, name)
  return isRecord(value) ? value : {}
}

const numberIn = (json: Json, name: string): number | undefined => {
  const value = json[name]
  const number = typeof value === 'number' ? value : typeof value === 'string' && value !== '' ? Number(value) : NaN
  return Number.isFinite(number) ? number : undefined
}

/** Reads the networks of a file into one: layers that support each other are the same devices. O(file) @returns a refusal with the place. */
export function read(wish: Wish, text: string): ImportedFile | Refusal {
  let json: unknown
  try {
    json = parseJson(text)
  } catch (error) {
    return { refused: `This is not JSON: ${error instanceof Error ? error.message : String(error)}` }
  }
  try {
    const networks = isRecord(json) ? recordIn(json, NETWORKS) : {}
    const list = listOf(networks, 'network', NETWORKS)
    if (list.length === 0)
      return { refused: 'There is no network here: neither “ietf-network:networks” nor a network in it.' }
    const unplaced = new Unplaced()
    const told = toldIn(list, unplaced)
    const brought = bring(wish, { ...told, isEach: true })
    return {
      change: { label: `Bring in a topology of ${counted(told.devices.length, 'device')}`, steps: brought.steps },
      facts: [
        `${counted(told.devices.length, 'device')}, ${counted(told.cables.length, 'cable')} in ${counted(list.length, 'network')}.`,
        ...wordsOf(brought),
        ...unplaced.words(),
      ],
    }
  } catch (error) {
    if (error instanceof Fault) return { refused: `${error.message}. Nothing was changed.` }
    throw error
  }
}

interface ReadDevice {
  readonly key: string
  name: string
  readonly fields: Record<string, Fields[string]>
  zone?: string
  site?: string
  readonly ports: Map<string, { name: string; fields: Record<string, Fields[string]> }>
}

function toldIn(networks: readonly { readonly value: Json; readonly path: string }[], unplaced: Unplaced) {
  const devices = new Map<string, ReadDevice>()
  const zones = new Map<string, Fields>()
  /** Nodes of all networks, by network and id, as the device that they are. */
  const nodeOfNetwork = new Map<string, ReadDevice>()
  const cables = new Map<string, ToldCable>()
  const parsed = networks.map(({ value, path }) => ({ value, path, id: textIn(value, 'network-id', path) }))
  // Layers beneath come first, whatever their order in the file.
  const ranks = new Map(parsed.map(({ id, value }) => [id, listOf(value, 'supporting-network', id).length]))
  for (const { value, path, id } of parsed.toSorted((a, b) => (ranks.get(a.id) ?? 0) - (ranks.get(b.id) ?? 0)))
    for (const node of listOf(value, 'node', path)) {
      const key = textIn(node.value, 'node-id', node.path)
      const below = listOf(node.value, 'supporting-node', node.path).flatMap(
        ({ value: one }) => nodeOfNetwork.get(`${String(one['network-ref'])} ${String(one['node-ref'])}`) ?? [],
      )
      const device: ReadDevice = below[0] ?? devices.get(key) ?? { key, name: key, fields: {}, ports: new Map() }
      if (!below[0]) devices.set(key, device)
      nodeOfNetwork.set(`${id} ${key}`, device)
      readNode(node.value, node.path, device, zones, unplaced)
    }
  /** How many links lead from one end to another in a network: each way they are the same cables. */
  const counts = new Map<string, number>()
  for (const { value, path, id } of parsed)
    for (const link of listOf(value, LINK, path)) {
      textIn(link.value, 'link-id', link.path)
      const ends = (['source', 'destination'] as const).map((end) => {
        const one = recordIn(link.value, end)
        const node = textIn(one, end === 'source' ? 'source-node' : 'dest-node', `${link.path}.${end}`)
        const device = nodeOfNetwork.get(`${id} ${node}`)
        if (!device)
          throw new Fault(`${link.path}.${end} names the node “${clip(node)}”, which this network does not have`)
        const point = one[end === 'source' ? 'source-tp' : 'dest-tp']
        const port = typeof point === 'string' ? device.ports.get(point) : undefined
        if (typeof point === 'string' && !port)
          throw new Fault(
            `${link.path}.${end} names the termination point “${clip(point)}”, which “${clip(device.name)}” does not have`,
          )
        return { device: device.key, ...(port ? { port: port.name } : {}) }
      })
      const [a, b] = ends
      if (!a || !b) continue
      if (a.device === b.device) {
        unplaced.add('links from a node to itself')
        continue
      }
      noteOthers(unplaced, link.value, LINK_MEMBERS, 'links')
      // A link each way is one cable; several of one way are as many, where no termination points tell them apart.
      const names = [a, b].map((one) => `${one.device} ${'port' in one ? String(one.port) : ''}`)
      const way = `${id} ${names.join('|')}`
      counts.set(way, (counts.get(way) ?? 0) + 1)
      const isWhole = 'port' in a && 'port' in b
      const key = `${names.toSorted().join('|')} ${isWhole ? 1 : (counts.get(way) ?? 1)}`
      const rate = numberIn(recordIn(link.value, `${L2}:l2-link-attributes`), 'rate')
      const label = recordIn(link.value, OWN)['label']
      const known = cables.get(key)
      cables.set(key, {
        ...(known ?? { a, b }),
        fields: {
          ...known?.fields,
          ...(rate === undefined ? {} : { capacity: rate }),
          ...(typeof label === 'string' ? { label } : {}),
        },
      })
    }
  return {
    zones: [...zones].map(([name, fields]) => ({ name, fields })),
    devices: [...devices.values()].map((device): ToldDevice => ({ ...device, ports: [...device.ports.values()] })),
    cables: [...cables.values()],
  }
}

function readNode(node: Json, path: string, device: ReadDevice, zones: Map<string, Fields>, unplaced: Unplaced): void {
  const [two, three, own] = [
    recordIn(node, `${L2}:l2-node-attributes`),
    recordIn(node, `${L3}:l3-node-attributes`),
    recordIn(node, OWN),
  ]
  const name = [two['name'], three['name']].find((one): one is string => typeof one === 'string' && one.trim() !== '')
  if (name !== undefined) device.name = name.slice(0, LIMITS.name)
  const type = DEVICE_TYPES.find((one) => one === own['type'])
  if (type) device.fields['type'] = type
  if (own['critical'] === true) device.fields['critical'] = true
  for (const key of ['model', 'serial'] as const) {
    const text = own[key]
    if (typeof text === 'string') device.fields[key] = text.slice(0, LIMITS.name)
  }
  if (typeof own['zone'] === 'string') {
    device.zone = own['zone'].slice(0, LIMITS.name)
    const trust = TRUSTS.find((one) => one === own['trust'])
    zones.set(device.zone, trust === undefined ? {} : { trust })
  }
  if (typeof own['site'] === 'string') device.site = own['site'].slice(0, LIMITS.name)
  // What a node announces are prefixes of others, too: they are no addresses of its own.
  unplaced.add('announced prefixes', listOf(three, 'prefix', `${path}.l3-node-attributes`).length)
  const routers = textsIn(three, 'router-id', `${path}.l3-node-attributes`)
  const [router] = routers
  if (router !== undefined) device.fields['router'] = router
  unplaced.add('further router ids', Math.max(0, routers.length - 1))
  readAddresses(own, path, device.fields)
  noteOthers(unplaced, node, NODE_MEMBERS, 'nodes')
  noteOthers(unplaced, two, NODE_ATTRIBUTES, 'nodes')
  noteOthers(unplaced, three, NODE_ATTRIBUTES, 'nodes')
  for (const point of listOf(node, POINT, path)) {
    const key = textIn(point.value, 'tp-id', point.path)
    const below = listOf(point.value, SUPPORTING, point.path).flatMap(
      ({ value }) => device.ports.get(String(value['tp-ref'])) ?? [],
    )
    const port = below[0] ?? device.ports.get(key) ?? { name: key, fields: {} }
    device.ports.set(key, port)
    const attributes = recordIn(point.value, `${L2}:l2-termination-point-attributes`)
    if (typeof attributes['interface-name'] === 'string' && attributes['interface-name'] !== '')
      port.name = attributes['interface-name'].slice(0, LIMITS.name)
    if (typeof attributes['mac-address'] === 'string') port.fields['mac'] = attributes['mac-address']
    const numbers = { speed: 'rate', mtu: 'max-frame-size', vlan: 'port-vlan-id' } as const
    for (const [field, from] of Object.entries(numbers)) {
      const number = numberIn(attributes, from)
      if (number !== undefined) port.fields[field] = number
    }
    const layer3 = recordIn(point.value, `${L3}:l3-termination-point-attributes`)
    const routed = textsIn(layer3, 'ip-address', point.path).map((one) => addressIn(one, `${point.path}.ip-address`))
    // With the lengths of their prefixes where we wrote them.
    if (!readAddresses(recordIn(point.value, OWN), point.path, port.fields) && routed.length > 0)
      port.fields['addresses'] = routed
    noteOthers(unplaced, point.value, POINT_MEMBERS, 'termination points')
    noteOthers(unplaced, attributes, POINT_ATTRIBUTES, 'termination points')
    noteOthers(unplaced, layer3, ADDRESS_ATTRIBUTES, 'termination points')
  }
}

const NODE_MEMBERS = new Set([
  'node-id',
  'supporting-node',
  POINT,
  `${L2}:l2-node-attributes`,
  `${L3}:l3-node-attributes`,
  OWN,
])
const POINT_MEMBERS = new Set([
  'tp-id',
  SUPPORTING,
  `${L2}:l2-termination-point-attributes`,
  `${L3}:l3-termination-point-attributes`,
  OWN,
])
const LINK_MEMBERS = new Set([
  'link-id',
  'source',
  'destination',
  'supporting-link',
  `${L2}:l2-link-attributes`,
  `${L3}:l3-link-attributes`,
  OWN,
])
const NODE_ATTRIBUTES = new Set(['name', 'router-id', 'prefix'])
const POINT_ATTRIBUTES = new Set(['interface-name', 'mac-address', 'rate', 'max-frame-size', 'port-vlan-id'])
const ADDRESS_ATTRIBUTES = new Set(['ip-address'])

/** Takes note of the members of an object that nothing is made of. */
function noteOthers(unplaced: Unplaced, json: Json, known: ReadonlySet<string>, of: string): void {
  const bare = (name: string) => name.slice(name.indexOf(':') + 1)
  const all = new Set([...known].flatMap((name) => [name, bare(name)]))
  for (const key of Object.keys(json)) if (!all.has(key)) unplaced.add(`“${clip(bare(key))}” of ${of}`)
}

function textsIn(json: Json, name: string, path: string): string[] {
  const list = json[name]
  if (list === undefined) return []
  if (!Array.isArray(list) || !list.every((one): one is string => typeof one === 'string'))
    throw new Fault(`${path}.${name} is no list of texts`)
  return list
}

/** Addresses as we write them. @returns whether there are any. */
function readAddresses(own: Json, path: string, fields: Record<string, Fields[string]>): boolean {
  for (const name of ['addresses', 'shared'] as const) {
    const list = textsIn(own, name, path).map((one) => addressIn(one, `${path}.${name}`))
    if (list.length > 0) fields[name] = list
  }
  return own['addresses'] !== undefined || own['shared'] !== undefined
}

function addressIn(text: string, path: string): string {
  if (!readInterface(text)) throw new Fault(`${path} has “${clip(text)}”, which is no address`)
  return text
}
