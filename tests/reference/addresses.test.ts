import fc from 'fast-check'
import ipaddr from 'ipaddr.js'
import { describe, expect, it } from 'vitest'
import {
  addressText,
  hostCount,
  hostsOf,
  holds,
  overlap,
  prefixText,
  readAddress,
  readInterface,
  readPrefix,
  type Address,
} from '../../src/core/notations/network/addresses'

const texts = (...list: readonly string[]) =>
  list.map((text) => {
    const address = readAddress(text)
    return address && addressText(address)
  })

describe('the text of an IPv6 address (RFC 5952, its own examples)', () => {
  it('has no leading zeros (§4.1)', () => expect(texts('2001:0db8::0001')).toEqual(['2001:db8::1']))
  it('shortens as much as it can (§4.2.1)', () =>
    expect(texts('2001:db8:0:0:0:0:2:1', '2001:db8::0:1')).toEqual(['2001:db8::2:1', '2001:db8::1']))
  it('does not shorten one group alone (§4.2.2)', () =>
    expect(texts('2001:db8:0:1:1:1:1:1', '2001:db8::1:1:1:1:1')).toEqual([
      '2001:db8:0:1:1:1:1:1',
      '2001:db8:0:1:1:1:1:1',
    ]))
  it('shortens the longest run, and of equals the first (§4.2.3)', () =>
    expect(texts('2001:0:0:1:0:0:0:1', '2001:db8:0:0:1:0:0:1')).toEqual(['2001:0:0:1::1', '2001:db8::1:0:0:1']))
  it('is in lower case (§4.3)', () =>
    expect(texts('2001:DB8:AAAA:bbbb:CCCC:dddd:EEEE:aaaa')).toEqual(['2001:db8:aaaa:bbbb:cccc:dddd:eeee:aaaa']))
})

describe('prefixes', () => {
  it('of a /31 have two addresses for devices (RFC 3021)', () =>
    expect(hostCount(readPrefix('192.0.2.0/31') ?? fail())).toBe(2n))
  it('leave the network’s own and the broadcast address out (RFC 950, RFC 4632)', () => {
    const { first, last } = hostsOf(readPrefix('192.0.2.77/24') ?? fail())
    expect([first, last].map((value) => addressText({ family: 4, value }))).toEqual(['192.0.2.1', '192.0.2.254'])
  })
  it('hold what RFC 4632, §3.1 says of 10.24.0.0/13 and 10.24.7.0/24', () => {
    expect(overlap(readPrefix('10.24.0.0/13') ?? fail(), readPrefix('10.24.7.0/24') ?? fail())).toBe(true)
  })
})

const fail = (): never => {
  throw new Error('not read')
}

const address = fc.oneof(
  fc.record({ family: fc.constant(4 as const), value: fc.bigInt({ min: 0n, max: (1n << 32n) - 1n }) }),
  fc.record({ family: fc.constant(6 as const), value: fc.bigInt({ min: 0n, max: (1n << 128n) - 1n }) }),
  // Few groups that are not zero: what is shortened matters.
  fc
    .array(fc.constantFrom(0, 0, 0, 1, 0xdb8, 0xffff), { minLength: 8, maxLength: 8 })
    .map((groups): Address => ({ family: 6, value: groups.reduce((sum, one) => (sum << 16n) | BigInt(one), 0n) })),
)

const RUNS = { numRuns: Number(process.env['RUNS'] ?? 2000) }

describe('any address, against npm ipaddr.js', () => {
  it('has the same text, read back to the same', () =>
    fc.assert(
      fc.property(address, (one) => {
        const text = addressText(one)
        const theirs = ipaddr.parse(text)
        // What is written by ipaddr.js is read here, and the other way round.
        expect(readAddress(theirs.toString())).toEqual(one)
        expect(theirs.kind() === 'ipv6' ? (theirs as ipaddr.IPv6).toRFC5952String() : theirs.toString()).toBe(text)
        expect(readAddress(text)).toEqual(one)
      }),
      RUNS,
    ))

  it('lies in the same prefixes', () =>
    fc.assert(
      fc.property(address, address, fc.nat(128), (one, other, bits) => {
        const length = Math.min(bits, other.family === 4 ? 32 : 128)
        const prefix = readPrefix(`${addressText(other)}/${length}`) ?? fail()
        // Half of the time an address that is in it, or just beside.
        const near =
          one.family === other.family
            ? { ...other, value: one.value % 2n === 0n ? prefix.last : prefix.last + 1n }
            : one
        const fits = near.value < 1n << (near.family === 4 ? 32n : 128n)
        for (const asked of fits ? [one, near] : [one]) {
          const [theirs, mask] = [ipaddr.parse(addressText(asked)), ipaddr.parseCIDR(prefixText(prefix))]
          const isInside = asked.family === other.family && theirs.match(mask)
          expect(holds(prefix, asked)).toBe(isInside)
        }
      }),
      RUNS,
    ))

  it('has the same network and broadcast address', () =>
    fc.assert(
      fc.property(fc.bigInt({ min: 0n, max: (1n << 32n) - 1n }), fc.nat(32), (value, length) => {
        const text = `${addressText({ family: 4, value })}/${length}`
        const prefix = readPrefix(text) ?? fail()
        expect(addressText({ family: 4, value: prefix.first })).toBe(
          ipaddr.IPv4.networkAddressFromCIDR(text).toString(),
        )
        expect(addressText({ family: 4, value: prefix.last })).toBe(
          ipaddr.IPv4.broadcastAddressFromCIDR(text).toString(),
        )
      }),
      RUNS,
    ))

  it('is one where ipaddr.js says so, for texts that look like one', () =>
    fc.assert(
      fc.property(
        fc
          .array(fc.constantFrom('0', '1', '25', '255', '256', '.', ':', '::', 'a', 'ffff', '/'), { maxLength: 12 })
          .map((parts) => parts.join('')),
        (text) => {
          // Short and hexadecimal forms of IPv4 that ipaddr.js takes besides are not meant by anybody here.
          if (text.includes('/')) return
          const isOne = text.includes(':') ? ipaddr.IPv6.isValid(text) : ipaddr.IPv4.isValidFourPartDecimal(text)
          expect(readAddress(text) !== undefined).toBe(isOne)
        },
      ),
      RUNS,
    ))
})

describe('what is no address', () => {
  it.each([
    '10.0.0.256',
    '::1::',
    '10.0.0.0/33',
    '2001:db8::/129',
    '10.0.0',
    '010.0.0.1',
    '1.2.3.4.5',
    'fe80::1%eth0',
    '',
    '10.0.0.1/',
    ':::',
  ])('is not read: %j', (text) => expect(readInterface(text)).toBeUndefined())
})
