import { describe, expect, it } from 'vitest'
import { apply, type Fields, type Id, type Model, type Step } from '../../../src/core/model'
import { readEntry } from '../../../src/core/notation'
import { handlings } from '../../../src/core/notations/handling'
import { readPorts, unreadPorts } from '../../../src/core/notations/network/ports'
import { readLine } from '../../../src/core/notations/network/words'
import { findings, named, network } from './facts'

/** A way through a firewall, and what is sent along it. */
const WAY = (rules: string, sent = 'tcp 22', through = 'firewall') => `a  server  10.0.1.5/24
  e0 to f p1
  flow to b  ${sent}
f  ${through}
  p2 to b e0
${rules}b  server  10.0.2.5/24`
const said = (rule: string, model: Model) => findings(rule, model).map(({ message }) => message)
const put = (model: Model, id: Id, fields: Fields, of: 'entity' | 'relation' = 'entity'): Model => {
  const steps = Object.entries(fields).map(([path, value]): Step => ({
    do: `set-${of}`,
    id,
    path: `fields.${path}`,
    value,
  }))
  return apply(model, { label: '', steps }).model
}
const ruleIn = (model: Model) => model.ofKind('filter')[0]?.id as Id

describe('a port', () => {
  it('is a number, a range or a service of the registry, and nothing else', () => {
    expect(readPorts('80, 443, 1000-1002')).toEqual({
      spans: [
        [80, 81],
        [443, 444],
        [1000, 1003],
      ],
      unread: [],
    })
    // RFC 6335, §6: 0 to 65535; names by its registry.
    expect(readPorts('https, ssh')).toEqual({
      spans: [
        [22, 23],
        [443, 444],
      ],
      unread: [],
    })
    expect(readPorts('65535').unread).toEqual([])
    for (const text of ['84443', '80-', '-80', '90-80', 'web', '80 443', '65536', '8o'])
      expect([text, unreadPorts(text)]).toEqual([text, expect.stringContaining(`“${text}” is no port`)])
    expect(readPorts('80, web')).toEqual({ spans: [[80, 81]], unread: ['web'] })
    expect(readPorts('')).toEqual({ spans: undefined, unread: [] })
  })

  it.each(['84443', 'web', '80-', '443, 99999'])(
    '%s is refused in a line, a cell and a table, with what is wrong',
    (port) => {
      const line = readLine(`allow tcp ${port} from any to any`, 'device')
      expect(line).toHaveProperty('refused', expect.stringContaining('is no port'))
      const field = handlings.kinds.get('filter')?.fields.find(({ id }) => id === 'port')
      const entry = field && readEntry(field, port)
      expect(entry).toHaveProperty('refused', expect.stringContaining('is no port'))
    },
  )

  it('by the name of its service is read in a line, and kept as it was said', () => {
    const model = network(WAY('  allow tcp https from any to any\n', 'tcp 443'))
    expect(model.entities.get(ruleIn(model))?.fields['port']).toBe('https')
    expect(said('net/blocked', model)).toEqual([])
    expect(said('net/blocked', network(WAY('  allow tcp https from any to any\n', 'tcp 22')))).toHaveLength(1)
  })
})

describe('a rule whose port cannot be read', () => {
  it.each(['84443', 'web', '80-', ' - '])('lets nothing through by it, and is found: %s', (port) => {
    const model = network(WAY('  allow tcp 22 from any to any\n'))
    expect(said('net/blocked', model)).toEqual([])
    const spoilt = put(model, ruleIn(model), { port })
    expect(said('net/blocked', spoilt)).toHaveLength(1)
    expect(said('net/unread', spoilt)).toEqual([expect.stringContaining('is no port')])
    expect(said('net/unread', model)).toEqual([])
  })
  it('lets through what of it can be read', () => {
    const model = network(WAY('  allow tcp 22 from any to any\n'))
    expect(said('net/blocked', put(model, ruleIn(model), { port: '22, web' }))).toEqual([])
  })
  it('denies whatever it may have meant, where it denies', () => {
    const model = network(WAY('  deny tcp 80 from any to any\n  allow any from any to any\n'))
    expect(said('net/blocked', model)).toEqual([])
    expect(said('net/blocked', put(model, ruleIn(model), { port: 'web' }))).toHaveLength(1)
  })
  it('is not needed by what is sent: a flow of an unread port is found too', () => {
    const model = network(WAY('  allow any from any to any\n'))
    const flow = model.relationsOfKind('traffic')[0]?.id as Id
    expect(said('net/unread', put(model, flow, { port: '99999' }, 'relation'))).toEqual([
      expect.stringContaining('Port of what “a” sends to “b”'),
    ])
  })
})

describe('a rule', () => {
  it('of a router or a switch counts as one of a firewall does', () => {
    for (const type of ['router', 'switch', 'firewall']) {
      expect(said('net/blocked', network(WAY('  deny any from any to any\n', 'tcp 22', type))), type).toHaveLength(1)
      expect(said('net/blocked', network(WAY('  allow any from any to any\n', 'tcp 22', type))), type).toEqual([])
    }
    // Without a rule they pass on whatever comes.
    expect(said('net/blocked', network(WAY('', 'tcp 22', 'router')))).toEqual([])
    // What a firewall does of which nothing is stated, nobody knows.
    const silent = network(WAY('', 'tcp 22', 'firewall'))
    expect([said('net/blocked', silent), said('net/no-rules', silent).length]).toEqual([[], 1])
  })
  it('from or to what nobody knows is found by its name', () => {
    const model = network(WAY('  allow any from any to any\n'))
    for (const source of ['10.0.0.300/24', 'Nowhere', '10.0.0.0/33'])
      expect(said('net/unread', put(model, ruleIn(model), { source })), source).toEqual([
        expect.stringContaining(`“${source}” cannot be read`),
      ])
    for (const source of ['any', 'a', 'A', '10.0.0.0/8', 'fe80::/10'])
      expect(said('net/unread', put(model, ruleIn(model), { source })), source).toEqual([])
  })
})

describe('an address that cannot be read', () => {
  const model = network('lan  (subnet 10.0.0.0/24, gateway 10.0.0.1)\na  server  10.0.0.5/24')
  const [lan, a] = [named(model, 'lan'), named(model, 'a')]
  it.each([
    [a, { addresses: ['10.0.0.300/24'] }, 'Address of “a” “10.0.0.300/24” cannot be read: “300” is no number'],
    [a, { addresses: ['010.0.0.5/24'] }, 'without leading zeros'],
    [a, { addresses: ['10.0.0/24'] }, 'an IPv4 address has four numbers'],
    [lan, { prefix: '10.0.0.0/33' }, 'Prefix of “lan”'],
    [lan, { prefix: null }, '“lan” has no prefix'],
    [lan, { gateway: '10.0.0.999' }, 'Gateway of “lan”'],
    [lan, { reserved: ['10.0.0.20-10.0.0.10'] }, 'no range from a first to a last one'],
    [lan, { reserved: ['10.0.9.0-10.0.9.5'] }, 'lies outside 10.0.0.0/24'],
  ])('is found where it stands: %s %o', (id, fields, words) => {
    const spoilt = put(model, id, fields as Fields)
    expect(said('net/unread', spoilt)).toEqual([expect.stringContaining(words)])
  })
  it('is none of those that can be', () => {
    expect(said('net/unread', model)).toEqual([])
    for (const address of ['fe80::1/64', '127.0.0.1/8', '::1', '224.0.0.5', '10.0.0.5'])
      expect(said('net/unread', put(model, a, { addresses: [address] })), address).toEqual([])
  })
})
