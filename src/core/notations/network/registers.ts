import type { Day, Entity, Id, Model, Relation, Step } from '../../model'
import { covers, FactRecall } from '../../model'
import {
  adding,
  between,
  changed,
  endColumn,
  entityNamed,
  fieldColumn,
  fieldOf,
  fromColumn,
  nameColumn,
  namesOf,
  referenceColumn,
  relationColumn,
  removeRelation,
  rowsOf,
  setField,
  setRelation,
  sharedKinds,
  tie,
  tieColumn,
  toColumn,
  type Chip,
  type Column,
  type Outcome,
  type Register,
  type Wish,
} from '../../notation'
import { addressFault, readAddress, readInterface, readPrefix, readRange } from './addresses'
import { cableTo, flowTo } from './actions'
import { inNet, lastOrder, netFor, netIn } from './edits'
import { entityKinds, relationKinds } from './kinds'
import { freePortName } from './outline'
import { readSpeed, speedText } from './speed'
import { netsOn, netWith, siteOfDevice, type Net } from './structure'

const own = (kind: string, id: string, width?: number): Column => fieldColumn(fieldOf(entityKinds, kind, id), width)

const UNWRITTEN = { refused: 'This cannot be written.' }
const write = (column: Column, wish: Wish, row: Id, text: string): Outcome =>
  column.write?.(wish, row, text) ?? UNWRITTEN

/** A column whose cells are checked part by part as they are written. */
const checked = (column: Column, fault: (part: string) => string | undefined): Column => ({
  ...column,
  mono: true,
  write: (wish, row, text) => {
    for (const part of text.split(/\s*[,;]\s*/).filter(Boolean)) {
      const why = fault(part)
      if (why !== undefined) return { refused: `“${part.slice(0, 60)}”: ${why}.` }
    }
    return write(column, wish, row, text)
  },
})

const countsByZone = new FactRecall<ReadonlyMap<Id, number>>()

/** How many devices each zone has on a day. O(devices) once for the facts and each day. */
const devicesIn = (model: Model, day: Day): ReadonlyMap<Id, number> =>
  countsByZone.of(model, day, () => {
    const counts = new Map<Id, number>()
    for (const { devices } of netsOn(model, day))
      for (const { zone } of devices) if (zone) counts.set(zone.id, (counts.get(zone.id) ?? 0) + 1)
    return counts
  })

const isAddress = (part: string): string | undefined => (readInterface(part) ? undefined : addressFault(part))

/** Addresses as chips: each leads to the subnet that it is in, else to what has it, and can be taken off. */
const addressesColumn = (kind: 'device' | 'port'): Column => {
  const column = checked(own(kind, 'addresses', 190), isAddress)
  return {
    ...column,
    chips: (model, row) => {
      const entity = model.entities.get(row)
      const list = entity?.fields['addresses']
      if (!entity || !Array.isArray(list)) return []
      return (list as readonly string[]).map((text, at): Chip => {
        const subnet = subnetOf(model, text)
        const rest = (list as readonly string[]).toSpliced(at, 1)
        return {
          label: text,
          title: subnet ? `${text} in ${subnet.name}` : `${text}, in no subnet`,
          fact: subnet?.id ?? entity.id,
          off: {
            label: `Take ${text} off “${entity.name}”`,
            steps: [setField(row, 'addresses', rest.length > 0 ? rest : null)],
          },
        }
      })
    },
  }
}

/** The narrowest subnet that holds an address. O(subnets) */
function subnetOf(model: Model, text: string): Entity | undefined {
  const address = readInterface(text)?.address
  if (!address) return undefined
  let best: { entity: Entity; length: number } | undefined
  for (const entity of model.ofKind('subnet')) {
    const prefix = readPrefix(String(entity.fields['prefix'] ?? ''))
    if (!prefix || prefix.family !== address.family) continue
    const inside = address.value >= prefix.first && address.value <= prefix.last
    if (inside && prefix.length >= (best?.length ?? 0)) best = { entity, length: prefix.length }
  }
  return best?.entity
}

/** A speed, said as `10G`; a bare number is Mbit/s. */
const asSpeed = (column: Column): Column => ({
  ...column,
  type: 'text',
  mono: true,
  read: (model, row, day) => {
    const value = column.read(model, row, day)
    return typeof value === 'number' ? speedText(value) : value
  },
  write: (wish, row, text) => {
    const speed = readSpeed(text)
    return write(column, wish, row, speed === undefined ? text : String(speed))
  },
})

const zoneColumn = (kind: 'device' | 'subnet'): Column => {
  const column = referenceColumn(fieldOf(entityKinds, kind, 'zone'), 120)
  return {
    ...column,
    write: (wish, row, text) =>
      text.trim() === '' || entityNamed(wish.model, ['zone'], text)
        ? write(column, wish, row, text)
        : { refused: `There is no zone “${text.trim().slice(0, 60)}”.` },
  }
}

/** Where a device stands: as it is stated, else where its rack does. */
export const siteColumn: Column = {
  ...tieColumn('located-at', 'Site', 'site', 'stands at'),
  width: 130,
  read: (model, row, day) => siteOfDevice(model, row, day)?.name,
}
const rackSiteColumn = referenceColumn(fieldOf(entityKinds, 'rack', 'site'), 140, 'site')
const rackColumn = referenceColumn(fieldOf(entityKinds, 'device', 'rack'), 90, 'rack')

/** The systems that a device hosts, each a chip. */
export const hostsColumn: Column = {
  ...tieColumn('hosts', 'Hosts', 'system', 'hosts'),
  width: 170,
  chips: (model, row, day) =>
    model.leaving(row, 'hosts').flatMap((tied): Chip[] => {
      const system = model.entities.get(tied.target)
      if (!system || !covers(tied, day)) return []
      const words = `“${model.entities.get(row)?.name ?? row}” no longer hosts “${system.name}”`
      return [
        {
          label: system.name,
          title: system.name,
          fact: system.id,
          off: { label: words, steps: [removeRelation(tied.id)] },
        },
      ]
    }),
  write: ({ model, day, newId }, row, text) => {
    const names = text.split(/\s*,\s*/).filter(Boolean)
    const now = model.leaving(row, 'hosts').filter((tied) => covers(tied, day))
    const wanted = names.map((name) => entityNamed(model, ['system'], name) ?? { id: newId(), name })
    const steps: Step[] = now
      .filter(({ target }) => !wanted.some(({ id }) => id === target))
      .map(({ id }) => removeRelation(id))
    for (const { id, name } of wanted) {
      if (now.some(({ target }) => target === id)) continue
      if (!model.entities.has(id)) steps.push({ do: 'add-entity', entity: { id, kind: 'system', name, fields: {} } })
      steps.push(tie(newId(), 'hosts', row, id))
    }
    return changed(`“${model.entities.get(row)?.name ?? row}” hosts ${names.join(', ') || 'nothing'}`, steps)
  },
}

/** A port is called by its device and its own name. */
const portWords = (model: Model, id: Id): string => {
  const port = model.entities.get(id)
  const device = port && model.entities.get(port.fields['device'] as Id)
  return port ? [device?.name, port.name].filter(Boolean).join(' ') : id
}

/** The port at the other end of a port’s cable, as a chip. */
export const cabledColumn: Column = {
  id: 'cabled',
  label: 'Cabled to',
  type: 'text',
  width: 190,
  read: (model, row, day) =>
    othersOf(model, row, day)
      .map(({ words }) => words)
      .join(', ') || undefined,
  chips: (model, row, day) =>
    othersOf(model, row, day).map(({ cable, other, words }): Chip => ({
      label: words,
      title: words,
      fact: other,
      off: { label: `Take the cable from ${portWords(model, row)} to ${words} away`, steps: [removeRelation(cable)] },
    })),
  choices: (model) => model.ofKind('port').map(({ id }) => portWords(model, id)),
  write: (wish, row, text): Outcome => {
    const { model, day } = wish
    const gone = othersOf(model, row, day)
    const steps: Step[] = gone.map(({ cable }) => removeRelation(cable))
    const name = text.trim()
    if (name === '') return changed(`Nothing is cabled to ${portWords(model, row)}`, steps)
    const port = model.ofKind('port').find(({ id }) => portWords(model, id).toLowerCase() === name.toLowerCase())
    if (!port)
      return { refused: `There is no port “${name.slice(0, 60)}”: write a device and its port, as sw-core-1 p1.` }
    if (port.id === row) return { refused: 'A port is not cabled to itself.' }
    return changed(`Cable ${portWords(model, row)} to ${portWords(model, port.id)}`, [
      ...steps,
      tie(wish.newId(), 'cable', row, port.id),
    ])
  },
}

const othersOf = (model: Model, port: Id, day: Day): { cable: Id; other: Id; words: string }[] =>
  [...model.leaving(port, 'cable'), ...model.reaching(port, 'cable')].flatMap((cable) => {
    if (!covers(cable, day)) return []
    const other = cable.source === port ? cable.target : cable.source
    return [{ cable: cable.id, other, words: portWords(model, other) }]
  })

const deviceColumn = referenceColumn(fieldOf(entityKinds, 'port', 'device'), 130)

/** An end of a cable: written as a device and its port. */
const portEnd = (end: 'source' | 'target', label: string): Column => ({
  ...endColumn(end, label, 180, (model, id) => portWords(model, id)),
  mono: true,
  choices: (model) => model.ofKind('port').map(({ id }) => portWords(model, id)),
  chips: (model, row) => {
    const relation = model.relations.get(row)
    return relation ? [endChip(model, relation, end, portWords)] : []
  },
  write: ({ model }, row, text) => {
    const port = model.ofKind('port').find(({ id }) => portWords(model, id).toLowerCase() === text.trim().toLowerCase())
    return port
      ? changed(`Cable to ${portWords(model, port.id)}`, [setRelation(row, end, port.id)])
      : { refused: `There is no port “${text.trim().slice(0, 60)}”: write a device and its port, as sw-core-1 p1.` }
  },
})

/** An end of a flow: a device. */
const deviceEnd = (end: 'source' | 'target', label: string): Column => ({
  ...endColumn(end, label, 150),
  mono: true,
  choices: namesOf('device'),
  chips: (model, row) => {
    const relation = model.relations.get(row)
    return relation ? [endChip(model, relation, end, (all, id) => all.entities.get(id)?.name ?? id)] : []
  },
  write: ({ model }, row, text) => {
    const device = entityNamed(model, ['device'], text)
    return device
      ? changed(`A flow ${end === 'source' ? 'from' : 'to'} “${device.name}”`, [setRelation(row, end, device.id)])
      : { refused: `There is no device “${text.trim().slice(0, 60)}”.` }
  },
})

const endChip = (
  model: Model,
  relation: Relation,
  end: 'source' | 'target',
  called: (model: Model, id: Id) => string,
): Chip => ({
  label: called(model, relation[end]),
  title: called(model, relation[end]),
  fact: relation[end],
  off: { label: `Take ${relation.kind === 'cable' ? 'a cable' : 'a flow'} away`, steps: [removeRelation(relation.id)] },
})

const ofRelation = (kind: 'cable' | 'traffic', id: string, width: number): Column =>
  relationColumn(fieldOf(relationKinds, kind, id), width, between(kind === 'cable' ? 'to' : 'sends to'))

/** An end of a rule: a zone, subnet or device by name, or an address or prefix. */
const ruleEnd = (id: 'source' | 'destination'): Column => {
  const column = referenceColumn(fieldOf(entityKinds, 'filter', id), 150)
  return {
    ...column,
    read: (model, row, day) => column.read(model, row, day) ?? 'any',
    choices: (model) => ['any', ...['zone', 'subnet', 'device'].flatMap((kind) => namesOf(kind)(model))],
    chips: (model, row) => {
      const entity = model.entities.get(row)
      const text = entity?.fields[id]
      const known = typeof text === 'string' ? entityNamed(model, ['zone', 'subnet', 'device'], text) : undefined
      return entity && known
        ? [
            {
              label: known.name,
              title: known.name,
              fact: known.id,
              off: { label: `“${entity.name}” speaks of any ${id}`, steps: [setField(row, id, null)] },
            },
          ]
        : []
    },
    write: (wish, row, text) => {
      const name = text.trim()
      if (/^any$/i.test(name)) return write(column, wish, row, '')
      const known = name === '' || entityNamed(wish.model, ['zone', 'subnet', 'device'], name)
      return known || readInterface(name)
        ? write(column, wish, row, text)
        : { refused: `“${name.slice(0, 60)}” is no zone, subnet or device, and ${addressFault(name)}.` }
    },
  }
}

const inOrder =
  (list: (net: Net) => readonly { readonly id: Id }[]): Register['rows'] =>
  (model, view, day) =>
    list(netIn({ model, view, day })).map(({ id }) => id)

/** Joins the two that are selected, else the first two devices. */
const ofTwo =
  (join: (wish: Wish, a: Id, b: Id) => Outcome, refused: string): NonNullable<Register['add']> =>
  (wish) => {
    const [a, b] = wish.selection.length === 2 ? wish.selection : netIn(wish).devices.map(({ id }) => id)
    return a !== undefined && b !== undefined ? join(wish, a, b) : { refused }
  }

const addIn =
  (
    kind: string,
    name: string,
    list: (net: Net) => readonly Entity[],
    more: Readonly<Record<string, string>> = {},
  ): Register['add'] =>
  (wish) => {
    const made = netFor(wish)
    const id = wish.newId()
    const order = lastOrder(list(netIn(wish))) + 1
    const entity: Entity = { id, kind, name, fields: { ...more, ...inNet(made.id), order } }
    return changed(`Add a ${kind === 'filter' ? 'rule' : kind}`, [...made.steps, { do: 'add-entity', entity }], {
      select: id,
    })
  }

export const deviceTies: readonly Column[] = [
  addressesColumn('device'),
  zoneColumn('device'),
  siteColumn,
  rackColumn,
  hostsColumn,
]

export const registers: readonly Register[] = [
  {
    id: 'devices',
    title: 'Devices',
    kind: 'device',
    columns: [
      { ...nameColumn('Host', 130), mono: true },
      own('device', 'type', 100),
      zoneColumn('device'),
      allAddressesColumn(),
      siteColumn,
      hostsColumn,
      own('device', 'critical', 70),
      rackColumn,
      own('device', 'unit', 70),
      own('device', 'height', 60),
      own('device', 'watts', 70),
      own('device', 'budget', 90),
      own('device', 'mtbf', 90),
      own('device', 'mttr', 70),
      own('device', 'passes', 110),
      own('device', 'vrf', 80),
      own('device', 'model', 110),
      own('device', 'serial', 110),
      fromColumn,
      toColumn,
    ],
    rows: inOrder(({ devices }) => devices),
    count: (model, view, day) => netIn({ model, view, day }).devices.length,
    add: addIn('device', 'new-device', ({ devices }) => devices.map(({ entity }) => entity)),
  },
  {
    id: 'ports',
    title: 'Ports',
    kind: 'port',
    columns: [
      deviceColumn,
      { ...nameColumn('Port', 90), mono: true },
      cabledColumn,
      addressesColumn('port'),
      asSpeed(own('port', 'speed', 70)),
      own('port', 'medium', 130),
      own('port', 'duplex', 70),
      own('port', 'mtu', 70),
      own('port', 'vlan', 70),
      own('port', 'tagged', 120),
      own('port', 'shared', 130),
      { ...own('port', 'mac', 140), mono: true },
      own('port', 'poe', 100),
      own('port', 'draws', 90),
    ],
    rows: (model, view, day) => [...netIn({ model, view, day }).ports.keys()],
    count: (model, view, day) => netIn({ model, view, day }).ports.size,
    add: (wish) => {
      const net = netIn(wish)
      const [selected] = wish.selection
      const device =
        (selected === undefined ? undefined : (net.byId.get(selected) ?? net.ports.get(selected)?.device)) ??
        net.devices[0]
      if (!device) return { refused: 'A port belongs to a device. Add a device first.' }
      const id = wish.newId()
      const fields = { device: device.id, order: lastOrder(device.ports.map(({ entity }) => entity)) + 1 }
      const entity: Entity = { id, kind: 'port', name: freePortName(net, device.id), fields }
      return changed(`Add a port to “${device.name}”`, [{ do: 'add-entity', entity }], { select: id })
    },
  },
  {
    id: 'cables',
    title: 'Cables',
    kind: 'port',
    columns: [
      portEnd('source', 'From'),
      portEnd('target', 'To'),
      asSpeed(ofRelation('cable', 'capacity', 80)),
      ofRelation('cable', 'medium', 130),
      ofRelation('cable', 'category', 80),
      ofRelation('cable', 'length', 70),
      ofRelation('cable', 'label', 110),
      ofRelation('cable', 'mtbf', 90),
      ofRelation('cable', 'mttr', 70),
      relationColumn({ id: 'from', label: 'Since', type: 'day' }, 96, between('to')),
      relationColumn({ id: 'to', label: 'Until', type: 'day' }, 96, between('to')),
    ],
    rows: inOrder(({ cables }) => cables),
    count: (model, view, day) => netIn({ model, view, day }).cables.length,
    add: ofTwo(cableTo, 'A cable joins two devices. Add them first.'),
  },
  {
    id: 'subnets',
    title: 'Subnets',
    kind: 'subnet',
    columns: [
      nameColumn('Subnet', 150),
      checked(own('subnet', 'prefix', 150), (part) => (readPrefix(part) ? undefined : addressFault(part))),
      own('subnet', 'vlan', 64),
      checked(own('subnet', 'gateway', 130), (part) => (readAddress(part) ? undefined : addressFault(part))),
      zoneColumn('subnet'),
      checked(own('subnet', 'reserved', 170), (part) =>
        readRange(part) ? undefined : 'write an address, a prefix, or 10.20.0.10-10.20.0.19',
      ),
      own('subnet', 'vrf', 80),
      fromColumn,
      toColumn,
    ],
    rows: inOrder(({ subnets }) => subnets),
    count: (model, view, day) => netIn({ model, view, day }).subnets.length,
    add: addIn('subnet', 'New subnet', ({ subnets }) => subnets, { prefix: '192.0.2.0/24' }),
  },
  {
    id: 'zones',
    title: 'Zones',
    kind: 'zone',
    columns: [
      nameColumn('Zone', 160),
      own('zone', 'trust', 90),
      {
        id: 'devices',
        label: 'Devices',
        type: 'number',
        width: 80,
        mono: true,
        read: (model, row, day) => devicesIn(model, day).get(row) ?? 0,
      },
      fromColumn,
      toColumn,
    ],
    rows: inOrder(({ zones }) => zones),
    count: (model, view, day) => netIn({ model, view, day }).zones.length,
    add: addIn('zone', 'New zone', ({ zones }) => zones.map(({ entity }) => entity), { trust: 'medium' }),
  },
  {
    id: 'sites',
    title: 'Sites',
    kind: 'site',
    columns: [
      nameColumn('Site', 170),
      fieldColumn(fieldOf(sharedKinds, 'site', 'latitude'), 90),
      fieldColumn(fieldOf(sharedKinds, 'site', 'longitude'), 90),
      fieldColumn(fieldOf(sharedKinds, 'site', 'address'), 220),
    ],
    rows: rowsOf('site'),
    add: adding('site', 'New site'),
  },
  {
    id: 'racks',
    title: 'Racks',
    kind: 'rack',
    columns: [
      nameColumn('Rack', 130),
      rackSiteColumn,
      own('rack', 'units', 70),
      own('rack', 'watts', 80),
      fromColumn,
      toColumn,
    ],
    rows: rowsOf('rack'),
    add: adding('rack', 'New rack', () => ({ units: 42 })),
  },
  {
    id: 'flows',
    title: 'Flows',
    kind: 'device',
    columns: [
      deviceEnd('source', 'From'),
      deviceEnd('target', 'To'),
      ofRelation('traffic', 'direction', 90),
      ofRelation('traffic', 'protocol', 80),
      { ...ofRelation('traffic', 'port', 90), mono: true },
      ofRelation('traffic', 'load', 80),
      ofRelation('traffic', 'needed', 80),
      relationColumn({ id: 'from', label: 'Since', type: 'day' }, 96, between('sends to')),
      relationColumn({ id: 'to', label: 'Until', type: 'day' }, 96, between('sends to')),
    ],
    rows: inOrder(({ flows }) => flows),
    count: (model, view, day) => netIn({ model, view, day }).flows.length,
    add: ofTwo(flowTo, 'A flow leads from a device to another. Add them first.'),
  },
  {
    id: 'rules',
    title: 'Rules',
    kind: 'filter',
    columns: [
      referenceColumn(fieldOf(entityKinds, 'filter', 'device'), 120),
      { ...own('filter', 'order', 60), label: 'No.' },
      nameColumn('Rule', 150),
      own('filter', 'verdict', 80),
      ruleEnd('source'),
      ruleEnd('destination'),
      own('filter', 'protocol', 80),
      { ...own('filter', 'port', 100), mono: true },
      fromColumn,
      toColumn,
    ],
    rows: inOrder(({ filters }) => filters),
    count: (model, view, day) => netIn({ model, view, day }).filters.length,
    add: (wish) => {
      const net = netIn(wish)
      const [selected] = wish.selection
      const device =
        (selected === undefined ? undefined : net.byId.get(selected)) ??
        net.devices.find(({ type }) => type === 'firewall')
      return addIn('filter', 'Deny all', ({ filters }) => filters, {
        verdict: 'deny',
        ...(device ? { device: device.id } : {}),
      })(wish)
    },
  },
  {
    id: 'networks',
    title: 'Networks',
    kind: 'network',
    columns: [nameColumn('Network', 220)],
    rows: rowsOf('network'),
    add: adding('network', 'New network'),
  },
]

/** A device’s own addresses, to be written, and those of its ports beside them. */
function allAddressesColumn(): Column {
  const column = addressesColumn('device')
  return {
    ...column,
    read: (model, row, day) => {
      const device = netWith(model, day, row)?.byId.get(row)
      return (
        device?.addresses
          .filter(({ shared }) => !shared)
          .map(({ text }) => text)
          .join(', ') || undefined
      )
    },
    write: (wish, row, text) => {
      const device = netWith(wish.model, wish.day, row)?.byId.get(row)
      // What its ports have is written at the ports.
      const others = new Set(device?.addresses.filter(({ port }) => port).map((one) => one.text))
      const rest = text.split(/\s*[,;]\s*/).filter((part) => part !== '' && !others.has(part))
      return write(column, wish, row, rest.join(', '))
    },
  }
}
