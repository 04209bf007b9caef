import type { Day, FieldValue } from '../../model'
import {
  clip,
  lineFor,
  readDay,
  remembering,
  tooLongName,
  unbulleted,
  unquoted,
  type Refusal,
  type Unquoted,
} from '../../notation'
import { CLASS_FORMS } from './kinds'
import { memberText, readMember, type AttributeText, type OperationText } from './syntax/members'
import { readMultiplicity } from './syntax/multiplicity'
import { isFault, parted } from './syntax/scan'
import { unreadType } from './syntax/sqlType'
import { datesText, refIn, refText, typedFields, withoutDates, type Ref } from './typed'

/** What a line of a class model states. */
export type LineKind =
  | 'package'
  | 'class'
  | 'attribute'
  | 'operation'
  | 'literal'
  | 'association'
  | 'generalization'
  | 'realization'
  | 'dependency'

/** A line, read. The same facts have the same line, key by key. */
export interface Typed {
  readonly is: LineKind
  /** Its own name; empty for a tie. */
  readonly name: string
  readonly fields: Readonly<Record<string, FieldValue>>
  /** What a tie leads to. */
  readonly target?: Ref
  readonly from?: Day
  readonly to?: Day
}

/** Beneath a class a line says what it has, does and is tied to; beneath an enumeration a word is a literal. */
export type Within = 'class' | 'enumeration' | 'package' | 'elsewhere'

export const TIES: ReadonlySet<LineKind> = new Set(['association', 'generalization', 'realization', 'dependency'])
export const MEMBERS: ReadonlySet<LineKind> = new Set(['attribute', 'operation', 'literal'])

export const typed = (
  is: LineKind,
  name: string,
  fields: Readonly<Record<string, FieldValue | undefined>>,
  target?: Ref,
  dates: { readonly from?: Day | undefined; readonly to?: Day | undefined } = {},
): Typed => ({
  is,
  name,
  fields: typedFields(fields),
  ...(target ? { target } : {}),
  ...(dates.from === undefined ? {} : { from: dates.from }),
  ...(dates.to === undefined ? {} : { to: dates.to }),
})

/** Reads a line; what it says that cannot be understood is named. */
export function readLine(line: string, within: Within): Typed | Refusal {
  if (within === 'class' || within === 'enumeration') {
    const tie = readTie(line)
    if (tie) return tie
    return readMemberLine(line, within)
  }
  const tie = within === 'package' ? readTie(line, ['uses', 'depends on']) : undefined
  return tie ?? readHolder(line)
}

/** `Ticket  (class, abstract)  table: ticket`, `booking  (package)`. */
function readHolder(line: string): Typed | Refusal {
  const said = unquoted(line)
  const [first = '', ...parts] = said.text
    .trim()
    .split(/\s{2,}|\t+/)
    .filter(Boolean)
  const [, head = first, inner] = /^(.*?)\s*\(([^()]*)\)$/.exec(first) ?? []
  const name = said.plain(head.trim())
  if (inner !== undefined) parts.unshift(`(${inner})`)
  if (name.trim() === '') return { refused: 'A name is missing.' }
  const fields: Record<string, FieldValue> = {}
  const stereotypes: string[] = []
  const dates: { from?: Day; to?: Day } = {}
  let isPackage = false
  for (const part of parts) {
    const [, bracket] = /^\((.*)\)$/.exec(part) ?? []
    if (bracket !== undefined) {
      for (const raw of parted(bracket)) {
        const word = raw.toLowerCase()
        const form = CLASS_FORMS.find((one) => one === word)
        const [, stereotype] = /^«(.+)»$/.exec(said.plain(raw)) ?? []
        if (word === 'package') isPackage = true
        else if (form) fields['form'] = form
        else if (word === 'abstract') fields['abstract'] = true
        else if (word === 'final') fields['leaf'] = true
        else if (stereotype !== undefined) stereotypes.push(stereotype)
        else
          return {
            refused: `“${clip(said.plain(raw))}” is no sort of class: write ${CLASS_FORMS.join(', ')}, abstract, final or «a stereotype».`,
          }
      }
      continue
    }
    const refused = readCommon(part, said, dates, fields, CLASS_LABELS)
    if (refused) return refused
  }
  if (stereotypes.length > 0) fields['stereotypes'] = stereotypes
  if (isPackage && Object.keys(fields).length > 0)
    return { refused: 'A package is neither abstract nor a sort of class.' }
  // A class is one unless it says otherwise.
  if (fields['form'] === 'class') delete fields['form']
  return tooLongName(name) ?? typed(isPackage ? 'package' : 'class', name, fields, undefined, dates)
}

const CLASS_LABELS = ['table', 'key column', 'system']
/** What is said of a field by a label of several words. */
const FIELD_OF: Readonly<Record<string, string>> = { 'key column': 'key', 'kept as': 'keptAs' }

/** `since`, `until` and `label: value`, which many lines may say. */
function readCommon(
  part: string,
  said: Unquoted,
  dates: { from?: Day; to?: Day },
  fields: Record<string, FieldValue>,
  labels: readonly string[],
): Refusal | undefined {
  const [, word, date] = /^(since|until)\s+(.+)$/i.exec(part) ?? []
  if (word !== undefined && date !== undefined) {
    const day = readDay(date)
    if (!day) return { refused: `“${clip(date)}” is not a day. Write it as 2026-11-24.` }
    dates[word.toLowerCase() === 'since' ? 'from' : 'to'] = day
    return undefined
  }
  const [, label = '', value] = /^([^:]+):\s*(.+)$/.exec(part) ?? []
  const field = labels.find((one) => one === label.toLowerCase())
  if (field === undefined || value === undefined)
    return { refused: `“${clip(said.plain(part))}” is not understood here.` }
  fields[FIELD_OF[field] ?? field] = said.plain(value)
  return undefined
}

/** What an association is called in words, by its aggregation: a plain one that leads there, one that does not say so, a whole that shares its parts, and one that owns them. */
const VERBS = [
  ['has', undefined],
  ['knows', undefined],
  ['shares', 'shared'],
  ['owns', 'composite'],
] as const
const OTHER_VERBS = ['is an', 'is a', 'realises', 'realizes', 'uses', 'depends on'] as const

/** `has 1..* Leg as legs  each 1 as ticket`, `is a Document`, `realises Refundable`, `uses Clock`; undefined for what begins in none of these ways. */
function readTie(
  line: string,
  only: readonly string[] = [...VERBS.map(([verb]) => verb), ...OTHER_VERBS],
): Typed | Refusal | undefined {
  const said = unquoted(line)
  const [first = '', ...parts] = said.text
    .trim()
    .split(/\s{2,}|\t+/)
    .filter(Boolean)
  const verb = only.find((one) => new RegExp(`^${one}\\s`, 'i').test(`${first} `))
  if (verb === undefined) return undefined
  const rest = first.slice(verb.length).trim()
  const dates: { from?: Day; to?: Day } = {}
  const fields: Record<string, FieldValue> = {}
  const association = VERBS.find(([one]) => one === verb)
  if (association) {
    const far = readEnd(rest, said, 'target', fields, true)
    if (typeof far === 'object' && 'refused' in far) return far
    if (association[1]) fields['aggregation'] = association[1]
    if (verb !== 'knows') fields['targetNavigable'] = 'yes'
    for (const part of parts) {
      const [, near] = /^each\s+(.+)$/i.exec(part) ?? []
      if (near !== undefined) {
        const read = readEnd(near, said, 'source', fields, false)
        if (typeof read === 'object' && 'refused' in read) return read
      } else if (/^both ways$/i.test(part)) fields['sourceNavigable'] = 'yes'
      else if (/^not back$/i.test(part)) fields['sourceNavigable'] = 'no'
      else if (/^not onwards$/i.test(part)) fields['targetNavigable'] = 'no'
      else if (/^no arrow$/i.test(part)) delete fields['targetNavigable']
      else {
        const refused = readCommon(part, said, dates, fields, ['name', 'column', 'table'])
        if (refused) return refused
      }
    }
    if (fields['name'] !== undefined) {
      fields['label'] = fields['name']
      delete fields['name']
    }
    return typed('association', '', fields, far, dates)
  }
  for (const part of parts) {
    const refused = readCommon(part, said, dates, fields, verb === 'uses' || verb === 'depends on' ? ['keyword'] : [])
    if (refused) return refused
  }
  const target = refIn(rest, said)
  if (target.name.trim() === '') return { refused: `After “${verb}” a name is missing.` }
  if (verb === 'uses') return typed('dependency', '', { ...fields, keyword: fields['keyword'] ?? 'use' }, target, dates)
  if (verb === 'depends on') return typed('dependency', '', fields, target, dates)
  return typed(verb.startsWith('is') ? 'generalization' : 'realization', '', fields, target, dates)
}

/** `[<multiplicity>] [<class>] [as <role>] [{<property>, …}]`. */
function readEnd(
  text: string,
  said: Unquoted,
  end: 'source' | 'target',
  fields: Record<string, FieldValue>,
  isNamed: boolean,
): Ref | undefined | Refusal {
  let rest = text
  const [, before = rest, properties] = /^(.*?)\s*\{([^{}]*)\}$/.exec(rest) ?? []
  if (properties !== undefined) {
    fields[`${end}Properties`] = parted(properties).map((one) => said.plain(one))
    rest = before
  }
  const [, head = rest, role] = /^(.*?)(?:^|\s+)as\s+(\S.*)$/.exec(rest) ?? []
  if (role !== undefined) {
    fields[`${end}Role`] = said.plain(role.trim())
    rest = head
  }
  rest = rest.trim()
  const [, many, after] = /^((?:[\w.]+\s*\.\.\s*)?(?:\d+|\*)|[\w.]+\s*\.\.\s*[\w.]+)(?:\s+(.*))?$/.exec(rest) ?? []
  if (many !== undefined && (!isNamed || after !== undefined)) {
    const read = readMultiplicity(many)
    if (isFault(read)) return { refused: read.refused }
    fields[`${end}Multiplicity`] = many
    rest = after ?? ''
  }
  if (!isNamed) {
    if (rest === '') return undefined
    return { refused: `“${clip(said.plain(rest))}” is not understood: write each 1 as role.` }
  }
  const target = refIn(rest, said)
  return target.name.trim() === '' ? { refused: 'The name of a class is missing.' } : target
}

/** An attribute, an operation or a literal, with its days behind it. */
function readMemberLine(line: string, within: Within): Typed | Refusal {
  const { text: whole, dates } = withoutDates(line)
  const { text, kept } = withoutKept(whole)
  if (text === '') return { refused: 'A name is missing.' }
  const literal = within === 'enumeration' ? literalIn(text) : /^literal\s+(\S.*)$/.exec(text)?.[1]
  if (literal !== undefined) {
    const name = quotedName(literal)
    return tooLongName(name) ?? typed('literal', name, {}, undefined, dates)
  }
  const read = readMember(text)
  if (isFault(read)) return { refused: `At letter ${read.at + 1}: ${read.refused}` }
  const fault = kept['keptAs'] === undefined ? undefined : unreadType(kept['keptAs'])
  if (fault !== undefined) return { refused: fault }
  if (read.is === 'operation' && Object.keys(kept).length > 0) return { refused: 'An operation is kept in no column.' }
  return tooLongName(read.name) ?? typed(read.is, read.name, { ...fieldsOf(read), ...kept }, undefined, dates)
}

const KEPT = /\s{2,}(column|kept as|table):\s*/gi

/** A line of an attribute without what is said behind it of how a database keeps it, and that. */
function withoutKept(line: string): { readonly text: string; readonly kept: Record<string, string> } {
  // What stands in quotation marks is not looked into.
  const masked = line.replace(/"(?:[^"]|"")*"/g, (quoted) => '_'.repeat(quoted.length))
  const found = [...masked.matchAll(KEPT)]
  const kept: Record<string, string> = {}
  found.forEach((one, at) => {
    const label = one[1]?.toLowerCase() ?? ''
    const value = line.slice(one.index + one[0].length, found[at + 1]?.index).trim()
    if (value !== '') kept[FIELD_OF[label] ?? label] = quotedName(value)
  })
  return { text: found[0] ? line.slice(0, found[0].index).trim() : line, kept }
}

/** The same as it is written. */
function keptText(fields: Typed['fields'], isQuoted: boolean): string[] {
  return (['column', 'keptAs', 'table'] as const).flatMap((field) => {
    const value = fields[field]
    if (typeof value !== 'string') return []
    const isPlain = field === 'keptAs' || (!isQuoted && !/^"|\s{2}/.test(value))
    return [`${field === 'keptAs' ? 'kept as' : field}: ${isPlain ? value : `"${value.replaceAll('"', '""')}"`}`]
  })
}

/** Beneath an enumeration a line without any sign of a member is a literal, and what is one name in quotation marks. */
const literalIn = (text: string): string | undefined =>
  /^"(?:[^"]|"")*"$/.test(text) || /^[^-+#~/:([={"][^:([={"]*$/.test(text) ? text : undefined

const quotedName = (text: string): string => /^"((?:[^"]|"")*)"$/.exec(text)?.[1]?.replaceAll('""', '"') ?? text

/** A member as fields. */
export function fieldsOf(read: AttributeText | OperationText): Record<string, FieldValue> {
  const { is: _, name: __, properties, ...own } = read
  const fields: Record<string, FieldValue> = { ...own }
  if (properties.length > 0) fields['properties'] = [...properties]
  if (fields['parameters'] === '') delete fields['parameters']
  return fields
}

/** A line of a member without the sign of a list: `-` and `+` say how visible it is. */
const withoutDots = (text: string): string => (isSigned(text) ? text : unbulleted(text))

/** A sign of visibility at the front is none of a list. */
export const isSigned = (text: string): boolean => /^[-+#~]/.test(text)

/** A line as it is read back to the same. */
export const lineOf = remembering(newLine)

function newLine(one: Typed, within: Within): string {
  if (MEMBERS.has(one.is)) {
    const plain = memberLine(one, within, false)
    const read = readLine(plain, within)
    return JSON.stringify(read) === JSON.stringify(one) && withoutDots(plain) === plain
      ? plain
      : memberLine(one, within, true)
  }
  return lineFor(
    (name) => textFor(one, name),
    (text) => {
      const read = readLine(text, within)
      return !('refused' in read) && JSON.stringify(read) === JSON.stringify(one)
    },
  )
}

function memberLine(one: Typed, within: Within, isQuoted: boolean): string {
  const { is, name, fields } = one
  const quote = (text: string) => (isQuoted ? `"${text.replaceAll('"', '""')}"` : text)
  if (is === 'literal')
    return [`${within === 'enumeration' ? '' : 'literal '}${quote(name)}`, ...datesText(one)].join('  ')
  const properties = Array.isArray(fields['properties']) ? (fields['properties'] as readonly string[]) : []
  const member = { ...fields, is, name, properties, parameters: fields['parameters'] ?? '' }
  const text = memberText(member as AttributeText | OperationText, isQuoted)
  // An attribute that is nothing but a name would be a literal there.
  const isBare = within === 'enumeration' && is === 'attribute' && Object.keys(fields).length === 0
  return [`${text}${isBare ? ' {}' : ''}`, ...keptText(fields, isQuoted), ...datesText(one)].join('  ')
}

function textFor(one: Typed, quote: (text: string) => string): string {
  const { is, name, fields, target } = one
  const text = (field: string): string => (typeof fields[field] === 'string' ? (fields[field] as string) : '')
  const list = (field: string): readonly string[] =>
    Array.isArray(fields[field]) ? (fields[field] as readonly string[]) : []
  const ref = refText(target, quote)
  const parts: string[] = []
  const put = (part: string) => part !== '' && parts.push(part)
  if (is === 'package' || is === 'class') {
    const words = [
      is === 'package' ? 'package' : text('form'),
      fields['abstract'] === true ? 'abstract' : '',
      fields['leaf'] === true ? 'final' : '',
      ...list('stereotypes').map((word) => quote(`«${word}»`)),
    ].filter(Boolean)
    put(quote(name))
    put(words.length === 0 ? '' : `(${words.join(', ')})`)
    put(text('table') && `table: ${quote(text('table'))}`)
    put(text('key') && `key column: ${quote(text('key'))}`)
    put(text('system') && `system: ${quote(text('system'))}`)
  } else if (is === 'association') {
    const end = (side: 'source' | 'target', called: string) =>
      [
        text(`${side}Multiplicity`),
        called,
        text(`${side}Role`) && `as ${quote(text(`${side}Role`))}`,
        list(`${side}Properties`).length > 0 ? `{${list(`${side}Properties`).join(', ')}}` : '',
      ]
        .filter(Boolean)
        .join(' ')
    const verb = VERBS.find(([, sort]) => sort !== undefined && sort === fields['aggregation'])?.[0]
    const navigable = text('targetNavigable')
    put(`${verb ?? (navigable === 'yes' ? 'has' : 'knows')} ${end('target', ref)}`)
    const near = end('source', '')
    put(near && `each ${near}`)
    put(text('sourceNavigable') === 'yes' ? 'both ways' : text('sourceNavigable') === 'no' ? 'not back' : '')
    put(navigable === 'no' ? 'not onwards' : navigable === '' && verb !== undefined ? 'no arrow' : '')
    put(text('label') && `name: ${quote(text('label'))}`)
    put(text('column') && `column: ${quote(text('column'))}`)
    put(text('table') && `table: ${quote(text('table'))}`)
  } else if (is === 'generalization') put(`${/^[aeio]/i.test(target?.name ?? '') ? 'is an' : 'is a'} ${ref}`)
  else if (is === 'realization') put(`realises ${ref}`)
  else {
    put(`${text('keyword') === 'use' ? 'uses' : 'depends on'} ${ref}`)
    put(text('keyword') && text('keyword') !== 'use' ? `keyword: ${quote(text('keyword'))}` : '')
  }
  return [...parts, ...datesText(one)].join('  ')
}
