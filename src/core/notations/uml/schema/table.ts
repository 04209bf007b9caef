import type { Id } from '../../../model'
import { clip, type Refusal } from '../../../notation'
import { SQL_STRING, SQL_TYPE } from '../syntax/sqlType'

/** Tables of a relational database, and how their parts are written as text. */

export interface TableColumn {
  readonly name: string
  /** As the database writes it: `VARCHAR(255)`. */
  readonly type: string
  readonly isRequired: boolean
  /** A literal as the database writes it. */
  readonly initial?: string
  readonly isCounted?: true
  /** It is worked out of others of its row. */
  readonly isComputed?: true
  /** The attribute or the association that it is kept for. */
  readonly of?: Id
  /** It keeps a part of a data type only. */
  readonly isPart?: true
  /** Nothing is known of its type: any will do. */
  readonly isLoose?: true
}

export interface ForeignKey {
  readonly columns: readonly string[]
  readonly to: string
  readonly toColumns: readonly string[]
  /** What refers is gone with what it refers to. */
  readonly cascades: boolean
}

export interface Table {
  readonly name: string
  readonly columns: readonly TableColumn[]
  readonly key: readonly string[]
  readonly unique: readonly (readonly string[])[]
  readonly foreign: readonly ForeignKey[]
  /** The class, the attribute or the association that it is kept for. */
  readonly of?: Id
}

export const quoted = (text: string): string => `'${text.replaceAll('\\', '\\\\').replaceAll("'", "''")}'`
const unquotedText = (text: string): string =>
  text.slice(1, -1).replace(/\\(.)|''/gs, (_, escaped?: string) => escaped ?? "'")

const PLAIN = /^[\p{L}_$][\p{L}\p{N}_$]*$/u
/** A name as it stands in a line: in back quotes where it is no plain word. */
const nameText = (name: string): string => (PLAIN.test(name) ? name : `\`${name.replaceAll('`', '``')}\``)
const NAME = '`(?:[^`]|``)+`|[\\p{L}_$][\\p{L}\\p{N}_$]*'
const nameIn = (text: string): string => (text.startsWith('`') ? text.slice(1, -1).replaceAll('``', '`') : text)

const STRING = SQL_STRING
const TYPE = SQL_TYPE
const FLAG = `NOT\\s+NULL|NULL|AUTO_INCREMENT|DEFAULT\\s+(?:${STRING}|\\S+)`
const COLUMN = new RegExp(`^(${NAME})\\s+(${TYPE})((?:\\s+(?:${FLAG}))*)$`, 'iu')
const REFERENCE = new RegExp(
  `^((?:${NAME})(?:\\s*,\\s*(?:${NAME}))*)\\s*->\\s*(${NAME})\\s*\\(((?:${NAME})(?:\\s*,\\s*(?:${NAME}))*)\\)(\\s+cascade)?$`,
  'iu',
)
const NAMES = new RegExp(NAME, 'gu')
/** What a line of a table may have, in characters: beyond it none is read. */
const LONGEST = 4000

/** `valid_until DATETIME NOT NULL`, as a column is written in SQL. */
export const columnLine = ({ name, type, isRequired, initial, isCounted }: TableColumn): string =>
  [
    nameText(name),
    type,
    isRequired ? 'NOT NULL' : '',
    isCounted ? 'AUTO_INCREMENT' : '',
    initial === undefined ? '' : `DEFAULT ${initial}`,
  ]
    .filter(Boolean)
    .join(' ')

export function readColumn(line: string): TableColumn | Refusal {
  const [, name, type, flags = ''] = (line.length > LONGEST ? null : COLUMN.exec(line.trim())) ?? []
  if (name === undefined || type === undefined)
    return {
      refused: `“${clip(line)}” is no column: write a name, its type and NOT NULL, as in code VARCHAR(8) NOT NULL.`,
    }
  const [, initial] = new RegExp(`DEFAULT\\s+(${STRING}|\\S+)`, 'i').exec(flags) ?? []
  const plain = flags.replace(new RegExp(STRING, 'g'), '')
  const kept = typeText(type)
  return {
    name: nameIn(name),
    type: kept,
    isRequired: /NOT\s+NULL/i.test(plain),
    ...(initial === undefined || /^NULL$/i.test(initial) ? {} : { initial: literalText(initial, kept) }),
    ...(/AUTO_INCREMENT/i.test(plain) ? { isCounted: true as const } : {}),
  }
}

/** A literal in one way of writing: what is true is `1` to some. */
const literalText = (text: string, type: string): string =>
  type !== 'BOOLEAN'
    ? text
    : /^(?:0|b'0'|FALSE)$/i.test(text)
      ? 'FALSE'
      : /^(?:1|b'1'|TRUE)$/i.test(text)
        ? 'TRUE'
        : text

/** `passenger_id -> passenger(id)`, with `cascade` behind it where what refers is gone with it. */
export const referenceLine = ({ columns, to, toColumns, cascades }: ForeignKey): string =>
  `${namesLine(columns)} -> ${nameText(to)}(${namesLine(toColumns)})${cascades ? ' cascade' : ''}`

export function readReference(line: string): ForeignKey | Refusal {
  const [, columns = '', to = '', toColumns = '', cascade] =
    (line.length > LONGEST ? null : REFERENCE.exec(line.trim())) ?? []
  if (to === '') return { refused: `“${clip(line)}” is no reference: write it as passenger_id -> passenger(id).` }
  return {
    columns: readNames(columns),
    to: nameIn(to),
    toColumns: readNames(toColumns),
    cascades: cascade !== undefined,
  }
}

export const namesLine = (names: readonly string[]): string => names.map(nameText).join(', ')
export const readNames = (line: string): readonly string[] =>
  line.length > LONGEST ? [] : [...line.matchAll(NAMES)].map(([name]) => nameIn(name))

const OTHER_NAMES: Readonly<Record<string, string>> = {
  INTEGER: 'INT',
  NUMERIC: 'DECIMAL',
  DEC: 'DECIMAL',
  FIXED: 'DECIMAL',
  BOOL: 'BOOLEAN',
  'DOUBLE PRECISION': 'DOUBLE',
  REAL: 'DOUBLE',
}

/** A type in one way of writing: `int(11) unsigned` is `INT UNSIGNED`, `tinyint(1)` is `BOOLEAN`. */
export function typeText(text: string): string {
  const [, said = '', inner, after = ''] = /^([A-Z]\w*(?:\s+PRECISION)?)\s*(?:\((.*)\))?(.*)$/is.exec(text.trim()) ?? []
  const name = said.toUpperCase().replace(/\s+/g, ' ')
  const word = OTHER_NAMES[name] ?? name
  const sign = /UNSIGNED/i.test(after) ? ' UNSIGNED' : ''
  if (word === 'TINYINT' && inner === '1') return 'BOOLEAN'
  if (inner === undefined || /INT$|^YEAR$/.test(word)) return `${word}${sign}`
  const literals = literalsIn(text)
  return `${word}(${literals.length > 0 ? literals.map(quoted).join(', ') : inner.replace(/\s/g, '').replace(/,/g, ', ')})${sign}`
}

/** The literals of an `ENUM`; none of any other type. */
export const literalsIn = (type: string): readonly string[] =>
  /^(?:ENUM|SET)\b/i.test(type) ? (type.match(new RegExp(STRING, 'g')) ?? []).map(unquotedText) : []

const SORTS: readonly (readonly [RegExp, string])[] = [
  [/^(?:BOOLEAN|BIT$|BIT\(1\))/, 'Boolean'],
  [/^(?:TINY|SMALL|MEDIUM|BIG)?INT\b|^YEAR\b|^SERIAL\b/, 'Integer'],
  [/^(?:DOUBLE|FLOAT|DECIMAL)\b/, 'Real'],
  [/^(?:DATETIME|TIMESTAMP)\b/, 'DateTime'],
  [/^DATE\b/, 'Date'],
  [/^TIME\b/, 'Time'],
  [/^(?:BIT|BINARY|VARBINARY|(?:TINY|MEDIUM|LONG)?BLOB|GEOMETRY|POINT|LINESTRING|POLYGON)\b/, 'Binary'],
]

/** What values a type of the database holds, as a type of a class model. */
export const sortOf = (type: string): string => SORTS.find(([pattern]) => pattern.test(type))?.[1] ?? 'String'

const TYPES: Readonly<Record<string, string>> = {
  String: 'VARCHAR(255)',
  Integer: 'INT',
  UnlimitedNatural: 'INT UNSIGNED',
  Real: 'DOUBLE',
  Boolean: 'BOOLEAN',
  Date: 'DATE',
  Time: 'TIME',
  DateTime: 'DATETIME',
  Binary: 'LONGBLOB',
}
export const TEXT = 'VARCHAR(255)'

/** The type by which a database keeps values of a type of a class model; undefined where it is not known. */
export const keptAs = (type: string | undefined): string | undefined => (type === undefined ? undefined : TYPES[type])

/** What a key is called that only counts. */
export const SURROGATE = 'id'

/** What names of a database may have, in characters. */
export const LONGEST_NAME = 64

/** A name as databases write it: `validUntil` is `valid_until`. */
export const snake = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/([\p{Ll}\d])(\p{Lu})/gu, '$1_$2')
    .replace(/[^\p{L}\p{N}]+/gu, '_')
    .replace(/^_+|_+$/g, '')
    .toLowerCase() || 'x'

/** A name as attributes and roles are written: `valid_until` is `validUntil`. */
export const camel = (name: string): string => {
  const [begin = '', ...others] = name.split(/[^\p{L}\p{N}]+/u).filter(Boolean)
  // What is all capitals is no word with a capital inside: `URL` is `url`.
  const first = /\p{Ll}/u.test(begin) ? begin : begin.toLowerCase()
  const inner = others.map((word) => word.charAt(0).toUpperCase() + word.slice(1)).join('')
  const whole = `${first.charAt(0).toLowerCase()}${first.slice(1)}${inner}`
  return /^\p{L}/u.test(whole) ? whole : `x${whole}`
}

/** A name as classes are written: `season_ticket` is `SeasonTicket`. */
export const pascal = (name: string): string => {
  const whole = camel(name)
  return whole.charAt(0).toUpperCase() + whole.slice(1)
}
