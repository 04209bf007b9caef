/** Addresses of the Internet Protocol (RFC 791, RFC 4291), prefixes of them (RFC 4632) and their text (RFC 5952). */

export type Family = 4 | 6

export interface Address {
  readonly family: Family
  readonly value: bigint
}

/** All addresses that share their first bits: from `first` to `last`. */
export interface Prefix {
  readonly family: Family
  readonly length: number
  readonly first: bigint
  readonly last: bigint
}

/** An address as a port has it: with how much of it names the network. */
export interface Interface {
  readonly address: Address
  readonly prefix: Prefix
}

export const BITS: Readonly<Record<Family, number>> = { 4: 32, 6: 128 }

/** Texts that have been read: the same ones are read at every change. */
const known = new Map<string, Address | undefined>()
const MOST_KNOWN = 50_000

/** Reads `10.20.0.1` or `2001:db8::1`; undefined for what is no address. Octets have no leading zeros (RFC 6943, §3.1.1). O(1) */
export function readAddress(text: string): Address | undefined {
  if (text.length > 45) return undefined
  if (known.has(text)) return known.get(text)
  const trimmed = text.trim()
  const found = trimmed.includes(':') ? readSix(trimmed) : readFour(trimmed)
  if (known.size >= MOST_KNOWN) known.clear()
  known.set(text, found)
  return found
}

function readFour(text: string): Address | undefined {
  const parts = text.split('.')
  if (parts.length !== 4) return undefined
  let value = 0
  for (const part of parts) {
    if (!/^(?:0|[1-9]\d{0,2})$/.test(part) || Number(part) > 255) return undefined
    value = value * 256 + Number(part)
  }
  return { family: 4, value: BigInt(value) }
}

function readSix(text: string): Address | undefined {
  const halves = text.split('::')
  if (halves.length > 2) return undefined
  const [left = '', right] = halves
  const [head, tail] = [groupsOf(left), right === undefined ? [] : groupsOf(right)]
  if (!head || !tail) return undefined
  const left0 = 8 - head.length - tail.length
  // Two colons stand for one group of zeros at least.
  if (right === undefined ? left0 !== 0 : left0 < 1) return undefined
  const groups = [...head, ...Array.from({ length: left0 }, () => 0), ...tail]
  return { family: 6, value: groups.reduce((sum, group) => (sum << 16n) | BigInt(group), 0n) }
}

/** The groups of sixteen bits of a part of a text; its end may be written as an IPv4 address. */
function groupsOf(text: string): number[] | undefined {
  if (text === '') return []
  const parts = text.split(':')
  const groups: number[] = []
  for (const [at, part] of parts.entries()) {
    if (at === parts.length - 1 && part.includes('.')) {
      const four = readFour(part)
      if (!four) return undefined
      groups.push(Number(four.value >> 16n), Number(four.value & 0xffffn))
    } else if (/^[0-9a-f]{1,4}$/i.test(part)) groups.push(Number.parseInt(part, 16))
    else return undefined
  }
  return groups
}

/** The text of an address: of IPv6 the one of RFC 5952, §4: lower case, the longest run of zeros as `::`, the first of equals, none of a single group. */
export function addressText({ family, value }: Address): string {
  if (family === 4) return [24n, 16n, 8n, 0n].map((shift) => (value >> shift) & 255n).join('.')
  const groups = Array.from({ length: 8 }, (_, i) => Number((value >> BigInt(112 - 16 * i)) & 0xffffn))
  let [begin, length] = [-1, 1]
  for (let i = 0; i < 8; i++) {
    let end = i
    while (end < 8 && groups[end] === 0) end++
    if (end - i > length) [begin, length] = [i, end - i]
  }
  const text = (part: readonly number[]) => part.map((group) => group.toString(16)).join(':')
  return begin < 0 ? text(groups) : `${text(groups.slice(0, begin))}::${text(groups.slice(begin + length))}`
}

/** Reads `10.20.0.0/24`; the bits behind the length do not count. Undefined for what is none. */
export const readPrefix = (text: string): Prefix | undefined => readInterface(text)?.prefix

/** Reads `10.20.0.1/24`, or an address alone, which is a network of its own. Undefined for what is none. */
export function readInterface(text: string): Interface | undefined {
  const [, before = text, bits] = /^([^/]*)\/(\d{1,3})$/.exec(text.trim()) ?? []
  const address = readAddress(before.trim())
  if (!address || (bits !== undefined && !/^(?:0|[1-9]\d*)$/.test(bits))) return undefined
  const length = bits === undefined ? BITS[address.family] : Number(bits)
  return length > BITS[address.family] ? undefined : { address, prefix: prefixOf(address, length) }
}

/** Whether a text says how much of an address names the network. */
export const saysLength = (text: string): boolean => text.includes('/')

export function prefixOf({ family, value }: Address, length: number): Prefix {
  const free = BigInt(BITS[family] - length)
  const first = (value >> free) << free
  return { family, length, first, last: first + (1n << free) - 1n }
}

export const prefixText = ({ family, first, length }: Prefix): string =>
  `${addressText({ family, value: first })}/${length}`

/** `10.20.0.1/24`. */
export const interfaceText = ({ address, prefix }: Interface): string => `${addressText(address)}/${prefix.length}`

export const holds = (prefix: Prefix, { family, value }: Address): boolean =>
  family === prefix.family && value >= prefix.first && value <= prefix.last

/** Two prefixes overlap only where one holds the other. */
export const overlap = (a: Prefix, b: Prefix): boolean =>
  a.family === b.family && a.first <= b.last && b.first <= a.last

/**
 * The first and last address that a device may have: of IPv4 neither the network's own nor the broadcast address (RFC 950, RFC 1122
 * §3.2.1.3), but both of a /31 (RFC 3021) and the one of a /32; of IPv6 all but the first, which is every router's (RFC 4291 §2.6.1),
 * and both of a /127 (RFC 6164).
 */
export function hostsOf({ family, length, first, last }: Prefix): { readonly first: bigint; readonly last: bigint } {
  if (BITS[family] - length < 2) return { first, last }
  return { first: first + 1n, last: family === 4 ? last - 1n : last }
}

/** How many addresses a prefix has for devices. */
export function hostCount(prefix: Prefix): bigint {
  const { first, last } = hostsOf(prefix)
  return last - first + 1n
}

/** `10.20.0.10-10.20.0.19`, one address, or a prefix: what a subnet keeps back. */
export function readRange(
  text: string,
): { readonly family: Family; readonly first: bigint; readonly last: bigint } | undefined {
  const [, low, high] = /^(.*?)\s*[-–]\s*(.*)$/.exec(text.trim()) ?? []
  if (low === undefined || high === undefined) return readPrefix(text)
  const [from, to] = [readAddress(low), readAddress(high)]
  return from && to && from.family === to.family && from.value <= to.value
    ? { family: from.family, first: from.value, last: to.value }
    : undefined
}

/** Where an address means one place (RFC 4007, §4): everywhere, on one link, within one host; or a group of places. */
export type AddressScope = 'global' | 'link' | 'host' | 'multicast'

/** O(1). RFC 4291, §2.4: fe80::/10, ::1, ff00::/8; RFC 3927, 169.254.0.0/16; RFC 1122, §3.2.1.3, 127.0.0.0/8; RFC 5771, 224.0.0.0/4. */
export function scopeOf({ family, value }: Address): AddressScope {
  if (family === 6)
    return value === 1n ? 'host' : value >> 118n === 0x3fan ? 'link' : value >> 120n === 0xffn ? 'multicast' : 'global'
  if (value >> 16n === 0xa9fen) return 'link'
  return value >> 24n === 127n ? 'host' : value >> 28n === 14n ? 'multicast' : 'global'
}

/** Why a list of addresses cannot be read; undefined where all of it can. */
export function unreadAddresses(text: string): string | undefined {
  const wrong = text
    .split(/[,;\s]+/)
    .filter(Boolean)
    .find((part) => !readInterface(part))
  return wrong === undefined ? undefined : `“${wrong.slice(0, 60)}”: ${addressFault(wrong)}.`
}

/** Why a text does not name a router among others: four numbers, as RFC 6991 has it, which need not be an address of it. */
export const unreadRouter = (text: string): string | undefined =>
  readAddress(text)?.family === 4
    ? undefined
    : `“${text.slice(0, 60)}” is no router id: write four numbers such as 192.0.2.1.`

/** Why a text is no address, in words that say where. */
export function addressFault(text: string): string {
  const [address = '', bits] = text.trim().split('/')
  const six = address.includes(':')
  if (!readAddress(address)) {
    if (six && address.split('::').length > 2) return 'it has “::” more than once'
    if (!six && /^[\d.]+$/.test(address)) {
      const wrong = address.split('.').find((part) => Number(part) > 255 || /^0\d/.test(part))
      if (wrong !== undefined)
        return `“${wrong}” is no number from 0 to 255${/^0\d/.test(wrong) ? ' without leading zeros' : ''}`
      return 'an IPv4 address has four numbers'
    }
    return six
      ? 'an IPv6 address has eight groups of up to four digits 0 to f'
      : 'it is no address such as 10.20.0.1 or 2001:db8::1'
  }
  return `the prefix length “${bits ?? ''}” is no number from 0 to ${six ? 128 : 32}`
}
