import { counted, parseJson } from '../../../model'
import { LIMITS, clip, type ImportedFile, type Refusal, type Wish } from '../../../notation'
import { bringSchema } from '../schema/facts'
import { columnLine, readColumn, typeText, type ForeignKey, type Table, type TableColumn } from '../schema/table'

/** Tables of one database that are read at most. */
const MOST_TABLES = 2000
/** What a fact may list. */
const MOST_LISTED = 1000

type Json = Readonly<Record<string, unknown>>
const isRecord = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value)
const listIn = (json: Json, key: string): readonly unknown[] =>
  Array.isArray(json[key]) ? (json[key] as unknown[]) : []
const textIn = (json: Json, key: string): string => (typeof json[key] === 'string' ? json[key] : '')
const namesIn = (list: unknown): readonly string[] =>
  Array.isArray(list) ? list.filter((one): one is string => typeof one === 'string') : []

/** The tables of a database, as its own description of itself says them: kept beside the classes, which are compared with them. */
export function read(wish: Wish, text: string): ImportedFile | Refusal {
  let json: unknown
  try {
    json = parseJson(text)
  } catch (error) {
    return { refused: `This is not JSON: ${error instanceof Error ? error.message : String(error)}` }
  }
  const name = isRecord(json) ? textIn(json, 'database').trim() : ''
  if (!isRecord(json) || name === '') return { refused: 'There is no “database” here.' }
  if (name.length > LIMITS.name)
    return { refused: `The name of the database has ${name.length} characters; ${LIMITS.name} is the most.` }
  const said = listIn(json, 'tables')
  if (said.length === 0) return { refused: `“${clip(name)}” has no tables that you may read.` }
  if (said.length > MOST_TABLES) return { refused: `“${clip(name)}” has more than ${MOST_TABLES} tables.` }
  const left: string[] = []
  const tables = said.flatMap((one, at): Table[] => {
    const table = isRecord(one) ? tableIn(one, left) : undefined
    if (!table) left.push(`The table number ${at + 1} was not understood.`)
    return table ? [table] : []
  })
  const { steps, added, altered, gone } = bringSchema(wish, name, tables)
  return {
    change: { label: `Read the database “${name}”`, steps },
    facts: [
      steps.length === 0
        ? `The ${counted(tables.length, 'table')} of “${name}” are kept as they are.`
        : `${counted(tables.length, 'table')} of “${name}”: ${added.length} new, ${altered.length} changed, ${gone.length} gone.`,
      ...left.slice(0, 8),
      'What classes say differently then stands among the findings.',
    ],
  }
}

function tableIn(said: Json, left: string[]): Table | undefined {
  const name = textIn(said, 'name')
  if (name === '' || name.length > LIMITS.name) return undefined
  const told = listIn(said, 'columns')
  if (told.length > MOST_LISTED) left.push(`Of the columns of “${clip(name)}” the first ${MOST_LISTED} are kept.`)
  const columns = told.slice(0, MOST_LISTED).flatMap((one): TableColumn[] => {
    if (!isRecord(one)) return []
    const initial = textIn(one, 'initial')
    const column: TableColumn = {
      name: textIn(one, 'name'),
      type: typeText(textIn(one, 'type')),
      isRequired: one['isRequired'] === true,
      ...(initial === '' ? {} : { initial }),
      ...(one['isCounted'] === true ? { isCounted: true as const } : {}),
    }
    // What is kept is read back from its line.
    const isLong = columnLine(column).length > LIMITS.name
    if (isLong) left.push(`All that column “${clip(column.name)}” of “${clip(name)}” may hold is too much to be kept.`)
    const { initial: _, ...plain } = column
    const back = readColumn(columnLine(isLong ? { ...plain, type: 'TEXT' } : column))
    return 'refused' in back ? [] : [back]
  })
  return {
    name,
    columns,
    key: namesIn(said['key']),
    unique: listIn(said, 'unique')
      .map(namesIn)
      .filter((names) => names.length > 0 && names.join().length < LIMITS.name / 2)
      .slice(0, MOST_LISTED),
    foreign: listIn(said, 'foreign').flatMap((one): ForeignKey[] =>
      isRecord(one) && textIn(one, 'to') !== ''
        ? [
            {
              columns: namesIn(one['columns']),
              to: textIn(one, 'to'),
              toColumns: namesIn(one['toColumns']),
              cascades: one['cascades'] === true,
            },
          ]
        : [],
    ),
  }
}
