import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Firewalls, shadowedIn, verdictOn } from '../../src/core/notations/network/firewall'
import { readAddress } from '../../src/core/notations/network/addresses'
import { netIn, network } from '../core/network/facts'

/** A small universe: eight addresses, three protocols, four ports; and rules over parts of it. */
const ENDS = ['any', '10.0.0.0/30', '10.0.0.4/30', '10.0.0.0/31', '10.0.0.2/31', '10.0.0.3/32', '10.0.0.6/32'] as const
const PROTOCOLS = ['any', 'tcp', 'udp', 'icmp'] as const
const PORTS = ['', '1', '1-2', '2-3', '0, 3'] as const

interface Drawn {
  readonly allows: boolean
  readonly from: string
  readonly to: string
  readonly protocol: (typeof PROTOCOLS)[number]
  readonly port: string
}

const drawn = fc.array(
  fc.record({
    allows: fc.boolean(),
    from: fc.constantFrom(...ENDS),
    to: fc.constantFrom(...ENDS),
    protocol: fc.constantFrom(...PROTOCOLS),
    port: fc.constantFrom(...PORTS),
  }),
  { minLength: 1, maxLength: 8 },
)

const isIn = (end: string, address: number): boolean => {
  if (end === 'any') return true
  const [, last = '0', length = '32'] = /\.(\d+)\/(\d+)$/.exec(end) ?? []
  return address >> (32 - Number(length)) === Number(last) >> (32 - Number(length))
}
const portsIn = (text: string): number[] =>
  text.split(',').flatMap((part) => {
    const [low = 0, high = low] = part.trim().split('-').map(Number)
    return Array.from({ length: high - low + 1 }, (_, at) => low + at)
  })

/** Whether a rule matches a packet, told one by one. A rule with ports is about what has such. */
function matches(
  { from, to, protocol, port }: Drawn,
  packet: { from: number; to: number; protocol: string; port: number },
): boolean {
  if (!isIn(from, packet.from) || !isIn(to, packet.to)) return false
  const isNumbered = packet.protocol === 'tcp' || packet.protocol === 'udp'
  if (protocol !== 'any' && protocol !== packet.protocol) return false
  if (port === '' || protocol === 'icmp') return true
  return isNumbered && portsIn(port).includes(packet.port)
}

const UNIVERSE = [0, 1, 2, 3, 4, 5, 6, 7].flatMap((from) =>
  [0, 1, 2, 3, 4, 5, 6, 7].flatMap((to) =>
    (['tcp', 'udp', 'icmp'] as const).flatMap((protocol) =>
      (protocol === 'icmp' ? [0] : [0, 1, 2, 3]).map((port) => ({ from, to, protocol, port })),
    ),
  ),
)

const filtersOf = (rules: readonly Drawn[]) => {
  const lines = rules.map(
    ({ allows, from, to, protocol, port }, at) =>
      `  ${allows ? 'allow' : 'deny'} ${[protocol, port].filter(Boolean).join(' ')} from ${from} to ${to}  called: r${at}`,
  )
  const net = netIn(network(`fw  firewall\n${lines.join('\n')}`))
  const firewalls = new Firewalls(net)
  const [device] = net.devices
  if (!device) throw new Error('no firewall')
  return { firewalls, filters: firewalls.filtersOf(device) }
}

const at = (last: number) => readAddress(`10.0.0.${last}`) ?? { family: 4 as const, value: 0n }
const RUNS = { numRuns: Number(process.env['RUNS'] ?? 150) }

describe('the rules of a firewall, against every packet of a small universe', () => {
  it('decide by the first that matches, and deny what none matches', () =>
    fc.assert(
      fc.property(drawn, (rules) => {
        const { firewalls, filters } = filtersOf(rules)
        for (const packet of UNIVERSE) {
          const first = rules.findIndex((rule) => matches(rule, packet))
          const sent = firewalls.packet(
            at(packet.from),
            at(packet.to),
            packet.protocol,
            packet.protocol === 'icmp' ? undefined : packet.port,
          )
          const { allowed, by } = verdictOn(filters, sent)
          expect(allowed).toBe(first >= 0 && rules[first]?.allows === true)
          expect(by?.entity.name).toBe(first < 0 ? undefined : `r${first}`)
        }
      }),
      RUNS,
    ))

  it('are shadowed just where no packet of the universe, and none beyond it, comes to them', () =>
    fc.assert(
      fc.property(drawn, (rules) => {
        const { filters } = filtersOf(rules)
        const shadowed = new Set(shadowedIn(filters).map(({ filter }) => filter.entity.name))
        // Beyond the universe stand one more address, one more port and one more protocol for all that rules do not tell apart.
        const wider = [...[0, 1, 2, 3, 4, 5, 6, 7, 200]].flatMap((from) =>
          [0, 1, 2, 3, 4, 5, 6, 7, 200].flatMap((to) =>
            (['tcp', 'udp', 'icmp', 'other'] as const).flatMap((protocol) =>
              [0, 1, 2, 3, 4].map((port) => ({ from, to, protocol, port })),
            ),
          ),
        )
        rules.forEach((rule, index) => {
          const reached = wider.some(
            (packet) => matches(rule, packet) && !rules.slice(0, index).some((earlier) => matches(earlier, packet)),
          )
          expect(shadowed.has(`r${index}`)).toBe(!reached)
        })
      }),
      RUNS,
    ))
})
