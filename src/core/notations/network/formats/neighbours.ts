import { parseJson, type Step } from '../../../model'
import { addEntity, LIMITS, setField, type Refusal, type Table, type TableReader, type Wish } from '../../../notation'
import { inNet, netFor, netIn } from '../edits'
import { pairWords, tableFor } from '../seen'
import type { ToldCable } from './bring'

/** What is put before what comes from the devices of the network. */
export const NEIGHBOURS = 'net-'

/** Neighbour tables as devices tell them, in the names of the objects of IEEE 802.1AB, clause 11, read as a table of cables: each once, though both ends tell of it. */
export const neighbourReader: TableReader = {
  id: 'neighbours',
  title: 'Neighbour tables (IEEE 802.1AB)',
  extensions: ['.lldp'],
  asked: 'network',
  read,
}

type Json = Readonly<Record<string, unknown>>
const isRecord = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value)
const textIn = (json: Json, ...names: readonly string[]): string =>
  names
    .map((name) => json[name])
    .find((one): one is string => typeof one === 'string' && one.trim() !== '')
    ?.trim()
    .slice(0, LIMITS.name) ?? ''

function read(text: string): Table | Refusal {
  let json: unknown
  try {
    json = parseJson(text)
  } catch (error) {
    return { refused: `This is not JSON: ${error instanceof Error ? error.message : String(error)}` }
  }
  const systems = isRecord(json) ? json['lldpSystems'] : undefined
  if (!Array.isArray(systems)) return { refused: 'There are no neighbour tables here: no “lldpSystems”.' }
  const rows = new Map<string, string[]>()
  for (const [at, system] of (systems as unknown[]).entries()) {
    if (!isRecord(system)) return { refused: `lldpSystems[${at}] is no object.` }
    const own = textIn(system, 'lldpLocSysName', 'lldpLocChassisId')
    if (own === '') return { refused: `lldpSystems[${at}] has neither “lldpLocSysName” nor “lldpLocChassisId”.` }
    const table = system['lldpRemTable'] ?? []
    if (!Array.isArray(table)) return { refused: `lldpSystems[${at}].lldpRemTable is no list.` }
    for (const [row, one] of (table as unknown[]).entries()) {
      const neighbour = isRecord(one) ? one : {}
      const [port, device, other] = [
        textIn(neighbour, 'lldpLocPortId'),
        textIn(neighbour, 'lldpRemSysName', 'lldpRemChassisId'),
        textIn(neighbour, 'lldpRemPortId'),
      ]
      if (port === '' || device === '' || other === '')
        return { refused: `lldpSystems[${at}].lldpRemTable[${row}] lacks a port or a neighbour.` }
      const key = pairWords({ device: own, port }, { device, port: other }).toLowerCase()
      if (!rows.has(key)) rows.set(key, [own, port, device, other])
    }
  }
  return rows.size === 0
    ? { refused: 'Nobody tells of a neighbour.' }
    : { heading: ['From', 'From port', 'To', 'To port'], rows: [...rows.values()] }
}

/** Keeps what was seen, in the place of what was seen before. */
export function seenSteps(wish: Wish, told: readonly ToldCable[]): Step[] {
  const seen = told.map(({ a, b }) => pairWords(a, b)).sort()
  const known = tableFor(wish.model, netIn(wish).id)
  if (JSON.stringify(known?.fields['seen']) === JSON.stringify(seen)) return []
  if (known) return [setField(known.id, 'seen', seen)]
  const fields = { seen, ...inNet(netFor(wish).id) }
  return [addEntity({ id: wish.newId(), kind: 'neighbours', name: 'What the network shows', fields })]
}
