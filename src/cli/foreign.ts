import { apply, asId, Model, writableWithin, type Day } from '../core/model'
import type { Notation, Table, TableImport, Wish } from '../core/notation'
import { registry } from '../core/notations'
import { guessMapping, readTable, understoodRows } from '../core/tabular'
import { baseOf, decodedOf, endingOf } from './content'
import { UsageError } from './wishes'

/** A workspace of a file in another format: of the notations that read its ending the first that makes something of it, of a table the one that knows most of its columns. */
export async function readForeign(file: string, day: Day): Promise<{ model: Model; notes: readonly string[] }> {
  const { text, note } = decodedOf(file)
  const said = note === undefined ? [] : [note]
  const ending = endingOf(file)
  let refused: string | undefined
  for (const notation of registry.notations) {
    const whole = notation.files.find(({ extensions }) => extensions.includes(ending))
    const begun = begunFor(notation, file, day)
    if (whole) {
      const bare = Model.of({ name: baseOf(file) })
      const { read } = await whole.load()
      const found = read({ ...begun, model: bare }, text)
      // A file that brings no view of its own is shown in the usual one.
      if (!('refused' in found)) {
        const base = found.view === undefined ? begun.model : bare
        return { model: apply(base, writableWithin(found.change)).model, notes: [...found.facts, ...said] }
      }
      refused ??= found.refused
    }
    for (const sort of notation.imports) {
      const reader = sort.readers.find(({ extensions }) => extensions.includes(ending))
      const table = reader?.read(text)
      if (table && !('refused' in table)) return planned(begun, sort, table, said)
      refused ??= table?.refused
    }
  }
  if (refused !== undefined) throw new UsageError(refused)
  if (!['.csv', '.tsv'].includes(ending)) throw new UsageError(`Files ending in “${ending}” are not read here.`)
  const table = readTable(text)
  if ('refused' in table) throw new UsageError(table.refused)
  const known = (sort: TableImport) => guessMapping(table.heading, sort.columns).filter(Boolean).length
  const [best] = registry.notations
    .flatMap((notation) => notation.imports.map((sort) => ({ notation, sort, count: known(sort) })))
    .sort((a, b) => b.count - a.count)
  if (!best) throw new UsageError(`Files ending in “${ending}” are not read here.`)
  return planned(begunFor(best.notation, file, day), best.sort, table, said)
}

/** Nothing but a view of a notation, and the wish to bring something into it. */
function begunFor(notation: Notation, file: string, day: Day): Wish {
  let count = 0
  const view = notation.view(() => asId('view'), baseOf(file))
  const model = Model.of({ name: baseOf(file), views: [view] })
  return { model, view, day, selection: [], newId: () => asId(`n${++count}`) }
}

function planned(wish: Wish, sort: TableImport, table: Table, said: readonly string[]) {
  const mapping = guessMapping(table.heading, sort.columns)
  const { rows, understood } = understoodRows(table, mapping, sort.columns)
  const guessed = understood.flatMap((one, index) => {
    const heading = table.heading[index] ?? ''
    if (one?.doubtful)
      throw new UsageError(
        `Nothing in “${heading}” tells how it is meant: ${one.ways.map(({ label }) => label).join(', or ')}.`,
      )
    return one?.said === undefined ? [] : [`“${heading}”: ${one.said}.`]
  })
  const plan = sort.plan(wish, rows, { leaveOutFaulty: false, endGone: false })
  if (plan.faults.length > 0)
    throw new UsageError(plan.faults.map(({ row, column, message }) => `Row ${row}, ${column}: ${message}`).join('\n'))
  return {
    model: apply(wish.model, writableWithin(plan.change)).model,
    notes: [...(table.notes ?? []), ...guessed, ...said],
  }
}
