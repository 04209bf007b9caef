import type { Id } from '../../model'
import { clip, type Refusal, type Trial } from '../../notation'
import { addressText, readAddress, type Address } from './addresses'
import { Firewalls, firewallsOf, passageOf, verdictOn, type Filter } from './firewall'
import { PROTOCOLS } from './kinds'
import { netShown, type Device, type Net } from './structure'
import { topologyOf } from './topology'
import { portsOf, waysOf } from './ways'

/** What becomes of a packet. */
export const packet: Trial = {
  id: 'packet',
  title: 'Try a packet',
  button: 'Try it',
  fields: [
    { id: 'from', label: 'From', names: ['device'] },
    { id: 'to', label: 'To', names: ['device'] },
    { id: 'protocol', label: 'Protocol', choices: PROTOCOLS },
    { id: 'port', label: 'Port' },
  ],
  ask: (model, view, day, values) => {
    const net = netShown(model, view, day)
    const [from, to] = [endOf(net, values['from'] ?? ''), endOf(net, values['to'] ?? '')]
    if ('refused' in from) return from
    if ('refused' in to) return to
    const protocol = PROTOCOLS.find((one) => one === values['protocol']) ?? 'any'
    const typed = (values['port'] ?? '').trim()
    const port = typed === '' ? undefined : Number(typed)
    if (port !== undefined && !(Number.isInteger(port) && port >= 0 && port <= 65_535))
      return { refused: `“${clip(typed)}” is no port from 0 to 65535.` }
    const firewalls = firewallsOf(net)
    const sent = firewalls.packet(from.place, to.place, protocol, port)
    if (!from.device || !to.device) return atEach(net, firewalls, sent, from.device ?? to.device)
    const topology = topologyOf(net)
    const way = waysOf(topology).between(from.device, to.device)
    if (!way) return { words: 'No way leads there', lines: [], facts: [from.device.id, to.device.id] }
    const { allowed, firewall, by } = passageOf(firewalls, way, sent)
    const silent = way.devices
      .slice(1, -1)
      .filter((device) => device.type === 'firewall' && !firewalls.doesFilter(device))
    const along = [`Way: ${way.devices.map(({ name }) => name).join(' – ')}`, `Ports: ${portsOf(way)}`]
    const facts = [
      ...[from.device, to.device, ...(firewall ? [firewall] : []), ...silent].map(({ id }) => id),
      ...(by ? [by.entity.id] : []),
    ]
    const unknown = silent.map(unstated)
    if (silent.length > 0 && (allowed || !firewall))
      return {
        words: 'Not known',
        lines: [...unknown, ...(firewall ? [decided(firewall, by, firewalls)] : []), ...along],
        facts,
      }
    if (!firewall) return { words: 'Passes: no firewall stands on its way', lines: along, facts }
    return {
      words: allowed ? 'Allowed' : 'Denied',
      lines: [decided(firewall, by, firewalls), ...along],
      facts,
    }
  },
}

const unstated = ({ name }: Device): string => `No rules of ${name} are stated: what it lets through is not known`

const decided = (firewall: Device, by: Filter | undefined, firewalls: Firewalls): string =>
  by
    ? `By rule ${firewalls.filtersOf(firewall).indexOf(by) + 1} “${by.entity.name}” of ${firewall.name}`
    : `No rule of ${firewall.name} matches, and what none matches is denied`

/** What every firewall would say, where an end is no device that is known. */
function atEach(net: Net, firewalls: Firewalls, sent: Parameters<typeof verdictOn>[1], known: Device | undefined) {
  const standing = net.devices.filter((device) => device.type === 'firewall' || firewalls.doesFilter(device))
  const [all, silent] = [true, false].map((does) => standing.filter((one) => firewalls.doesFilter(one) === does)) as [
    Device[],
    Device[],
  ]
  const verdicts = all.map((firewall) => ({ firewall, ...verdictOn(firewalls.filtersOf(firewall), sent) }))
  const allowed = verdicts.filter((one) => one.allowed).length
  return {
    words:
      all.length === 0
        ? silent.length > 0
          ? 'Not known: no rules are stated'
          : 'Passes: there is no firewall'
        : allowed === all.length
          ? 'Every firewall would allow it'
          : allowed === 0
            ? 'Every firewall would deny it'
            : `${allowed} of ${all.length} firewalls would allow it`,
    lines: [
      'An end is no device of this network: its way is not known.',
      ...verdicts.map(
        ({ firewall, allowed: passes, by }) =>
          `${firewall.name}: ${passes ? 'allowed' : 'denied'}. ${decided(firewall, by, firewalls)}`,
      ),
      ...silent.map(unstated),
    ],
    facts: [
      ...(known ? [known.id] : []),
      ...verdicts.flatMap(({ firewall, by }): Id[] => [firewall.id, ...(by ? [by.entity.id] : [])]),
    ],
  }
}

/** A device by its name or its address, or an address that no device has. */
function endOf(
  net: Net,
  text: string,
): { readonly place: Device | Address; readonly device: Device | undefined } | Refusal {
  const wanted = text.trim()
  if (wanted === '') return { refused: 'Say from where and to where: a device or an address.' }
  const device = net.devices.find(({ name }) => name.toLowerCase() === wanted.toLowerCase())
  if (device) return { place: device, device }
  const address = readAddress(wanted)
  if (!address) return { refused: `“${clip(wanted)}” is no device, and no address such as 10.20.0.1 or 2001:db8::1.` }
  const words = addressText(address)
  const owner = net.devices.find(({ addresses }) => addresses.some((one) => addressText(one.address) === words))
  return { place: address, device: owner }
}
