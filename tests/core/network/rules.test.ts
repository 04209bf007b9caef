import { describe, expect, it } from 'vitest'
import { apply, asId, type Day, type Entity, type Model } from '../../../src/core/model'
import { makeChecker } from '../../../src/core/findings'
import type { Fix } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { numbers } from '../../../src/core/notations/network/numbers'
import { day, DAY } from '../../facts'
import { findings, mended, named, network } from './facts'

/** One rule: where it speaks up, where it keeps silent, and with which fix it is content. */
interface Case {
  readonly rule: string
  readonly finds: string
  readonly says: RegExp
  readonly silent: string
  /** The same with dates: found on a day on which it is so, not before. */
  readonly dated: string
  readonly from: string
  /** The number of its fix that mends it; none where only a person can tell. */
  readonly fix?: number
}

const LAN = 'lan  (subnet 10.0.0.0/24, gateway 10.0.0.1)\n'
const pair = (a: string, b: string, cable = '') => `a  switch
  ${a}
  p1 to b p1  ${cable}
b  switch
  ${b}`

const cases: readonly Case[] = [
  {
    rule: 'net/duplicate-address',
    finds: `${LAN}a  server  10.0.0.5/24\nb  server  10.0.0.5/24`,
    says: /10\.0\.0\.5 is stated at “a”, “b”/,
    silent: 'a  server  10.0.0.5/24  vrf: red\nb  server  10.0.0.5/24  vrf: blue',
    dated: 'a  server  10.0.0.5/24\nb  server  10.0.0.5/24  since 2027-03-01',
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/outside-subnet',
    finds: `${LAN}a  server  10.0.1.5/24`,
    says: /in none of the subnets/,
    silent: `${LAN}a  server  10.0.0.5/24\nlo  router  192.0.2.1/32`,
    dated: `${LAN}a  server  10.0.1.5/24  since 2027-03-01`,
    from: '2027-03-01',
  },
  {
    rule: 'net/network-or-broadcast',
    finds: `${LAN}a  server  10.0.0.255/24`,
    says: /the broadcast address of 10\.0\.0\.0\/24/,
    silent: 'link  (subnet 10.0.9.0/31)\na  router  10.0.9.0/31\nb  router  10.0.9.1/31',
    dated: `${LAN}a  server  10.0.0.0/24  since 2027-03-01`,
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/subnet-overlap',
    finds: 'x  (subnet 10.0.0.0/16, gateway 10.0.0.1)\ny  (subnet 10.0.4.0/24, gateway 10.0.4.1)',
    says: /“y” \(10\.0\.4\.0\/24\) lies within “x”/,
    silent: 'x  (subnet 10.0.0.0/24, vrf red)\ny  (subnet 10.0.0.0/24, vrf blue)',
    dated: 'x  (subnet 10.0.0.0/16)\ny  (subnet 10.0.4.0/24)  since 2027-03-01',
    from: '2027-03-01',
  },
  {
    rule: 'net/gateway',
    finds: 'x  (subnet 10.0.0.0/24, gateway 10.0.1.1)\nr  router  10.0.0.254/24',
    says: /The gateway 10\.0\.1\.1 of “x” \(10\.0\.0\.0\/24\) is no address in it/,
    silent: 'x  (subnet 10.0.0.0/24, gateway 10.0.0.1)\nlink  (subnet 10.0.9.0/30)',
    dated: 'x  (subnet 10.0.0.0/24)  since 2027-03-01',
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/duplicate-mac',
    finds: 'a  server\n  port e0  mac: 02:00:00:00:00:0A\nb  server\n  port e0  mac: 0200.0000.000a',
    says: /is stated at “a e0”, “b e0”/,
    silent: 'a  server\n  port e0  mac: 02:00:00:00:00:0A\nb  server\n  port e0  mac: 02:00:00:00:00:0B',
    dated:
      'a  server\n  port e0  mac: 02:00:00:00:00:0A\nb  server  since 2027-03-01\n  port e0  mac: 02:00:00:00:00:0A',
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/duplicate-hostname',
    finds: 'web-1  server\nWEB-1  server',
    says: /2 devices are called “web-1”/,
    silent: 'web-1  server\nweb-2  server',
    dated: 'web-1  server\nweb-1  server  since 2027-03-01',
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/bad-hostname',
    finds: 'web_1  server',
    says: /“web_1” has “_” in it/,
    silent: 'web-1.quay.example  server\n3com  switch',
    dated: 'web_1  server  since 2027-03-01',
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/port-shared',
    finds: 'a  switch\n  p1 to b e0\n  p1 to c e0\n  port p2\nb  server\nc  server',
    says: /“a p1” has 2 cables: to “b e0”, “c e0”/,
    silent: 'a  switch\n  p1 to b e0\n  p2 to c e0\nb  server\nc  server',
    dated: 'a  switch\n  p1 to b e0\n  p1 to c e0  since 2027-03-01\nb  server\nc  server',
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/speed-mismatch',
    finds: pair('port p1  10G', 'port p1  1G'),
    says: /joined at 10G and 1G/,
    silent: pair('port p1  10G', 'port p1'),
    dated: pair('port p1  10G', 'port p1  1G', 'since 2027-03-01'),
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/duplex-mismatch',
    finds: pair('port p1  duplex: full', 'port p1  duplex: half'),
    says: /joined at full and half duplex/,
    silent: pair('port p1  duplex: auto', 'port p1  duplex: auto'),
    dated: pair('port p1  duplex: full', 'port p1  duplex: auto', 'since 2027-03-01'),
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/mtu-mismatch',
    finds: pair('port p1  mtu: 9000', 'port p1  mtu: 1500'),
    says: /packets of 9000 and 1500 bytes/,
    silent: pair('port p1  mtu: 9000', 'port p1  mtu: 9000'),
    dated: pair('port p1  mtu: 9000', 'port p1  mtu: 1500', 'since 2027-03-01'),
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/vlan-mismatch',
    finds: pair('port p1  vlan: 10  tagged vlans: 20, 30', 'port p1  vlan: 10  tagged vlans: 20'),
    says: /VLAN 10 and tagged 20, 30.*at the other end VLAN 10 and tagged 20/,
    silent: pair('port p1  vlan: 10  tagged vlans: 30, 20', 'port p1  vlan: 10  tagged vlans: 20, 30'),
    dated: pair('port p1  vlan: 10', 'port p1  vlan: 11', 'since 2027-03-01'),
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/medium-mismatch',
    finds: pair('port p1  medium: copper', 'port p1  medium: copper', 'category: OM4'),
    says: /the cable is multimode fibre.*is copper/,
    silent: pair('port p1  medium: copper', 'port p1  medium: copper', 'category: 6A'),
    dated: pair('port p1  medium: copper', 'port p1  medium: radio', 'since 2027-03-01'),
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/too-long',
    finds: pair('port p1', 'port p1', '120 m  copper'),
    says: /is 120 m long/,
    silent: `${pair('port p1', 'port p1', '100 m  copper')}\n  p2 to a p2  900 m  single-mode fibre`,
    dated: pair('port p1', 'port p1', '120 m  category: 6  since 2027-03-01'),
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/poe-budget',
    finds: pair('port p1  gives poe: af', 'port p1  draws poe: 20'),
    says: /draws 20 W; by af, 12\.95 W reach it/,
    silent: pair('port p1  gives poe: at', 'port p1  draws poe: 25.5'),
    dated: pair('port p1', 'port p1  draws poe: 5', 'since 2027-03-01'),
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/single-point',
    finds:
      'r  router\n  p1 to x e0\n  p2 to y e0\nx  switch\n  e1 to y e1\ny  switch\ndb  server  critical\n  e0 to r p3\n  e1 to r p4',
    says: /The loss of “r” cuts off a critical device: “db”/,
    silent:
      'r  router\n  p1 to x e0\nx  switch\ndb  server  critical\n  e0 to r p3\n  e1 to x p4\ny  router\n  p1 to r p5\n  p2 to x p5',
    dated:
      'r  router\n  p1 to x e0\n  p2 to y e0\nx  switch\n  e1 to y e1\ny  switch\ndb  server  critical  since 2027-03-01\n  e0 to r p3\n  e1 to r p4',
    from: '2027-03-01',
  },
  {
    rule: 'net/no-path',
    finds: 'a  server\n  flow to b  tcp 443\nb  server',
    says: /Nothing leads from “a” to “b”/,
    silent: 'a  server\n  e0 to b e0\n  flow to b  tcp 443\nb  server',
    dated: 'a  server\n  flow to b  tcp 443  since 2027-03-01\nb  server',
    from: '2027-03-01',
  },
  {
    rule: 'net/blocked',
    finds:
      'a  server\n  e0 to fw p1\n  flow to b  tcp 443\nfw  firewall\n  p2 to b e0\n  allow tcp 80 from a to b\n  deny any from any to any  called: Rest\nb  server',
    says: /rule 2 “Rest” of “fw” denies it/,
    silent:
      'a  server\n  e0 to fw p1\n  flow to b  tcp 443\nfw  firewall\n  p2 to b e0\n  allow tcp 400-500 from a to b\nb  server',
    dated:
      'a  server\n  e0 to fw p1\n  flow to b  tcp 443  since 2027-03-01\nfw  firewall\n  p2 to b e0\n  allow tcp 80 from a to b\nb  server',
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/no-rules',
    finds: 'fw  firewall\nr  router',
    says: /^No rules of “fw” are stated: what it lets through is not known.$/,
    silent: 'fw  firewall\n  allow tcp 80 from any to any\nr  router',
    dated: 'fw  firewall  since 2027-03-01',
    from: '2027-03-01',
  },
  {
    rule: 'net/shadowed-rule',
    finds:
      'fw  firewall\n  allow tcp from 10.0.0.0/8 to any  called: Wide\n  deny tcp 22 from 10.1.0.0/16 to any  called: Narrow',
    says: /Rule 2 “Narrow” of “fw” can never match: “Wide” before it takes all that it would, and decide otherwise/,
    silent:
      'fw  firewall\n  deny tcp 22 from 10.1.0.0/16 to any\n  allow tcp from 10.0.0.0/8 to any\n  deny any from any to any',
    dated:
      'fw  firewall\n  allow tcp from 10.0.0.0/8 to any  called: Wide\n  deny tcp 22 from 10.1.0.0/16 to any  called: Narrow  since 2027-03-01',
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/too-open',
    finds: 'fw  firewall\n  allow any from any to any  called: All',
    says: /Rule 1 “All” of “fw” allows anything/,
    silent: 'fw  firewall\n  allow tcp from any to any\n  deny any from any to any',
    dated: 'fw  firewall\n  allow any from any to any  since 2027-03-01',
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/bypass',
    finds: 'Out  (zone, trust none)\n  isp  cloud service\n    e0 to sw p1\nIn  (zone, trust high)\n  sw  switch',
    says: /From “Out” to “In” a way leads past all firewalls: isp – sw/,
    silent:
      'Out  (zone, trust none)\n  isp  cloud service\n    e0 to fw p1\nIn  (zone, trust high)\n  fw  firewall\n    p2 to sw p1\n  sw  switch',
    dated:
      'Out  (zone, trust none)\n  isp  cloud service\n    e0 to sw p1  since 2027-03-01\nIn  (zone, trust high)\n  sw  switch',
    from: '2027-03-01',
  },
  {
    rule: 'net/overload',
    finds: 'a  server\n  e0 to b e0  1G\n  flow to b  tcp 443  1200 Mbit/s\nb  server',
    says: /1200 Mbit\/s go along the cable between “a e0” and “b e0”, which carries 1G/,
    silent: 'a  server\n  e0 to b e0  1G\n  flow to b  tcp 443  1000 Mbit/s\nb  server',
    dated: 'a  server\n  e0 to b e0  1G\n  flow to b  tcp 443  1200 Mbit/s  since 2027-03-01\nb  server',
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/unconnected',
    finds: 'a  server\nb  server\n  e0 to c e0\nc  server',
    says: /“a” is cabled to nothing/,
    silent: 'b  server\n  e0 to c e0\nc  server',
    dated: 'b  server\n  e0 to c e0\nc  server\na  server  since 2027-03-01',
    from: '2027-03-01',
  },
  {
    rule: 'net/rack-overlap',
    finds: 'A1  (rack, units 10)\na  server  in A1 u 4  units: 2\nb  server  in A1 u 5',
    says: /“a” \(u 4 to 5\) and “b” \(u 5 to 5\) share units of rack “A1”/,
    silent: 'A1  (rack, units 10)\na  server  in A1 u 4  units: 2\nb  server  in A1 u 6',
    dated: 'A1  (rack, units 10)\na  server  in A1 u 4  units: 2\nb  server  in A1 u 5  since 2027-03-01',
    from: '2027-03-01',
    fix: 0,
  },
  {
    rule: 'net/rack-power',
    finds: 'A1  (rack, units 10, watts 500)\na  server  in A1 u 1  power: 300\nb  server  in A1 u 2  power: 250',
    says: /“a”, “b” take 550 W in rack “A1”, which has 500 W/,
    silent: 'A1  (rack, units 10, watts 500)\na  server  in A1 u 1  power: 300\nb  server  in A1 u 2  power: 200',
    dated:
      'A1  (rack, units 10, watts 500)\na  server  in A1 u 1  power: 300\nb  server  in A1 u 2  power: 250  since 2027-03-01',
    from: '2027-03-01',
  },
]

describe.each(cases)('$rule', ({ rule, finds, says, silent, dated, from }) => {
  it('finds it, in words that name the facts', () => {
    const found = findings(rule, network(finds))
    expect(found.map(({ message }) => message)).toEqual([expect.stringMatching(says)])
    expect(found.every(({ subjects }) => subjects.length > 0)).toBe(true)
  })
  it('finds nothing where nothing is wrong', () => expect(findings(rule, network(silent))).toEqual([]))
  it('finds it from the day on which it is so', () => {
    const model = network(dated)
    const eve = new Date(Date.parse(from) - 86_400_000).toISOString().slice(0, 10) as Day
    expect(findings(rule, model, eve)).toEqual([])
    expect(findings(rule, model, day(from))).toHaveLength(1)
  })
})

describe.each(cases.filter(({ fix }) => fix !== undefined))('the fix of $rule', ({ rule, finds, fix }) => {
  it('leaves nothing to find', () => expect(mended(rule, network(finds), fix)).toEqual([]))
})

const system = (key: string, more: Partial<Entity> = {}): Entity => ({
  id: asId(key),
  kind: 'system',
  name: key,
  fields: {},
  ...more,
})

describe('systems and what they run on', () => {
  const hosted = (dates: string) =>
    network(`old  server  ${dates}\n  hosts Booking\n  e0 to sw p1\nsw  switch`, { entities: [system('Booking')] })

  it('tells of a device in use after its last day, and of the system on it', () => {
    const model = hosted('until 2026-09-30')
    expect(findings('net/end-of-support', model).map(({ message }) => message)).toEqual([
      '“old” ended on 30 Sep 2026 and hosts “Booking”.',
    ])
    expect(findings('x/host-retired', model).map(({ message }) => message)).toEqual([
      '“Booking” runs on “old”, which ended on 30 Sep 2026.',
    ])
    expect(findings('net/end-of-support', model, day('2026-09-30'))).toEqual([])
  })

  it('tells of a host that goes before another one is there, and of none that comes in time', () => {
    const alone = hosted('until 2027-06-30')
    expect(findings('x/host-retired', alone).map(({ message }) => message)).toEqual([
      '“Booking” runs on “old” until 30 Jun 2027, and nothing hosts it after that.',
    ])
    const relieved = network(
      'old  server  until 2027-06-30\n  hosts Booking\nnew  server  since 2027-05-01\n  hosts Booking',
      { entities: [system('Booking')] },
    )
    expect(findings('x/host-retired', relieved)).toEqual([])
  })

  it('notes a system that runs on nothing, once anything is hosted', () => {
    const both = { entities: [system('Booking'), system('Ledger')] }
    expect(
      findings('x/unhosted-system', network('a  server\n  hosts Booking', both)).map(({ subjects }) => subjects),
    ).toEqual([['Ledger']])
    expect(findings('x/unhosted-system', network('a  server', both))).toEqual([])
  })
})

describe('addresses beside others', () => {
  it('offers the next address that is free and not kept back', () => {
    const model = network(
      'x  (subnet 10.0.0.0/29, gateway 10.0.0.1, reserved 10.0.0.3-10.0.0.4)\na  server  10.0.0.2/29\nb  server  10.0.0.2/29',
    )
    expect(findings('net/duplicate-address', model)[0]?.fixes.map(({ label }) => label)).toEqual(['Give “b” 10.0.0.5'])
  })

  it('asks nothing of addresses where nothing is trusted, and towards there', () => {
    const model = network(`Out  (zone, trust none)
  isp  cloud service  198.51.100.1/30
    ge0 to fw wan1
In  (zone, trust high)
  lan  (subnet 10.0.0.0/24, gateway 10.0.0.1)
  fw  firewall  10.0.0.1/24
    port wan1  198.51.100.2/30`)
    expect(findings('net/outside-subnet', model)).toEqual([])
  })

  it('asks again when the cable is gone by which a port led to those who gave its address', () => {
    const model = network(`Outside  (zone, trust none)
  isp  router  198.51.100.1/30
    ge0 to fw wan1
Inside  (zone, trust high)
  lan  (subnet 10.0.0.0/24, gateway 10.0.0.1)
  fw  firewall  10.0.0.1/24
    port wan1  198.51.100.2/30`)
    const check = makeChecker(registry)
    const outside = (of: Model) => check(of, DAY).filter(({ rule }) => rule === 'net/outside-subnet')
    expect(outside(model)).toEqual([])
    const steps = model.relationsOfKind('cable').map(({ id }) => ({ do: 'remove-relation', id }) as const)
    expect(outside(apply(model, { label: '', steps }).model)).toHaveLength(1)
  })

  it('tells a prefix length that differs from that of the subnet', () => {
    const model = network('x  (subnet 10.0.0.0/24, gateway 10.0.0.1)\na  server  10.0.0.5/25')
    expect(findings('net/outside-subnet', model)[0]?.message).toBe('10.0.0.5/25 of “a” says /25, its subnet x is /24.')
    expect(mended('net/outside-subnet', model)).toEqual([])
  })
})

describe('what several rules shadow together', () => {
  it('names all that take part', () => {
    const model = network(`fw  firewall
  allow tcp 1-100 from 10.0.0.0/9 to any  called: Low
  allow tcp 1-100 from 10.128.0.0/9 to any  called: High
  deny udp from any to any  called: Other
  allow tcp 22 from 10.0.0.0/8 to any  called: Both`)
    expect(findings('net/shadowed-rule', model)[0]?.message).toBe(
      'Rule 4 “Both” of “fw” can never match: “Low”, “High” before it take together all that it would.',
    )
  })

  it('knows the first of two equal rules from the second', () => {
    const model = network(
      'fw  firewall\n  allow tcp 22 from any to any  called: One\n  allow tcp 22 from any to any  called: Two',
    )
    expect(findings('net/shadowed-rule', model).map(({ subjects: [first] }) => first)).toEqual([named(model, 'Two')])
  })

  it('does not let a rule on one firewall shadow one on another', () => {
    const model = network('fw-1  firewall\n  allow any from any to any\nfw-2  firewall\n  allow tcp 22 from any to any')
    expect(findings('net/shadowed-rule', model, DAY)).toEqual([])
  })
})

describe('what a fix does, and what it leaves alone', () => {
  const fixesOf = (rule: string, model: Model) => findings(rule, model).flatMap(({ fixes }) => fixes)
  const after = (model: Model, made: Fix | undefined): Model => (made ? apply(model, made.change).model : model)

  it('offers to remove the subnet stated twice that holds no address, and neither that holds one', () => {
    const twice = 'x  (subnet 10.0.0.0/24)\ny  (subnet 10.0.0.0/24)'
    expect(fixesOf('net/subnet-overlap', network(twice)).map(({ label }) => label)).toEqual(['Remove “y”'])
    const lies = network(`${twice}\na  server  10.0.0.5/24`)
    expect(findings('net/subnet-overlap', lies).map(({ message }) => message)).toEqual([
      '10.0.0.0/24 is stated twice, as “x” and “y”.',
    ])
  })
  it('asks the way back where either end may begin, and not for answers', () => {
    const between = (direction: string, rules = '') =>
      network(
        `a  server\n  e0 to fw p1\n  flow to b  tcp 443  ${direction}\nfw  firewall\n  p2 to b e0\n  allow tcp 443 from a to b\n${rules}b  server`,
      )
    for (const direction of ['', 'one way', 'with answers'])
      expect(findings('net/blocked', between(direction)), direction).toEqual([])
    const model = between('both ways')
    expect(findings('net/blocked', model).map(({ message }) => message)).toEqual([
      '“b → a, tcp 443, since either end may begin”: no rule of “fw” matches it, and what none matches is denied.',
    ])
    expect(findings('net/blocked', after(model, fixesOf('net/blocked', model)[0]))).toEqual([])
    const denied = between('both ways', '  deny any from b to any  called: Quiet\n')
    expect(findings('net/blocked', denied)[0]?.message).toContain('rule 2 “Quiet” of “fw” denies it')
    // The numbers say the same.
    const rows = (of: Model) =>
      numbers
        .find(({ id }) => id === 'flows')
        ?.rows(of, DAY)
        .map(({ verdict }) => verdict)
    expect([rows(model), rows(between('with answers'))]).toEqual([['denied'], ['allowed']])
  })
  it.each([
    [['allow tcp 80 from a to b  called: Web', 'deny any from any to any  called: Rest'], 1],
    [['deny any from any to any  called: Rest', 'allow tcp 80 from a to b  called: Web'], 0],
    [['allow tcp 80 from a to b  called: Web', 'deny udp from a to b  called: Voice', 'deny any from any to any'], 2],
  ] as const)('puts a new rule right before the one that denies: %j', (rules, at) => {
    const model = network(
      `a  server\n  e0 to fw p1\n  flow to b  tcp 443\nfw  firewall\n  p2 to b e0\n  ${rules.join('\n  ')}\nb  server`,
    )
    const next = after(model, fixesOf('net/blocked', model)[0])
    const inOrder = [...next.ofKind('filter')].sort((p, q) => Number(p.fields['order']) - Number(q.fields['order']))
    expect(inOrder.map(({ id }) => !model.entities.has(id))).toEqual([...rules, ''].map((_, place) => place === at))
    expect(findings('net/blocked', next)).toEqual([])
  })
  it('moves a cable of a shared port to the next free one, and away where there is none', () => {
    const shared = 'a  switch\n  p1 to b e0\n  p1 to c e0\n'
    const free = network(`${shared}  port p2\nb  server\nc  server`)
    const [move] = fixesOf('net/port-shared', free)
    expect(move?.label).toBe('Move one to “p2”')
    const moved = after(free, move)
    expect(moved.relationsOfKind('cable').map(({ source }) => moved.entities.get(source)?.name)).toEqual(['p1', 'p2'])
    const full = network(`${shared}b  server\nc  server`)
    expect(fixesOf('net/port-shared', full).map(({ label }) => label)).not.toContain('Move one to “p2”')
  })
  it('asks for no power where none is drawn, and for no host after the day on which a system ends', () => {
    expect(findings('net/poe-budget', network(pair('port p1', 'port p1  draws poe: 0')))).toEqual([])
    const ending = (to: string) =>
      network('old  server  until 2027-06-30\n  hosts Booking', { entities: [system('Booking', { to: day(to) })] })
    expect(findings('x/host-retired', ending('2027-06-30'))).toEqual([])
    expect(findings('x/host-retired', ending('2027-07-01'))).toHaveLength(1)
  })
})
