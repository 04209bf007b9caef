import Papa from 'papaparse'
import type { Day, Id, Model } from '../model'
import type { Register } from '../notation'
import { escape } from '../scene'

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

/** Cells as a table of Markdown (GitHub Flavored Markdown 4.10): signs that would mean something are escaped, line ends are spaces. O(cells) */
export function registerMarkdown(cells: readonly (readonly Cell[])[]): string {
  const [head = [], ...rows] = cells
  const line = (row: readonly Cell[]) => `| ${row.map(inMarkdown).join(' | ')} |`
  const rule = `| ${head.map((_, at) => (isNumbers(rows, at) ? '---:' : '---')).join(' | ')} |`
  return `${[line(head), rule, ...rows.map(line)].join('\n')}\n`
}

const inMarkdown = (cell: Cell): string =>
  String(cell)
    .replace(/\s*[\r\n]+\s*/g, ' ')
    .replace(/[\\`*_{}[\]<>|~#]/g, (sign) => `\\${sign}`)
const isNumbers = (rows: readonly (readonly Cell[])[], at: number): boolean =>
  rows.some((row) => typeof row[at] === 'number') && rows.every((row) => row[at] === '' || typeof row[at] === 'number')

/** Cells as a page of HTML that stands alone. O(cells) */
export function registerHtml(title: string, cells: readonly (readonly Cell[])[]): string {
  const [head = [], ...rows] = cells
  const cell = (text: Cell, tag: string) => `<${tag}>${escape(String(text))}</${tag.split(' ')[0]}>`
  return [
    `<!doctype html>\n<html lang="en"><head><meta charset="utf-8"><title>${escape(title)}</title>`,
    '<style>body{font:14px/1.5 system-ui,sans-serif}table{border-collapse:collapse}th,td{text-align:left;vertical-align:top;padding:4px 10px 4px 0;border-bottom:1px solid #d8d4c9}</style></head>',
    `<body><table><caption>${escape(title)}</caption>`,
    `<thead><tr>${head.map((text) => cell(text, 'th scope="col"')).join('')}</tr></thead><tbody>`,
    ...rows.map((row) => `<tr>${row.map((text) => cell(text, 'td')).join('')}</tr>`),
    '</tbody></table></body></html>\n',
  ].join('\n')
}
