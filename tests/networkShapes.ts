import { dice as diceOf } from '../src/core/graph'
import { asId, Model, type Entity, type Id, type Relation } from '../src/core/model'
import { networkView } from './core/network/facts'

/** Made-up networks of a size, for layouts and benches: zones with switches in pairs, each with what hangs on it. */

export const dice = (seed: number): (() => number) => diceOf(seed, 12_345)

const TRUSTS = ['none', 'low', 'low', 'medium', 'medium', 'high', 'high', 'high'] as const
const ENDS = ['server', 'endpoint', 'access point', 'storage'] as const

/** Switches in a star in each zone; devices at one of them, some at two; a tree of lines between zones, and some more of those. */
export function campusOf({ devices, zones, seed, twice, more }: Campus): Model {
  const roll = dice(seed)
  const below = (count: number) => Math.floor(roll() * count)
  const entities: Entity[] = []
  const relations: Relation[] = []
  const cable = (a: Id, b: Id) => {
    const ends = [a, b].map((device, end) => {
      const id = asId(`p${relations.length}-${end}`)
      entities.push({ id, kind: 'port', name: `p${relations.length}`, fields: { device } })
      return id
    })
    const [source = a, target = b] = ends
    relations.push({ id: asId(`c${relations.length}`), kind: 'cable', source, target, fields: {} })
  }
  const switches: Id[][] = []
  const any = (zone: number): Id => switches[zone]?.[below(switches[zone].length)] ?? asId('d0')
  let count = 0
  for (let zone = 0; zone < zones; zone++) {
    const name = asId(`z${zone}`)
    entities.push({
      id: name,
      kind: 'zone',
      name,
      fields: { trust: TRUSTS[zone % TRUSTS.length] ?? 'low', order: zone },
    })
    const hubs = 2 + below(4)
    const own: Id[] = []
    switches.push(own)
    for (let at = 0; at < Math.floor(devices / zones); at++) {
      const id = asId(`d${count++}`)
      const type = at < hubs ? 'switch' : 'server'
      entities.push({ id, kind: 'device', name: id, fields: { type, zone: name, order: count } })
      if (at >= hubs) {
        const [first, second] = [any(zone), any(zone)]
        cable(first, id)
        if (roll() < twice && first !== second) cable(second, id)
        continue
      }
      own.push(id)
      if (at > 0) cable(own[0] ?? id, id)
      else if (zone > 0) cable(switches[below(zone)]?.[0] ?? id, id)
    }
  }
  for (let line = 0; line < more; line++) {
    const [a, b] = [any(below(zones)), any(below(zones))]
    if (a !== b) cable(a, b)
  }
  return Model.of({ entities, relations, views: [networkView()] })
}

interface Campus {
  readonly devices: number
  readonly zones: number
  readonly seed: number
  /** Which part of the devices hang on two switches. */
  readonly twice: number
  /** Lines between zones beyond those that join all. */
  readonly more: number
}

interface Shape {
  readonly devices: number
  readonly zones: number
  readonly seed?: number
  /** Addresses besides the one that each device has. */
  readonly addresses?: number
  readonly filters?: number
  readonly flows?: number
  /** Cables in all, where these are more than the switches have: within a zone, from anything to a switch. */
  readonly cables?: number
}

export function networkOf({
  devices,
  zones,
  seed = 1,
  addresses = 0,
  filters = 0,
  flows = 0,
  cables = 0,
}: Shape): Model {
  const roll = dice(seed)
  const entities: Entity[] = []
  const relations: Relation[] = []
  const add = (id: string, kind: string, name: string, fields: Entity['fields']) =>
    entities.push({ id: asId(id), kind, name, fields })
  const ports = new Map<string, number>()
  const port = (device: string): Id => {
    const count = (ports.get(device) ?? 0) + 1
    ports.set(device, count)
    add(`${device}-p${count}`, 'port', `p${count}`, { device, order: count })
    return asId(`${device}-p${count}`)
  }
  const cable = (a: string, b: string, capacity = 1000) =>
    relations.push({
      id: asId(`c${relations.length}`),
      kind: 'cable',
      source: port(a),
      target: port(b),
      fields: { capacity },
    })
  const perZone = Math.max(4, Math.floor(devices / zones))
  let address = 0
  const next = () => `10.8.${Math.floor(++address / 250)}.${(address % 250) + 1}/16`
  const hubs: string[][] = []
  let count = 0
  for (let zone = 0; zone < zones; zone++) {
    add(`z${zone}`, 'zone', `Zone ${zone}`, { trust: TRUSTS[zone % TRUSTS.length] ?? 'medium', order: zone })
    const make = (type: string): string => {
      const id = `d${count++}`
      add(id, 'device', `${type.replace(' ', '-')}-${count}`, {
        type,
        zone: `z${zone}`,
        addresses: [next()],
        critical: roll() < 0.05,
        order: count,
      })
      return id
    }
    const core = [make(zone === 1 ? 'firewall' : 'switch'), make(zone === 1 ? 'firewall' : 'switch')]
    cable(core[0] ?? '', core[1] ?? '', 10_000)
    hubs.push(core)
    const own = [...core]
    const access: string[] = []
    for (let made = 2; made < perZone;) {
      const hub = make('switch')
      made++
      access.push(hub)
      own.push(hub)
      for (const one of core) cable(one, hub, 10_000)
      const leaves = Math.min(perZone - made, 6 + Math.floor(roll() * 10))
      for (let leaf = 0; leaf < leaves; leaf++, made++) {
        const id = make(ENDS[Math.floor(roll() * ENDS.length)] ?? 'server')
        cable(hub, id)
        if (roll() < 0.1 && access.length > 1) cable(access.at(-2) ?? hub, id)
      }
    }
    if (zone > 0) {
      const before = hubs[Math.max(0, zone - 1 - Math.floor(roll() * 2))] ?? core
      cable(before[0] ?? '', core[0] ?? '', 10_000)
      cable(before[1] ?? '', core[1] ?? '', 10_000)
    }
  }
  const made = entities.flatMap(({ id, kind }) => (kind === 'device' ? [id] : []))
  while (relations.length < cables) {
    const from = Math.floor(roll() * made.length)
    const hub = hubs[Math.min(zones - 1, Math.floor(from / perZone))]?.[roll() < 0.5 ? 0 : 1] ?? 'd0'
    if (made[from] !== hub) cable(hub, made[from] ?? 'd0')
  }
  const all = entities.filter(({ kind }) => kind === 'device')
  for (let extra = 0; extra < addresses; extra++) {
    const at = extra % all.length
    const device = all[at]
    if (!device) break
    const list = (device.fields['addresses'] ?? []) as readonly string[]
    const value = 0x0a_40_00_00 + extra
    const text = [24, 16, 8, 0].map((shift) => (value >> shift) & 255).join('.')
    all[at] = { ...device, fields: { ...device.fields, addresses: [...list, `${text}/32`] } }
  }
  add('s0', 'subnet', 'All', { prefix: '10.8.0.0/16', gateway: '10.8.0.1' })
  for (let filter = 0; filter < filters; filter++) {
    const [from, to] = [Math.floor(roll() * 256), Math.floor(roll() * 256)]
    add(`f${filter}`, 'filter', `Rule ${filter}`, {
      device: hubs[1]?.[0] ?? 'd0',
      verdict: roll() < 0.7 ? 'allow' : 'deny',
      source: `10.8.${from}.0/${24 + Math.floor(roll() * 8)}`,
      destination: `10.8.${to}.0/${16 + Math.floor(roll() * 16)}`,
      protocol: roll() < 0.5 ? 'tcp' : 'udp',
      port: String(1 + Math.floor(roll() * 60_000)),
      order: filter,
    })
  }
  for (let flow = 0; flow < flows; flow++) {
    const pick = () => all[Math.floor(roll() * all.length)]?.id ?? asId('d0')
    relations.push({
      id: asId(`t${flow}`),
      kind: 'traffic',
      source: pick(),
      target: pick(),
      fields: { protocol: 'tcp', port: '443', load: 1 },
    })
  }
  return Model.of({
    entities: [...entities.filter(({ kind }) => kind !== 'device'), ...all],
    relations,
    views: [networkView()],
  })
}
