import { counted } from '../../../model'
import { Parser } from 'node-sql-parser/build/mariadb'

import { clip, LIMITS, type ImportedFile, type Refusal, type Wish } from '../../../notation'
import { homeFor, Scribe } from '../edits'
import { ClassMaker, alike, sortOfTable } from '../schema/classes'
import { bracketed, depthOf, makingStatements, piecesOf, type Piece } from '../schema/statements'
import { quoted, typeText, type ForeignKey, type Table, type TableColumn } from '../schema/table'

/** Characters and tables that are read at most. */
const MOST = 20_000_000
const MOST_TABLES = 2000
const MOST_PARTS = 30_000
/** Of one part of a table: its characters, and how deep its brackets lie within each other. */
const MOST_OF_PART = 50_000
const MOST_DEEP = 40
/** So many parts that were not understood are told one by one. */
const MOST_TOLD = 8

/** SQL’s CREATE TABLE, ALTER TABLE … ADD and CREATE UNIQUE INDEX as classes. O(text). @returns a refusal in words for what makes no table. */
export function read(wish: Wish, text: string): ImportedFile | Refusal {
  const told = tablesIn(text)
  if ('refused' in told) return told
  const { tables, left } = told
  const home = homeFor(wish)
  const scribe = new Scribe(wish)
  const maker = new ClassMaker(wish, scribe, home.id, false)
  maker.make(tables)
  const classes = tables.filter((one) => sortOfTable(one).is === 'class').length
  return {
    change: { label: `Bring in ${counted(tables.length, 'table')}`, steps: [...home.steps, ...scribe.steps] },
    facts: [`${counted(tables.length, 'table')}: ${counted(classes, 'class', 'classes')}.`, ...left],
  }
}
/** The tables that statements make, and in words what of them was not understood. */
export function tablesIn(
  text: string,
): { readonly tables: readonly Table[]; readonly left: readonly string[] } | Refusal {
  if (text.length > MOST) return { refused: 'This is more than 20 million characters. Bring it in in parts.' }
  const reader = new Reader()
  for (const statement of makingStatements(text)) {
    const refused = reader.take(statement)
    if (refused) return refused
    if (reader.parts > MOST_PARTS)
      return {
        refused: `The tables here have more than ${MOST_PARTS.toLocaleString('en')} parts. Bring them in in parts.`,
      }
  }
  if (reader.tables.size === 0)
    return {
      refused: [
        'Nothing here makes a table: there is no CREATE TABLE that could be read.',
        ...reader.left.slice(0, MOST_TOLD),
      ].join(' '),
    }
  const tables = [...reader.tables.values()].map(sound)
  for (const table of tables)
    for (const names of table.unique)
      if (!isOfReference(table, names)) reader.omitted.add('unique keys', `${table.name} (${names.join(', ')})`)
  const left = reader.left.slice(0, MOST_TOLD)
  const more = reader.left.length - left.length
  return {
    tables,
    left: [
      ...left,
      ...(more > 0 ? [`… and ${more} more parts that were not understood.`] : []),
      ...reader.omitted.words(),
    ],
  }
}

/** Whether it says that only one refers to each, or what the key says already. */
const isOfReference = ({ key, foreign }: Table, names: readonly string[]): boolean =>
  [key, ...foreign.map(({ columns }) => columns)].some(
    (columns) => columns.length === names.length && columns.every((one) => names.some((name) => alike(name, one))),
  )

/** What statements say and classes have no place for, each sort with where it stands. */
class Omitted {
  readonly #places = new Map<string, string[]>()
  add(sort: string, place: string): void {
    const known = this.#places.get(sort)
    if (known) known.push(place)
    else this.#places.set(sort, [place])
  }
  words = (): string[] =>
    [...this.#places].map(([sort, places]) => {
      const shown = places.slice(0, MOST_PLACES).map(clip)
      const more = places.length - shown.length
      return `Classes have no place for ${sort}, left out: ${shown.join(', ')}${more > 0 ? ` and ${more} more` : ''}.`
    })
}
const MOST_PLACES = 6

type Open = { -readonly [K in keyof Table]: Table[K] extends readonly (infer E)[] ? E[] : Table[K] }
type Json = Readonly<Record<string, unknown>>
const isRecord = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value)
const at = (value: unknown, ...path: readonly (string | number)[]): unknown =>
  path.reduce<unknown>(
    (inner, key) =>
      Array.isArray(inner) ? (inner as unknown[])[Number(key)] : isRecord(inner) ? inner[key] : undefined,
    value,
  )

const NAME = '(`(?:[^`]|``)+`|"[^"]+"|[\\p{L}_$][\\p{L}\\p{N}_$]*)'
const QUALIFIED = `(?:${NAME}\\s*\\.\\s*)?${NAME}`
const CREATES = new RegExp(
  `^CREATE\\s+(?:OR\\s+REPLACE\\s+)?TABLE\\s+(?:IF\\s+NOT\\s+EXISTS\\s+)?${QUALIFIED}\\s*\\(`,
  'iu',
)
const ALTERS = new RegExp(`^ALTER\\s+(?:IGNORE\\s+)?TABLE\\s+(?:IF\\s+EXISTS\\s+)?${QUALIFIED}\\s+`, 'iu')
const ADDS = /^ADD\s+(?:COLUMN\s+)?(?:IF\s+NOT\s+EXISTS\s+)?/i
const INDEXES = new RegExp(`^CREATE\\s+UNIQUE\\s+INDEX\\s+${NAME}\\s+ON\\s+${QUALIFIED}\\s*\\(`, 'iu')
/** Parts of a table that tell nothing of what it keeps. */
const BESIDE: readonly (readonly [RegExp, string])[] = [
  [/^(?:(?:FULLTEXT|SPATIAL)\s|(?:INDEX|KEY)\b)/i, 'indexes'],
  [/^(?:CONSTRAINT\s+\S+\s+)?CHECK\b/i, 'checks'],
  [/^PERIOD\s/i, 'periods'],
]
const MODIFIES = /^MODIFY\s+(?:COLUMN\s+)?(?:IF\s+EXISTS\s+)?/i
/** What alters how a table is kept, and not what it keeps. */
const KEEPING =
  /^(?:ENGINE|AUTO_INCREMENT|COMMENT|ROW_FORMAT|(?:DEFAULT\s+)?(?:CHARACTER\s+SET|CHARSET|COLLATE)|(?:DIS|EN)ABLE\s+KEYS|CONVERT|ORDER|FORCE)\b/i
const MAKES =
  /^CREATE\s+(?:OR\s+REPLACE\s+)?(?:(?:TEMPORARY|UNIQUE|FULLTEXT|SPATIAL|ALGORITHM\s*=\s*\w+|DEFINER\s*=\s*\S+|SQL\s+SECURITY\s+\w+)\s+)*(\w+)/i
const OTHERS: Readonly<Record<string, string>> = {
  INDEX: 'indexes',
  VIEW: 'views',
  TRIGGER: 'triggers',
  PROCEDURE: 'procedures',
  FUNCTION: 'functions',
  EVENT: 'events',
  SEQUENCE: 'sequences',
}

class Reader {
  readonly tables = new Map<string, Open>()
  readonly left: string[] = []
  readonly omitted = new Omitted()
  /** How many parts of tables were read. */
  parts = 0
  readonly #parser = new Parser()

  take(statement: Piece): Refusal | undefined {
    const { text } = statement
    const creates = CREATES.exec(text)
    if (creates) {
      if (this.tables.size >= MOST_TABLES)
        return { refused: `There are more than ${MOST_TABLES} tables here. Bring them in in parts.` }
      const table: Open = { name: plain(creates[2] ?? ''), columns: [], key: [], unique: [], foreign: [] }
      const body = bracketed(statement)
      if (body && table.name.length <= LIMITS.name) {
        this.tables.set(table.name.toLowerCase(), table)
        for (const piece of piecesOf(body.text, ',', body.line)) this.#part(table, piece)
        const behind = text.slice(text.indexOf(body.text) + body.text.length)
        if (/^\)(?:[^'"]*\s)?COMMENT\b/i.test(behind)) this.omitted.add('comments', table.name)
      } else this.#left(statement, 'was not understood')
      return undefined
    }
    const alters = ALTERS.exec(text)
    if (alters) {
      const table = this.tables.get(plain(alters[2] ?? '').toLowerCase())
      const [head] = alters
      if (!table) return void this.#left(statement, 'alters a table that is not here')
      for (const piece of piecesOf(text.slice(head.length), ',', statement.line)) {
        const [adds] = ADDS.exec(piece.text) ?? []
        const [modifies] = MODIFIES.exec(piece.text) ?? []
        if (adds !== undefined) this.#part(table, { ...piece, text: piece.text.slice(adds.length) })
        else if (modifies !== undefined)
          this.#part(table, { ...piece, text: piece.text.slice(modifies.length) }, 'modifies')
        else if (!KEEPING.test(piece.text))
          this.left.push(`Line ${piece.line}: “${clip(piece.text)}” in table “${clip(table.name)}” was left out.`)
      }
      return undefined
    }
    const indexes = INDEXES.exec(text)
    const table = indexes && this.tables.get(plain(indexes[3] ?? '').toLowerCase())
    const columns = table && bracketed(statement)
    if (columns) table.unique.push(piecesOf(columns.text, ',').map((one) => plain(one.text)))
    else this.#other(statement)
    return undefined
  }

  /** What makes no table of its own. */
  #other(statement: Piece): void {
    const [, what = ''] = MAKES.exec(statement.text) ?? []
    const sort = OTHERS[what.toUpperCase()]
    if (what.toUpperCase() === 'TABLE') this.#left(statement, 'was not understood')
    else if (sort !== undefined) this.omitted.add(sort, `line ${statement.line}`)
  }

  #left = ({ text, line }: Piece, why: string): unknown =>
    this.left.push(`Line ${line}: “${clip(text.slice(0, 400).replace(/\s+/g, ' '))}” ${why}.`)

  /** What stands in a table, by itself: one part that is not understood stops none of the others. */
  #part(table: Open, { text, line }: Piece, modifies?: 'modifies'): void {
    const beside = BESIDE.find(([pattern]) => pattern.test(text))
    if (beside) this.omitted.add(beside[1], table.name)
    if (beside || ++this.parts > MOST_PARTS) return
    const leave = (why: string) =>
      this.left.push(
        `Line ${line}: “${clip(text.slice(0, 400).replace(/\s+/g, ' '))}” in table “${clip(table.name)}” ${why}.`,
      )
    if (text.length > MOST_OF_PART || depthOf(text) > MOST_DEEP) return void leave('is too long or too deep to be read')
    try {
      const [read] = [this.#parser.astify(`CREATE TABLE t (${text})`, { database: 'mariadb' }) as unknown].flat()
      const part = at(read, 'create_definitions', 0)
      if (at(part, 'resource') === 'column') this.#column(table, part, modifies !== undefined)
      else this.#constraint(table, part)
    } catch (error) {
      if (!(error instanceof Error) || !(error.name === 'SyntaxError' || error instanceof RangeError)) throw error
      leave('was not understood')
    }
  }

  #column(table: Open, part: unknown, modifies: boolean): void {
    const name = nameOf(at(part, 'column', 'column'))
    const isKey = at(part, 'primary_key') !== undefined || at(part, 'unique_or_primary') === 'primary key'
    const initial = literalOf(at(part, 'default_val', 'value'))
    const known = table.columns.findIndex((one) => alike(one.name, name))
    if (name.length > LIMITS.name || known >= 0 !== modifies) return
    const place = `${table.name}.${name}`
    const isComputed = isRecord(at(part, 'generated'))
    for (const [sort, key] of [
      ['checks', 'check'],
      ['comments', 'comment'],
      ['collations', 'collate'],
      ['character sets', 'character_set'],
    ] as const)
      if (isRecord(at(part, key))) this.omitted.add(sort, place)
    const begins = at(part, 'default_val', 'value', 'type')
    if (typeof begins === 'string' && begins !== 'null' && initial === undefined)
      this.omitted.add('defaults that are worked out', place)
    if (isComputed) this.omitted.add('how columns are computed', place)
    table.columns.splice(modifies ? known : table.columns.length, modifies ? 1 : 0, {
      name,
      type: typeOf(at(part, 'definition')),
      isRequired: isKey || at(part, 'nullable', 'type') === 'not null',
      ...(initial === undefined ? {} : { initial }),
      ...(at(part, 'auto_increment') === undefined ? {} : { isCounted: true as const }),
      ...(isComputed ? { isComputed: true as const } : {}),
    })
    if (isKey) table.key = [name]
    if (at(part, 'unique') !== undefined) table.unique.push([name])
    this.#reference(table, part, [name])
  }

  #reference(table: Open, part: unknown, names: readonly string[]): void {
    const said = at(part, 'reference_definition')
    const refers = referenceOf(said, names)
    if (refers) table.foreign.push(refers)
    const actions = at(said, 'on_action')
    for (const one of Array.isArray(actions) ? (actions as unknown[]) : []) {
      const words = `${String(at(one, 'type'))} ${String(at(one, 'value', 'value'))}`.toUpperCase()
      if (!NO_ACTIONS.has(words))
        this.omitted.add('what becomes of references', `${table.name} (${names.join(', ')}) ${words}`)
    }
  }

  #constraint(table: Open, part: unknown): void {
    const sort = String(at(part, 'constraint_type') ?? '').toLowerCase()
    const names = columnsOf(at(part, 'definition'))
    if (sort === 'primary key') table.key = names
    else if (sort.startsWith('unique')) table.unique.push(names)
    else if (sort === 'foreign key') this.#reference(table, part, names)
  }
}

/** What parts say, and what is so where nothing is said. */
const NO_ACTIONS = new Set([
  'ON DELETE CASCADE',
  'ON DELETE RESTRICT',
  'ON DELETE NO ACTION',
  'ON UPDATE RESTRICT',
  'ON UPDATE NO ACTION',
])

const plain = (name: string): string => /^["`](.*)["`]/s.exec(name.trim())?.[1]?.replaceAll('``', '`') ?? name.trim()
const nameOf = (value: unknown): string =>
  typeof value === 'string' ? value : String(at(value, 'expr', 'value') ?? '')
const columnsOf = (list: unknown): string[] =>
  Array.isArray(list) ? list.map((one: unknown) => nameOf(at(one, 'column'))) : []

function referenceOf(said: unknown, columns: readonly string[]): ForeignKey | undefined {
  const to = at(said, 'table', 0, 'table')
  if (typeof to !== 'string') return undefined
  const actions = at(said, 'on_action')
  const cascades =
    Array.isArray(actions) &&
    actions.some((one: unknown) => at(one, 'type') === 'on delete' && at(one, 'value', 'value') === 'cascade')
  return { columns, to, toColumns: columnsOf(at(said, 'definition')), cascades }
}

function typeOf(said: unknown): string {
  const list = at(said, 'expr', 'value')
  const literals = Array.isArray(list) ? list.map((one: unknown) => quotedAs(at(one, 'value'))) : undefined
  const [length, scale] = [at(said, 'length'), at(said, 'scale')]
  const inner = literals?.join(', ') ?? [length, scale].filter((one) => typeof one === 'number').join(', ')
  const suffix = at(said, 'suffix')
  return typeText(
    [
      String(at(said, 'dataType') ?? ''),
      inner === '' ? '' : `(${inner})`,
      Array.isArray(suffix) ? ` ${suffix.join(' ')}` : '',
    ].join(''),
  )
}

/** What stood between quotes, as it stood there. */
const quotedAs = (value: unknown): string =>
  quoted(String(value).replace(/''|\\(.)/gs, (_, one?: string) => one ?? "'"))

function literalOf(said: unknown): string | undefined {
  const [type, value] = [at(said, 'type'), at(said, 'value')]
  if (type === 'single_quote_string' || type === 'string') return quotedAs(value)
  if (type === 'number') return String(value)
  return type === 'bool' ? String(value).toUpperCase() : undefined
}

/** A table whose key and references name columns that it has, and other tables by their keys. */
function sound(table: Open): Table {
  const has = (names: readonly string[]) => names.every((name) => table.columns.some((one) => alike(one.name, name)))
  const key = has(table.key) ? table.key : []
  return {
    ...table,
    key,
    columns: table.columns.map((one): TableColumn =>
      key.some((name) => alike(name, one.name)) ? { ...one, isRequired: true } : one,
    ),
    unique: table.unique.filter(has),
    foreign: table.foreign.filter((one) => has(one.columns) && one.toColumns.length > 0),
  }
}
