import type { Day, FieldValue } from '../../model'
import {
  clip,
  lineFor,
  readDay,
  readEntry,
  remembering,
  tooLongName,
  unquoted,
  type Field,
  type Refusal,
  type Unquoted,
} from '../../notation'
import { addressFault, readInterface, readPrefix } from './addresses'
import { DEVICE_TYPES, entityKinds, PROTOCOLS, relationKinds, VERDICTS } from './kinds'
import { SERVICE_NAMES, unreadPorts } from './ports'
import { readSpeed, speedText } from './speed'

/** What a line of a network states. */
export type LineKind =
  'zone' | 'subnet' | 'site' | 'rack' | 'device' | 'port' | 'cable' | 'traffic' | 'filter' | 'hosts'

/** A fact named in a line: the so-manieth of that name. */
export interface Ref {
  readonly name: string
  readonly nth: number
}

/** A line, read. The same facts have the same line, key by key. */
export interface Typed {
  readonly is: LineKind
  /** Its own name; of a cable the port that it begins at. Empty where none is said. */
  readonly name: Ref
  readonly fields: Readonly<Record<string, FieldValue>>
  readonly refs: Readonly<Record<string, Ref>>
  readonly from?: Day
  readonly to?: Day
}

/** Lines beneath a device say what it has and does; all others stand for themselves. */
export type Within = 'device' | 'elsewhere'
export const BENEATH: ReadonlySet<LineKind> = new Set(['port', 'cable', 'traffic', 'filter', 'hosts'])

export const typed = (
  is: LineKind,
  name: Ref,
  fields: Readonly<Record<string, FieldValue | undefined>>,
  refs: Readonly<Record<string, Ref | undefined>> = {},
  dates: { readonly from?: Day | undefined; readonly to?: Day | undefined } = {},
): Typed => ({
  is,
  name,
  fields: stated(fields),
  refs: stated(refs),
  ...(dates.from === undefined ? {} : { from: dates.from }),
  ...(dates.to === undefined ? {} : { to: dates.to }),
})

const stated = <T>(record: Readonly<Record<string, T | undefined>>): Readonly<Record<string, T>> =>
  Object.fromEntries(
    Object.entries(record)
      .flatMap(([key, value]): [string, T][] => (value === undefined ? [] : [[key, value]]))
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  )

export const named = (name: string, nth = 1): Ref => ({ name, nth })

/** Fields that have their own place in a line; others stand in it as `label: value`. */
const OWN_PLACE: Readonly<Record<LineKind, ReadonlySet<string>>> = {
  zone: new Set(['trust']),
  subnet: new Set(['prefix', 'vlan', 'gateway', 'vrf', 'reserved', 'zone']),
  site: new Set(['latitude', 'longitude']),
  rack: new Set(['units', 'watts', 'site']),
  device: new Set(['type', 'zone', 'addresses', 'critical', 'rack', 'unit']),
  port: new Set(['addresses', 'speed', 'device']),
  cable: new Set(['capacity', 'medium', 'length']),
  traffic: new Set(['direction', 'protocol', 'port', 'load', 'needed']),
  filter: new Set(['verdict', 'protocol', 'port', 'source', 'destination', 'device']),
  hosts: new Set(),
}

const fieldsOf = (kind: LineKind): readonly Field[] =>
  (entityKinds.find(({ id }) => id === kind) ?? relationKinds.find(({ id }) => id === kind))?.fields ?? []
const LABELLED = new Map(
  (Object.keys(OWN_PLACE) as LineKind[]).map((kind) => [
    kind,
    fieldsOf(kind).filter(({ id, hidden }) => !hidden && !OWN_PLACE[kind].has(id)),
  ]),
)

/** The kinds that say in brackets what they are, with the fields that stand there. */
const BRACKETED: Readonly<
  Record<'zone' | 'subnet' | 'site' | 'rack', readonly (readonly [word: string, field: string])[]>
> = {
  zone: [['trust', 'trust']],
  subnet: [
    ['', 'prefix'],
    ['vlan', 'vlan'],
    ['gateway', 'gateway'],
    ['vrf', 'vrf'],
    ['reserved', 'reserved'],
  ],
  site: [
    ['north', 'latitude'],
    ['east', 'longitude'],
  ],
  rack: [
    ['units', 'units'],
    ['watts', 'watts'],
  ],
}
const SITE_FIELDS: readonly Field[] = [
  { id: 'latitude', label: 'Latitude', type: 'number', min: -90, max: 90 },
  { id: 'longitude', label: 'Longitude', type: 'number', min: -180, max: 180 },
]

/** A line as it is read back to the same. */
export const lineOf = remembering(newLine)

function newLine(one: Typed, within: Within): string {
  return lineFor(
    (name) => textFor(one, name),
    (text) => {
      const read = readLine(text, within)
      return !('refused' in read) && JSON.stringify(read) === JSON.stringify(one)
    },
  )
}

function textFor({ is, name, fields, refs, from, to }: Typed, quote: (text: string) => string): string {
  const ref = (one: Ref | undefined) =>
    one === undefined ? '' : `${quote(one.name)}${one.nth > 1 ? ` #${one.nth}` : ''}`
  const own = quote(name.name)
  const parts: string[] = []
  const put = (text: string | undefined) => text !== undefined && text !== '' && parts.push(text)
  const value = (field: string) => fields[field]
  const texts = (field: string) => (Array.isArray(value(field)) ? (value(field) as readonly string[]) : [])
  switch (is) {
    case 'zone':
    case 'subnet':
    case 'site':
    case 'rack': {
      const said = BRACKETED[is].flatMap(([word, field]) => {
        const one = value(field)
        if (one === undefined) return []
        const text = Array.isArray(one) ? one.map((part) => String(part).replace(/\s/g, '')).join(' ') : String(one)
        return [`${word}${word && ' '}${field === 'vrf' ? quote(text) : text}`]
      })
      const [first, ...more] = said
      const head = is === 'subnet' && first !== undefined ? `subnet ${first}` : [is, first].filter(Boolean).join(', ')
      put(is === 'subnet' && name.name === value('prefix') ? '' : own)
      put(`(${[head, ...more].join(', ')})`)
      put(refs['site'] && `at ${ref(refs['site'])}`)
      break
    }
    case 'device':
      put(own)
      put(value('type') as string | undefined)
      put(texts('addresses').join(', '))
      put(value('critical') === true ? 'critical' : '')
      put(refs['site'] && `at ${ref(refs['site'])}`)
      put(refs['rack'] && `in ${ref(refs['rack'])}${value('unit') === undefined ? '' : ` u ${String(value('unit'))}`}`)
      break
    case 'port':
      put(`port ${own}`)
      put(texts('addresses').join(', '))
      put(speedPart(value('speed')))
      break
    case 'cable':
      put(`${ref(name)} to ${ref(refs['device'])} ${ref(refs['port'])}`)
      put(speedPart(value('capacity')))
      put(value('medium') as string | undefined)
      put(value('length') === undefined ? '' : `${String(value('length'))} m`)
      break
    case 'traffic':
      put(`flow to ${ref(refs['device'])}`)
      put([value('protocol'), value('port')].filter((one) => one !== undefined).join(' '))
      put(value('load') === undefined ? '' : `${String(value('load'))} Mbit/s`)
      put(value('needed') === true ? 'needed' : '')
      put(value('direction') as string | undefined)
      break
    case 'filter':
      put(
        `${String(value('verdict') ?? 'deny')} ${[value('protocol') ?? 'any', value('port')].filter((one) => one !== undefined).join(' ')} from ${ref(refs['source']) || 'any'} to ${ref(refs['destination']) || 'any'}`,
      )
      put(name.name === '' ? '' : `called: ${own}`)
      break
    case 'hosts':
      put(`hosts ${ref(refs['system'])}`)
      break
  }
  for (const field of LABELLED.get(is) ?? []) {
    const one = value(field.id)
    if (one === undefined) continue
    const text = Array.isArray(one) ? one.join(', ') : one === true ? 'yes' : String(one)
    put(`${field.label.toLowerCase()}: ${field.type === 'text' ? quote(text) : text}`)
  }
  put(from && `since ${from}`)
  put(to && `until ${to}`)
  return parts.join('  ')
}

const speedPart = (speed: FieldValue | undefined): string => (typeof speed === 'number' ? speedText(speed) : '')

/** Reads a line; what it says that cannot be understood is named. */
export function readLine(line: string, within: Within): Typed | Refusal {
  const said = unquoted(line)
  const parts = said.text
    .trim()
    .split(/\s{2,}|\t+/)
    .filter(Boolean)
  const bracket = parts.findIndex((part) => /^\((zone|subnet|site|rack)\b.*\)$/i.test(part))
  const read =
    bracket >= 0
      ? bracketed(parts.slice(0, bracket), parts[bracket] ?? '', parts.slice(bracket + 1), said)
      : (beneath(parts, said, within) ?? device(parts, said, within))
  if ('refused' in read) return read
  return tooLongName(read.name.name) ?? read
}

/** Collects what the parts of a line say; the first that says nothing is named. */
class Parts {
  readonly fields: Record<string, FieldValue | undefined> = {}
  readonly refs: Record<string, Ref | undefined> = {}
  readonly dates: { from?: Day; to?: Day } = {}
  refused: string | undefined

  constructor(
    private readonly is: LineKind,
    private readonly said: Unquoted,
  ) {}

  refuse(why: string): true {
    this.refused ??= why
    return true
  }

  field(field: Pick<Field, 'id' | 'label' | 'type' | 'choices' | 'min' | 'max'>, text: string): true {
    const words = field.type === 'text' ? this.said.plain(text) : text
    const entry = readEntry(field, words)
    if ('refused' in entry) return this.refuse(entry.refused)
    // What stood in quotation marks is kept to its last space.
    if (entry.value !== null) this.fields[field.id] = field.type === 'text' ? words : (entry.value as FieldValue)
    return true
  }

  own(id: string, text: string): true {
    const field = fieldsOf(this.is).find((one) => one.id === id) ?? SITE_FIELDS.find((one) => one.id === id)
    return field ? this.field(field, text) : this.refuse(`There is no “${id}” here.`)
  }

  /** What any line may say: `since`, `until`, `label: value`. */
  common(part: string): boolean {
    const [, word, date] = /^(since|until)\s+(.+)$/i.exec(part) ?? []
    if (word !== undefined && date !== undefined) {
      const day = readDay(date)
      if (!day) return this.refuse(`“${clip(date)}” is not a day. Write it as 2026-11-24.`)
      this.dates[word.toLowerCase() === 'since' ? 'from' : 'to'] = day
      return true
    }
    const [, label, value] = /^([^:]+):\s*(.*)$/.exec(part) ?? []
    const field = LABELLED.get(this.is)?.find((one) => one.label.toLowerCase() === label?.toLowerCase())
    return field !== undefined && value !== undefined && this.field(field, value)
  }

  done(name: Ref): Typed | Refusal {
    if (this.refused !== undefined) return { refused: this.refused }
    return typed(this.is, name, this.fields, this.refs, this.dates)
  }

  ref = (text: string): Ref => refIn(text, this.said)
}

function refIn(text: string, said: Unquoted): Ref {
  const [, name = text, nth] = /^(.+?) #([2-9]|[1-9]\d{1,3})$/.exec(text.trim()) ?? []
  return { name: said.plain(name.trim()), nth: nth === undefined ? 1 : Number(nth) }
}

const addressesIn = (part: string): string[] | undefined => {
  const list = part.split(/\s*[,;]\s*/).filter(Boolean)
  return list.length > 0 && list.every((one) => /^[\da-f:.]*[.:][\da-f:.]*(?:\/\d+)?$/i.test(one)) ? list : undefined
}

/** Addresses in a line, each readable. */
function putAddresses(parts: Parts, list: readonly string[]): true {
  const wrong = list.find((one) => !readInterface(one))
  if (wrong !== undefined) return parts.refuse(`“${clip(wrong)}”: ${addressFault(wrong)}.`)
  parts.fields['addresses'] = [...((parts.fields['addresses'] as readonly string[] | undefined) ?? []), ...list]
  return true
}

const notUnderstood = (part: string, said: Unquoted, of: string): string =>
  `“${clip(said.plain(part))}” is not understood in a line of a ${of}.`

/** `Edge  (zone, trust low)`, `Office  (subnet 10.20.0.0/24, vlan 20, gateway 10.20.0.1)`, `A1  (rack, units 42)`. */
function bracketed(
  before: readonly string[],
  bracket: string,
  after: readonly string[],
  said: Unquoted,
): Typed | Refusal {
  const inner = bracket.slice(1, -1)
  const [, word = '', rest = ''] = /^(zone|subnet|site|rack)\b\s*,?\s*(.*)$/i.exec(inner) ?? []
  const is = word.toLowerCase() as keyof typeof BRACKETED
  const parts = new Parts(is, said)
  for (const detail of rest.split(/\s*,\s*/).filter(Boolean)) {
    const found = BRACKETED[is].find(([key]) => key !== '' && new RegExp(`^${key}\\s`, 'i').test(detail))
    const [key, field] = found ?? BRACKETED[is].find(([one]) => one === '') ?? []
    if (key === undefined || field === undefined || (key === '' && parts.fields['prefix'] !== undefined)) {
      parts.refuse(notUnderstood(detail, said, is))
      continue
    }
    const text = detail.slice(key.length).trim()
    if (field === 'prefix' && !readPrefix(text)) parts.refuse(`“${clip(text)}”: ${addressFault(text)}.`)
    else if (field === 'reserved') parts.fields['reserved'] = text.split(/\s+/).filter(Boolean)
    else parts.own(field, text)
  }
  for (const part of after) {
    const [, site] = /^at\s+(.+)$/i.exec(part) ?? []
    if (site !== undefined && is === 'rack') parts.refs['site'] = parts.ref(site)
    else if (!parts.common(part)) parts.refuse(notUnderstood(part, said, is))
  }
  if (is === 'subnet' && parts.fields['prefix'] === undefined)
    parts.refuse('A subnet says its prefix: (subnet 10.20.0.0/24).')
  const prefix = parts.fields['prefix']
  const name = said.plain(before.join('  ')) || (typeof prefix === 'string' ? prefix : '')
  if (name === '') parts.refuse(`A ${is} needs a name before its brackets.`)
  return parts.done(named(name))
}

/** A port as it is typed, readable or not: what looks like one is refused where it is none. */
const PORT = String.raw`(?:\d+(?:\s*-\s*\d*)?|${SERVICE_NAMES.join('|')})`
const PORTS = String.raw`${PORT}(?:\s*,\s*${PORT})*`
const SENT = new RegExp(`^(${PROTOCOLS.join('|')})(?:\\s+(${PORTS}))?$`, 'i')
/** A part of what a rule says of ports, readable or not. */
const SAID = String.raw`[^\s,;]+(?:\s-\s[^\s,;]+)?`
const FILTER = new RegExp(
  `^(${VERDICTS.join('|')})\\s+(${PROTOCOLS.join('|')})(?:\\s+(?!from\\s)(${SAID}(?:\\s*[,;]\\s*${SAID})*))?\\s+from\\s+(.+?)\\s+to\\s+(.+)$`,
  'i',
)

/** Lines that stand beneath a device; undefined for what is none of them. */
function beneath(all: readonly string[], said: Unquoted, within: Within): Typed | Refusal | undefined {
  const [head = '', ...more] = all
  const filter = FILTER.exec(head)
  if (
    filter &&
    (within === 'device' || more.length === 0 || more.every((part) => /^(called:|since |until )/i.test(part)))
  )
    return filterLine(filter, more, said)
  if (within !== 'device') return undefined
  const port = /^port\s+(.+)$/i.exec(head)
  if (port) return portLine(port[1] ?? '', more, said)
  const flow = /^flow\s+to\s+(\S+(?:\s#\d+)?)((?:\s.*)?)$/i.exec(head)
  if (flow) return flowLine(flow[1] ?? '', [...loose(flow[2] ?? ''), ...more], said)
  const hosts = /^hosts\s+(.+)$/i.exec(head)
  if (hosts) {
    const parts = new Parts('hosts', said)
    parts.refs['system'] = parts.ref(hosts[1] ?? '')
    for (const part of more) if (!parts.common(part)) parts.refuse(notUnderstood(part, said, 'system that is hosted'))
    return parts.done(named(''))
  }
  const cable = /^(\S.*?)\s+to\s+(\S+(?:\s#\d+)?)\s+(.+)$/i.exec(head)
  return cable
    ? cableLine([cable[1] ?? '', cable[2] ?? '', cable[3] ?? ''], more, said)
    : {
        refused: `“${clip(said.plain(head))}” is not understood beneath a device: write “lan1 to sw-core-1 p1”, “flow to tick-app-1”, “allow tcp 443 from Edge to any”, “port lan1” or “hosts Booking service”.`,
      }
}

function filterLine(
  [, verdict = '', protocol = '', port, from = '', to = '']: RegExpExecArray,
  more: readonly string[],
  said: Unquoted,
): Typed | Refusal {
  const parts = new Parts('filter', said)
  parts.fields['verdict'] = verdict.toLowerCase()
  if (protocol.toLowerCase() !== 'any') parts.fields['protocol'] = protocol.toLowerCase()
  if (port !== undefined) {
    const unread = unreadPorts(port)
    if (unread) return { refused: unread }
    parts.fields['port'] = portText(port)
  }
  const end = (text: string) => (/^any$/i.test(text.trim()) ? undefined : parts.ref(text))
  parts.refs['source'] = end(from)
  parts.refs['destination'] = end(to)
  let name = ''
  for (const part of more) {
    const [, called] = /^called:\s*(.+)$/i.exec(part) ?? []
    if (called !== undefined) name = said.plain(called)
    else if (!parts.common(part)) parts.refuse(notUnderstood(part, said, 'rule'))
  }
  return parts.done(named(name))
}

function portLine(name: string, more: readonly string[], said: Unquoted): Typed | Refusal {
  const parts = new Parts('port', said)
  const [own = '', ...rest] = [name, ...more]
  for (const part of rest) {
    const addresses = addressesIn(part)
    const speed = readSpeed(part)
    if (addresses) putAddresses(parts, addresses)
    else if (speed !== undefined) parts.fields['speed'] = speed
    else if (!parts.common(part)) parts.refuse(notUnderstood(part, said, 'port'))
  }
  return parts.done(named(said.plain(own)))
}

function flowLine(to: string, more: readonly string[], said: Unquoted): Typed | Refusal {
  const parts = new Parts('traffic', said)
  parts.refs['device'] = parts.ref(to)
  for (const part of more) {
    const sent = SENT.exec(part)
    const [, load] = /^(\d+(?:[.,]\d+)?)\s*Mbit\/s$/i.exec(part) ?? []
    const speed = readSpeed(part)
    if (sent) {
      parts.own('protocol', sent[1] ?? '')
      const unread = unreadPorts(sent[2] ?? '')
      if (unread) parts.refuse(unread)
      else if (sent[2] !== undefined) parts.fields['port'] = portText(sent[2])
    } else if (load !== undefined) parts.own('load', load)
    else if (speed !== undefined) parts.fields['load'] = speed
    else if (/^needed$/i.test(part)) parts.fields['needed'] = true
    else if (/^(one way|with answers|both ways)$/i.test(part)) parts.own('direction', part)
    else if (!parts.common(part)) parts.refuse(notUnderstood(part, said, 'flow'))
  }
  return parts.done(named(''))
}

function cableLine(
  [from, device, to]: readonly [string, string, string],
  more: readonly string[],
  said: Unquoted,
): Typed | Refusal {
  const parts = new Parts('cable', said)
  parts.refs['device'] = parts.ref(device)
  parts.refs['port'] = parts.ref(to)
  for (const part of more) {
    const speed = readSpeed(part)
    const [, metres] = /^(\d+(?:[.,]\d+)?)\s*m$/.exec(part) ?? []
    if (metres !== undefined) parts.own('length', metres)
    else if (speed !== undefined) parts.fields['capacity'] = speed
    else if (fieldsOf('cable').some(({ id, choices }) => id === 'medium' && choices?.includes(part.toLowerCase())))
      parts.own('medium', part)
    else if (!parts.common(part)) parts.refuse(notUnderstood(part, said, 'cable'))
  }
  return parts.done(parts.ref(from))
}

const TYPE_WORDS: ReadonlySet<string> = new Set(DEVICE_TYPES)

/** What stands with single spaces behind a name is still found where it cannot be part of it. */
function loose(text: string): string[] {
  let rest = text.trim()
  const found: string[] = []
  for (;;) {
    const [, before, part] =
      /^(.*?)\s*((?<=^|\s)(?:\d+(?:[.,]\d+)?\s?Mbit\/s|needed|both ways|with answers|one way))$/i.exec(rest) ??
      new RegExp(`^(.*?)\\s*((?<=^|\\s)(?:${PROTOCOLS.join('|')})(?:\\s+${PORTS})?)$`, 'i').exec(rest) ??
      []
    if (before === undefined || part === undefined) break
    found.unshift(part)
    rest = before
  }
  return rest === '' ? found : [rest, ...found]
}

/** `fw-quay-1  firewall  10.20.0.1/24  critical  at Marram Quay  in A1 u 22`. */
function device(all: readonly string[], said: Unquoted, within: Within): Typed | Refusal {
  const parts = new Parts('device', said)
  const [first = '', ...more] = all
  const [name, ...peeled] = within === 'elsewhere' ? peel(first) : [first]
  for (const part of [...peeled, ...more]) {
    const addresses = addressesIn(part)
    const [, site] = /^at\s+(.+)$/i.exec(part) ?? []
    const [, rack, unit] = /^in\s+(.+?)(?:\s+u\s*(\d{1,3}))?$/i.exec(part) ?? []
    if (TYPE_WORDS.has(part.toLowerCase())) parts.own('type', part)
    else if (addresses) putAddresses(parts, addresses)
    else if (/^critical$/i.test(part)) parts.fields['critical'] = true
    else if (site !== undefined) parts.refs['site'] = parts.ref(site)
    else if (rack !== undefined) {
      parts.refs['rack'] = parts.ref(rack)
      if (unit !== undefined) parts.own('unit', unit)
    } else if (!parts.common(part)) parts.refuse(notUnderstood(part, said, 'device'))
  }
  const own = said.plain(name ?? '')
  if (own === '') parts.refuse('A line needs a name.')
  return parts.done(named(own))
}

/** A name, and what follows it with single spaces only: a type, addresses, `critical`; an address may stand before it, as in a hosts file. */
function peel(text: string): string[] {
  const [, before, named] = /^([\da-f:.]*[.:][\da-f:.]*(?:\/\d+)?)\s+(\S+)$/i.exec(text) ?? []
  if (before !== undefined && named !== undefined && readInterface(before) && !readInterface(named))
    return [named, before]
  let name = text
  const found: string[] = []
  for (;;) {
    const [, before, part] =
      new RegExp(`^(.+?)\\s+(${DEVICE_TYPES.join('|')}|critical)$`, 'i').exec(name) ??
      /^(.+?)\s+([\da-f:.]*[.:][\da-f:.]*(?:\/\d+)?)$/i.exec(name) ??
      []
    if (before === undefined || part === undefined) break
    name = before
    found.unshift(part)
  }
  return [name, ...found]
}

/** Port numbers, tidily: `80, 443, 1000-2000`. */
export const portText = (text: string): string =>
  text
    .replace(/\s*-\s*/g, '-')
    .split(/\s*,\s*/)
    .filter(Boolean)
    .join(', ')
