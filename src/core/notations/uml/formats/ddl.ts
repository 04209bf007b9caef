import type { FileExport } from '../../../notation'
import type { Table, TableColumn } from '../schema/table'
import { tablesOf } from './tables'

/** The classes of a view as tables in the dialect of MariaDB 10.11. */
export const ddlExport = {
  id: 'ddl',
  title: 'SQL tables',
  extension: '.sql',
  mediaType: 'application/sql',
  write: (model, view, day) =>
    `-- ${view.title.replace(/\s+/g, ' ')}, as of ${day}\n\n${ddlOf(tablesOf(model, view, day))}`,
} satisfies FileExport

const name = (text: string): string => `\`${text.replaceAll('`', '``')}\``
const list = (names: readonly string[]): string => names.map(name).join(', ')

/** Tables first, then what refers from one to another: in any order they may refer to each other. */
export const statementsOf = (tables: readonly Table[]): readonly string[] => [
  ...tables.map(tableText),
  ...tables.flatMap(foreignTexts),
]
export const ddlOf = (tables: readonly Table[]): string =>
  statementsOf(tables)
    .map((text) => `${text};\n`)
    .join('\n')

const columnText = ({ name: called, type, isRequired, initial, isCounted }: TableColumn): string =>
  [
    name(called),
    type,
    isRequired ? 'NOT NULL' : 'NULL',
    isCounted ? 'AUTO_INCREMENT' : '',
    initial === undefined ? '' : `DEFAULT ${initial}`,
  ]
    .filter(Boolean)
    .join(' ')

function tableText({ name: called, columns, key, unique }: Table): string {
  const lines = [
    ...columns.map(columnText),
    `PRIMARY KEY (${list(key)})`,
    ...unique.map((one) => `UNIQUE (${list(one)})`),
  ]
  return `CREATE TABLE ${name(called)} (\n  ${lines.join(',\n  ')}\n) CHARACTER SET utf8mb4`
}

const foreignTexts = ({ name: called, foreign }: Table): readonly string[] =>
  foreign.map(
    ({ columns, to, toColumns, cascades }) =>
      `ALTER TABLE ${name(called)}\n  ADD FOREIGN KEY (${list(columns)}) REFERENCES ${name(to)} (${list(toColumns)})${cascades ? ' ON DELETE CASCADE' : ''}`,
  )
