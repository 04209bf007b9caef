import {
  covers,
  grouped,
  type Day,
  type Entity,
  type FieldValue,
  type Id,
  type Model,
  type Relation,
} from '../../model'
import { entityNamed, numbered, type OutlineLine, numberOf, textOf } from '../../notation'
import { type Device, type Net, type Port } from './structure'
import { BENEATH, lineOf, named, typed, type LineKind, type Ref, type Typed } from './words'

/** A fact with the line that states it. */
export interface Told {
  readonly id: Id
  readonly depth: number
  readonly typed: Typed
  /** The device, or the zone, that it stands beneath. */
  readonly device: Device | undefined
  readonly zone: Id | undefined
}

/** A network as lines: zones with their subnets and devices, each device with what it has and does; then what is in no zone, racks and sites. O(facts) */
export function told(model: Model, net: Net, day: Day): Told[] {
  const names = new Names(model, net)
  const lines: Told[] = []
  const put = (id: Id, depth: number, one: Typed, device?: Device, zone?: Id) =>
    lines.push({ id, depth, typed: one, device, zone })
  const cables = grouped(net.cables, ({ a }) => a.device)
  const filters = new Map<string, Entity[]>()
  for (const filter of net.filters) {
    const device = textOf(filter, 'device') ?? ''
    const key = net.byId.has(device as Id) ? device : ''
    filters.set(key, [...(filters.get(key) ?? []), filter])
  }
  const putDevice = (device: Device, depth: number) => {
    put(device.id, depth, names.device(device, day), device, device.zone?.id)
    const beneath = (id: Id, one: Typed) => put(id, depth + 1, one, device, device.zone?.id)
    for (const port of device.ports) if (isTold(port)) beneath(port.id, names.port(port))
    for (const cable of cables.get(device) ?? []) beneath(cable.id, names.cable(cable.relation, cable.a, cable.b))
    for (const flow of net.flows) if (flow.from === device) beneath(flow.id, names.flow(flow.relation, flow.to))
    for (const filter of filters.get(device.id) ?? []) beneath(filter.id, names.filter(filter))
    for (const tie of model.leaving(device.id, 'hosts'))
      if (covers(tie, day) && model.entities.has(tie.target)) beneath(tie.id, names.hosts(tie))
  }
  const subnetsIn = (zone: Id | undefined) =>
    net.subnets.filter((subnet) => net.zones.find(({ id, name }) => isNamed(subnet, 'zone', id, name))?.id === zone)
  for (const zone of net.zones) {
    put(zone.id, 0, names.zone(zone.entity), undefined, zone.id)
    for (const subnet of subnetsIn(zone.id)) put(subnet.id, 1, names.subnet(subnet), undefined, zone.id)
    for (const device of net.devices) if (device.zone === zone) putDevice(device, 1)
  }
  for (const subnet of subnetsIn(undefined)) put(subnet.id, 0, names.subnet(subnet))
  for (const device of net.devices) if (!device.zone) putDevice(device, 0)
  for (const filter of filters.get('') ?? []) put(filter.id, 0, names.filter(filter))
  const racks = new Set(net.devices.flatMap(({ rack }) => rack ?? []))
  const sites = new Set([
    ...net.devices.flatMap(({ site }) => site ?? []),
    ...[...racks].flatMap((rack) => entityNamed(model, ['site'], textOf(rack, 'site') ?? '') ?? []),
  ])
  for (const rack of racks) put(rack.id, 0, names.rack(rack))
  for (const site of sites) put(site.id, 0, names.site(site))
  return lines
}

/** O(facts), less where lines have been written before. */
export const linesOf = (model: Model, net: Net, day: Day): OutlineLine[] =>
  told(model, net, day).map(({ id, depth, typed: one }) => ({
    id,
    depth,
    text: lineOf(one, BENEATH.has(one.is) && depth > 0 ? 'device' : 'elsewhere'),
  }))

const isNamed = (fact: Entity, field: string, id: Id, name: string): boolean => {
  const text = textOf(fact, field)
  return text === id || text?.toLowerCase() === name.toLowerCase()
}

/** A port that a cable names needs no line of its own unless it says more, or another one is called the same. */
const isTold = ({ id, name, entity, cables, device }: Port): boolean =>
  cables.length === 0 ||
  entity.from !== undefined ||
  entity.to !== undefined ||
  Object.keys(entity.fields).some((field) => field !== 'device' && field !== 'order' && field !== 'note') ||
  device.ports.some((other) => other.id !== id && other.name.toLowerCase() === name.toLowerCase())

const HIDDEN = new Set([
  'network',
  'order',
  'zone',
  'device',
  'site',
  'rack',
  'note',
  'alt',
  'link',
  'source',
  'destination',
])

/** What a fact states of itself, but for what it names. */
const ownFields = ({ fields }: Entity | Relation): Record<string, FieldValue> =>
  Object.fromEntries(
    Object.entries(fields).filter(
      ([key, value]) =>
        !HIDDEN.has(key) && value !== '' && value !== false && !(Array.isArray(value) && value.length === 0),
    ),
  )

/** How facts are named in lines: the so-manieth of a name, in the order of the outline. */
export class Names {
  readonly #nth = new Map<string, ReadonlyMap<Id, number>>()

  constructor(
    private readonly model: Model,
    private readonly net: Net,
  ) {}

  zone = (entity: Entity): Typed => this.#own('zone', entity)
  subnet = (entity: Entity): Typed => this.#own('subnet', entity)
  port = ({ entity }: Port): Typed => this.#own('port', entity)
  site = (entity: Entity): Typed =>
    typed('site', named(entity.name), {
      latitude: numberOf(entity, 'latitude'),
      longitude: numberOf(entity, 'longitude'),
    })

  device({ entity }: Device, day: Day): Typed {
    const at = this.model.leaving(entity.id, 'located-at').find((tie) => covers(tie, day))
    const site = at && this.model.entities.get(at.target)
    return this.#own('device', entity, {
      site: site && this.#shared('site', site),
      rack: this.#reference('rack', textOf(entity, 'rack')),
    })
  }

  rack = (entity: Entity): Typed => this.#own('rack', entity, { site: this.#reference('site', textOf(entity, 'site')) })

  cable = (relation: Relation, a: Port, b: Port): Typed =>
    typed(
      'cable',
      this.#port(a),
      ownFields(relation),
      { device: this.#device(b.device), port: this.#port(b) },
      relation,
    )

  flow = (relation: Relation, to: Device): Typed =>
    typed('traffic', named(''), ownFields(relation), { device: this.#device(to) }, relation)

  filter(entity: Entity): Typed {
    const end = (field: string): Ref | undefined => {
      const text = textOf(entity, field)
      if (text === undefined || /^any$/i.test(text)) return undefined
      const zone = this.net.zones.find(({ id, name }) => id === text || name.toLowerCase() === text.toLowerCase())
      if (zone) return this.#among('zone', zone.id, zone.name, () => this.net.zones)
      const subnet = this.net.subnets.find(({ id, name }) => id === text || name.toLowerCase() === text.toLowerCase())
      if (subnet) return this.#among('subnet', subnet.id, subnet.name, () => this.net.subnets)
      const device = this.net.devices.find(({ id, name }) => id === text || name.toLowerCase() === text.toLowerCase())
      return device ? this.#device(device) : named(text)
    }
    const { protocol, ...own } = ownFields(entity)
    return typed(
      'filter',
      named(entity.name === ruleName(entity) ? '' : entity.name),
      { verdict: 'deny', ...own, ...(protocol === 'any' ? {} : { protocol }) },
      { source: end('source'), destination: end('destination') },
      entity,
    )
  }

  hosts(tie: Relation): Typed {
    const system = this.model.entities.get(tie.target)
    return typed('hosts', named(''), {}, { system: system && this.#shared('system', system) }, tie)
  }

  #own(is: LineKind, entity: Entity, refs: Record<string, Ref | undefined> = {}): Typed {
    return typed(is, named(entity.name), ownFields(entity), refs, entity)
  }

  #reference(kind: string, text: string | undefined): Ref | undefined {
    if (text === undefined) return undefined
    const entity = entityNamed(this.model, [kind], text)
    return entity ? this.#shared(kind, entity) : named(text)
  }

  #shared = (kind: string, entity: Entity): Ref =>
    this.#among(kind, entity.id, entity.name, () => this.model.ofKind(kind))
  #device = (device: Device): Ref => this.#among('device', device.id, device.name, () => devicesInOrder(this.net))
  #port = (port: Port): Ref => this.#among(`port ${port.device.id}`, port.id, port.name, () => port.device.ports)

  #among(key: string, id: Id, name: string, list: () => readonly { readonly id: Id; readonly name: string }[]): Ref {
    const known = this.#nth.get(key) ?? numbered(list())
    this.#nth.set(key, known)
    return named(name, known.get(id) ?? 1)
  }
}

/** Devices as the outline lists them: zone by zone, then those in none. */
export const devicesInOrder = ({ zones, devices }: Net): readonly Device[] => [
  ...zones.flatMap((zone) => devices.filter((device) => device.zone === zone)),
  ...devices.filter((device) => !device.zone),
]

/** What a rule is called until somebody names it. */
export const ruleName = (fact: Pick<Entity, 'fields'>): string => {
  const { verdict = 'deny', protocol, port } = fact.fields
  const what = [protocol === 'any' ? undefined : protocol, port].filter((one) => one !== undefined && one !== '')
  const words = `${String(verdict)} ${what.length === 0 ? 'all' : what.map(String).join(' ')}`
  return words.charAt(0).toUpperCase() + words.slice(1)
}
