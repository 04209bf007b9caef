import type { Entity, Id } from '../../../model'
import { listOf, textOf, type Found } from '../../../notation'
import { addressFault, readAddress, readInterface, readPrefix, readRange } from '../addresses'
import { unreadPorts } from '../ports'
import { unreadVlans } from '../vlans'
import type { Net } from '../structure'
import { finding, inEach } from './found'

/** What is stated and cannot be read, by its place: each of the checks passes over it. */
export const unread = inEach(
  {
    id: 'net/unread',
    severity: 'error',
    title: 'This cannot be read',
    why: 'An address, a prefix or a port that cannot be read counts for nothing: no check looks at it, and a rule of a firewall lets nothing through by it.',
    source: 'RFC 4632, §3.1; RFC 4291, §2.2; RFC 6335, §6',
  },
  (net) => [...net.devices.flatMap(inDevice), ...net.subnets.flatMap(inSubnet), ...inRules(net)],
)

const told = (subject: Id, where: string, text: string, why: string): Found =>
  finding(`${where} “${text.slice(0, 60)}” cannot be read: ${why}.`, [subject])

const inDevice = ({ entity, ports }: Net['devices'][number]): Found[] => [
  ...[
    { of: entity, where: `Address of “${entity.name}”` },
    ...ports.map((port) => ({ of: port.entity, where: `Address of “${entity.name} ${port.name}”` })),
  ].flatMap(({ of, where }) =>
    [...listOf(of, 'addresses'), ...listOf(of, 'shared')].flatMap((text) =>
      readInterface(text) ? [] : told(of.id, where, text, addressFault(text)),
    ),
  ),
  ...ports.flatMap(({ id, name, entity: port }) => {
    const fault = unreadVlans(listOf(port, 'tagged').join())
    return fault === undefined ? [] : [finding(`Tagged VLANs of “${entity.name} ${name}”: ${fault}`, [id])]
  }),
]

function inSubnet(entity: Entity): Found[] {
  const { id, name } = entity
  const [prefix, gateway] = [textOf(entity, 'prefix'), textOf(entity, 'gateway')]
  const own = readPrefix(prefix ?? '')
  const found: Found[] = []
  if (prefix === undefined) found.push(finding(`“${name}” has no prefix: no address can be said to be in it.`, [id]))
  else if (!own) found.push(told(id, `Prefix of “${name}”`, prefix, addressFault(prefix)))
  if (gateway !== undefined && !readAddress(gateway) && !readInterface(gateway))
    found.push(told(id, `Gateway of “${name}”`, gateway, addressFault(gateway)))
  for (const text of listOf(entity, 'reserved')) {
    const range = readRange(text)
    if (!range)
      found.push(
        told(id, `What “${name}” keeps back,`, text, 'it is no address, and no range from a first to a last one'),
      )
    else if (own && (range.family !== own.family || range.first < own.first || range.last > own.last))
      found.push(finding(`What “${name}” keeps back, “${text.slice(0, 60)}”, lies outside ${prefix ?? ''}.`, [id]))
  }
  return found
}

function inRules(net: Net): Found[] {
  const known = [...net.zones, ...net.subnets, ...net.devices]
  const names = new Set(known.flatMap(({ id, name }) => [id, name.toLowerCase()]))
  const isNamed = (text: string) => names.has(text) || names.has(text.toLowerCase())
  const filters = net.filters.flatMap((entity): Found[] => {
    const { id, name } = entity
    const ends = (['source', 'destination'] as const).flatMap((end): Found[] => {
      const text = textOf(entity, end)
      if (text === undefined || /^any$/i.test(text) || isNamed(text) || readPrefix(text)) return []
      const where = end === 'source' ? 'From' : 'To'
      return [
        told(
          id,
          `${where} of rule “${name}”:`,
          text,
          'it is no zone, subnet or device of this network, and no address',
        ),
      ]
    })
    const port = unreadPorts(textOf(entity, 'port') ?? '')
    return [...ends, ...(port ? [finding(`Port of rule “${name}”: ${port}`, [id])] : [])]
  })
  const flows = net.flows.flatMap(({ id, relation, from, to }): Found[] => {
    const port = unreadPorts(textOf(relation, 'port') ?? '')
    return port ? [finding(`Port of what “${from.name}” sends to “${to.name}”: ${port}`, [id, from.id, to.id])] : []
  })
  return [...filters, ...flows]
}
