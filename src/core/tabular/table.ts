import Papa from 'papaparse'
import { LIMITS, type ImportColumn, type ImportRow, type Table } from '../notation'

const MOST_CHARACTERS = 20_000_000

/** Reads CSV, TSV or cells from a spreadsheet; the separator is found. O(length). @returns a refusal in words for what is no table. */
export function readTable(text: string): Table | { readonly refused: string } {
  if (text.length > MOST_CHARACTERS)
    return { refused: 'This is more than 20 million characters. Bring it in in parts.' }
  const { data } = Papa.parse<string[]>(text.replace(/^\ufeff/, '').trimEnd(), { skipEmptyLines: 'greedy' })
  return tableOf(data)
}

/** Cells with a heading as a table. @returns a refusal in words for what is none. */
export function tableOf(cells: readonly (readonly string[])[]): Table | { readonly refused: string } {
  const [heading, ...rows] = cells
  if (!heading || heading.length < 2) return { refused: 'A table has a heading and at least two columns.' }
  if (rows.length === 0) return { refused: 'There is a heading, and no row beneath it.' }
  if (rows.length > 5 * LIMITS.lines)
    return { refused: `More than ${(5 * LIMITS.lines).toLocaleString('en')} rows are too many at once.` }
  return { heading: heading.map((cell) => cell.trim()), rows: rows.map((row) => row.map(unmarked)) }
}

/** What was written so that a spreadsheet takes it for no formula, as it was: `'-2d`. */
export const unmarked = (cell: string): string => (/^'[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell)

/** Which column of a table is which: by its heading, the closest first; each known column is taken once. */
export function guessMapping(heading: readonly string[], columns: readonly ImportColumn[]): (string | undefined)[] {
  const taken = new Set<string>()
  const words = heading.map((text) =>
    text
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, ' ')
      .trim(),
  )
  const mapping: (string | undefined)[] = heading.map(() => undefined)
  const take = (matches: (word: string, known: string) => boolean) =>
    words.forEach((word, index) => {
      if (mapping[index] !== undefined || word === '') return
      const found = columns.find(({ id, headings }) => !taken.has(id) && headings.some((known) => matches(word, known)))
      if (!found) return
      taken.add(found.id)
      mapping[index] = found.id
    })
  take((word, known) => word === known)
  take((word, known) => word.startsWith(`${known} `))
  // “Manager id” is no identity: short words at the end say little.
  take((word, known) => known.length >= 4 && word.endsWith(` ${known}`))
  return mapping
}

/** The rows of a table with their cells by column, as a mapping says. */
export const mappedRows = (table: Table, mapping: readonly (string | undefined)[]): ImportRow[] =>
  table.rows.map((cells, index) => ({
    number: index + 2,
    cells: Object.fromEntries(
      mapping.flatMap((column, i) => (column === undefined ? [] : [[column, (cells[i] ?? '').trim()]])),
    ),
  }))
