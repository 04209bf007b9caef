import {
  addDays,
  covers,
  type Day,
  type Entity,
  type FieldValue,
  type Fields,
  type Id,
  type Model,
  type Relation,
  type Step,
} from '../../model'
import {
  addEntity,
  addRelation,
  clip,
  removal,
  removeEntity,
  removeRelation,
  setEntity,
  setField,
  setRelation,
  type Refusal,
  type Wish,
  numberOf,
} from '../../notation'
import { networks } from './kinds'
import { netShown, type Device, type Net } from './structure'
import { devicesInOrder, ruleName } from './telling'
import { BENEATH, type Ref, type Typed } from './words'

/** Steps that several actions share. None of them writes: they say what would have to be written. */

export const netIn = ({ model, view, day }: Pick<Wish, 'model' | 'view' | 'day'>): Net => netShown(model, view, day)

/** The network that a wish is about, made where there is none yet. */
export function netFor(wish: Wish): { readonly id: Id | undefined; readonly steps: readonly Step[] } {
  // What belongs to no network is one of its own.
  const net = netIn(wish)
  const isLoose = net.id === undefined && !networks.isBlank(wish.view) && net.devices.length + net.zones.length > 0
  return isLoose ? { id: undefined, steps: [] } : networks.forWish(wish)
}

export const inNet = (net: Id | undefined): Fields => (net === undefined ? {} : { network: net })

/** The next order after all of a list. */
export const lastOrder = (list: readonly Entity[]): number =>
  Math.max(0, ...list.map((one) => numberOf(one, 'order') ?? 0))

/** Takes a device away with its ports and all that is tied to them; rules on it stay, on no firewall. */
export function removeDevice(model: Model, device: Id): Step[] {
  const ports = portsOf(model, device)
  const filters = model.ofKind('filter').filter(({ fields }) => fields['device'] === device)
  return [...removal(model, device, ...ports.map(({ id }) => id)), ...filters.map(({ id }) => removeEntity(id))]
}

/** All ports of a device, on every day. */
export const portsOf = (model: Model, device: Id): readonly Entity[] =>
  model.ofKind('port').filter(({ fields }) => fields['device'] === device)

/** Takes a zone away: what stood in it stands in none. */
export function removeZone(model: Model, zone: Id): Step[] {
  const inside = ['device', 'subnet'].flatMap((kind) =>
    model.ofKind(kind).filter(({ fields }) => fields['zone'] === zone),
  )
  return [...inside.map(({ id }) => setField(id, 'zone', null)), ...removal(model, zone)]
}

/** A port that a line, or a cable, made: it says nothing but which device it is on. */
const isBare = ({ fields, from, to }: Entity): boolean =>
  from === undefined &&
  to === undefined &&
  Object.keys(fields).every((field) => field === 'device' || field === 'order')

export const portEntity = (id: Id, name: string, device: Id, order: number, fields: Fields = {}): Entity => ({
  id,
  kind: 'port',
  name: name.slice(0, 400),
  fields: { ...fields, device, order },
})

interface Known {
  readonly id: Id
  readonly name: string
}

/** Whom a typed line is about besides itself. */
export interface Place {
  readonly device: Id | undefined
  readonly zone: Id | undefined
}

/**
 * Turns typed lines into steps: facts that are made are known to the lines that follow, and lines may name what is only stated further
 * down. With `makes`, sites, racks and systems that nobody knows are made where they are named.
 */
export class Scribe {
  readonly steps: Step[] = []
  readonly #known = new Map<string, Known[]>()
  readonly #orders = new Map<string, number>()

  constructor(
    private readonly wish: Wish,
    private readonly net: Net,
    private readonly netId: Id | undefined,
    private readonly makes: boolean,
  ) {}

  /** States the entity of a line, without what it names. Lines that are ties are left to `tie`. */
  make({ is, name, fields, from, to }: Typed, place: Place): Id | undefined {
    if (is === 'cable' || is === 'traffic' || is === 'hosts') return undefined
    const known = this.#unstated(is, name.name, place)
    const id = known ?? this.wish.newId()
    const dates = { ...(from === undefined ? {} : { from }), ...(to === undefined ? {} : { to }) }
    const own: Fields = {
      ...fields,
      ...(is === 'zone' || is === 'device' || is === 'subnet' || is === 'filter' ? inNet(this.netId) : {}),
      ...((is === 'device' || is === 'subnet') && place.zone !== undefined ? { zone: place.zone } : {}),
      ...((is === 'port' || is === 'filter') && place.device !== undefined ? { device: place.device } : {}),
    }
    if (known !== undefined) {
      for (const [field, value] of Object.entries(own)) this.#set(known, `fields.${field}`, value as FieldValue)
      return known
    }
    const order: Fields = is === 'site' ? {} : { order: this.#nextOrder(is, place) }
    const entity: Entity = {
      id,
      kind: is,
      name: (name.name || (is === 'filter' ? ruleName({ fields: own }) : is)).slice(0, 400),
      fields: { ...own, ...order },
      ...dates,
    }
    this.steps.push(addEntity(entity))
    this.#stated.add(id)
    this.#list(is === 'port' ? `port ${place.device ?? ''}` : is).push({ id, name: entity.name })
    return id
  }

  /** States what a line names: of a tie the tie itself. */
  tie(typed: Typed, id: Id | undefined, place: Place): Refusal | undefined {
    const { is, refs, fields, from, to } = typed
    const dates = { ...(from === undefined ? {} : { from }), ...(to === undefined ? {} : { to }) }
    const relate = (kind: string, source: Id, target: Id) =>
      void this.steps.push(addRelation({ id: this.wish.newId(), kind, source, target, fields, ...dates }))
    switch (is) {
      case 'cable': {
        if (place.device === undefined) return { refused: 'A cable is written beneath the device that it begins at.' }
        const device = this.device(refs['device'])
        if (typeof device !== 'string') return device
        const ends = [this.port(place.device, typed.name), this.port(device, refs['port'])] as const
        if (ends[0] === ends[1]) return { refused: 'A cable joins two ports.' }
        relate('cable', ends[0], ends[1])
        return undefined
      }
      case 'traffic': {
        const device = this.device(refs['device'])
        if (typeof device !== 'string') return device
        if (place.device === undefined) return { refused: 'A flow is written beneath the device that it comes from.' }
        relate('traffic', place.device, device)
        return undefined
      }
      case 'hosts': {
        const system = this.shared('system', refs['system'])
        if (typeof system !== 'string') return system
        if (place.device === undefined) return { refused: 'What is hosted is written beneath its device.' }
        relate('hosts', place.device, system)
        return undefined
      }
      case 'device':
      case 'rack':
      case 'filter':
        return id === undefined ? undefined : this.names(typed, id)
      default:
        return undefined
    }
  }

  /** Writes what a device, a rack or a rule names; `before` is what it named so far. */
  names({ is, refs }: Typed, id: Id, before: Readonly<Record<string, Ref>> = {}): Refusal | undefined {
    for (const key of new Set([...Object.keys(before), ...Object.keys(refs)])) {
      const [was, now] = [before[key], refs[key]]
      if (was?.name === now?.name && was?.nth === now?.nth) continue
      if (key === 'source' || key === 'destination') {
        this.#set(id, `fields.${key}`, now ? this.end(now) : null)
        continue
      }
      const found = now === undefined ? undefined : this.shared(key, now)
      if (found !== undefined && typeof found !== 'string') return found
      if (is === 'device' && key === 'site') this.standsAt(id, found)
      else this.#set(id, `fields.${key}`, found ?? null)
    }
    return undefined
  }

  /** A device stands at a site, or at none, from the day shown on as far as its dates say. */
  standsAt(device: Id, site: Id | undefined): void {
    const { model, day, newId } = this.wish
    const tie = model.leaving(device, 'located-at').find((one) => covers(one, day))
    if (tie) this.steps.push(site === undefined ? removeRelation(tie.id) : setRelation(tie.id, 'target', site))
    else if (site !== undefined)
      this.steps.push(addRelation({ id: newId(), kind: 'located-at', source: device, target: site, fields: {} }))
  }

  device(ref: Ref | undefined): Id | Refusal {
    const found = ref && this.#find('device', ref)
    return found ?? { refused: `There is no device “${clip(ref?.name ?? '')}”.` }
  }

  /** A port of a device, made where there is none of that name. */
  port(device: Id, ref: Ref | undefined): Id {
    const key = `port ${device}`
    const found = ref && this.#find(key, ref)
    if (found !== undefined) return found
    const id = this.wish.newId()
    const entity = portEntity(id, ref?.name ?? 'port', device, this.#nextOrder('port', { device, zone: undefined }))
    this.steps.push(addEntity(entity))
    this.#list(key).push({ id, name: entity.name })
    return id
  }

  /** A port where a cable ends: one that was only there for it is named anew, instead of leaving it behind. */
  portInstead(old: Entity, device: Id, ref: Ref, cable: Id): Id {
    const found = this.#find(`port ${device}`, ref)
    const { model } = this.wish
    const alone = [...model.leaving(old.id), ...model.reaching(old.id)].every(({ id }) => id === cable)
    const isSpare = alone && isBare(old)
    if (found === old.id) return found
    if (found !== undefined) {
      if (isSpare) this.later.push(removeEntity(old.id))
      return found
    }
    if (isSpare && old.fields['device'] === device) {
      this.steps.push(setEntity(old.id, 'name', ref.name))
      return old.id
    }
    if (isSpare) this.later.push(removeEntity(old.id))
    return this.port(device, ref)
  }

  /** Steps that come when nothing leads to what they take away any more. */
  readonly later: Step[] = []

  /** A site, rack or system by name, made where nobody knows it and that is wanted. */
  shared(kind: string, ref: Ref | undefined): Id | Refusal {
    const found = ref && this.#find(kind, ref)
    if (found !== undefined) return found
    const name = ref?.name ?? ''
    if (!this.makes || name === '')
      return {
        refused: `There is no ${kind} “${clip(name)}”${kind === 'system' ? '.' : `: write “${clip(name)}  (${kind})” on a line of its own.`}`,
      }
    const id = this.wish.newId()
    this.steps.push(addEntity({ id, kind, name: name.slice(0, 400), fields: {} }))
    this.#list(kind).push({ id, name })
    return id
  }

  /** What a rule speaks of: a zone, subnet or device by its identity, else the text as it stands. */
  end(ref: Ref): string {
    for (const kind of ['zone', 'subnet', 'device']) {
      const found = this.#find(kind, ref)
      if (found !== undefined) return found
    }
    return ref.name
  }

  /** What a line says more of: something shared, or a port, that is there already or was made by being named, and that no line has stated yet. */
  #unstated(is: string, name: string, place: Place): Id | undefined {
    if (is !== 'port' && is !== 'site' && is !== 'rack') return undefined
    const wanted = name.toLowerCase()
    const found = this.#list(is === 'port' ? `port ${place.device ?? ''}` : is).find(
      (one) => one.name.toLowerCase() === wanted && !this.#stated.has(one.id),
    )
    if (found) this.#stated.add(found.id)
    return found?.id
  }
  readonly #stated = new Set<Id>()

  #set(id: Id, path: string, value: FieldValue | null): void {
    this.steps.push(setEntity(id, path, value))
  }

  #find(key: string, { name, nth }: Ref): Id | undefined {
    const wanted = name.toLowerCase()
    let left = nth
    for (const one of this.#list(key)) if (one.name.toLowerCase() === wanted && --left === 0) return one.id
    const byId = key.startsWith('port ') ? undefined : this.wish.model.entities.get(name as Id)
    return byId?.kind === key ? byId.id : undefined
  }

  #list(key: string): Known[] {
    const known = this.#known.get(key) ?? [...this.#there(key)]
    this.#known.set(key, known)
    return known
  }

  #there(key: string): readonly Known[] {
    const { net } = this
    if (key === 'device') return devicesInOrder(net)
    if (key === 'zone') return net.zones
    if (key === 'subnet') return net.subnets
    if (key.startsWith('port ')) return net.byId.get(key.slice(5) as Id)?.ports ?? []
    return this.wish.model.ofKind(key)
  }

  #nextOrder(is: string, { device }: Place): number {
    const key = is === 'port' ? `port ${device ?? ''}` : is
    const { net } = this
    const last = this.#orders.get(key) ?? lastOrder(this.#ordered(is, device, net))
    this.#orders.set(key, last + 1)
    return last + 1
  }

  #ordered(is: string, device: Id | undefined, net: Net): readonly Entity[] {
    if (is === 'port')
      return device === undefined ? [] : (net.byId.get(device)?.ports.map(({ entity }) => entity) ?? [])
    if (is === 'zone') return net.zones.map(({ entity }) => entity)
    if (is === 'device') return net.devices.map(({ entity }) => entity)
    if (is === 'subnet') return net.subnets
    if (is === 'filter') return net.filters
    return this.wish.model.ofKind(is)
  }
}

export const isBeneath = ({ is }: Pick<Typed, 'is'>): boolean => BENEATH.has(is)

export type Dated = { readonly from?: Day; readonly to?: Day }
export const calledDevice = ({ name }: Pick<Device, 'name'>): string => `“${name}”`

/** What a relation of a line is taken away with: a port that was only there for it. */
export function removeTie(model: Model, relation: Relation): Step[] {
  const spare =
    relation.kind === 'cable'
      ? [relation.source, relation.target].filter((id) => {
          const port = model.entities.get(id)
          return port && isBare(port) && [...model.leaving(id), ...model.reaching(id)].length === 1
        })
      : []
  return [removeRelation(relation.id), ...spare.map(removeEntity)]
}

/** What is no longer there on a day was there until the day before; what began only then is taken away. */
export const lastOf = ({ from }: Entity | Relation, day: Day): Day | undefined => {
  const eve = addDays(day, -1)
  return from !== undefined && from > eve ? undefined : eve
}

/** Ends a cable before a day. */
export function cableEnd(cable: Relation, day: Day): Step {
  const last = lastOf(cable, day)
  return last === undefined ? removeRelation(cable.id) : setRelation(cable.id, 'to', last)
}
