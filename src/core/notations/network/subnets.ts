import { listOf, textOf } from '../../notation'
import type { Entity } from '../../model'
import {
  addressText,
  hostCount,
  hostsOf,
  overlap,
  readInterface,
  readPrefix,
  readRange,
  type Prefix,
} from './addresses'
import { type Net, type Stated } from './structure'

/** A subnet with what lies in it. */
export interface Subnet {
  readonly entity: Entity
  readonly prefix: Prefix
  readonly vrf: string
  readonly gateway: string | undefined
  /** Addresses that devices have in it. */
  readonly used: readonly Stated[]
  /** What is kept back, as first and last address. */
  readonly reserved: readonly { readonly first: bigint; readonly last: bigint }[]
}

interface Found {
  readonly subnets: readonly Subnet[]
  readonly find: (stated: Stated) => Subnet | undefined
}
const known = new WeakMap<Net, Found>()

/** The subnets of a network whose prefix can be read; an address is in the narrowest that holds it. O((subnets + addresses) log subnets) */
export const subnetsOf = (net: Net): readonly Subnet[] => foundIn(net).subnets

/** The subnet that an address of a device is in. O(lengths of prefixes) */
export const subnetWith = (net: Net, stated: Stated): Subnet | undefined => foundIn(net).find(stated)

function foundIn(net: Net): Found {
  const found = known.get(net)
  if (found) return found
  const subnets = net.subnets.flatMap((entity) => {
    const prefix = readPrefix(textOf(entity, 'prefix') ?? '')
    if (!prefix) return []
    const reserved = listOf(entity, 'reserved').flatMap((text) => {
      const range = readRange(text)
      return range?.family === prefix.family ? [range] : []
    })
    return [
      {
        entity,
        prefix,
        vrf: textOf(entity, 'vrf') ?? '',
        gateway: textOf(entity, 'gateway'),
        used: [] as Stated[],
        reserved,
      },
    ]
  })
  const find = finder(subnets)
  for (const { addresses } of net.devices) for (const stated of addresses) find(stated)?.used.push(stated)
  const answer = { subnets, find }
  known.set(net, answer)
  return answer
}

/** The narrowest subnet that holds an address, in its VRF: for each length the subnets by their first address. */
function finder<T extends Pick<Subnet, 'prefix' | 'vrf'>>(subnets: readonly T[]): (stated: Stated) => T | undefined {
  const byKey = new Map<string, T>()
  const lengths = new Set<number>()
  const keyOf = (family: number, length: number, first: bigint, vrf: string) => `${family} ${length} ${first} ${vrf}`
  for (const subnet of subnets) {
    const { family, length, first } = subnet.prefix
    lengths.add(length)
    const key = keyOf(family, length, first, subnet.vrf)
    if (!byKey.has(key)) byKey.set(key, subnet)
  }
  const narrow = [...lengths].sort((a, b) => b - a)
  return ({ address: { family, value }, vrf }) => {
    const bits = family === 4 ? 32 : 128
    for (const length of narrow) {
      if (length > bits) continue
      const free = BigInt(bits - length)
      const found = byKey.get(keyOf(family, length, (value >> free) << free, vrf))
      if (found) return found
    }
    return undefined
  }
}

/** How many addresses there are for devices, how many of them are taken, kept back, and free. */
export interface Room {
  readonly hosts: bigint
  readonly used: bigint
  readonly reserved: bigint
  readonly free: bigint
}

/** O(used log used) */
export function roomIn(subnet: Subnet): Room {
  const hosts = hostCount(subnet.prefix)
  const taken = takenIn(subnet)
  const used = BigInt(new Set(taken).size)
  const reserved = keptBack(subnet, new Set(taken))
  return { hosts, used, reserved, free: hosts - used - reserved }
}

/** Values of addresses that devices have, the gateway’s too, as far as devices may have them. */
function takenIn({ prefix, used, gateway }: Subnet): bigint[] {
  const { first, last } = hostsOf(prefix)
  const own = used.map(({ address }) => address.value)
  const router = gateway === undefined ? undefined : readInterface(gateway)?.address
  if (router?.family === prefix.family) own.push(router.value)
  return own.filter((value) => value >= first && value <= last)
}

/** How many addresses are kept back and not used. */
function keptBack({ prefix, reserved }: Subnet, used: ReadonlySet<bigint>): bigint {
  const { first, last } = hostsOf(prefix)
  let count = 0n
  let at = first
  for (const range of [...reserved].sort((a, b) => (a.first < b.first ? -1 : 1))) {
    const from = range.first > at ? range.first : at
    const to = range.last < last ? range.last : last
    if (from > to) continue
    count += to - from + 1n
    for (const value of used) if (value >= from && value <= to) count -= 1n
    at = to + 1n
  }
  return count
}

const frees = new WeakMap<Subnet, { readonly text: string | undefined }>()

/** The first address that nobody has and that is not kept back; undefined where none is left. O(used + reserved), once for each subnet. */
export function nextFree(subnet: Subnet): string | undefined {
  const found = frees.get(subnet) ?? { text: firstFree(subnet) }
  frees.set(subnet, found)
  return found.text
}

function firstFree(subnet: Subnet): string | undefined {
  const { first, last } = hostsOf(subnet.prefix)
  const taken = new Set(takenIn(subnet))
  const reserved = [...subnet.reserved].sort((a, b) => (a.first < b.first ? -1 : 1))
  let at = first
  for (;;) {
    if (at > last) return undefined
    const kept = reserved.find((range) => at >= range.first && at <= range.last)
    if (kept) at = kept.last + 1n
    else if (taken.has(at)) at += 1n
    else return addressText({ family: subnet.prefix.family, value: at })
  }
}

/** Subnets of one VRF that share addresses, each pair once: neighbours in the order of their first addresses. O(subnets log subnets + pairs) */
export function overlapping(subnets: readonly Subnet[]): (readonly [Subnet, Subnet])[] {
  const sorted = [...subnets].sort(
    (a, b) =>
      a.vrf.localeCompare(b.vrf) ||
      a.prefix.family - b.prefix.family ||
      (a.prefix.first < b.prefix.first ? -1 : a.prefix.first > b.prefix.first ? 1 : a.prefix.length - b.prefix.length),
  )
  const pairs: (readonly [Subnet, Subnet])[] = []
  sorted.forEach((one, at) => {
    for (let next = at + 1; next < sorted.length && pairs.length < MOST_PAIRS; next++) {
      const other = sorted[next]
      if (!other || other.vrf !== one.vrf || !overlap(one.prefix, other.prefix)) break
      pairs.push([one, other])
    }
  })
  return pairs
}
const MOST_PAIRS = 2000
