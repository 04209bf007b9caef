import {
  covers,
  grouped,
  FactRecall,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
  type View,
} from '../../model'
import { entityNamed, inOrder, listOf, namedIn, numberOf, textOf } from '../../notation'
import { readInterface, saysLength, type Interface } from './addresses'
import { DEVICE_TYPES, networks, TRUSTS, type DeviceType, type Trust } from './kinds'

/** An address as a device has it. */
export interface Stated extends Interface {
  readonly text: string
  readonly device: Device
  readonly port: Port | undefined
  readonly vrf: string
  /** Whether its text says the prefix: without it, it stands for itself. */
  readonly long: boolean
  /** Whether it is one that several devices share, and whichever is up answers to. */
  readonly shared: boolean
}

export interface Device {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly type: DeviceType | undefined
  readonly zone: Zone | undefined
  readonly site: Entity | undefined
  readonly rack: Entity | undefined
  readonly ports: Port[]
  /** Its own and those of its ports, as far as they can be read. */
  readonly addresses: Stated[]
  readonly critical: boolean
  /** Whether traffic of others goes through it. */
  readonly passes: boolean
}

export interface Port {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly device: Device
  readonly cables: Cable[]
}

export interface Cable {
  readonly id: Id
  readonly relation: Relation
  readonly a: Port
  readonly b: Port
}

export interface Zone {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly trust: Trust | undefined
}

export interface Flow {
  readonly id: Id
  readonly relation: Relation
  readonly from: Device
  readonly to: Device
}

/** One network on a day. */
export interface Net {
  readonly entity: Entity | undefined
  readonly id: Id | undefined
  readonly devices: readonly Device[]
  readonly byId: ReadonlyMap<Id, Device>
  readonly ports: ReadonlyMap<Id, Port>
  readonly cables: readonly Cable[]
  readonly zones: readonly Zone[]
  readonly subnets: readonly Entity[]
  readonly flows: readonly Flow[]
  readonly filters: readonly Entity[]
}

const nets = new FactRecall<readonly Net[]>()

/** All networks of a day, those devices that belong to none as one of their own. O(facts) once for the facts and each day. */
export const netsOn = (model: Model, day: Day): readonly Net[] =>
  nets.of(model, day, () => {
    const here = <T extends Entity | Relation>(list: readonly T[]) => list.filter((fact) => covers(fact, day))
    const known = new Set(model.ofKind('network').map(({ id }) => id as string))
    const of = ({ fields }: Entity) => {
      const named = fields['network']
      return typeof named === 'string' && known.has(named) ? named : ''
    }
    const [devices, zones, subnets, filters] = ['device', 'zone', 'subnet', 'filter'].map((kind) =>
      grouped(here(model.ofKind(kind)), of),
    ) as [Groups, Groups, Groups, Groups]
    const ports = grouped(here(model.ofKind('port')), ({ fields }) => String(fields['device'] ?? ''))
    const ids = [...(devices.has('') || zones.has('') || subnets.has('') ? [''] : []), ...known]
    return ids.map((id) =>
      netOf(model, day, id === '' ? undefined : (id as Id), {
        devices: devices.get(id) ?? [],
        zones: zones.get(id) ?? [],
        subnets: subnets.get(id) ?? [],
        filters: filters.get(id) ?? [],
        ports,
      }),
    )
  })

type Groups = Map<string, Entity[]>

/** The network that a view shows; without devices where there is none. */
export function netShown(model: Model, view: Pick<View, 'scope'> | undefined, day: Day): Net {
  const all = netsOn(model, day)
  const empty = (): Net =>
    netOf(model, day, undefined, { devices: [], zones: [], subnets: [], filters: [], ports: new Map() })
  if (view && networks.isBlank(view)) return empty()
  const id = networks.of(model, view)
  return all.find((net) => net.id === id) ?? (id === undefined ? all[0] : undefined) ?? empty()
}

/** The network that a device, zone or subnet belongs to. */
export const netWith = (model: Model, day: Day, id: Id): Net | undefined =>
  netsOn(model, day).find((net) => net.byId.has(id) || net.ports.has(id) || net.zones.some((zone) => zone.id === id))

interface Members {
  readonly devices: readonly Entity[]
  readonly zones: readonly Entity[]
  readonly subnets: readonly Entity[]
  readonly filters: readonly Entity[]
  readonly ports: ReadonlyMap<string, readonly Entity[]>
}

function netOf(model: Model, day: Day, id: Id | undefined, members: Members): Net {
  const zones = inOrder(members.zones).map((entity): Zone => ({
    id: entity.id,
    entity,
    name: entity.name,
    trust: TRUSTS.find((one) => one === entity.fields['trust']),
  }))
  const zoneOf = namedIn(zones)
  const ports = new Map<Id, Port>()
  const devices = inOrder(members.devices).map((entity) => {
    const device = deviceOf(model, day, entity, zoneOf)
    for (const one of inOrder(members.ports.get(entity.id) ?? [])) {
      const port: Port = { id: one.id, entity: one, name: one.name, device, cables: [] }
      device.ports.push(port)
      ports.set(port.id, port)
      device.addresses.push(...statedOf(one, device, port))
    }
    return device
  })
  const byId = new Map(devices.map((device) => [device.id, device]))
  const cables: Cable[] = []
  for (const relation of model.relationsOfKind('cable')) {
    const [a, b] = [ports.get(relation.source), ports.get(relation.target)]
    if (!a || !b || !covers(relation, day)) continue
    const cable = { id: relation.id, relation, a, b }
    cables.push(cable)
    a.cables.push(cable)
    if (b !== a) b.cables.push(cable)
  }
  const flows = model.relationsOfKind('traffic').flatMap((relation): Flow[] => {
    const [from, to] = [byId.get(relation.source), byId.get(relation.target)]
    return from && to && covers(relation, day) ? [{ id: relation.id, relation, from, to }] : []
  })
  return {
    entity: id === undefined ? undefined : model.entities.get(id),
    id,
    devices,
    byId,
    ports,
    cables,
    zones,
    subnets: inOrder(members.subnets),
    flows,
    filters: inOrder(members.filters),
  }
}

/** What others hang on does not pass traffic on by itself, unless somebody says so. */
const ENDS: ReadonlySet<DeviceType | undefined> = new Set(['server', 'storage', 'endpoint'])

function deviceOf(model: Model, day: Day, entity: Entity, zoneOf: (text: unknown) => Zone | undefined): Device {
  const { id, name, fields } = entity
  const type = DEVICE_TYPES.find((one) => one === fields['type'])
  const rack = typeof fields['rack'] === 'string' ? entityNamed(model, ['rack'], fields['rack']) : undefined
  const device: Device = {
    id,
    entity,
    name,
    type,
    zone: zoneOf(fields['zone']),
    site: siteOf(model, day, id, rack),
    rack,
    ports: [],
    addresses: [],
    critical: fields['critical'] === true,
    passes: fields['passes'] === undefined ? !ENDS.has(type) : fields['passes'] === 'yes',
  }
  device.addresses.push(...statedOf(entity, device, undefined))
  return device
}

/** Where a device stands on a day. */
export function siteOfDevice(model: Model, device: Id, day: Day): Entity | undefined {
  const rack = model.entities.get(device)?.fields['rack']
  return siteOf(model, day, device, typeof rack === 'string' ? entityNamed(model, ['rack'], rack) : undefined)
}

export const siteOfRack = (model: Model, rack: Entity): Entity | undefined => {
  const text = rack.fields['site']
  return typeof text === 'string' ? entityNamed(model, ['site'], text) : undefined
}

/** As it is said, else where its rack does. */
function siteOf(model: Model, day: Day, device: Id, rack: Entity | undefined): Entity | undefined {
  const stated = model.leaving(device, 'located-at').find((tie) => covers(tie, day))
  if (stated) return model.entities.get(stated.target)
  return rack && siteOfRack(model, rack)
}

function statedOf(entity: Entity, device: Device, port: Port | undefined): Stated[] {
  const vrf = textOf(entity, 'vrf') ?? textOf(device.entity, 'vrf') ?? ''
  return (['addresses', 'shared'] as const).flatMap((field) =>
    listOf(entity, field).flatMap((text): Stated[] => {
      const read = readInterface(text)
      return read ? [{ ...read, text, device, port, vrf, long: saysLength(text), shared: field === 'shared' }] : []
    }),
  )
}

/** The device at the other end of a cable, and its port. */
export const acrossFrom = ({ a, b }: Cable, port: Port): Port => (port === a ? b : a)

/** What a cable carries, in Mbit/s: as it is stated, else the slower of its ports; undefined where nobody says. */
export function capacityOf({ relation, a, b }: Cable): number | undefined {
  const stated = numberOf(relation, 'capacity')
  if (stated !== undefined) return stated
  const speeds = [numberOf(a.entity, 'speed'), numberOf(b.entity, 'speed')].flatMap((one) => one ?? [])
  return speeds.length === 0 ? undefined : Math.min(...speeds)
}
