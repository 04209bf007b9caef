import { covers } from '../../../model'
import {
  adding,
  changed,
  fieldOf,
  fromColumn,
  GONE,
  listOf,
  nameColumn,
  referenceColumn,
  rowsOf,
  setField,
  toColumn,
  tooLongLine,
  tooLongName,
  writing,
  type Column,
  type Refusal,
  type Register,
} from '../../../notation'
import { lastOrder } from '../edits'
import { entityKinds } from '../kinds'
import { schemasById } from './facts'
import { columnLine, namesLine, readColumn, readNames, readReference, referenceLine } from './table'
import { piecesOf } from './statements'

/** A list of a table, written in one line as SQL writes it: `code VARCHAR(8) NOT NULL, name VARCHAR(80)`. */
const listColumn = (id: string, label: string, width: number, tidy: (line: string) => string | Refusal): Column => ({
  id,
  label,
  type: 'text',
  width,
  mono: true,
  read: (model, row) => {
    const table = model.entities.get(row)
    return table && listOf(table, id).join(id === 'unique' || id === 'references' ? '; ' : ', ')
  },
  write: ({ model }, row, text) => {
    if (!model.entities.has(row)) return GONE
    const tooLong = tooLongLine(text)
    if (tooLong) return tooLong
    const lines: string[] = []
    for (const piece of piecesOf(text, id === 'unique' || id === 'references' ? ';' : ',')) {
      const line = tidy(piece.text)
      if (typeof line !== 'string') return line
      const long = tooLongName(line, 'One of them')
      if (long) return long
      lines.push(line)
    }
    return changed(writing(text), [setField(row, id, lines.length === 0 ? null : lines)])
  },
})

const tidyNames = (line: string): string | Refusal => {
  const names = readNames(line)
  return names.length > 0 ? namesLine(names) : { refused: `“${line}” names no column.` }
}

export const columnsColumn = listColumn('columns', 'Columns', 420, (line) => {
  const read = readColumn(line)
  return 'refused' in read ? read : columnLine(read)
})
const keyColumn = listColumn('key', 'Key', 110, tidyNames)
const uniqueColumn = listColumn('unique', 'Unique', 110, tidyNames)
const referencesColumn = listColumn('references', 'References', 260, (line) => {
  const read = readReference(line)
  return 'refused' in read ? read : referenceLine(read)
})

/** What a table says besides its name, as it is typed. */
export const tableColumns: readonly Column[] = [columnsColumn, keyColumn, uniqueColumn, referencesColumn]

const schemaColumn = referenceColumn(fieldOf(entityKinds, 'table', 'schema'), 130)

/** Databases, and which package of classes each keeps. */
export const databaseRegister: Register = {
  id: 'databases',
  title: 'Databases',
  kind: 'schema',
  pictures: ['classes', 'packages'],
  columns: [
    nameColumn('Database', 190),
    referenceColumn(fieldOf(entityKinds, 'schema', 'package'), 150),
    {
      id: 'tables',
      label: 'Tables',
      type: 'number',
      width: 80,
      mono: true,
      read: (model, row, day) => schemasById(model, day).get(row)?.tables.length,
    },
    fromColumn,
    toColumn,
  ],
  rows: rowsOf('schema'),
  add: adding('schema', 'database', ({ model }) => ({ order: lastOrder(model.ofKind('schema')) + 1 })),
}

/** Tables of databases, beside the classes that are compared with them. */
export const tableRegister: Register = {
  id: 'tables',
  title: 'Tables',
  kind: 'table',
  pictures: ['classes', 'packages'],
  columns: [nameColumn('Table', 130), schemaColumn, ...tableColumns],
  rows: (model, _view, day) => model.ofKind('table').flatMap((one) => (covers(one, day) ? one.id : [])),
  add: (wish) => {
    const [schema] = wish.model.ofKind('schema').filter((one) => covers(one, wish.day))
    if (!schema) return { refused: 'A table belongs to a database. Bring one in first.' }
    return adding('table', 'new_table', ({ model }) => ({
      schema: schema.id,
      columns: ['id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT'],
      key: ['id'],
      order: lastOrder(model.ofKind('table')) + 1,
    }))(wish)
  },
}
