import { covers, join, type Entity, type Fields, type Id, type Relation, type Step } from '../../../model'
import { addEntity, clip, entityNamed, readEntry, setField, setRelation, tie, type Wish } from '../../../notation'
import { inNet, lastOrder, netFor, netIn, portEntity } from '../edits'
import { entityKinds, relationKinds } from '../kinds'
import { freePortName } from '../outline'
import type { Net } from '../structure'

/** A part of a network as a file or a table tells it, by names. A field that is null says that there is none. */
export interface Told {
  readonly zones?: readonly { readonly name: string; readonly fields: Fields }[]
  readonly devices: readonly ToldDevice[]
  readonly cables: readonly ToldCable[]
  /** Whether each cable is one of its own, though others join the same two devices. */
  readonly isEach?: boolean
}

export interface ToldDevice {
  /** What the ends of cables call it, where names may be there twice. */
  readonly key?: string
  readonly name: string
  readonly fields: Fields
  readonly zone?: string | undefined
  readonly site?: string | undefined
  readonly rack?: string | undefined
  readonly hosts?: readonly string[] | undefined
  readonly ports: readonly { readonly name: string; readonly fields: Fields }[]
}

export interface ToldCable {
  readonly a: ToldEnd
  readonly b: ToldEnd
  readonly fields: Fields
}

/** Without a port a free one is taken, or made. */
export interface ToldEnd {
  /** By its key, else by its name. */
  readonly device: string
  readonly port?: string | undefined
}

export interface Brought {
  readonly steps: readonly Step[]
  /** What was told and cannot be: a speed below nothing, a medium that nobody knows. */
  readonly leftOut: readonly string[]
  readonly added: readonly string[]
  readonly altered: readonly string[]
}

/** Steps that make the facts say what was told: what is there by its name is altered, all else is made. The same told again changes nothing. O(told + network) */
export function bring(wish: Wish, told: Told): Brought {
  const made = netFor(wish)
  const bringer = new Bringer(wish, made.id, netIn(wish))
  for (const zone of told.zones ?? []) bringer.zone(zone.name, zone.fields)
  for (const device of told.devices) bringer.device(device)
  for (const cable of told.cables) bringer.cable(cable, told.isEach === true)
  return {
    steps: bringer.steps.length > 0 ? [...made.steps, ...bringer.steps] : [],
    leftOut: [...bringer.leftOut],
    added: bringer.added,
    altered: [...bringer.altered],
  }
}

interface KnownDevice {
  readonly id: Id
  readonly name: string
  /** What the facts have of it; undefined where it is new. */
  readonly entity: Entity | undefined
}

interface PortAsked {
  readonly id: Id
  readonly port: string | undefined
}

interface KnownPort {
  readonly id: Id
  readonly name: string
  free: boolean
}

class Bringer {
  readonly steps: Step[] = []
  readonly added: string[] = []
  readonly altered = new Set<string>()
  readonly leftOut = new Set<string>()
  /** Devices by the key or name that they are told by, and those of the facts by name that none told so far means. */
  readonly #devices = new Map<string, KnownDevice>()
  readonly #stated = new Map<string, KnownDevice[]>()
  /** Cables that something told already means. */
  readonly #meant = new Set<Id>()
  readonly #ports = new Map<Id, KnownPort[]>()
  readonly #zones = new Map<string, Id>()
  readonly #shared = new Map<string, Id>()
  readonly #cables = new Map<string, Relation>()
  #order: number

  constructor(
    private readonly wish: Wish,
    private readonly netId: Id | undefined,
    private readonly net: Net,
  ) {
    for (const { id, name, entity } of net.devices) join(this.#stated, name.toLowerCase(), { id, name, entity })
    for (const device of net.devices)
      this.#ports.set(
        device.id,
        device.ports.map(({ id, name, cables }) => ({ id, name, free: cables.length === 0 })),
      )
    for (const zone of net.zones.toReversed()) this.#zones.set(zone.name.toLowerCase(), zone.id)
    for (const { relation } of net.cables) this.#cables.set(keyOf(relation.source, relation.target), relation)
    this.#order = lastOrder(net.devices.map(({ entity }) => entity))
  }

  zone(name: string, fields: Fields): Id {
    const known = this.#zones.get(name.toLowerCase())
    if (known !== undefined) {
      const entity = this.wish.model.entities.get(known)
      if (entity) this.#set(entity, fields, name)
      return known
    }
    const id = this.wish.newId()
    const order = lastOrder(this.net.zones.map(({ entity }) => entity)) + this.#zones.size + 1
    this.steps.push(addEntity({ id, kind: 'zone', name, fields: { ...fields, ...inNet(this.netId), order } }))
    this.#zones.set(name.toLowerCase(), id)
    this.added.push(name)
    return id
  }

  device(told: ToldDevice): Id {
    const { name, fields, zone, site, rack, hosts, ports } = told
    const own: Record<string, Fields[string]> = { ...this.#sound('device', fields) }
    if (zone !== undefined && zone !== '') own['zone'] = this.zone(zone, {})
    if (rack !== undefined && rack !== '') own['rack'] = this.#sharedOf('rack', rack)
    const key = told.key ?? name.toLowerCase()
    const known = this.#devices.get(key) ?? this.#stated.get(name.toLowerCase())?.shift()
    const id = known?.id ?? this.wish.newId()
    this.#devices.set(key, known ?? { id, name, entity: undefined })
    if (!known) {
      this.steps.push(
        addEntity({ id, kind: 'device', name, fields: { ...own, ...inNet(this.netId), order: ++this.#order } }),
      )
      this.#ports.set(id, [])
      this.added.push(name)
    } else if (known.entity) this.#set(known.entity, own, name)
    const { model } = this.wish
    const ties = (kind: string) => (known ? model.leaving(id, kind).filter((one) => covers(one, this.wish.day)) : [])
    if (site !== undefined && site !== '') {
      const place = this.#sharedOf('site', site)
      const [now] = ties('located-at')
      // Where its rack stands, it stands already.
      const isThere = this.net.byId.get(id)?.site?.id === place
      if (!now && !isThere) this.#tie('located-at', id, place, name)
      else if (now && now.target !== place) {
        this.steps.push(setRelation(now.id, 'target', place))
        this.altered.add(name)
      }
    }
    for (const system of hosts ?? []) {
      const hosted = this.#sharedOf('system', system)
      if (!ties('hosts').some(({ target }) => target === hosted)) this.#tie('hosts', id, hosted, name)
    }
    for (const port of ports) this.port(id, name, port.name, port.fields)
    return id
  }

  port(device: Id, deviceName: string, name: string, fields: Fields): KnownPort {
    const list = this.#ports.get(device) ?? []
    this.#ports.set(device, list)
    const known = list.find((one) => one.name.toLowerCase() === name.toLowerCase())
    if (known) {
      const entity = this.wish.model.entities.get(known.id)
      if (entity) this.#set(entity, this.#sound('port', fields), deviceName)
      return known
    }
    const port = { id: this.wish.newId(), name, free: true }
    this.steps.push(addEntity(portEntity(port.id, name, device, list.length + 1, this.#sound('port', fields))))
    list.push(port)
    this.altered.add(deviceName)
    return port
  }

  cable({ a, b, fields: told }: ToldCable, isEach: boolean): void {
    const fields = this.#sound('cable', told)
    const [one, other] = [this.#end(a), this.#end(b)]
    // An end that states no port may be any: the same two devices are taken to be joined as they are.
    const isWhole = a.port !== undefined && b.port !== undefined
    const joined = isWhole
      ? undefined
      : this.#between({ id: one.device, port: a.port }, { id: other.device, port: b.port }, isEach)
    const [from, to] = joined ?? [one.port(), other.port()]
    const known = this.#cables.get(keyOf(from.id, to.id))
    if (known) {
      this.#meant.add(known.id)
      for (const [key, value] of Object.entries(fields))
        if (JSON.stringify(known.fields[key]) !== JSON.stringify(value)) {
          this.steps.push(setRelation(known.id, `fields.${key}`, value))
          this.altered.add(one.name)
        }
      return
    }
    from.free = to.free = false
    const id = this.wish.newId()
    this.steps.push(tie(id, 'cable', from.id, to.id, fields))
    this.#cables.set(keyOf(from.id, to.id), { id, kind: 'cable', source: from.id, target: to.id, fields })
    this.#meant.add(id)
    this.added.push(`${one.name} – ${other.name}`)
  }

  /** What a kind’s fields can hold. */
  #sound(kind: string, fields: Fields): Fields {
    const known =
      (entityKinds.find(({ id }) => id === kind) ?? relationKinds.find(({ id }) => id === kind))?.fields ?? []
    return Object.fromEntries(
      Object.entries(fields).filter(([key, value]) => {
        const field = known.find(({ id }) => id === key)
        const text = Array.isArray(value) ? value.join(', ') : value === true ? 'yes' : String(value)
        const entry = field ? readEntry(field, text) : { refused: '' }
        const isSound = !('refused' in entry)
        if (!isSound) this.leftOut.add(`${field?.label ?? key} “${clip(text)}”`)
        return isSound
      }),
    )
  }

  #end({ device, port }: ToldEnd): { readonly device: Id; readonly name: string; readonly port: () => KnownPort } {
    const known = this.#devices.get(device) ?? this.#devices.get(device.toLowerCase())
    const id = known?.id ?? this.device({ name: device, fields: {}, ports: [] })
    const name = known?.name ?? device
    return {
      device: id,
      name,
      port: () => {
        if (port !== undefined) return this.port(id, name, port, {})
        const free = (this.#ports.get(id) ?? []).find((one) => one.free)
        return free ?? this.port(id, name, this.#freeName(id), {})
      },
    }
  }

  #freeName(device: Id): string {
    const names = new Set((this.#ports.get(device) ?? []).map(({ name }) => name.toLowerCase()))
    let count = 1
    while (names.has(`p${count}`)) count++
    return names.size === 0 ? freePortName(this.net, device) : `p${count}`
  }

  #between(a: PortAsked, b: PortAsked, isEach: boolean): readonly [KnownPort, KnownPort] | undefined {
    const asked = ({ id, port }: PortAsked) =>
      (this.#ports.get(id) ?? []).filter(({ name }) => port === undefined || name.toLowerCase() === port.toLowerCase())
    const theirs = asked(b)
    for (const one of asked(a))
      for (const other of theirs) {
        const cable = this.#cables.get(keyOf(one.id, other.id))
        if (cable && !(isEach && this.#meant.has(cable.id))) return [one, other]
      }
    return undefined
  }

  #sharedOf(kind: string, name: string): Id {
    const key = `${kind} ${name.toLowerCase()}`
    const known = this.#shared.get(key) ?? entityNamed(this.wish.model, [kind], name)?.id
    const id = known ?? this.wish.newId()
    if (known === undefined) this.steps.push(addEntity({ id, kind, name: name.slice(0, 400), fields: {} }))
    this.#shared.set(key, id)
    return id
  }

  #tie(kind: string, source: Id, target: Id, name: string): void {
    this.steps.push(tie(this.wish.newId(), kind, source, target))
    this.altered.add(name)
  }

  #set(entity: Entity, fields: Fields, called: string): void {
    for (const [key, value] of Object.entries(fields))
      if (JSON.stringify(entity.fields[key]) !== JSON.stringify(value)) {
        this.steps.push(setField(entity.id, key, value))
        this.altered.add(called)
      }
  }
}

/** A cable is the same whichever end it is told from. */
const keyOf = (a: Id, b: Id): string => (a < b ? `${a} ${b}` : `${b} ${a}`)

/** What a file says and the facts have no place for, each sort once with how often. */
export class Unplaced {
  readonly #counts = new Map<string, number>()
  add(what: string, times = 1): void {
    if (times > 0) this.#counts.set(what, (this.#counts.get(what) ?? 0) + times)
  }
  /** None, or a sentence. */
  words(): string[] {
    const all = [...this.#counts]
    const more = all.length - MOST_TOLD
    const list = all.slice(0, MOST_TOLD).map(([what, times]) => (times > 1 ? `${what} (${times})` : what))
    return all.length === 0
      ? []
      : [`There is no place for ${list.join(', ')}${more > 0 ? ` and ${more} more` : ''}: left out.`]
  }
}
const MOST_TOLD = 12

/** How a file would change the facts, in words. */
export function wordsOf({ added, altered, leftOut }: Brought): string[] {
  const left = leftOut.length === 0 ? [] : [`Left out, since it cannot be: ${leftOut.slice(0, 8).join(', ')}.`]
  return added.length + altered.length === 0
    ? ['Nothing differs from the facts.', ...left]
    : [`${added.length} new, ${altered.length} changed.`, ...left, ...added.slice(0, 20)]
}
