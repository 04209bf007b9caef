import type { FileExport, Refusal, Table, TableReader } from '../../../notation'
import { clip, LIMITS } from '../../../notation'
import { addressFault, addressText, readAddress } from '../addresses'
import { netShown } from '../structure'

/** A hosts file: an address a line, then its names (RFC 952 and hosts(5)). */
export const hostsExport = {
  id: 'hosts',
  title: 'Hosts file',
  extension: '.hosts',
  mediaType: 'text/plain',
  write: (model, view, day) => {
    const net = netShown(model, view, day)
    const lines = net.devices.flatMap(({ name, addresses }) =>
      addresses.map(({ address }) => ({ address, line: `${addressText(address)}\t${name.replace(/\s+/g, '-')}` })),
    )
    const sorted = lines.sort(
      (a, b) => a.address.family - b.address.family || (a.address.value < b.address.value ? -1 : 1),
    )
    return `# ${net.entity?.name ?? 'Network'}, ${day}\n${sorted.map(({ line }) => `${line}\n`).join('')}`
  },
} satisfies FileExport

/** A hosts file, or a plain list of names and addresses, as a table of devices: what has several lines has several addresses. Other names of an address are told and left out. */
export const hostsReader: TableReader = {
  id: 'hosts',
  title: 'Hosts file',
  extensions: ['.hosts'],
  read,
  recognises: (text) => {
    const lines = saidIn(text.slice(0, MOST_LOOKED_AT))
    return (
      lines.length > 0 &&
      lines.every(({ words }) => words.length > 1 && words.slice(0, 2).some((one) => readAddress(one)))
    )
  },
}

const MOST_LOOKED_AT = 4000

/** The lines that say something, without what is said about them. */
const saidIn = (text: string): { at: number; length: number; words: string[] }[] =>
  text.split(/\r\n|\r|\n/).flatMap((raw, at) => {
    const line = raw.replace(/#.*$/, '').trim()
    return line === '' ? [] : [{ at, length: line.length, words: line.slice(0, LIMITS.line).split(/[\s,;]+/) }]
  })

function read(text: string): Table | Refusal {
  const byName = new Map<string, string[]>()
  const left: string[] = []
  for (const { at, length, words } of saidIn(text)) {
    if (length > LIMITS.line)
      return {
        refused: `Line ${at + 1} has ${length.toLocaleString('en')} characters; ${LIMITS.line.toLocaleString('en')} is the most.`,
      }
    const [first = '', second, ...more] = words
    const isTurned = second !== undefined && !readAddress(first) && readAddress(second) !== undefined
    const [address, name] = isTurned ? [second, first] : [first, second]
    if (!readAddress(address)) return { refused: `Line ${at + 1}, “${clip(address)}”: ${addressFault(address)}.` }
    if (name === undefined) return { refused: `Line ${at + 1} has an address and no name.` }
    byName.set(name, [...(byName.get(name) ?? []), address])
    left.push(...more)
  }
  if (byName.size === 0) return { refused: 'There is no line with an address and a name.' }
  return {
    heading: ['Host', 'Addresses'],
    rows: [...byName].map(([name, addresses]) => [name, addresses.join(', ')]),
    notes:
      left.length === 0
        ? []
        : [`${left.length} other names were left out: ${left.slice(0, 5).join(', ')}${left.length > 5 ? ' …' : ''}`],
  }
}
