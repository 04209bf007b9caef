import type { Day, Id, Model, View } from '../../../model'
import type { FileExport, Refusal, Table, TableReader } from '../../../notation'
import { heldPosts, structureOn, unitName } from '../structure'

/** LDAP Data Interchange Format (RFC 2849): entries, and change records that add one. */
export const ldif: TableReader = {
  id: 'ldif',
  title: 'LDIF',
  extensions: ['.ldif', '.ldf'],
  read: (text) => {
    const records = readLdif(text)
    return 'refused' in records ? records : asTable(records)
  },
}

export interface LdifRecord {
  readonly dn: string
  /** The line on which it begins, from 1. */
  readonly line: number
  /** Absent for a plain entry. */
  readonly changetype: string | undefined
  /** Attribute names in lower case without options, each with its values; values given by address are left out. */
  readonly attributes: ReadonlyMap<string, readonly string[]>
}

interface Line {
  readonly number: number
  readonly text: string
}

/** The records of an LDIF text: folded lines joined, base64 values decoded as UTF-8, comments left out. O(length). */
export function readLdif(text: string): LdifRecord[] | Refusal {
  const records: LdifRecord[] = []
  for (const block of blocksOf(unfolded(text))) {
    const [first] = block
    if (!first) continue
    if (/^version\s*:/i.test(first.text)) {
      if (!/^version\s*:\s*1\s*$/i.test(first.text))
        return { refused: `Line ${first.number}: only LDIF version 1 is read, not “${first.text.slice(0, 40)}”.` }
      block.shift()
      if (block.length === 0) continue
    }
    const record = recordOf(block)
    if ('refused' in record) return record
    records.push(record)
  }
  if (records.length === 0) return { refused: 'There is no entry in this LDIF file.' }
  return records
}

/** Lines without comments, each joined with those that begin with a space after it. */
function unfolded(text: string): Line[] {
  const lines: { number: number; text: string }[] = []
  text
    .replace(/^\ufeff/, '')
    .split(/\r\n|\n|\r/)
    .forEach((raw, index) => {
      const last = lines.at(-1)
      if (raw.startsWith(' ') && last && last.text !== '') last.text += raw.slice(1)
      else lines.push({ number: index + 1, text: raw })
    })
  return lines.filter((line) => !line.text.startsWith('#'))
}

function blocksOf(lines: readonly Line[]): Line[][] {
  const blocks: Line[][] = [[]]
  for (const line of lines) {
    if (line.text.trim() === '') blocks.push([])
    else blocks.at(-1)?.push(line)
  }
  return blocks.filter((block) => block.length > 0)
}

function recordOf(block: readonly Line[]): LdifRecord | Refusal {
  const attributes = new Map<string, string[]>()
  let dn: string | undefined
  let changetype: string | undefined
  for (const { number, text } of block) {
    // The dash ends one modification of a change record.
    if (text === '-') continue
    const read = valueOf(number, text)
    if ('refused' in read) return read
    const { name, value } = read
    if (value === undefined || name === 'control') continue
    if (dn === undefined) {
      if (name !== 'dn') return { refused: `Line ${number}: an entry begins with “dn:”, not “${name}:”.` }
      dn = value
    } else if (name === 'changetype') changetype = value.toLowerCase()
    else attributes.set(name, [...(attributes.get(name) ?? []), value])
  }
  const line = block[0]?.number ?? 0
  if (dn === undefined) return { refused: `Line ${line}: this entry has no “dn:”.` }
  return { dn, line, changetype, attributes }
}

function valueOf(number: number, text: string): { name: string; value: string | undefined } | Refusal {
  const parts = /^([A-Za-z0-9.-]+)((?:;[A-Za-z0-9-]+)*):(:|<)?\s*(.*)$/s.exec(text)
  if (!parts) return { refused: `Line ${number} is not “attribute: value”: “${text.slice(0, 60)}”.` }
  const [, name = '', , sort, raw = ''] = parts
  const known = name.toLowerCase()
  if (sort === '<') return { name: known, value: undefined }
  if (sort !== ':') return { name: known, value: raw }
  const value = fromBase64(raw)
  return value === undefined
    ? { refused: `Line ${number}: this is not base64: “${raw.slice(0, 40)}”.` }
    : { name: known, value }
}

function fromBase64(text: string): string | undefined {
  try {
    return new TextDecoder().decode(Uint8Array.from(atob(text.trim()), (letter) => letter.charCodeAt(0)))
  } catch {
    // `atob` says no more than that it is not base64; the caller names the line.
    return undefined
  }
}

const PERSONS = new Set(['person', 'organizationalperson', 'inetorgperson'])
const HEADING = ['Id', 'Name', 'Title', 'Manager id', 'Unit', 'Email', 'Location']

function asTable(records: readonly LdifRecord[]): Table | Refusal {
  const others = records.filter(({ changetype }) => changetype !== undefined && changetype !== 'add')
  const entries = records.filter(({ changetype }) => changetype === undefined || changetype === 'add')
  const people = entries.filter(({ attributes }) =>
    (attributes.get('objectclass') ?? []).some((name) => PERSONS.has(name.toLowerCase())),
  )
  if (people.length === 0)
    return { refused: `Of ${records.length} records none is a person (object class person or inetOrgPerson).` }
  const ids = new Map(people.map((record) => [normalised(record.dn), idOf(record)]))
  const one = ({ attributes }: LdifRecord, ...names: readonly string[]): string => {
    for (const name of names) {
      const [value] = attributes.get(name) ?? []
      if (value !== undefined && value.trim() !== '') return value.trim()
    }
    return ''
  }
  const rows = people.map((record) => {
    const manager = one(record, 'manager')
    return [
      idOf(record),
      one(record, 'displayname', 'cn'),
      one(record, 'title'),
      manager === '' ? '' : (ids.get(normalised(manager)) ?? manager),
      one(record, 'ou', 'departmentnumber'),
      one(record, 'mail'),
      one(record, 'l', 'physicaldeliveryofficename'),
    ]
  })
  const left = entries.length - people.length
  return {
    heading: HEADING,
    rows,
    notes: [
      ...(left > 0 ? [`${left} entries are no persons and are left out.`] : []),
      ...(others.length > 0
        ? [
            `${others.length} records change, rename or delete an entry and are left out; only whole entries are read (line ${others[0]?.line}).`,
          ]
        : []),
    ],
  }
}

const idOf = ({ dn, attributes }: LdifRecord): string =>
  attributes.get('uid')?.[0] ?? attributes.get('employeenumber')?.[0] ?? normalised(dn)

/** A distinguished name for comparing: case and spaces around its separators do not count (RFC 4518, in the main). */
const normalised = (dn: string): string =>
  dn
    .toLowerCase()
    .replace(/\s*([,=+])\s*/g, '$1')
    .trim()

/** Every holder of a position as an inetOrgPerson (RFC 2798), the position's identity as `uid`. O(positions). */
export const ldifExport = {
  id: 'ldif',
  title: 'LDIF',
  extension: '.ldif',
  mediaType: 'text/plain',
  write: writeLdif,
} satisfies FileExport

function writeLdif(model: Model, _view: View, day: Day): string {
  const structure = structureOn(model, day)
  const base = `o=${escaped(model.name)}`
  const dnOf = (id: Id) => `uid=${escaped(id)},${base}`
  const entries = heldPosts(structure).map(({ id, post, person, above }) => {
    const words = person.name.trim().split(/\s+/)
    const lines: [string, unknown][] = [
      ['dn', dnOf(id)],
      ['objectClass', 'top'],
      ['objectClass', 'person'],
      ['objectClass', 'organizationalPerson'],
      ['objectClass', 'inetOrgPerson'],
      ['uid', id],
      ['cn', person.name],
      ['sn', words.at(-1)],
      ['givenName', words.length > 1 ? words.slice(0, -1).join(' ') : undefined],
      ['title', post.position.name],
      ['ou', unitName(model, post.position)],
      ['mail', person.fields['email']],
      ['l', post.position.fields['location']],
      ['manager', above === undefined ? undefined : dnOf(above)],
    ]
    return lines
      .flatMap(([name, value]) => (typeof value === 'string' && value !== '' ? [ldifLine(name, value)] : []))
      .join('\n')
  })
  return `version: 1\n\n${entries.join('\n\n')}\n`
}

/** Characters that have a meaning in a distinguished name, escaped (RFC 4514, section 2.4). */
const escaped = (text: string): string =>
  text
    .replace(/[\\",+;<>=]/g, '\\$&')
    .replace(/^[ #]/, '\\$&')
    .replace(/ $/, '\\ ')

const SAFE = /^(?![ :<])[\x01-\x09\x0b\x0c\x0e-\x7f]*(?<! )$/
const FOLD = 76

/** One attribute, in base64 where it is no safe string, folded at 76 characters. */
function ldifLine(name: string, value: string): string {
  const line = SAFE.test(value) ? `${name}: ${value}` : `${name}:: ${toBase64(value)}`
  const parts = [line.slice(0, FOLD)]
  for (let at = FOLD; at < line.length; at += FOLD - 1) parts.push(` ${line.slice(at, at + FOLD - 1)}`)
  return parts.join('\n')
}

const toBase64 = (text: string): string => {
  let binary = ''
  for (const byte of new TextEncoder().encode(text)) binary += String.fromCharCode(byte)
  return btoa(binary)
}
