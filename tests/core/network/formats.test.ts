import { MultiUndirectedGraph } from 'graphology'
import { parse } from 'graphology-graphml'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addDays, apply, asId, Model, type Change, type Day } from '../../../src/core/model'
import type { ImportedFile, Refusal } from '../../../src/core/notation'
import { NEIGHBOURS, neighbourReader } from '../../../src/core/notations/network/formats/neighbours'
import { neighbourTables } from '../../../src/standins/neighbours'
import { hostsExport, hostsReader } from '../../../src/core/notations/network/formats/hosts'
import { read as readGraphMl } from '../../../src/core/notations/network/formats/readGraphMl'
import { read as readTopology } from '../../../src/core/notations/network/formats/readTopology'
import { cableTable, deviceTable } from '../../../src/core/notations/network/formats/tables'
import { graphMlExport } from '../../../src/core/notations/network/formats/writeGraphMl'
import { topologyExport } from '../../../src/core/notations/network/formats/writeTopology'
import { guessMapping, readTable, understoodRows } from '../../../src/core/tabular'
import { marramSoundFerries } from '../../../src/demo'
import { day, DAY, numbering } from '../../facts'
import { findings, mended, netIn, network, networkView, viewIn } from './facts'
import { netShown } from '../../../src/core/notations/network/structure'

const blank = (): Model => Model.of({ views: [networkView()] })
const newId = numbering('r')
const wish = (model: Model) => ({ model, view: viewIn(model), day: DAY, selection: [], newId })
const brought = (answer: ImportedFile | Refusal): Change => {
  if ('refused' in answer) throw new Error(answer.refused)
  return answer.change
}
const refusal = (answer: ImportedFile | Refusal): string => ('refused' in answer ? answer.refused : 'it was taken')

/** Devices with their ports, and what joins these, by name. */
function joined(model: Model, on: Day = DAY) {
  const net = netIn(model, on)
  return {
    devices: net.devices
      .map(({ name, type, zone, critical, addresses, ports }) => ({
        name,
        type,
        zone: zone?.name,
        critical,
        addresses: addresses.map(({ text, port }) => `${port?.name ?? ''} ${text}`).sort(),
        ports: ports.map((port) => port.name).sort(),
      }))
      .sort((a, b) => a.name.localeCompare(b.name)),
    cables: net.cables
      .map(({ a, b }) => [`${a.device.name} ${a.name}`, `${b.device.name} ${b.name}`].sort().join(' – '))
      .sort(),
  }
}

const SMALL = `Out  (zone, trust none)
  isp  cloud service
    ge0 to fw wan  1G
In  (zone, trust high)
  fw  firewall  10.0.0.1/24  critical
    port wan  198.51.100.2/30  1G  mac: 02:00:00:00:00:01
    lan to db eth0  10G
  db  server  10.0.0.9/24, 2001:db8::9/64`

describe('a topology by RFC 8345', () => {
  const small = network(SMALL)
  const text = topologyExport.write(small, viewIn(small), DAY)

  it('has the leaves that its data model requires (RFC 8345, §6.1 and §6.2): of networks, nodes, links and termination points', () => {
    const { network: networks } = (
      JSON.parse(text) as { 'ietf-network:networks': { network: Record<string, unknown>[] } }
    )['ietf-network:networks']
    expect(networks.map((one) => [typeof one['network-id'], Object.keys(one['network-types'] as object)])).toEqual([
      ['string', ['ietf-l2-topology:l2-topology']],
      ['string', ['ietf-l3-unicast-topology:l3-unicast-topology']],
    ])
    const points = new Map<string, Set<unknown>>()
    for (const one of networks)
      for (const node of one['node'] as Record<string, unknown>[]) {
        expect(typeof node['node-id']).toBe('string')
        const list = (node['ietf-network-topology:termination-point'] ?? []) as { 'tp-id': string }[]
        points.set(
          `${String(one['network-id'])} ${String(node['node-id'])}`,
          new Set(list.map((point) => point['tp-id'])),
        )
      }
    for (const one of networks)
      for (const link of one['ietf-network-topology:link'] as Record<string, Record<string, string>>[]) {
        expect(typeof link['link-id']).toBe('string')
        const of = (end: string | undefined) => points.get(`${String(one['network-id'])} ${end ?? ''}`)
        expect(of(link['source']?.['source-node'])?.has(link['source']?.['source-tp'])).toBe(true)
        expect(of(link['destination']?.['dest-node'])?.has(link['destination']?.['dest-tp'])).toBe(true)
      }
  })

  it('is read back to the same devices, ports, addresses and cables', () => {
    const back = blank()
    expect(joined(apply(back, brought(readTopology(wish(back), text))).model)).toEqual(joined(small))
  })

  it('of the demo, too, and read into it again it changes nothing', () => {
    const demo = marramSoundFerries()
    const view = demo.views.get(asId('port-network')) ?? networkView()
    const own = topologyExport.write(demo, view, DAY)
    const again = readTopology({ model: demo, view, day: DAY, selection: [], newId: numbering('r') }, own)
    expect(brought(again).steps).toEqual([])
    const back = blank()
    const { model } = apply(back, brought(readTopology(wish(back), own)))
    expect(joined(model).cables).toEqual(
      joined(
        Model.of({
          ...demo,
          entities: demo.entities.values(),
          relations: demo.relations.values(),
          views: [{ ...view, id: asId('view') }],
        }),
      ).cables,
    )
  })

  // RFC 8346, Appendix B: the beginning of its example instance, from memory.
  it('reads the example of RFC 8346', () => {
    const example = {
      'ietf-network:networks': {
        network: [
          {
            'network-types': { 'ietf-l3-unicast-topology:l3-unicast-topology': {} },
            'network-id': 'l3-topo-example',
            node: [
              {
                'node-id': 'D1',
                'termination-point': [
                  {
                    'tp-id': '1-0-1',
                    'ietf-l3-unicast-topology:l3-termination-point-attributes': { 'unnumbered-id': 101 },
                  },
                  { 'tp-id': '1-2-1' },
                ],
                'ietf-l3-unicast-topology:l3-node-attributes': {
                  'router-id': ['203.0.113.1'],
                  prefix: [{ prefix: '203.0.113.1/32' }],
                },
              },
              {
                'node-id': 'D2',
                'termination-point': [{ 'tp-id': '2-0-1' }, { 'tp-id': '2-1-1' }],
                'ietf-l3-unicast-topology:l3-node-attributes': {
                  'router-id': ['203.0.113.2'],
                  prefix: [{ prefix: '203.0.113.2/32' }],
                },
              },
            ],
            'ietf-network-topology:link': [
              {
                'link-id': 'D1,1-2-1,D2,2-1-1',
                source: { 'source-node': 'D1', 'source-tp': '1-2-1' },
                destination: { 'dest-node': 'D2', 'dest-tp': '2-1-1' },
              },
              {
                'link-id': 'D2,2-1-1,D1,1-2-1',
                source: { 'source-node': 'D2', 'source-tp': '2-1-1' },
                destination: { 'dest-node': 'D1', 'dest-tp': '1-2-1' },
              },
            ],
          },
        ],
      },
    }
    // Termination points are an augmentation of another module: with its name or without.
    const back = blank()
    const read = readTopology(wish(back), JSON.stringify(example))
    const { model } = apply(back, brought(read))
    // What a node announces is no address of it; its router id is kept.
    expect(model.ofKind('device').map(({ fields }) => fields['router'])).toEqual(['203.0.113.1', '203.0.113.2'])
    expect('refused' in read ? [] : read.facts).toContain(
      'There is no place for announced prefixes (2), “unnumbered-id” of termination points: left out.',
    )
    expect(joined(model)).toEqual({
      devices: [
        {
          name: 'D1',
          type: undefined,
          zone: undefined,
          critical: false,
          addresses: [],
          ports: ['1-0-1', '1-2-1'],
        },
        {
          name: 'D2',
          type: undefined,
          zone: undefined,
          critical: false,
          addresses: [],
          ports: ['2-0-1', '2-1-1'],
        },
      ],
      cables: ['D1 1-2-1 – D2 2-1-1'],
    })
  })

  const broken = (network: unknown) =>
    refusal(readTopology(wish(blank()), JSON.stringify({ 'ietf-network:networks': { network } })))
  it.each([
    ['{', /^This is not JSON/],
    ['[]', /There is no network here/],
  ])('is refused for %s', (file, words) => expect(refusal(readTopology(wish(blank()), file))).toMatch(words))
  it('is refused with the place where a link names a node that is not there', () =>
    expect(
      broken([
        {
          'network-id': 'n',
          node: [{ 'node-id': 'a' }],
          'ietf-network-topology:link': [
            { 'link-id': 'l', source: { 'source-node': 'a' }, destination: { 'dest-node': 'z' } },
          ],
        },
      ]),
    ).toBe(
      'ietf-network:networks.network[0].ietf-network-topology:link[0].destination names the node “z”, which this network does not have. Nothing was changed.',
    ))
  it('is refused with the place where something has no name, or an address is none', () => {
    expect(broken([{ 'network-id': 'n', node: [{}] }])).toBe(
      'ietf-network:networks.network[0].node[0] has no “node-id”. Nothing was changed.',
    )
    expect(
      broken([
        {
          'network-id': 'n',
          node: [
            {
              'node-id': 'a',
              'termination-point': [
                {
                  'tp-id': 'p',
                  'ietf-l3-unicast-topology:l3-termination-point-attributes': { 'ip-address': ['10.0.0.256'] },
                },
              ],
            },
          ],
        },
      ]),
    ).toMatch(/termination-point\[0\]\.ip-address has “10\.0\.0\.256”, which is no address/)
  })
  it('has addresses without a prefix length in its leaves (RFC 8346, §5), and what these have no place for beside them', () => {
    const model = network(
      'r  router  router id: 192.0.2.9  shared addresses: 10.0.0.1/24\n  port e0  10.0.0.2/24, 2001:db8::2/64\n  e0 to s e0\ns  switch',
    )
    const written = topologyExport.write(model, viewIn(model), DAY)
    expect(written).toContain('"ip-address": [\n                    "10.0.0.2",\n                    "2001:db8::2"')
    expect(written).toContain('"router-id": [\n                "192.0.2.9"')
    expect(written).not.toContain('"prefix"')
    const back = blank()
    const { model: again } = apply(back, brought(readTopology(wish(back), written)))
    const [router] = again.ofKind('device')
    const ports = again.ofKind('port').map(({ fields }) => fields['addresses'])
    expect([router?.fields['router'], router?.fields['shared'], ports]).toEqual([
      '192.0.2.9',
      ['10.0.0.1/24'],
      [['10.0.0.2/24', '2001:db8::2/64'], undefined],
    ])
  })
  it('keeps nodes of one name apart, and links of one way; both ways are one cable', () => {
    const node = (id: string) => ({ 'node-id': id, 'ietf-l2-topology:l2-node-attributes': { name: 'switch' } })
    const link = (id: string, a: string, b: string) => ({
      'link-id': id,
      source: { 'source-node': a },
      destination: { 'dest-node': b },
    })
    const links = [
      link('1', 'a', 'b'),
      link('2', 'b', 'a'),
      link('3', 'a', 'b'),
      link('4', 'b', 'a'),
      link('5', 'a', 'a'),
    ]
    const one = { 'network-id': 'n', node: [node('a'), node('b')], 'ietf-network-topology:link': links }
    const text = JSON.stringify({ 'ietf-network:networks': { network: [one] } })
    const read = readTopology(wish(blank()), text)
    const { model } = apply(blank(), brought(read))
    expect([model.ofKind('device').length, model.relationsOfKind('cable').length]).toEqual([2, 2])
    expect('refused' in read ? [] : read.facts).toContain(
      'There is no place for links from a node to itself: left out.',
    )
    expect(brought(readTopology(wish(model), text)).steps).toEqual([])
  })
  it('says what it leaves out since no port can have it', () => {
    const answer = readTopology(
      wish(blank()),
      JSON.stringify({
        'ietf-network:networks': {
          network: [
            {
              'network-id': 'n',
              node: [
                {
                  'node-id': 'a',
                  'termination-point': [
                    { 'tp-id': 'p', 'ietf-l2-topology:l2-termination-point-attributes': { 'port-vlan-id': 9999 } },
                  ],
                },
              ],
            },
          ],
        },
      }),
    )
    expect('refused' in answer ? [] : answer.facts).toContainEqual('Left out, since it cannot be: VLAN “9999”.')
  })
})

describe('GraphML', () => {
  const graph = (inner: string, keys = '') =>
    `<graphml>${keys}<graph edgedefault="undirected">${inner}</graph></graphml>`
  const taken = (text: string) => {
    const read = readGraphMl(wish(blank()), text)
    return { model: apply(blank(), brought(read)).model, facts: 'refused' in read ? [] : read.facts }
  }
  const label = (id: string, text: string) => `<node id="${id}"><data key="label">${text}</data></node>`
  it('keeps nodes of one label apart, and edges between the same two', () => {
    const text = graph(
      `${label('1', 'switch')}${label('2', 'switch')}<edge source="1" target="2"/><edge source="1" target="2"/><edge source="1" target="1"/>`,
    )
    const { model, facts } = taken(text)
    expect([model.ofKind('device').length, model.relationsOfKind('cable').length]).toEqual([2, 2])
    expect(facts).toContain('There is no place for edges from a node to itself: left out.')
    expect(brought(readGraphMl(wish(model), text)).steps).toEqual([])
  })
  it('counts what is so by default, and says what it has no place for', () => {
    const keys = `<key id="d0" for="node" attr.name="type"><default>router</default></key>
      <key id="d1" for="edge" attr.name="medium"><default>copper</default></key><key id="d2" for="all" attr.name="colour"/>`
    const { model, facts } = taken(
      graph(
        `<node id="a"/><node id="b"><data key="d0">server</data><data key="d2">red</data></node><edge source="a" target="b"/>`,
        keys,
      ),
    )
    expect(model.ofKind('device').map(({ fields }) => fields['type'])).toEqual(['router', 'server'])
    expect(model.relationsOfKind('cable').map(({ fields }) => fields['medium'])).toEqual(['copper'])
    expect(facts).toContain('There is no place for “colour” of nodes: left out.')
  })
  it('is refused where two nodes have one id', () =>
    expect(refusal(readGraphMl(wish(blank()), graph('<node id="a"/><node id="a"/>')))).toContain(
      'Two nodes have the id “a”',
    ))
  it('says no shared address as one of its own', () => {
    const model = network('r  router  10.0.0.2/24  shared addresses: 10.0.0.1/24')
    expect(graphMlExport.write(model, viewIn(model), DAY)).not.toContain('10.0.0.1')
  })
  const small = network(SMALL)
  const text = graphMlExport.write(small, viewIn(small), DAY)

  it('is read by npm graphology-graphml to the same nodes and edges', () => {
    const graph = parse(MultiUndirectedGraph, text)
    expect([graph.order, graph.size]).toEqual([3, 2])
    expect(graph.mapNodes((_, attributes) => String(attributes['name'])).sort()).toEqual(['db', 'fw', 'isp'])
  })
  it('is read back to the same devices and cables', () => {
    const back = blank()
    const { devices, cables } = joined(apply(back, brought(readGraphMl(wish(back), text))).model)
    expect(devices.map(({ name, type, zone, ports }) => [name, type, zone, ports])).toEqual(
      joined(small).devices.map(({ name, type, zone, ports }) => [name, type, zone, ports]),
    )
    expect(cables).toEqual(joined(small).cables)
  })
  it('read twice changes nothing the second time, ports stated or not', () => {
    const bare =
      '<graphml><graph edgedefault="undirected"><node id="a"/><node id="b"/><edge source="a" target="b"/></graph></graphml>'
    for (const file of [text, bare]) {
      const once = apply(blank(), brought(readGraphMl(wish(blank()), file))).model
      expect(brought(readGraphMl(wish(once), file)).steps).toEqual([])
    }
  })
  it.each([
    ['<!DOCTYPE graphml [<!ENTITY x "y">]><graphml><graph/></graphml>', /declares a document type or entities/],
    ['<graphml><graph>', /^This is not XML: line/],
    ['<svg/>', /There is no graph in this file/],
    [
      '<graphml><graph><node id="a"/><edge source="a" target="z"/></graph></graphml>',
      /The edge number 1 names the node “z”/,
    ],
    ['<graphml><graph><node/></graph></graphml>', /The node number 1 has no id/],
    [
      '<graphml><graph><node id="a"><data key="addresses">::1::</data></node></graph></graphml>',
      /“::1::”, which is no address/,
    ],
  ])('is refused: %s', (file, words) => expect(refusal(readGraphMl(wish(blank()), file))).toMatch(words))
})

describe('a hosts file', () => {
  it('lists every address with its name, in order, and is read back', () => {
    const small = network(SMALL)
    const text = hostsExport.write(small, viewIn(small), DAY)
    expect(text.split('\n').slice(1, -1)).toEqual([
      '10.0.0.1\tfw',
      '10.0.0.9\tdb',
      '198.51.100.2\tfw',
      '2001:db8::9\tdb',
    ])
    expect(hostsReader.read(text)).toMatchObject({
      rows: [
        ['fw', '10.0.0.1, 198.51.100.2'],
        ['db', '10.0.0.9, 2001:db8::9'],
      ],
    })
  })
  it('is known by its lines, as is a plain list of names and addresses', () => {
    expect(hostsReader.recognises?.('# hosts\n10.0.0.1 a a.example\n::1 b')).toBe(true)
    expect(hostsReader.recognises?.('a 10.0.0.1\nb 10.0.0.2')).toBe(true)
    expect(hostsReader.recognises?.('Host\tAddress\na\t10.0.0.1')).toBe(false)
  })
  it('is refused with the line at fault', () => {
    expect(hostsReader.read('10.0.0.1 a\n10.0.0.256 b')).toEqual({
      refused: 'Line 2, “10.0.0.256”: “256” is no number from 0 to 255.',
    })
    expect(hostsReader.read('10.0.0.1')).toEqual({ refused: 'Line 1 has an address and no name.' })
  })
})

describe('tables', () => {
  const plan = (kind: typeof deviceTable, model: Model, text: string, more = {}) => {
    const table = readTable(text)
    if ('refused' in table) throw new Error(table.refused)
    const { rows } = understoodRows(table, guessMapping(table.heading, kind.columns), kind.columns)
    return kind.plan(wish(model), rows, { leaveOutFaulty: false, endGone: false, ...more })
  }
  const DEVICES =
    'Hostname\tType\tIP address\tZone\tSite\tRack\tUnit\tCritical\tSystem\nsw-1\tswitch\t10.0.0.2/24\tLan\tQuay\tA1\t4\tyes\t\nvm-1\tVM\t10.0.0.9\tLan\tQuay\t\t\t\tBooking; Ledger'
  const CABLES =
    'From\tFrom port\tTo\tTo port\tSpeed\tMedium\tCat\tLength\nsw-1\tp1\tvm-1\teth0\t10G\tcopper\tCat 6A\t12.5\nsw-1 p2\t\tap-9\t\t1G\t\t\t'

  it('bring in devices with their zones, sites, racks and systems, and cables with both ends; again they change nothing', () => {
    const first = plan(deviceTable, blank(), DEVICES)
    expect([first.faults, first.added]).toEqual([[], ['Lan', 'sw-1', 'vm-1']])
    const devices = apply(blank(), first.change).model
    expect(plan(deviceTable, devices, DEVICES).change.steps).toEqual([])
    const second = plan(cableTable, devices, CABLES)
    expect(second.faults).toEqual([])
    const all = apply(devices, second.change).model
    expect(joined(all).cables).toEqual(['ap-9 p1 – sw-1 p2', 'sw-1 p1 – vm-1 eth0'])
    expect(netIn(all).cables[0]?.relation.fields).toEqual({
      capacity: 10_000,
      medium: 'copper',
      category: '6A',
      length: 12.5,
    })
    expect(netIn(all).devices.map(({ name, type, site, rack }) => [name, type, site?.name, rack?.name])).toEqual([
      ['sw-1', 'switch', 'Quay', 'A1'],
      ['vm-1', 'server', 'Quay', undefined],
      ['ap-9', undefined, undefined, undefined],
    ])
    expect(plan(cableTable, all, CABLES).change.steps).toEqual([])
  })

  it('tell each cell that cannot be, and change nothing', () => {
    const { faults, change } = plan(
      deviceTable,
      blank(),
      'Host\tIP\tType\na\t10.0.0.300\tswitch\na\t\ttoaster\n\t10.0.0.1\t',
    )
    expect(faults.map(({ row, column }) => `${row} ${column}`)).toEqual(['2 Addresses', '3 Host', '4 Host'])
    expect(change.steps).toEqual([])
  })

  it('tell what the facts have and the table does not, and end it where that is wanted', () => {
    const model = network('a  switch\n  p1 to b p1\nb  switch\n  p2 to c p1\nc  switch')
    const { gone, change } = plan(cableTable, model, 'From\tPort a\tTo\tPort b\na\tp1\tb\tp1', { endGone: true })
    expect(gone.map(({ name }) => name)).toEqual(['b p2 – c p1'])
    const after = apply(model, change).model
    expect(joined(after).cables).toEqual(['a p1 – b p1'])
    expect(joined(after, addDays(DAY, -1)).cables).toHaveLength(2)
    const again = plan(cableTable, after, 'From\tPort a\tTo\tPort b\na\tp1\tb\tp1', { endGone: true })
    expect(again.gone).toEqual([])
    expect(again.change.steps).toEqual([])
  })

  it('end a device with its cables on the day before, and take away what began only then', () => {
    const model = network(`a  switch\n  p1 to b p1\n  p2 to c p1\nb  switch\nc  switch  since ${DAY}`)
    const after = apply(model, plan(deviceTable, model, 'Host\tType\na\tswitch', { endGone: true }).change).model
    const kept = (name: string) => [...after.ofKind('device')].find((one) => one.name === name)
    expect(kept('b')?.to).toBe(addDays(DAY, -1))
    expect(kept('c')).toBeUndefined()
    expect(joined(after)).toMatchObject({ devices: [{ name: 'a' }], cables: [] })
    expect(joined(after, addDays(DAY, -1)).cables).toEqual(['a p1 – b p1'])
  })

  it('put a plug into another port from the day shown on', () => {
    const model = network('a  switch\n  p1 to b p1\nb  switch')
    const { change } = plan(cableTable, model, 'From\tPort a\tTo\tPort b\na\tp1\tb\tp2', { endGone: true })
    const after = apply(model, change).model
    expect(joined(after).cables).toEqual(['a p1 – b p2'])
    expect(joined(after, addDays(DAY, -1)).cables).toEqual(['a p1 – b p1'])
    expect(findings('net/port-shared', after, addDays(DAY, -1))).toEqual([])
  })
})

describe('what the devices say of their neighbours', () => {
  const demo = marramSoundFerries()
  const view = demo.views.get(asId('port-network')) ?? networkView()
  const answer = (on: string) => JSON.stringify(neighbourTables(day(on)))
  const synchronised = (model: Model, on: string, endGone = true) => {
    const table = neighbourReader.read(answer(on))
    if ('refused' in table) throw new Error(table.refused)
    const { rows } = understoodRows(table, guessMapping(table.heading, cableTable.columns), cableTable.columns)
    return cableTable.plan({ model, view: model.views.get(view.id) ?? view, day: DAY, selection: [], newId }, rows, {
      leaveOutFaulty: false,
      endGone,
      source: NEIGHBOURS,
    })
  }

  it('is a cable each, though both ends tell of it', () => {
    const table = neighbourReader.read(answer('2026-11-01'))
    if ('refused' in table) throw new Error(table.refused)
    // Before the network begins to live by itself it is as it is stated, but for what providers do not tell.
    const told = netOfDemo(demo).filter(
      ({ a, b }) => a.device.type !== 'cloud service' && b.device.type !== 'cloud service',
    )
    expect(table.rows).toHaveLength(told.length)
  })

  it('changes from day to day, and is the same on the same day', () => {
    expect(answer('2026-12-01')).toBe(answer('2026-12-01'))
    expect(answer('2026-12-24')).not.toBe(answer('2026-12-01'))
  })

  it('brought in twice changes nothing the second time', () => {
    const first = synchronised(demo, '2026-12-01')
    expect(first.faults).toEqual([])
    expect(first.added).toContain('ap-hall-3')
    const once = apply(demo, first.change).model
    expect(synchronised(once, '2026-12-01').change.steps).toEqual([])
    expect(findings('net/seen-unstated', once)).toEqual([])
  })

  it('ends no cable of a device that tells nothing, as those of providers, and each that both its devices leave out', () => {
    const before = netOfDemo(demo).length
    const on = '2026-11-01'
    expect(synchronised(demo, on).gone).toEqual([])
    expect(netOfDemo(apply(demo, synchronised(demo, on).change).model)).toHaveLength(before)
    const pulled = netOfDemo(demo).find(({ a, b }) => a.device.name === 'sw-edge-1' && b.device.name === 'sw-edge-2')
    if (!pulled) throw new Error('the two switches are not joined')
    const table = { heading: ['From', 'From port', 'To', 'To port'] as const, rows: [] as string[][] }
    const all = neighbourReader.read(answer(on))
    if ('refused' in all) throw new Error(all.refused)
    table.rows = all.rows
      .filter((row) => !(row.includes('sw-edge-1') && row.includes('sw-edge-2')))
      .map((row) => [...row])
    const { rows } = understoodRows(table, guessMapping(table.heading, cableTable.columns), cableTable.columns)
    const { gone } = cableTable.plan({ model: demo, view, day: DAY, selection: [], newId }, rows, {
      leaveOutFaulty: false,
      endGone: true,
      source: NEIGHBOURS,
    })
    expect(gone.map(({ id }) => id)).toEqual([pulled.id])
  })

  it('is found where the facts say otherwise later, both ways, and mended', () => {
    const model = network('a  switch\n  p1 to b p1\n  p2 to c p1\nb  switch\nc  switch')
    const seen = (list: readonly string[]) =>
      apply(model, {
        label: '',
        steps: [
          {
            do: 'add-entity',
            entity: {
              id: asId('seen'),
              kind: 'neighbours',
              name: 'Seen',
              fields: { seen: list, network: netIn(model).id ?? '' },
            },
          },
        ],
      }).model
    const same = seen(['a p1 – b p1', 'a p2 – c p1'])
    expect([findings('net/seen-unstated', same), findings('net/stated-unseen', same)]).toEqual([[], []])
    const other = seen(['a p1 – b p1', 'b p9 – C p7'])
    expect(findings('net/seen-unstated', other).map(({ message }) => message)).toEqual([
      'The network shows a cable b p9 – C p7, and no fact states it.',
    ])
    expect(findings('net/stated-unseen', other).map(({ message }) => message)).toEqual([
      'The cable a p2 – c p1 is stated, and the network does not show it.',
    ])
    expect(mended('net/seen-unstated', other)).toEqual([])
    expect(mended('net/stated-unseen', other)).toEqual([])
    // It was there until the day before.
    const [unseen] = findings('net/stated-unseen', other)
    const [end] = unseen?.fixes ?? []
    expect(end?.label).toBe('End it on 23 Nov 2026')
    const cable = unseen?.subjects[0] ?? asId('')
    expect(end && apply(other, end.change).model.relations.get(cable)?.to).toBe('2026-11-23')
    // Nothing is asked of a device that tells nothing, or of a network that was never asked.
    expect(findings('net/stated-unseen', seen(['a p1 – b p1']))).toEqual([])
    expect(findings('net/stated-unseen', model)).toEqual([])
  })

  it.each([
    ['{', /^This is not JSON/],
    ['{}', /There are no neighbour tables here/],
    ['{"lldpSystems":[{}]}', /lldpSystems\[0\] has neither/],
    [
      '{"lldpSystems":[{"lldpLocSysName":"a","lldpRemTable":[{}]}]}',
      /lldpSystems\[0\]\.lldpRemTable\[0\] lacks a port/,
    ],
    ['{"lldpSystems":[]}', /Nobody tells of a neighbour/],
  ])('is refused: %s', (file, words) =>
    expect(neighbourReader.read(file)).toEqual({ refused: expect.stringMatching(words) as never }),
  )
})

const netOfDemo = (demo: Model) => netShown(demo, demo.views.get(asId('port-network')), day('2026-11-01')).cables

describe('nonsense', () => {
  it('is refused in words or taken, whatever it is', () =>
    fc.assert(
      fc.property(
        fc.oneof(
          fc.json(),
          fc.string(),
          fc.string().map((text) => `<graphml><graph>${text}</graph></graphml>`),
        ),
        (text) => {
          for (const read of [readTopology, readGraphMl]) {
            const answer = read(wish(blank()), text)
            if ('refused' in answer) expect(answer.refused.length).toBeGreaterThan(10)
            else apply(blank(), answer.change)
          }
        },
      ),
      { numRuns: 400 },
    ))
})
