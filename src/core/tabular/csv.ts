import Papa from 'papaparse'
import type { Day, Id, Model } from '../model'
import type { Register } from '../notation'

type Cell = string | number

/** A register's rows under its heading, the identity first. Texts that a spreadsheet would run as a formula are made harmless. O(cells). */
export function registerCells(register: Register, model: Model, rows: readonly Id[], day: Day): Cell[][] {
  const heading = ['Id', ...register.columns.map(({ label }) => label)]
  const cells = rows.map((row) => [row, ...register.columns.map((column) => column.read(model, row, day) ?? '')])
  return [heading, ...cells.map((line) => line.map((cell) => (typeof cell === 'string' ? harmless(cell) : cell)))]
}

/** Cells as CSV (RFC 4180). */
export const registerCsv = (cells: readonly (readonly Cell[])[]): string =>
  `${Papa.unparse(cells as Cell[][], { newline: '\r\n' })}\r\n`

/** An apostrophe before what a spreadsheet would take for a formula. */
export const harmless = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text)
