import { counted, covers, type Entity, type Fields, type Id, type Step } from '../../../model'
import {
  readCell,
  readRows,
  setEntity,
  type FaultAt,
  type ImportColumn,
  type ImportOptions,
  type ImportPlan,
  type ImportRow,
  type TableImport,
  type Wish,
} from '../../../notation'
import { addressFault, readInterface } from '../addresses'
import { cableEnd, lastOf, netIn, portsOf, removeDevice } from '../edits'
import { entityKinds, relationKinds, DEVICE_TYPES } from '../kinds'
import { readSpeed } from '../speed'
import type { Port } from '../structure'
import { bring, type Brought, type ToldCable, type ToldDevice, type ToldEnd } from './bring'
import { hostsReader } from './hosts'
import { NEIGHBOURS, neighbourReader, seenSteps } from './neighbours'

const column = (
  id: string,
  label: string,
  headings: readonly string[],
  more: Partial<ImportColumn> = {},
): ImportColumn => ({
  id,
  label,
  headings,
  ...more,
})

/** One row a device. */
export const deviceTable: TableImport = {
  id: 'devices',
  title: 'Devices, one row a device',
  columns: [
    column('host', 'Host', ['host', 'hostname', 'host name', 'name', 'device', 'device name', 'node', 'fqdn']),
    column('type', 'Type', ['type', 'kind', 'role', 'device type', 'function']),
    column('addresses', 'Addresses', [
      'addresses',
      'address',
      'ip',
      'ip address',
      'ipv4',
      'management ip',
      'mgmt ip',
      'ip addresses',
    ]),
    column('zone', 'Zone', ['zone', 'security zone', 'segment', 'area']),
    column('site', 'Site', ['site', 'location', 'building', 'place']),
    column('rack', 'Rack', ['rack', 'cabinet']),
    column('unit', 'Lowest unit', ['unit', 'u', 'rack unit', 'position', 'lowest unit'], { says: 'number' }),
    column('height', 'Units', ['height', 'units', 'size', 'u height'], { says: 'number' }),
    column('watts', 'Power', ['watts', 'power', 'power w'], { says: 'number' }),
    column('critical', 'Critical', ['critical', 'important'], { says: 'flag' }),
    column('model', 'Model', ['model', 'product']),
    column('serial', 'Serial', ['serial', 'serial number', 'sn']),
    column('mtbf', 'MTBF', ['mtbf'], { says: 'number' }),
    column('mttr', 'MTTR', ['mttr'], { says: 'number' }),
    column('hosts', 'Hosts', ['hosts', 'system', 'systems', 'runs', 'service', 'application']),
  ],
  readers: [hostsReader],
  plan: planDevices,
}

/** One row a cable, with both its ends. */
export const cableTable: TableImport = {
  id: 'cables',
  title: 'Cables, one row a cable',
  columns: [
    column('from', 'From', [
      'from',
      'a',
      'device a',
      'from device',
      'source',
      'source device',
      'a end',
      'near end',
      'local device',
    ]),
    column('fromPort', 'Port there', ['from port', 'port a', 'a port', 'source port', 'local port', 'port from']),
    column('to', 'To', [
      'to',
      'b',
      'device b',
      'to device',
      'target',
      'destination',
      'b end',
      'far end',
      'remote device',
    ]),
    column('toPort', 'Port at the other end', [
      'to port',
      'port b',
      'b port',
      'target port',
      'destination port',
      'remote port',
      'port to',
    ]),
    column('capacity', 'Capacity', ['capacity', 'speed', 'bandwidth', 'rate']),
    column('medium', 'Medium', ['medium', 'media', 'cable type']),
    column('category', 'Category', ['category', 'cat', 'class']),
    column('length', 'Length', ['length', 'metres', 'length m', 'm'], { says: 'number' }),
    column('label', 'Label', ['label', 'cable', 'cable id', 'id', 'name']),
  ],
  readers: [neighbourReader],
  plan: planCables,
}

const fieldOf = (kind: string, id: string) =>
  [...entityKinds, ...relationKinds].find((one) => one.id === kind)?.fields.find((one) => one.id === id)

const DEVICE_FIELDS = ['unit', 'height', 'watts', 'critical', 'model', 'serial', 'mtbf', 'mttr'] as const

/** Words that people use for sorts of devices. */
const TYPE_WORDS: Readonly<Record<string, string>> = {
  ap: 'access point',
  'wireless access point': 'access point',
  wap: 'access point',
  cloud: 'cloud service',
  provider: 'cloud service',
  isp: 'cloud service',
  pc: 'endpoint',
  desktop: 'endpoint',
  laptop: 'endpoint',
  printer: 'endpoint',
  client: 'endpoint',
  nas: 'storage',
  san: 'storage',
  vm: 'server',
  host: 'server',
}

/** O(rows + network). */
function planDevices(wish: Wish, rows: readonly ImportRow[], options: ImportOptions): ImportPlan {
  const { read, faults, bad } = readRows(rows, options, readDevices)
  const told = bad.size > 0 ? [] : read
  const brought = bring(wish, { devices: told, cables: [] })
  const here = new Set(told.map(({ name }) => name.toLowerCase()))
  const gone = told.length === 0 ? [] : netIn(wish).devices.filter(({ name }) => !here.has(name.toLowerCase()))
  const ends = options.endGone ? gone.flatMap(({ entity }) => deviceEnds(wish, entity)) : []
  return planOf(
    `Bring in a table of ${counted(rows.length, 'device')}`,
    brought.steps,
    brought,
    faults,
    gone,
    once(ends),
  )
}

function readDevices(rows: readonly ImportRow[], faultAt: FaultAt): ToldDevice[] {
  const seen = new Map<string, number>()
  return rows.flatMap(({ number, cells }): ToldDevice[] => {
    const fault = (where: string, message: string) => faultAt(number, where, message)
    let name = (cells['host'] ?? '').trim()
    let stated = cells['addresses'] ?? ''
    // “name address” or “address name” in one cell.
    const parts = name.split(/\s+/)
    if (stated === '' && parts.length === 2) {
      const at = parts.findIndex((part) => readInterface(part))
      if (at >= 0) {
        stated = parts[at] ?? ''
        name = parts[1 - at] ?? ''
      }
    }
    if (name === '') return (fault('Host', 'There is no name.'), [])
    if (name.length > 400) return (fault('Host', `It has ${name.length} characters; 400 is the most.`), [])
    const twin = seen.get(name.toLowerCase())
    if (twin !== undefined) return (fault('Host', `It has the name of row ${twin}.`), [])
    seen.set(name.toLowerCase(), number)
    const fields: Record<string, Fields[string]> = {}
    const addresses = stated.split(/[,;\s]+/).filter(Boolean)
    for (const one of addresses)
      if (!readInterface(one)) fault('Addresses', `“${one.slice(0, 60)}”: ${addressFault(one)}.`)
    if (addresses.length > 0) fields['addresses'] = addresses
    const said = (cells['type'] ?? '').trim().toLowerCase()
    const type = DEVICE_TYPES.find((one) => one === (TYPE_WORDS[said] ?? said))
    if (type) fields['type'] = type
    else if (said !== '') fault('Type', `“${said.slice(0, 60)}” is none of ${DEVICE_TYPES.join(', ')}.`)
    for (const id of DEVICE_FIELDS) {
      const field = fieldOf('device', id)
      const value = field && readCell(field, cells[id], fault)
      if (value !== undefined) fields[id] = value
    }
    const hosts = (cells['hosts'] ?? '').split(/\s*[,;]\s*/).filter((one) => one !== '' && one !== '-' && one !== '–')
    return [{ name, fields, zone: cells['zone'], site: cells['site'], rack: cells['rack'], hosts, ports: [] }]
  })
}

function planCables(wish: Wish, rows: readonly ImportRow[], options: ImportOptions): ImportPlan {
  const net = netIn(wish)
  const { read, faults, bad } = readRows(rows, options, readCables)
  const told = bad.size > 0 ? [] : read
  const brought = bring(wish, { devices: [], cables: told })
  const keyOf = (a: ToldEnd, b: ToldEnd) =>
    [a, b]
      .map(({ device, port }) => `${device} ${port ?? ''}`.toLowerCase())
      .sort()
      .join('|')
  const here = new Set(told.map(({ a, b }) => keyOf(a, b)))
  // Devices that tell nothing of their neighbours, as those of providers, leave none of their cables out.
  const isNetwork = options.source === NEIGHBOURS
  const telling = new Set(told.flatMap(({ a, b }) => [a.device.toLowerCase(), b.device.toLowerCase()]))
  const tells = ({ device }: Port) => !isNetwork || telling.has(device.name.toLowerCase())
  const gone =
    told.length === 0
      ? []
      : net.cables.filter(
          ({ a, b }) =>
            tells(a) &&
            tells(b) &&
            !here.has(keyOf({ device: a.device.name, port: a.name }, { device: b.device.name, port: b.name })) &&
            !here.has(keyOf({ device: a.device.name }, { device: b.device.name })),
        )
  // Their ports stay: other cables of the table may lead there now, from the day shown on.
  const ended = options.endGone ? gone : []
  const ends = ended.map(({ relation }) => cableEnd(relation, wish.day))
  const freed = new Set(ended.flatMap(({ a, b }) => [a.id, b.id]))
  const steps = brought.steps.map((step): Step => {
    if (step.do !== 'add-relation' || step.relation.kind !== 'cable') return step
    const { relation } = step
    const isLater = freed.has(relation.source) || freed.has(relation.target)
    return isLater ? { ...step, relation: { ...relation, from: wish.day } } : step
  })
  // What the network shows is kept beside the facts, so that what differs from them later is found.
  const seen = isNetwork && told.length > 0 ? seenSteps(wish, told) : []
  return planOf(
    `Bring in a table of ${counted(rows.length, 'cable')}`,
    steps,
    brought,
    faults,
    gone.map(({ id, a, b }) => ({ id, name: `${a.device.name} ${a.name} – ${b.device.name} ${b.name}` })),
    [...once(ends), ...seen],
  )
}

function readCables(rows: readonly ImportRow[], faultAt: FaultAt): ToldCable[] {
  return rows.flatMap(({ number, cells }): ToldCable[] => {
    const fault = (where: string, message: string) => faultAt(number, where, message)
    const end = (device: string, port: string, label: string): ToldEnd | undefined => {
      const [name = '', ...rest] = (cells[device] ?? '').trim().split(/\s+|:(?=[^:]*$)/)
      const own = (cells[port] ?? '').trim() || rest.join(' ')
      if (name === '') fault(label, 'There is no device.')
      return name === '' ? undefined : { device: name, ...(own === '' ? {} : { port: own }) }
    }
    const [a, b] = [end('from', 'fromPort', 'From'), end('to', 'toPort', 'To')]
    if (!a || !b) return []
    if (a.device.toLowerCase() === b.device.toLowerCase() && a.port === b.port)
      return (fault('To', 'A cable joins two ports.'), [])
    const fields: Record<string, Fields[string]> = {}
    const speed = readSpeed(cells['capacity'] ?? '')
    for (const id of ['capacity', 'medium', 'category', 'length', 'label'] as const) {
      const field = fieldOf('cable', id)
      const text =
        id === 'capacity' && speed !== undefined ? String(speed) : (cells[id] ?? '').replace(/^cat\.?\s*/i, '')
      const value = field && readCell(field, text, fault)
      if (value !== undefined) fields[id] = value
    }
    return [{ a, b, fields }]
  })
}

/** A device ends with the cables that lead to it. */
function deviceEnds({ model, day }: Wish, device: Entity): Step[] {
  const last = lastOf(device, day)
  if (last === undefined) return removeDevice(model, device.id)
  const cables = portsOf(model, device.id).flatMap(({ id }) => [
    ...model.leaving(id, 'cable'),
    ...model.reaching(id, 'cable'),
  ])
  return [
    setEntity(device.id, 'to', last),
    ...cables.filter((cable) => covers(cable, day)).map((cable) => cableEnd(cable, day)),
  ]
}

function planOf(
  label: string,
  steps: readonly Step[],
  { added, altered }: Brought,
  faults: ImportPlan['faults'],
  gone: readonly { readonly id: Id; readonly name: string }[],
  ends: readonly Step[],
): ImportPlan {
  return {
    change: { label, steps: [...steps, ...ends] },
    faults,
    added,
    altered,
    gone: gone.map(({ id, name }) => ({ id, name })),
  }
}

/** What two ends share is taken away once. */
function once(steps: readonly Step[]): Step[] {
  const seen = new Set<string>()
  return steps.filter((step) => {
    const key = 'id' in step ? `${step.do} ${step.id}` : ''
    if (key !== '' && seen.has(key)) return false
    seen.add(key)
    return true
  })
}
