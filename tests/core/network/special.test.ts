import { describe, expect, it } from 'vitest'
import { asId, type Model } from '../../../src/core/model'
import { parseWorkspace, writeWorkspace } from '../../../src/core/file'
import { readEntry } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { handlings } from '../../../src/core/notations/handling'
import { readAddress, scopeOf } from '../../../src/core/notations/network/addresses'
import { flowWays, lostBy, usualOf } from '../../../src/core/notations/network/carried'
import { measuresOf } from '../../../src/core/notations/network/measures'
import { roomIn, subnetsOf } from '../../../src/core/notations/network/subnets'
import { topologyOf } from '../../../src/core/notations/network/topology'
import { unreadVlans, vlansOf, vlanText } from '../../../src/core/notations/network/vlans'
import { DAY } from '../../facts'
import { findings, mended, named, netIn, network, viewIn } from './facts'

const said = (rule: string, model: Model) => findings(rule, model).map(({ message }) => message)
const ADDRESS_RULES = ['duplicate-address', 'outside-subnet', 'network-or-broadcast', 'gateway', 'unread']
const allSaid = (model: Model) => ADDRESS_RULES.flatMap((rule) => said(`net/${rule}`, model))

describe('an address that is known on one link, in one device or by a group', () => {
  it.each([
    // RFC 4291, §2.4 and §2.5.3; RFC 3927, §2.1; RFC 1122, §3.2.1.3; RFC 5771, §3
    ['fe80::1', 'link'],
    ['febf::1', 'link'],
    ['fec0::1', 'global'],
    ['169.254.3.4', 'link'],
    ['169.255.0.1', 'global'],
    ['::1', 'host'],
    ['::2', 'global'],
    ['127.0.0.1', 'host'],
    ['127.255.255.254', 'host'],
    ['128.0.0.1', 'global'],
    ['ff02::1', 'multicast'],
    ['224.0.0.5', 'multicast'],
    ['239.255.255.255', 'multicast'],
    ['240.0.0.1', 'global'],
    ['223.255.255.255', 'global'],
  ])('%s: %s', (text, scope) => {
    const address = readAddress(text)
    expect(address && scopeOf(address)).toBe(scope)
  })

  it('is no error on two links, outside a subnet or in several devices', () => {
    const lan = 'lan  (subnet 2001:db8::/64, gateway fe80::1)\nfour  (subnet 10.0.0.0/24, gateway 10.0.0.1)\n'
    const model = network(`${lan}a  router  10.0.0.1/24, 127.0.0.1/8, ::1, fe80::1/64, 224.0.0.5
  port e0  fe80::7/64
  port e1  fe80::9/64
b  router  10.0.0.2/24, 127.0.0.1/8, ::1, fe80::1/64, 224.0.0.5, 127.0.0.0/8
  port e0  fe80::7/64`)
    expect(allSaid(model)).toEqual([])
  })
  it('is one on the same link, and any other is one everywhere', () => {
    const model = network('a  router\n  port e0  fe80::7/64\n  e0 to b e0\nb  router\n  port e0  fe80::7/64')
    expect(said('net/duplicate-address', model)).toEqual(['fe80::7 is stated at “a e0”, “b e0”.'])
    expect(said('net/duplicate-address', network('a  router  fec0::7/64\nb  router  fec0::7/64'))).toHaveLength(1)
  })
  it('is a gateway of its family alone', () => {
    expect(said('net/gateway', network('x  (subnet 10.0.0.0/24, gateway fe80::1)'))).toHaveLength(1)
    expect(said('net/gateway', network('x  (subnet 2001:db8::/64, gateway 2001:db9::1)'))).toHaveLength(1)
    expect(said('net/gateway', network('x  (subnet 10.0.0.0/24, gateway 169.254.0.1)'))).toHaveLength(1)
  })
})

describe('an address that several routers share (RFC 5798)', () => {
  const LAN = 'lan  (subnet 10.0.0.0/24, gateway 10.0.0.1)\n'
  const two = (one: string, other: string) => network(`${LAN}a  router  ${one}\nb  router  ${other}`)
  const SHARED = 'shared addresses: 10.0.0.1/24'
  it('is no duplicate, not even where one of them owns it, and is taken in its subnet', () => {
    const model = two(`10.0.0.2/24  ${SHARED}`, `10.0.0.3/24  ${SHARED}`)
    expect(allSaid(model)).toEqual([])
    const [subnet] = subnetsOf(netIn(model))
    expect(subnet && roomIn(subnet).used).toBe(3n)
    expect(allSaid(two(`10.0.0.1/24  ${SHARED}`, `10.0.0.3/24  ${SHARED}`))).toEqual([])
  })
  it('is one for whoever does not share it, and is shared by two at least', () => {
    const model = network(`${LAN}a  router  10.0.0.2/24  ${SHARED}
b  router  10.0.0.3/24  ${SHARED}
c  server  10.0.0.1/24`)
    expect(said('net/duplicate-address', model)).toEqual(['10.0.0.1 is stated at “a”, “b”, “c”.'])
    expect(said('net/shared-alone', model)).toEqual([])
    expect(said('net/shared-alone', two(SHARED, '10.0.0.3/24'))).toEqual(['No other device shares 10.0.0.1 with “a”.'])
  })
  it('that cannot be read is refused, and said', () => {
    const field = handlings.kinds.get('device')?.fields.find(({ id }) => id === 'shared')
    expect(field && readEntry(field, '10.0.0.300')).toHaveProperty('refused', expect.stringContaining('“300”'))
    expect(field && readEntry(field, '10.0.0.1/24, fe80::1')).toEqual({ value: ['10.0.0.1/24', 'fe80::1'] })
    expect(() => two('shared addresses: 10.0.0', '10.0.0.3/24')).toThrow('an IPv4 address has four numbers')
  })
})

describe('lists of VLANs (IEEE 802.1Q)', () => {
  const ends = (a: string, b: string) => network(`a  switch\n  port p1  ${a}\n  p1 to b p1\nb  switch\n  port p1  ${b}`)
  const list = (text: string) => `vlan: 10  tagged vlans: ${text}`
  it('are compared as sets of numbers', () => {
    for (const [one, other] of [
      ['20, 30', '030, 20'],
      ['20, 20, 30', '30, 20'],
      ['20-23', '20, 21, 22, 23'],
      ['20–22, 30', '30, 22, 21, 20'],
    ] as const)
      expect([one, said('net/vlan-mismatch', ends(list(one), list(other)))]).toEqual([one, []])
    const apart = ends(list('20-22'), list('20, 21'))
    expect(said('net/vlan-mismatch', apart)).toEqual([
      '“a p1” has VLAN 10 and tagged 20-22, “b p1” at the other end VLAN 10 and tagged 20, 21.',
    ])
    expect(mended('net/vlan-mismatch', apart)).toEqual([])
  })
  it('hold no number that there is not', () => {
    expect([1, 4094].map((one) => unreadVlans(String(one)))).toEqual([undefined, undefined])
    for (const text of ['0', '4095', '30-20', 'guest', '20 30', '-5', '5-', '10-4095'])
      expect([text, unreadVlans(text)]).toEqual([text, expect.stringContaining(`“${text}” is no VLAN`)])
    expect(() => ends(list('20, 4095'), list('20'))).toThrow('“4095” is no VLAN')
    const model = ends(list('20'), list('20'))
    const port = named(model, 'p1', 'port')
    const bad = model.entities.get(port)
    if (!bad) throw new Error('no port')
    const with0 = model.with({
      entities: new Map([...model.entities, [port, { ...bad, fields: { ...bad.fields, tagged: ['0'] } }]]),
    })
    expect(said('net/unread', with0)[0]).toContain('Tagged VLANs of “a p1”: “0” is no VLAN')
  })
  it('are written as briefly as they are read', () => {
    const entity = { id: asId('p'), kind: 'port', name: 'p', fields: { vlan: 7, tagged: ['5', '1-3', '9-10', '2'] } }
    const { own, tagged } = vlansOf(entity)
    expect([own, vlanText(tagged)]).toEqual([7, ['1-3', '5', '9', '10']])
  })
})

describe('several cables between two switches (IEEE 802.1AX)', () => {
  const LINK = (load: number, more = '') => `a  server
  e0 to s p9  10G
  flow to b  tcp 443  ${load} Mbit/s
s  switch
  p1 to t p1  1G
  p2 to t p2  1G${more}
t  switch
  p9 to b e0  10G
b  server`
  it('carry what they carry together', () => {
    expect(said('net/overload', network(LINK(1800)))).toEqual([])
    expect(said('net/overload', network(LINK(2200)))).toEqual([
      '2200 Mbit/s go along the 2 cables between “s” and “t”, which carry 2G together: “a → b”.',
    ])
    expect(said('net/overload', network(LINK(2800, '\n  p3 to t p3  1G')))).toEqual([])
  })
  it('share it by their speeds, turned round or not', () => {
    const model = network(LINK(1200).replace('p2 to t p2  1G', 'p2 to t p2  2G'))
    const topology = topologyOf(netIn(model))
    const loads = [...usualOf(topology)].map(([{ a, b }, { load }]) => `${a.name} ${b.name} ${load}`)
    expect(loads.sort()).toEqual(['e0 p9 1200', 'p1 p1 400', 'p2 p2 800', 'p9 e0 1200'])
    const turned = network(
      `${LINK(1800).replace('\n  p2 to t p2  1G', '')}`.replace('t  switch', 't  switch\n  p2 to s p2  1G'),
    )
    expect(said('net/overload', turned)).toEqual([])
    const both = [...usualOf(topologyOf(netIn(turned)))].filter(([{ a }]) => a.device.type === 'switch')
    expect(both.map(([{ a }, { onward, back }]) => `${a.device.name} ${String(onward)} ${String(back)}`)).toContain(
      't false true',
    )
  })
  it('are less without one of them, and what goes on along the others goes no other way', () => {
    const model = network(LINK(1800))
    const net = netIn(model)
    const [cable] = net.cables.filter(({ a, b }) => a.device.type === 'switch' && b.device.type === 'switch')
    const { lost, rerouted, overloaded } = lostBy(net, new Set([cable?.id ?? '']))
    expect([lost.length, rerouted.length, overloaded.map(({ a }) => a.name)]).toEqual([0, 0, ['p2']])
    expect(measuresOf(model, DAY, cable?.id, viewIn(model)).list[0]).toEqual({
      label: 'One link of',
      value: '2 cables, 2G',
    })
  })
  it('are worth as much as one that is as fast, as long as all of them are there', () => {
    const ring = (direct: string) => `a  server
  e0 to s p9  10G
  flow to b  tcp 443
s  switch
  p1 to t p1  1G
  p2 to t p2  1G
  p3 to u p1  ${direct}
t  switch
  p8 to v p1  10G
u  switch
  p8 to v p2  10G
v  switch
  p9 to b e0  10G
b  server`
    const through = (text: string) =>
      [...flowWays(topologyOf(netIn(network(text)))).values()][0]?.devices.map(({ name }) => name).join('')
    expect([through(ring('1.5G')), through(ring('2.5G'))]).toEqual(['astvb', 'asuvb'])
    const net = netIn(network(ring('1.5G')))
    const [cable] = net.cables.filter(({ a }) => a.name === 'p1' && a.device.name === 's')
    const { ways } = lostBy(net, new Set([cable?.id ?? '']))
    expect([...ways.values()][0]?.devices.map(({ name }) => name).join('')).toBe('asuvb')
  })
})

describe('what is not stated is offered', () => {
  const TREE = 's  switch\n  p1 to a e0\n  p2 to b e0\n  p3 to c e0\na  server\nb  storage\nc  endpoint'
  it('what is critical: servers and stores are marked, then single points are found', () => {
    const model = network(TREE)
    expect(said('net/no-critical', model)).toEqual([
      'The loss of “s”, or of 3 more, cuts others off; whether that matters is not known, as nothing is marked critical.',
    ])
    expect(findings('net/no-critical', model)[0]?.fixes.map(({ label }) => label)).toEqual([
      'Mark 2 servers and stores critical',
    ])
    expect(mended('net/no-critical', model)).toEqual([])
    expect(measuresOf(model, DAY, undefined, viewIn(model)).list).toContainEqual({
      label: 'Single points',
      value: '4, 0 critical',
    })
    expect(said('net/no-critical', network(`${TREE}\nd  server  critical`))).toEqual([])
  })
  it('subnets: those that addresses speak of are stated, each once', () => {
    const model = network(
      'a  server  10.0.1.5/24\nb  server  10.0.1.6/24\nc  server  10.0.2.5/24, 192.0.2.1/32, 127.0.0.1/8',
    )
    expect(said('net/no-subnets', model)).toEqual([
      '3 addresses say the prefixes of 2 subnets, and no subnet is stated.',
    ])
    expect(mended('net/no-subnets', model)).toEqual([])
    // However long what a network is known by is, its subnets are told apart.
    const long = JSON.stringify(writeWorkspace(model)).replaceAll(`"${netIn(model).id}"`, `"${'n'.repeat(60)}"`)
    expect(mended('net/no-subnets', parseWorkspace(long, registry).model)).toEqual([])
    expect(said('net/no-subnets', network('x  (subnet 10.0.9.0/24)\na  server  10.0.1.5/24'))).toEqual([])
  })
})
