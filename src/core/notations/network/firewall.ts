import { textOf } from '../../notation'
import { nth } from '../../graph'
import { grouped, type Entity, type Id } from '../../model'
import { readPrefix, type Address, type Family } from './addresses'
import { PROTOCOLS, type Protocol } from './kinds'
import { PORTS, readPorts, united, type Spans } from './ports'
import { type Device, type Flow, type Net } from './structure'
import type { Way } from './ways'

/**
 * What the rules of firewalls let through. All addresses are places on one line: those of IPv4, those of IPv6, and a place for each device
 * that states none. A rule speaks of sets of places, of protocols, and of port numbers; the first one that matches decides, and what none
 * matches is denied.
 */

export interface Region {
  readonly source: Spans
  readonly destination: Spans
  /** A bit for each of tcp, udp, icmp and all others. */
  readonly protocols: number
  readonly ports: Spans
}

export interface Filter {
  readonly entity: Entity
  readonly allows: boolean
  readonly region: Region
}

const ALL_PROTOCOLS = 0b1111
const BIT: Readonly<Record<Protocol, number>> = { any: ALL_PROTOCOLS, tcp: 0b0001, udp: 0b0010, icmp: 0b0100 }
/** Those that have port numbers. */
const NUMBERED = 0b0011
const ALL_PORTS: Spans = [[0, PORTS]]

const OFFSET: Readonly<Record<Family | 'none', bigint>> = { 4: 0n, 6: 1n << 33n, none: 1n << 130n }
const END = (1n << 130n) + (1n << 40n)

type Stretch = readonly [first: bigint, last: bigint]

/** The rules of a network, ready to be asked. */
export class Firewalls {
  readonly #rank: ReadonlyMap<bigint, number>
  readonly #bounds: readonly bigint[]
  readonly #filters: ReadonlyMap<Id | undefined, readonly Filter[]>
  readonly #zones = new Map<Id, readonly Stretch[]>()
  readonly #tokens: ReadonlyMap<Device, bigint>
  readonly #byName: ReadonlyMap<string, Device>

  /** O(rules log rules + devices + subnets). */
  constructor(private readonly net: Net) {
    this.#tokens = new Map(net.devices.map((device, at) => [device, OFFSET.none + BigInt(at)]))
    this.#byName = new Map(net.devices.toReversed().map((device) => [device.name.toLowerCase(), device]))
    const ends = net.filters.map((entity) => ({
      entity,
      source: this.#stretches(textOf(entity, 'source')),
      destination: this.#stretches(textOf(entity, 'destination')),
    }))
    const devices = net.devices.flatMap((device) => this.#ofDevice(device))
    const bounds = new Set<bigint>([0n, END])
    for (const [first, last] of [...devices, ...ends.flatMap(({ source, destination }) => [...source, ...destination])])
      bounds.add(first).add(last + 1n)
    this.#bounds = [...bounds].sort((a, b) => (a < b ? -1 : 1))
    this.#rank = new Map(this.#bounds.map((bound, at) => [bound, at]))
    const filters = ends.map(({ entity, source, destination }): Filter => ({
      entity,
      allows: entity.fields['verdict'] === 'allow',
      region: this.#region(entity, source, destination),
    }))
    const own = grouped(filters, ({ entity }) => {
      const device = textOf(entity, 'device') as Id | undefined
      return device !== undefined && net.byId.has(device) ? device : undefined
    })
    const loose = own.get(undefined) ?? []
    this.#filters = new Map(
      net.devices
        .filter(({ type, id }) => own.has(id) || (type === 'firewall' && loose.length > 0))
        .map(({ id }): [Id, Filter[]] => [
          id,
          loose.length === 0 ? (own.get(id) ?? []) : inTheirOrder(filters, [...(own.get(id) ?? []), ...loose]),
        ]),
    )
  }

  /** The rules of a firewall in their order; those that name no firewall count on each. */
  filtersOf(device: Device): readonly Filter[] {
    return this.#filters.get(device.id) ?? []
  }

  /** Whether anything is asked of its rules: where it has some. What a firewall lets through of which none are stated is not known. */
  doesFilter(device: Device): boolean {
    return this.#filters.has(device.id)
  }

  get all(): Iterable<readonly [Id | undefined, readonly Filter[]]> {
    return this.#filters
  }

  /** What a flow sends. */
  sentBy({ from, to, relation }: Flow): Region {
    const [source, destination] = this.#pairOf(from, to)
    return this.#region(relation, source, destination)
  }

  /** What goes from one address to another. */
  packet(
    source: Address | Device,
    destination: Address | Device,
    protocol: Protocol,
    port: number | undefined,
  ): Region {
    const place = (end: Address | Device): readonly Stretch[] => {
      if (!('value' in end)) return this.#ofDevice(end).slice(0, 1)
      const at = OFFSET[end.family] + end.value
      return [[at, at]]
    }
    const [from, to] =
      'value' in source || 'value' in destination
        ? [place(source), place(destination)]
        : this.#pairOf(source, destination)
    return {
      source: this.#spansAt(from),
      destination: this.#spansAt(to),
      protocols: BIT[protocol],
      ports: port === undefined ? ALL_PORTS : [[port, port + 1]],
    }
  }

  /** First addresses of one family, where both have such; else the first of each. */
  #pairOf(from: Device, to: Device): [readonly Stretch[], readonly Stretch[]] {
    for (const { address } of from.addresses) {
      const other = to.addresses.find((one) => one.address.family === address.family)
      if (!other) continue
      const [a, b] = [OFFSET[address.family] + address.value, OFFSET[address.family] + other.address.value]
      return [[[a, a]], [[b, b]]]
    }
    return [this.#ofDevice(from).slice(0, 1), this.#ofDevice(to).slice(0, 1)]
  }

  #region(fact: Entity | Flow['relation'], source: readonly Stretch[], destination: readonly Stretch[]): Region {
    const protocol = PROTOCOLS.find((one) => one === fact.fields['protocol']) ?? 'any'
    const { spans, unread } = readPorts(textOf(fact, 'port') ?? '')
    // What cannot be read lets nothing through: an allowance of it is none, and a denial or what is sent may be of any port.
    const isAnyOfThem = unread.length > 0 && fact.fields['verdict'] !== 'allow'
    const stated = isAnyOfThem ? ALL_PORTS : spans
    const isNumbered = (BIT[protocol] & NUMBERED) !== 0 && stated !== undefined
    return {
      source: this.#spansAt(source),
      destination: this.#spansAt(destination),
      protocols: isNumbered ? BIT[protocol] & NUMBERED : BIT[protocol],
      ports: isNumbered ? stated : ALL_PORTS,
    }
  }

  /** By ranks of the bounds; a place within a stretch that no rule tells apart stands for that whole stretch. */
  #spansAt(stretches: readonly Stretch[]): Spans {
    return united(
      stretches.map(
        ([first, last]) => [this.#rankOf(first), this.#rank.get(last + 1n) ?? this.#rankOf(last) + 1] as const,
      ),
    )
  }

  #rankOf(place: bigint): number {
    const known = this.#rank.get(place)
    if (known !== undefined) return known
    let [low, high] = [0, this.#bounds.length - 1]
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (nth(this.#bounds, middle) <= place) low = middle
      else high = middle - 1
    }
    return low
  }

  #ofDevice(device: Device): readonly Stretch[] {
    if (device.addresses.length === 0) {
      const token = this.#tokens.get(device) ?? OFFSET.none
      return [[token, token]]
    }
    return device.addresses.map(({ address }) => {
      const at = OFFSET[address.family] + address.value
      return [at, at]
    })
  }

  /** What an end of a rule speaks of: nothing where it names what nobody knows. */
  #stretches(text: string | undefined): readonly Stretch[] {
    if (text === undefined || /^any$/i.test(text)) return [[0n, END - 1n]]
    const { net } = this
    const wanted = text.toLowerCase()
    const zone = net.zones.find(({ id, name }) => id === text || name.toLowerCase() === wanted)
    if (zone) return this.#inZone(zone.id)
    const subnet = net.subnets.find(({ id, name }) => id === text || name.toLowerCase() === wanted)
    if (subnet) return stretchOf(textOf(subnet, 'prefix'))
    const device = net.byId.get(text as Id) ?? this.#byName.get(wanted)
    return device ? this.#ofDevice(device) : stretchOf(text)
  }

  /** The addresses of a zone: of its subnets and its devices; where nothing is trusted, those that no other zone has, besides. */
  #inZone(id: Id): readonly Stretch[] {
    const known = this.#zones.get(id)
    if (known) return known
    const own = this.#statedIn(id)
    const zone = this.net.zones.find((one) => one.id === id)
    const found =
      zone?.trust === 'none'
        ? complement(this.net.zones.filter((one) => one.id !== id).flatMap((one) => this.#statedIn(one.id)))
        : own
    this.#zones.set(id, found)
    return found
  }

  #statedIn(id: Id): readonly Stretch[] {
    const { net } = this
    return [
      ...net.subnets
        .filter(
          ({ fields }) =>
            fields['zone'] === id || net.zones.some((zone) => zone.id === id && zone.name === fields['zone']),
        )
        .flatMap((subnet) => stretchOf(textOf(subnet, 'prefix'))),
      ...net.devices.filter(({ zone }) => zone?.id === id).flatMap((device) => this.#ofDevice(device)),
    ]
  }
}

const inTheirOrder = (all: readonly Filter[], some: readonly Filter[]): Filter[] => {
  const own = new Set(some)
  return all.filter((filter) => own.has(filter))
}

function stretchOf(text: string | undefined): readonly Stretch[] {
  const prefix = text === undefined ? undefined : readPrefix(text)
  return prefix ? [[OFFSET[prefix.family] + prefix.first, OFFSET[prefix.family] + prefix.last]] : []
}

function complement(stretches: readonly Stretch[]): Stretch[] {
  const sorted = [...stretches].sort((a, b) => (a[0] < b[0] ? -1 : 1))
  const free: Stretch[] = []
  let at = 0n
  for (const [first, last] of sorted) {
    if (first > at) free.push([at, first - 1n])
    if (last + 1n > at) at = last + 1n
  }
  if (at < END) free.push([at, END - 1n])
  return free
}

/** What two sets of spans share, and what the first has besides. O(spans of both) */
function shared(a: Spans, b: Spans): Spans {
  if (a.length === 1 && b.length === 1) {
    const [first, end] = [Math.max(nth(a, 0)[0], nth(b, 0)[0]), Math.min(nth(a, 0)[1], nth(b, 0)[1])]
    return first < end ? [[first, end]] : []
  }
  const found: [number, number][] = []
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    const [one, other] = [nth(a, i), nth(b, j)]
    const [first, end] = [Math.max(one[0], other[0]), Math.min(one[1], other[1])]
    if (first < end) found.push([first, end])
    if (one[1] < other[1]) i++
    else j++
  }
  return found
}

function without(a: Spans, b: Spans): Spans {
  const found: [number, number][] = []
  for (const [first, end] of a) {
    let at = first
    for (const [from, to] of b) {
      if (to <= at || from >= end) continue
      if (from > at) found.push([at, from])
      at = to
    }
    if (at < end) found.push([at, end])
  }
  return found
}

const isEmpty = ({ source, destination, protocols, ports }: Region): boolean =>
  source.length === 0 || destination.length === 0 || protocols === 0 || ports.length === 0

const meets = (a: Region, b: Region): boolean =>
  (a.protocols & b.protocols) !== 0 &&
  isTouching(a.source, b.source) &&
  isTouching(a.destination, b.destination) &&
  isTouching(a.ports, b.ports)

function isTouching(a: Spans, b: Spans): boolean {
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    const [one, other] = [nth(a, i), nth(b, j)]
    if (Math.max(one[0], other[0]) < Math.min(one[1], other[1])) return true
    if (one[1] < other[1]) i++
    else j++
  }
  return false
}

/** What one region has besides another: in four pieces at most. */
function besides(a: Region, b: Region): Region[] {
  const pieces: Region[] = []
  const keep = (piece: Region) => !isEmpty(piece) && pieces.push(piece)
  keep({ ...a, source: without(a.source, b.source) })
  const inSource = { ...a, source: shared(a.source, b.source) }
  keep({ ...inSource, destination: without(a.destination, b.destination) })
  const inBoth = { ...inSource, destination: shared(a.destination, b.destination) }
  keep({ ...inBoth, protocols: a.protocols & ~b.protocols })
  keep({ ...inBoth, protocols: a.protocols & b.protocols, ports: without(a.ports, b.ports) })
  return pieces
}

export interface Verdict {
  readonly allowed: boolean
  /** The rule that denies some of it, or else the one that lets its first part through; undefined where no rule matches. */
  readonly by: Filter | undefined
}

/** First match wins, and what nothing matches is denied: it is let through where all of it is. O(rules × pieces) */
export function verdictOn(filters: readonly Filter[], sent: Region): Verdict {
  let left: readonly Region[] = [sent]
  let by: Filter | undefined
  for (const filter of filters) {
    if (!left.some((piece) => meets(piece, filter.region))) continue
    if (!filter.allows) return { allowed: false, by: filter }
    by ??= filter
    left = left.flatMap((piece) => (meets(piece, filter.region) ? besides(piece, filter.region) : [piece]))
    if (left.length === 0) return { allowed: true, by }
  }
  return { allowed: false, by: undefined }
}

/** A rule that can never match, and those before it that match all that it would; none where it names nothing that is known. */
export interface Shadowed {
  readonly filter: Filter
  readonly by: readonly Filter[]
}

/** Pieces that are looked at for one rule before it is left undecided. */
const MOST_PIECES = 20_000
const WITNESSES = 24

/** O(rules²) for telling that most of them match something; what is left is taken apart piece by piece, up to a bound. */
export function shadowedIn(filters: readonly Filter[]): Shadowed[] {
  return filters.flatMap((filter, at): Shadowed[] => {
    if (isEmpty(filter.region)) return [{ filter, by: [] }]
    const earlier = filters.slice(0, at).filter((one) => meets(one.region, filter.region))
    if (earlier.length === 0 || hasWitness(filter.region, earlier)) return []
    const taking = new Set<Filter>()
    const budget = { left: MOST_PIECES }
    return isCovered(filter.region, earlier, 0, taking, budget)
      ? [{ filter, by: earlier.filter((one) => taking.has(one)) }]
      : []
  })
}

/** Whether one of some packets of a region is matched by no rule. */
function hasWitness(region: Region, filters: readonly Filter[]): boolean {
  for (let turn = 0; turn < WITNESSES; turn++) {
    const at = (spans: Spans, salt: number): Spans => {
      const [first, end] = nth(spans, (turn * salt) % spans.length)
      const place = turn < 2 ? (turn === 0 ? first : end - 1) : first + ((turn * 2_654_435 * salt) % (end - first))
      return [[place, place + 1]]
    }
    const bits = [1, 2, 4, 8].filter((bit) => (region.protocols & bit) !== 0)
    const packet: Region = {
      source: at(region.source, 1),
      destination: at(region.destination, 3),
      protocols: nth(bits, turn % bits.length),
      ports: at(region.ports, 7),
    }
    if (!filters.some((filter) => meets(packet, filter.region))) return true
  }
  return false
}

function isCovered(
  region: Region,
  filters: readonly Filter[],
  from: number,
  taking: Set<Filter>,
  budget: { left: number },
): boolean {
  const at = filters.findIndex((filter, index) => index >= from && meets(region, filter.region))
  const filter = filters[at]
  if (!filter || budget.left-- <= 0) return false
  taking.add(filter)
  return besides(region, filter.region).every((piece) => isCovered(piece, filters, at + 1, taking, budget))
}

/** What the firewalls on a way say of what is sent along it. */
export interface Passage {
  readonly allowed: boolean
  readonly firewall: Device | undefined
  readonly by: Filter | undefined
}

/** A flow passes where every firewall between its ends lets all of it through. */
export function passageOf(firewalls: Firewalls, way: Way, sent: Region): Passage {
  let last: Passage = { allowed: true, firewall: undefined, by: undefined }
  for (const device of way.devices.slice(1, -1)) {
    // A router or a switch filters where rules are stated of it.
    if (!firewalls.doesFilter(device)) continue
    const { allowed, by } = verdictOn(firewalls.filtersOf(device), sent)
    last = { allowed, firewall: device, by }
    if (!allowed) return last
  }
  return last
}

/** The ways in which a flow is begun, each as a flow from who begins it. Answers come back by themselves. */
const begunBy = (flow: Flow): readonly Flow[] =>
  textOf(flow.relation, 'direction') === 'both ways' ? [flow, { ...flow, from: flow.to, to: flow.from }] : [flow]

/** What the firewalls say of a flow, along its way and, where either end may begin, back: the first denial, else the last that was asked. */
export function passageFor(firewalls: Firewalls, flow: Flow, way: Way): Passage & { readonly begun: Flow } {
  const [onward = flow, back] = begunBy(flow)
  const there = { ...passageOf(firewalls, way, firewalls.sentBy(onward)), begun: onward }
  if (!back || !there.allowed) return there
  const turned: Way = { cables: way.cables.toReversed(), devices: way.devices.toReversed() }
  return { ...passageOf(firewalls, turned, firewalls.sentBy(back)), begun: back }
}

const known = new WeakMap<Net, Firewalls>()
export function firewallsOf(net: Net): Firewalls {
  const found = known.get(net) ?? new Firewalls(net)
  known.set(net, found)
  return found
}

/** Whether a rule lets everything through. */
export const isOpen = ({ entity, allows }: Filter): boolean => {
  const isAny = (field: string) => /^(any)?$/i.test(textOf(entity, field) ?? '')
  return (
    allows &&
    isAny('source') &&
    isAny('destination') &&
    isAny('protocol') &&
    readPorts(textOf(entity, 'port') ?? '').spans === undefined
  )
}
