import Papa from 'papaparse'
import type { Day, Id, Model } from '../model'
import type { Register } from '../notation'

/** Rows of a register as CSV (RFC 4180) with a heading, the identity first. Texts that a spreadsheet would run as a formula are made harmless. O(cells). */
export function registerCsv(register: Register, model: Model, rows: readonly Id[], day: Day): string {
  const heading = ['Id', ...register.columns.map(({ label }) => label)]
  const cells = rows.map((row) => [row, ...register.columns.map((column) => column.read(model, row, day) ?? '')])
  const safe = cells.map((line) => line.map((cell) => (typeof cell === 'string' ? harmless(cell) : cell)))
  return `${Papa.unparse([heading, ...safe], { newline: '\r\n' })}\r\n`
}

/** An apostrophe before what a spreadsheet would take for a formula. */
export const harmless = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text)
