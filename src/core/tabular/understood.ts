import { DAY_ORDERS, readWritten, type DayOrder, type WrittenDay } from '../calendar'
import { dayInWords, type Day } from '../model'
import { clip, type ImportColumn, type ImportRow, type Table } from '../notation'
import { mappedRows } from './table'

/** A way in which cells can be read. */
export interface Way {
  readonly id: string
  /** What it makes of a cell: “day first: 03/04/2026 is 3 Apr 2026”. */
  readonly label: string
}

/** How the cells of a column are read. */
export interface Understood {
  readonly way: string
  /** All ways in which most of its cells can be read, and which differ; one alone leaves no choice. */
  readonly ways: readonly Way[]
  /** Nothing in the cells tells which way is meant. */
  readonly doubtful: boolean
  /** What was guessed, in words, where something was. */
  readonly said: string | undefined
}

/** Reads one cell in one way, as a field writes it; undefined for what it cannot read. */
type Read = (cell: string) => string | undefined
interface Reader {
  readonly id: string
  readonly read: Read
  /** Whether a cell looks as if it were meant so, where more can be read so than is meant. */
  readonly fits?: (cell: string) => boolean
}

/** How each column of a table is read, by what its cells have in common: `undefined` for one that says words or is left out. `chosen` are ways by column. O(cells). */
export function understand(
  table: Table,
  mapping: readonly (string | undefined)[],
  columns: readonly ImportColumn[],
  chosen: readonly (string | undefined)[] = [],
): (Understood | undefined)[] {
  const kindOf = (index: number) => columns.find(({ id }) => id === mapping[index])
  const understood = mapping.map((_, index) => {
    const column = kindOf(index)
    return column?.says && understandColumn(column, cellsOf(table, index), table.typed === true, chosen[index])
  })
  return understood.map((own, index) => {
    const like = kindOf(index)?.like
    const other = like === undefined ? undefined : understood[mapping.indexOf(like)]
    if (!own || !other || chosen[index] !== undefined) return own
    return {
      way: other.way,
      ways: [],
      doubtful: false,
      said: other.said === undefined ? undefined : `as in “${table.heading[mapping.indexOf(like)] ?? ''}”`,
    }
  })
}

/** A table with its cells as they were understood; a cell that cannot be read so stays as it is. O(cells). */
function plainly(
  table: Table,
  mapping: readonly (string | undefined)[],
  columns: readonly ImportColumn[],
  understood: readonly (Understood | undefined)[],
): Table {
  const readers = mapping.map((id, index) => {
    const column = columns.find((one) => one.id === id)
    const found = column && readersOf(column, table.typed === true).find((one) => one.id === understood[index]?.way)
    return found?.read
  })
  return {
    ...table,
    rows: table.rows.map((cells) => cells.map((cell, index) => readers[index]?.(cell.trim()) ?? cell)),
  }
}

/** The rows of a table by column, their cells as they were understood. O(cells). */
export function understoodRows(
  table: Table,
  mapping: readonly (string | undefined)[],
  columns: readonly ImportColumn[],
  chosen?: readonly (string | undefined)[],
): { readonly rows: ImportRow[]; readonly understood: readonly (Understood | undefined)[] } {
  const understood = understand(table, mapping, columns, chosen)
  const stood = mappedRows(table, mapping)
  const rows = mappedRows(plainly(table, mapping, columns, understood), mapping).map((row, index): ImportRow => {
    const bent = Object.entries(stood[index]?.cells ?? {}).filter(([column, cell]) => cell !== row.cells[column])
    return bent.length === 0 ? row : { ...row, stood: Object.fromEntries(bent) }
  })
  return { rows, understood }
}

const cellsOf = ({ rows }: Table, index: number): string[] =>
  rows.flatMap((cells) => {
    const cell = (cells[index] ?? '').trim()
    return cell === '' ? [] : [cell]
  })

/** A way must read most cells to be offered. */
const MOST = 0.5

function understandColumn(
  column: ImportColumn,
  cells: readonly string[],
  typed: boolean,
  chosen: string | undefined,
): Understood {
  const readers = readersOf(column, typed)
  const different = [...new Set(cells)]
  const counted = readers.map((reader) => {
    const read = different.filter((cell) => reader.read(cell) !== undefined)
    return {
      ...reader,
      read: reader.read,
      able: read.length,
      count: reader.fits ? read.filter(reader.fits).length : read.length,
    }
  })
  const best = counted.reduce((a, b) => (b.count > a.count ? b : a))
  const differs = (a: Reader, b: Reader) => different.find((cell) => a.read(cell) !== b.read(cell))
  const others = counted.filter(
    (one) => one !== best && one.able > different.length * MOST && differs(one, best) !== undefined,
  )
  const way = counted.find(({ id }) => id === chosen) ?? best
  const says = (reader: Reader, cell: string | undefined) => {
    const value = cell === undefined ? undefined : reader.read(cell)
    return cell === undefined || value === undefined || value === cell
      ? reader.id
      : `${reader.id}: ${clip(cell)} is ${shown(column, value)}`
  }
  const label = (reader: Reader) => {
    const telling = [best, ...others].flatMap((one) => (one === reader ? [] : (differs(reader, one) ?? [])))
    return says(
      reader,
      telling.find((cell) => reader.read(cell) !== undefined),
    )
  }
  const said = () => {
    if (column.says === 'flag') return saidOfFlags(column, different)
    const bent = different.filter((cell) => (way.read(cell) ?? cell) !== cell)
    // A cell that can be read in this way only tells why.
    const only = bent.find((cell) => counted.every((one) => one.id === way.id || one.read(cell) === undefined))
    const cell = only ?? bent[0]
    const alike = counted.every((one) => one.able === different.length && differs(one, way) === undefined)
    if (cell === undefined) return undefined
    return alike ? `${clip(cell)} is ${shown(column, way.read(cell) ?? '')}` : says(way, cell)
  }
  const rivals = others.filter(({ count }) => count === best.count)
  const doubtful = chosen === undefined && rivals.some((one) => isDoubtful(column, one, best, different))
  return {
    way: way.id,
    ways: others.length === 0 ? [] : [best, ...others].map((one) => ({ id: one.id, label: label(one) })),
    doubtful,
    said: said(),
  }
}

/** How cells of a column by themselves are read. */
export function readingOf(column: ImportColumn, cells: readonly string[]): Understood & { readonly read: Read } {
  const understood = understandColumn(column, cells, false, undefined)
  const reader = readersOf(column, false).find(({ id }) => id === understood.way)
  return { ...understood, read: reader?.read ?? ((cell) => cell) }
}

/** Whether two ways that read the same cells cannot be told apart: points between numbers are everywhere written after the day. */
function isDoubtful(column: ImportColumn, one: Reader, best: Reader, cells: readonly string[]): boolean {
  const apart = cells.filter((cell) => one.read(cell) !== best.read(cell))
  if (column.says === 'day' || column.says === 'moment') return apart.some((cell) => readWritten(cell)?.plain !== true)
  return column.says === 'number'
}

const shown = (column: ImportColumn, value: string): string => {
  if (column.says !== 'day' && column.says !== 'moment') return value
  const [day = '', time] = value.split('T')
  return [dayInWords(day as Day), ...(time === undefined ? [] : [time])].join(' ')
}

function readersOf(column: ImportColumn, typed: boolean): Reader[] {
  switch (column.says) {
    case 'day':
    case 'moment':
      return dayReaders(column.says === 'moment')
    case 'number':
      return [
        {
          id: 'decimal point',
          read: (cell) => within(column, typed ? exactly(cell) : undefined) ?? within(column, numberIn(cell, '.', ',')),
        },
        {
          id: 'decimal comma',
          read: (cell) => within(column, typed ? exactly(cell) : undefined) ?? within(column, numberIn(cell, ',', '.')),
        },
      ]
    case 'flag':
      return [{ id: 'yes or no', read: (cell) => flagIn(column, cell) }]
    case 'person':
      return [
        { id: 'as they stand', read: (cell) => cell, fits: (cell) => turned(cell) !== undefined && !looksTurned(cell) },
        { id: 'last name first', read: (cell) => turned(cell) ?? cell, fits: looksTurned },
      ]
    case undefined:
      return []
  }
}

function dayReaders(timed: boolean): Reader[] {
  const known = new Map<string, WrittenDay | undefined>()
  const written = (cell: string) => {
    if (!known.has(cell)) known.set(cell, readWritten(cell))
    return known.get(cell)
  }
  const dayIn = (order: DayOrder, cell: string): string | undefined => {
    const found = written(cell)
    const day = found?.days.get(order)
    return day === undefined || found?.time === undefined || !timed ? day : `${day}T${found.time}`
  }
  return DAY_ORDERS.map((id) => ({ id, read: (cell) => dayIn(id, cell) }))
}

const SPACES = /[\s\u00a0\u202f\u2009'’]/g
/** Signs of money, and its letters before or after a number. */
const MONEY = /^(?:\p{Sc}|[A-Z]{3}(?=[\s\d])|kr\.?(?=[\s\d]))\s*|\s*(?:\p{Sc}|[A-Z]{3}|kr\.?|%)$/gu
/** Whole numbers in thousands, by their mark; some count two digits to a group above a thousand. */
const WHOLE = { ',': /^(\d+|\d{1,3}(,\d{2,3})*,\d{3})$/, '.': /^(\d+|\d{1,3}(\.\d{2,3})*\.\d{3})$/ } as const

/** A number with one sign before its decimals and another between its thousands, as JSON writes it. What stands in brackets is negative. */
function numberIn(cell: string, point: '.' | ',', mark: '.' | ','): string | undefined {
  const [, inside] = /^\((.+)\)$/.exec(cell) ?? []
  const signed = (inside ?? cell).replace(MONEY, '').replace(/^[−–]/, '-').replace(SPACES, '')
  const [before = '', after, more] = signed.replace(/^[+-]/, '').split(point)
  if (more !== undefined || !/^\d*$/.test(after ?? '')) return undefined
  if (before === '' ? !after : !WHOLE[mark].test(before)) return undefined
  const value = Number(`${before.replaceAll(mark, '') || '0'}.${after || '0'}`)
  return String(signed.startsWith('-') !== (inside !== undefined) ? -value : value)
}

/** A cell that a workbook holds as a number. */
const exactly = (cell: string): string | undefined =>
  /^-?\d+(\.\d+)?(e[+-]?\d+)?$/i.test(cell) ? String(Number(cell)) : undefined

const within = ({ range }: ImportColumn, text: string | undefined): string | undefined =>
  text === undefined || Number(text) < (range?.min ?? -Infinity) || Number(text) > (range?.max ?? Infinity)
    ? undefined
    : text

const YES = 'yes y true 1 x on ja j oui si sí sim s tak ano kyllä igen da evet ✓ ✔ ☑'.split(' ')
const NO = 'no n false 0 off nein non não nao nee nej nei nie ne ei nem nu hayır - – ✗ ✘ ☐'.split(' ')

function flagIn({ words }: ImportColumn, cell: string): string | undefined {
  const word = cell.toLowerCase()
  if (words?.yes.includes(word) || YES.includes(word)) return 'yes'
  return words?.no.includes(word) || NO.includes(word) ? 'no' : undefined
}

const MOST_WORDS = 4

function saidOfFlags(column: ImportColumn, cells: readonly string[]): string {
  const quoted = (list: readonly string[]) =>
    list
      .slice(0, MOST_WORDS)
      .map((cell) => `“${clip(cell)}”`)
      .join(', ') + (list.length > MOST_WORDS ? ' …' : '')
  const [yes, no, neither] = [
    cells.filter((cell) => flagIn(column, cell) === 'yes'),
    cells.filter((cell) => flagIn(column, cell) === 'no'),
    cells.filter((cell) => flagIn(column, cell) === undefined),
  ]
  return [
    ...(yes.length > 0 ? [`${quoted(yes)} is yes`] : []),
    ...(no.length > 0 ? [`${quoted(no)} is no`] : []),
    ...(neither.length > 0 ? [`${quoted(neither)} is neither`] : []),
  ].join(', ')
}

/** What stands after a name and is none. */
const AFTER =
  /^(jr|sr|i{1,3}|iv|ph\.?\s?d|dr|m\.?sc|b\.?sc|m\.?a|b\.?a|m\.?eng|b\.?eng|mba|dipl\.?|ing|pe|cpa|esq|rn|md)\.?$/i

/** A last name has one word, or others before it in small letters: `van der Berg, Anna`. */
const looksTurned = (cell: string): boolean =>
  turned(cell) !== undefined && /^(\p{Ll}[\p{L}’']*\s+)*\S+\s*,/u.test(cell)

/** `Ortiz, Dana` as `Dana Ortiz`; what has no such comma is not read so. */
function turned(cell: string): string | undefined {
  const [last = '', first = '', more] = cell.split(',').map((part) => part.trim())
  return last === '' || first === '' || more !== undefined || AFTER.test(first) ? undefined : `${first} ${last}`
}
