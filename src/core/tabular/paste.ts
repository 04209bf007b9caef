import { apply, type Change, type Id, type Model, type Step } from '../model'
import { unmarked } from './table'
import { readingOf } from './understood'
import { isRefusal, LIMITS, type Column, type Outcome, type Register, type Wish } from '../notation'

const MOST_FAULTS = 6

/**
 * Cells from a spreadsheet, written into a register from one cell on, rightwards and downwards. Rows past the last one are added.
 * Column by column, so that a row may name a row that only comes further down. All or nothing: one cell that is refused refuses the paste.
 * O(cells), each at the cost of its column's `write`.
 */
export function pasteCells(
  wish: Wish,
  register: Register,
  at: {
    readonly rows: readonly Id[]
    readonly columns: readonly Column[]
    readonly row: number
    readonly column: number
  },
  pasted: readonly (readonly string[])[],
): Outcome {
  const cells = pasted.map((row) => row.map(unmarked))
  const size = cells.reduce((sum, row) => sum + row.reduce((length, cell) => length + cell.length + 1, 0), 0)
  if (cells.length > LIMITS.lines || size > LIMITS.paste)
    return {
      refused: `${cells.length.toLocaleString('en')} rows are more than one paste takes (${LIMITS.lines.toLocaleString('en')}). Nothing was changed.`,
    }
  const steps: Step[] = []
  let model: Model = wish.model
  const take = (change: Change) => {
    if (change.steps.length === 0) return
    model = apply(model, change).model
    steps.push(...change.steps)
  }
  const ids: Id[] = []
  for (let i = 0; i < cells.length; i++) {
    const known = at.rows[at.row + i]
    if (known !== undefined) {
      ids.push(known)
      continue
    }
    const added = register.add({ ...wish, model })
    if (isRefusal(added)) return added
    take(added.change)
    if (added.select !== undefined) ids.push(added.select)
  }
  const faults: string[] = []
  const width = Math.max(0, ...cells.map((row) => row.length))
  for (let j = 0; j < width; j++) {
    const column = at.columns[at.column + j]
    if (!column?.write) continue
    const { read, doubt } = readAlike(column, cells, j)
    if (doubt !== undefined) {
      faults.push(`${column.label}: ${doubt}`)
      continue
    }
    cells.forEach((row, i) => {
      const id = ids[i]
      const typed = row[j]
      const text = typed === undefined ? undefined : read(typed)
      if (id === undefined || text === undefined || !column.write) return
      if (String(column.read(model, id, wish.day) ?? '') === text.trim()) return
      const outcome = column.write({ ...wish, model }, id, text)
      if (isRefusal(outcome)) faults.push(`Row ${i + 1}, ${column.label}: ${outcome.refused}`)
      else take(outcome.change)
    })
  }
  if (faults.length > 0) {
    const more = faults.length > MOST_FAULTS ? [`… and ${faults.length - MOST_FAULTS} more.`] : []
    return { refused: ['Nothing was pasted.', ...faults.slice(0, MOST_FAULTS), ...more].join('\n') }
  }
  return {
    change: { label: `Paste ${cells.length} ${cells.length === 1 ? 'row' : 'rows'} into ${register.title}`, steps },
  }
}

/** The cells of a pasted column are read alike: days in the order that fits them all, numbers with a decimal comma where they have one. */
function readAlike(
  column: Column,
  cells: readonly (readonly string[])[],
  index: number,
): { readonly read: (cell: string) => string; readonly doubt?: string } {
  const asTyped = { read: (cell: string) => cell }
  if (column.type !== 'day' && column.type !== 'number') return asTyped
  const list = cells.flatMap((row) => row[index]?.trim() || [])
  if (column.type === 'number' && !list.every((cell) => /^[-\d.,\s\u00a0\u202f’']+$/.test(cell))) return asTyped
  const { read, ways, doubtful } = readingOf({ id: '', label: column.label, headings: [], says: column.type }, list)
  if (!doubtful) return { read: (cell) => read(cell.trim()) ?? cell }
  return column.type === 'number'
    ? asTyped
    : { ...asTyped, doubt: `${ways.map(({ label }) => label).join(', ')}? Write one as 2026-11-24.` }
}
