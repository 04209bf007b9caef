import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { nearest, nth, wayTo } from '../../../src/core/graph'
import { apply, asId, type Model, type Step } from '../../../src/core/model'
import { isNeeded, lostBy, usualOf } from '../../../src/core/notations/network/carried'
import { lossesOf } from '../../../src/core/notations/network/losses'
import { zones } from '../../../src/core/notations/network/pictures/zones'
import type { Device, Net } from '../../../src/core/notations/network/structure'
import { NOTHING_DOWN, topologyOf, weaknessesOf } from '../../../src/core/notations/network/topology'
import { Ways } from '../../../src/core/notations/network/ways'
import { packet } from '../../../src/core/notations/network/trials'
import { measuresOf } from '../../../src/core/notations/network/measures'
import { dice, networkOf } from '../../networkShapes'
import { DAY } from '../../facts'
import { named, netIn, network, rows, viewIn } from './facts'

const ids = (net: Net, ...names: readonly string[]) =>
  new Set(net.devices.filter(({ name }) => names.includes(name)).map(({ id }) => id as string))

/** Whom a device reaches, told step by step: through what passes traffic on, and is up. */
function reached(from: Device, down: ReadonlySet<string>): Set<Device> {
  const seen = new Set([from])
  for (const device of seen) {
    if (device !== from && !device.passes) continue
    for (const port of device.ports)
      for (const { id, a, b } of port.cables) {
        const other = a.device === device ? b.device : a.device
        if (!down.has(id) && !down.has(other.id)) seen.add(other)
      }
  }
  return seen
}

describe('what a loss cuts off', () => {
  const RING = `r1  router
  p1 to r2 p1
  p2 to r3 p1
r2  router
  p2 to r3 p2
r3  router
  p3 to s1 e0
s1  server
  e1 to s2 e0
s2  server`

  it('is what no longer hangs together with the larger part; a server passes nothing on unless it is said to', () => {
    const net = netIn(network(RING))
    expect(lostBy(net, ids(net, 'r3')).cutOff.map(({ name }) => name)).toEqual(['s1'])
    expect(lostBy(net, ids(net, 'r2')).cutOff).toEqual([])
    const passing = netIn(network(RING.replace('s1  server', 's1  server  passes traffic on: yes')))
    expect(
      weaknessesOf(topologyOf(passing)).flatMap(({ of, cutOff }) =>
        'device' in of ? [[of.device.name, cutOff.length]] : [],
      ),
    ).toEqual([
      ['r3', 2],
      ['s1', 1],
    ])
  })

  it('of every single device and cable is what searching from each device tells, over random networks', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 8, max: 40 }),
        fc.integer({ min: 1, max: 4 }),
        fc.nat(1000),
        (devices, zones, seed) => {
          const net = netIn(networkOf({ devices, zones, seed }))
          const known = new Map(
            weaknessesOf(topologyOf(net)).map(({ of, cutOff }) => [
              'device' in of ? of.device.id : of.cable.id,
              cutOff.length,
            ]),
          )
          for (const one of [...net.devices, ...net.cables]) {
            const down = new Set<string>([one.id])
            // The largest set of devices that reach each other, of those that are left.
            const left = net.devices.filter(({ id }) => !down.has(id))
            const largest = Math.max(
              0,
              ...left.filter(({ passes }) => passes).map((device) => reached(device, down).size),
            )
            expect(known.get(one.id) ?? 0).toBe(left.length - largest)
          }
        },
      ),
      { numRuns: 40 },
    ))

  it('tells flows that are lost, needed ones first, those that go another way, and cables that are then over capacity', () => {
    const net = netIn(
      network(`a  server
  e0 to x p1  1G
  e1 to y p1  100M
  flow to b  tcp 443  400 Mbit/s  needed
  flow to c  tcp 80  10 Mbit/s
b  server
  e0 to x p2  1G
  e1 to y p2  1G
c  server
  e0 to x p3  1G
x  switch
y  switch`),
    )
    const lost = lostBy(net, ids(net, 'x'))
    expect(lost.lost.map(({ to }) => to.name)).toEqual(['c'])
    expect(lost.rerouted.map(({ to }) => to.name)).toEqual(['b'])
    expect(lost.overloaded.map(({ a, b }) => `${a.device.name} ${b.device.name}`)).toEqual(['a y'])
    expect(lostBy(net, ids(net, 'x', 'y')).lost.map(({ to }) => to.name)).toEqual(['b', 'c'])
  })

  it('takes a whole site down with all that stands there', () => {
    const model = network('a  server  at Quay\n  e0 to sw p1\nb  server  at Quay\nsw  switch')
    const net = netIn(model)
    expect(lostBy(net, new Set([named(model, 'Quay')])).down.nodes.size).toBe(2)
  })
})

describe('sheets of numbers', () => {
  const TEXT = `a  server  mtbf: 900  mttr: 100
  e0 to x p1
  e1 to y p1
  flow to b  tcp 443  100 Mbit/s  needed
x  router  mtbf: 900  mttr: 100
  p2 to b e0  1G
y  router  mtbf: 900  mttr: 100
  p2 to b e1  1G
b  server  critical
lan  (subnet 10.0.0.0/29, gateway 10.0.0.1, reserved 10.0.0.5-10.0.0.6)
c  server  10.0.0.2/29
A1  (rack, units 10, watts 1000)
d  server  in A1 u 3  units: 2  power: 250`
  const model = network(TEXT)
  const row = (sheet: string, key: string, value: unknown, more = {}) =>
    rows(`network/${sheet}`, model, more).find((one) => one[key] === value)

  it('of devices count what hangs on each, as numbers and booleans', () => {
    expect(row('devices', 'device', 'x')).toMatchObject({ cutsOff: 0, cutsOffCritical: 0, reaches: 2, critical: false })
    expect(row('devices', 'device', 'b')).toMatchObject({ reaches: 3, critical: true })
    expect(row('devices', 'device', 'c')).toMatchObject({ reaches: 0 })
  })
  it('of cables tell load, capacity and share', () => {
    expect(row('cables', 'cable', 'x p2 – b e0')).toMatchObject({ load: 100, capacity: 1000, share: 10 })
    expect(row('cables', 'cable', 'a e0 – x p1')).toMatchObject({ load: 100, capacity: null, share: null })
  })
  it('of subnets tell what is used, kept back and free, and the next free address', () =>
    expect(row('subnets', 'subnet', 'lan')).toMatchObject({
      addresses: 6,
      used: 2,
      reserved: 2,
      free: 2,
      nextFree: '10.0.0.3',
    }))
  it('of flows tell verdict, way and availability: a in a row with x and y side by side', () =>
    expect(row('flows', 'flow', 'a → b')).toMatchObject({
      verdict: 'allowed',
      path: 'a – x – b',
      hops: 2,
      availability: 0.891,
      method: 'exact',
      needed: true,
    }))
  it('of a pair tell the shortest way, ways apart and the least cut', () => {
    expect(rows('network/pair', model, { from: 'a', to: 'b' })).toMatchObject([
      { from: 'a', to: 'b', shortest: 2, disjoint: 2, minimumCut: 2, ports: 'e0 – p1, p2 – e0' },
    ])
    expect(rows('network/pair', model, { from: 'a', to: 'c' })).toMatchObject([
      { shortest: null, disjoint: 0, minimumCut: 0, way: null },
    ])
  })
  it('of racks tell free units and power', () =>
    expect(row('racks', 'rack', 'A1')).toMatchObject({
      units: 10,
      free: 8,
      devices: 1,
      watts: 250,
      supply: 1000,
      share: 25,
    }))
  it('of losses put the worst first, pairs that lose more together than each alone', () => {
    const [first] = rows('network/losses', model)
    expect(first).toMatchObject({ losses: 1, what: 'a', neededLost: 1, method: 'every single one' })
    const pairs = rows('network/losses', model).filter((one) => one['losses'] === 2)
    expect(pairs[0]).toMatchObject({ neededLost: 1, method: 'every pair' })
    expect(pairs.map((one) => one['what'])).toContain('x and y')
    expect(lossesOf(netIn(model)).isExact).toBe(true)
    const large = rows('network/losses', networkOf({ devices: 150, zones: 3, flows: 30 }))
    expect(large.filter((one) => one['losses'] === 2).map((one) => one['method'])).toContain(
      'pairs of the busiest and the worst: beyond 120 devices and cables not every pair is tried',
    )
  })
})

/** Networks that hang together loosely: several parts, servers at several switches, cables from server to server. */
const looseNet = (seed: number): Net => {
  const roll = dice(seed)
  const count = 4 + Math.floor(roll() * 9)
  const lines = Array.from({ length: count }, (_, i) => {
    const cables = Array.from({ length: i === 0 ? 0 : Math.floor(roll() * 3) }, () => {
      const speed = roll() < 0.3 ? '  10G' : ''
      return `  p${Math.floor(roll() * 1e6)} to d${Math.floor(roll() * i)} p${Math.floor(roll() * 1e6)}${speed}`
    })
    return [`d${i}  ${roll() < 0.5 ? 'switch' : 'server'}`, ...cables].join('\n')
  })
  const flows = Array.from({ length: 6 }, () => {
    const [from, to] = [Math.floor(roll() * count), Math.floor(roll() * count)]
    return from === to ? '' : `d${from}\n  flow to d${to}  tcp 443${roll() < 0.5 ? '  needed' : ''}`
  })
  return netIn(network([...lines, ...flows.filter(Boolean)].join('\n')))
}

describe('what a cable carries', () => {
  it('goes the way of its flows, from its first port or to it, or both ways', () => {
    const flows = (text: string) => {
      const topology = topologyOf(netIn(network(`a  server\n  e0 to b e0\n${text}`)))
      const [{ load, onward, back } = { load: 0, onward: false, back: false }] = [...usualOf(topology).values()]
      return [load, onward, back]
    }
    const there = '  flow to b  tcp 443  5 Mbit/s'
    expect(flows(`${there}\nb  server`)).toEqual([5, true, false])
    expect(flows('b  server\n  flow to a  tcp 22  3 Mbit/s')).toEqual([3, false, true])
    expect(flows(`${there}  both ways\nb  server`)).toEqual([5, true, true])
    expect(flows(`${there}  with answers\nb  server`)).toEqual([5, true, true])
    expect(flows(`${there}\nb  server\n  flow to a  tcp 22  3 Mbit/s`)).toEqual([8, true, true])
    expect(flows('b  server')).toEqual([0, false, false])
  })
})

describe('what is known of a network', () => {
  it('stays known when only a view changes, and not when a fact does', () => {
    const model = network('a  server\n  e0 to b e0\nb  server')
    const known = netIn(model)
    const down: Step = { do: 'set-view', id: asId('view'), path: 'options.down', value: [named(model, 'a')] }
    const taken = apply(model, { label: '', steps: [down] }).model
    expect(netIn(taken)).toBe(known)
    const place = (one: Model) => zones.draw(one, viewIn(one), DAY).items.map(({ id, box }) => [id, box])
    expect(place(taken)).toEqual(place(model))
    const said = (one: Model) => zones.draw(one, viewIn(one), DAY).headline
    expect([said(model), said(taken)]).toEqual(['2 devices, 1 cable', expect.stringContaining('1 down')])
    const renamed: Step = { do: 'set-entity', id: named(model, 'a'), path: 'name', value: 'c' }
    const other = apply(taken, { label: '', steps: [renamed] }).model
    expect(netIn(other).devices.map(({ name }) => name)).toEqual(['c', 'b'])
    const unplug = [...other.relations.keys()].map((id): Step => ({ do: 'remove-relation', id }))
    const uncabled = apply(other, { label: '', steps: unplug }).model
    expect(netIn(uncabled).cables).toEqual([])
    expect(netIn(model).cables).toHaveLength(1)
  })
})

describe('ways and losses, each found in two manners', () => {
  const seeds = fc.nat(100_000)

  it('lead as the search over all devices does, whatever is out of order', () =>
    fc.assert(
      fc.property(seeds, fc.nat(20), fc.nat(20), (seed, node, edge) => {
        const topology = topologyOf(looseNet(seed))
        const { net, incidence, cables, passes, cost } = topology
        const down = { nodes: new Set([node % net.devices.length]), edges: new Set([edge]) }
        for (const out of [NOTHING_DOWN, down]) {
          const ways = new Ways(topology, out)
          net.devices.forEach((from, a) => {
            if (out.nodes.has(a)) return
            const found = nearest(incidence, a, {
              cost: (at) => nth(cost, at),
              passes: (at) => passes[at] === 1 && !out.nodes.has(at),
              closed: (at) => out.edges.has(at),
            })
            net.devices.forEach((to, b) =>
              expect(ways.between(from, to)?.cables).toEqual(
                out.nodes.has(b) ? undefined : wayTo(incidence, found, b)?.map((at) => cables[at]),
              ),
            )
          })
        }
      }),
      { numRuns: 80, seed: 2026 },
    ))

  it('lose, alone and in pairs, what the sheet loses when they are taken down on it', () =>
    fc.assert(
      fc.property(seeds, (seed) => {
        const net = looseNet(seed)
        const { singles, pairs } = lossesOf(net)
        expect(singles).toHaveLength(net.devices.length + topologyOf(net).cables.length)
        for (const { ids: parts, cutOff, cutOffCritical, flowsLost, neededLost } of [...singles, ...pairs]) {
          const loss = lostBy(net, new Set(parts))
          expect([cutOff, cutOffCritical, flowsLost, neededLost]).toEqual([
            loss.cutOff.length,
            loss.cutOff.filter(({ critical }) => critical).length,
            loss.lost.length,
            loss.lost.filter(isNeeded).length,
          ])
        }
      }),
      { numRuns: 80, seed: 2026 },
    ))
})

describe('trying a packet', () => {
  const model = network(`Out  (zone, trust none)
  isp  cloud service
    e0 to fw wan
In  (zone, trust high)
  lan  (subnet 10.0.0.0/24, gateway 10.0.0.1)
  fw  firewall  10.0.0.1/24
    lan to web e0
    allow tcp 443 from Out to web  called: Web
    deny any from any to any  called: Rest
  web  server  10.0.0.5/24`)
  const ask = (from: string, to: string, protocol = 'tcp', port = '443') =>
    packet.ask(model, viewIn(model), DAY, { from, to, protocol, port })

  it('tells the verdict, the rule and the way', () => {
    expect(ask('isp', 'web')).toMatchObject({
      words: 'Allowed',
      lines: ['By rule 1 “Web” of fw', 'Way: isp – fw – web', 'Ports: e0 – wan, lan – e0'],
    })
    expect(ask('isp', '10.0.0.5', 'tcp', '22')).toMatchObject({
      words: 'Denied',
      lines: expect.arrayContaining(['By rule 2 “Rest” of fw']) as never,
    })
    expect(ask('fw', 'web')).toMatchObject({ words: 'Passes: no firewall stands on its way' })
  })
  it('does not know what a firewall lets through of which no rules are stated', () => {
    const silent = network('a  server\n  e0 to fw p1\nfw  firewall\n  p2 to b e0\nb  server')
    const asked = (to: string) =>
      packet.ask(silent, viewIn(silent), DAY, { from: 'a', to, protocol: 'tcp', port: '443' })
    const unknown = 'No rules of fw are stated: what it lets through is not known'
    expect(asked('b')).toMatchObject({ words: 'Not known', lines: [unknown, 'Way: a – fw – b', expect.anything()] })
    expect(asked('203.0.113.7')).toMatchObject({
      words: 'Not known: no rules are stated',
      lines: [expect.anything(), unknown],
    })
  })
  it('asks every firewall about an address that no device has', () =>
    expect(ask('203.0.113.7', 'web')).toMatchObject({ words: 'Every firewall would allow it' }))
  it('says what is no device and no address, and what is no port', () => {
    expect(ask('nobody', 'web')).toEqual({
      refused: '“nobody” is no device, and no address such as 10.20.0.1 or 2001:db8::1.',
    })
    expect(ask('isp', 'web', 'tcp', '70000')).toEqual({ refused: '“70000” is no port from 0 to 65535.' })
    expect(ask('', 'web')).toHaveProperty('refused')
  })
})

describe('the margin', () => {
  it('tells what is lost while something is down, and what lies between two devices', () => {
    const model = network('a  server\n  e0 to x p1\n  flow to b  tcp 443  needed\nx  switch\n  p2 to b e0\nb  server')
    const view = {
      ...viewIn(model),
      options: { down: [named(model, 'x')], ways: [named(model, 'a'), named(model, 'b')] },
    }
    const { list } = measuresOf(model, DAY, undefined, view)
    expect(list.map(({ label, value }) => `${label}: ${value}`)).toEqual(
      expect.arrayContaining([
        'Down: 1',
        'Flows lost: 1, 1 needed',
        'needed: a → b',
        'Shortest: 2 cables',
        'By ports: e0 – p1, p2 – e0',
        'Ways apart: 1',
      ]),
    )
  })
})
