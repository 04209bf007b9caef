import type { Table } from '../notation'
import { bareBook } from './bareBook'
import { tableOf } from './table'

/** The first sheet of a workbook that has cells, as a table (ISO/IEC 29500, read with exceljs). Its library comes when it is first needed. O(cells). */
export async function readXlsx(bytes: ArrayBuffer): Promise<Table | { readonly refused: string }> {
  const bare = await bareBook(new Uint8Array(bytes))
  if ('refused' in bare) return bare
  const { Workbook } = await library()
  const book = new Workbook()
  try {
    await book.xlsx.load(bare.buffer as ArrayBuffer)
  } catch (error) {
    return { refused: `This is no XLSX workbook: ${error instanceof Error ? error.message : String(error)}` }
  }
  const sheet = book.worksheets.find(({ actualRowCount }) => actualRowCount > 0)
  if (!sheet) return { refused: 'There is no sheet with cells in this workbook.' }
  const found: Map<number, string>[] = []
  const used = new Set<number>()
  // Only cells that are there are looked at: one far cell does not make all before it.
  sheet.eachRow({ includeEmpty: false }, (row) => {
    const cells = new Map<number, string>()
    row.eachCell({ includeEmpty: false }, (cell, column) => {
      const text = textOf(cell.value)
      if (text === '') return
      cells.set(column, text)
      used.add(column)
    })
    if (cells.size > 0) found.push(cells)
  })
  if (used.size > MOST_COLUMNS) return { refused: `More than ${MOST_COLUMNS} columns are too many for a table.` }
  // Empty columns at either end or in between say nothing.
  const columns = [...used].sort((a, b) => a - b)
  const table = tableOf(found.map((cells) => columns.map((column) => cells.get(column) ?? '')))
  return 'refused' in table ? table : { ...table, typed: true }
}

const MOST_COLUMNS = 500

/** Cells as a workbook with one sheet, its heading bold and kept in view. O(cells). */
export async function writeXlsx(title: string, cells: readonly (readonly (string | number)[])[]): Promise<ArrayBuffer> {
  const { Workbook } = await library()
  const book = new Workbook()
  const sheet = book.addWorksheet(sheetName(title), { views: [{ state: 'frozen', ySplit: 1 }] })
  for (const row of cells) sheet.addRow([...row])
  sheet.getRow(1).font = { bold: true }
  sheet.columns.forEach((column, index) => {
    const longest = Math.max(...cells.slice(0, 200).map((row) => String(row[index] ?? '').length))
    column.width = Math.min(60, Math.max(8, longest + 2))
  })
  return (await book.xlsx.writeBuffer()) as ArrayBuffer
}

async function library(): Promise<typeof import('exceljs')> {
  const module = await import('exceljs')
  return 'Workbook' in module ? module : (module as { default: typeof import('exceljs') }).default
}

/** A sheet's name has 31 characters at most, and none of : \ / ? * [ ]. */
const sheetName = (title: string): string => title.replace(/[:\\/?*[\]]/g, ' ').slice(0, 31) || 'Sheet'

/** What stands in a cell as text: of a formula its result, of a day its ISO form. */
function textOf(value: unknown): string {
  if (value === null || value === undefined) return ''
  if (value instanceof Date) return value.toISOString().slice(0, 10)
  if (typeof value !== 'object') return String(value).trim()
  const { result, richText, text } = value as { result?: unknown; richText?: { text: string }[]; text?: unknown }
  if (richText)
    return richText
      .map((part) => part.text)
      .join('')
      .trim()
  return textOf(result ?? text)
}
