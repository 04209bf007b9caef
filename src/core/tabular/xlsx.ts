import type { Table } from '../notation'
import { tableOf } from './table'

/** The first sheet of a workbook that has cells, as a table (ISO/IEC 29500, read with exceljs). Its library comes when it is first needed. O(cells). */
export async function readXlsx(bytes: ArrayBuffer): Promise<Table | { readonly refused: string }> {
  const { Workbook } = await library()
  const book = new Workbook()
  try {
    await book.xlsx.load(bytes)
  } catch (error) {
    return { refused: `This is no XLSX workbook: ${error instanceof Error ? error.message : String(error)}` }
  }
  const sheet = book.worksheets.find(({ actualRowCount }) => actualRowCount > 0)
  if (!sheet) return { refused: 'There is no sheet with cells in this workbook.' }
  const rows: string[][] = []
  sheet.eachRow({ includeEmpty: false }, (row) => {
    const cells: string[] = []
    for (let column = 1; column <= sheet.columnCount; column++) cells.push(textOf(row.getCell(column).value))
    if (cells.some((cell) => cell !== '')) rows.push(cells)
  })
  return tableOf(rows)
}

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
