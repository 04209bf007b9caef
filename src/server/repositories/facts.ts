import {
  bySort,
  Model,
  SORTS,
  sorts,
  touchedBy,
  type Fact,
  type Settings,
  type Shape,
  type Sort,
  type Step,
  type Touched,
} from '../../core/model'
import type { Database } from '../db/pool'

/** Rows written by one statement: keeps a statement well below the server's largest packet. */
const CHUNK = 4000

/** Views are small and few, and nothing is looked for within them: a row holds one as it is. */
const WHOLE: ReadonlySet<Sort> = new Set(['view'])

interface Column {
  readonly name: string
  /** Where the fact holds it, and what it is as a column: compared to the letter, as the tables do. */
  readonly path: string
  readonly type: string
  /** A record is stored as JSON. */
  readonly isRecord?: true
}

const TEXT = 'VARCHAR(64) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin'
const TYPES: Readonly<Record<Shape, string>> = {
  name: 'VARCHAR(400)',
  note: 'LONGTEXT',
  day: 'CHAR(10)',
  end: TEXT,
  order: 'DOUBLE',
  picture: TEXT,
}
/** Names of columns that are words of the language elsewhere. */
const NAMES: Readonly<Record<string, string>> = { from: 'from_day', to: 'to_day' }

function columnsOf(sort: Sort): readonly Column[] {
  const { fixed, paths, parts } = SORTS[sort]
  return [
    ...fixed.map((path): Column => ({ name: path, path, type: TEXT })),
    ...Object.entries(paths).map(([path, { shape }]): Column => ({
      name: NAMES[path] ?? path,
      path,
      type: TYPES[shape],
    })),
    ...parts.map((path): Column => ({ name: path, path, type: 'LONGTEXT', isRecord: true })),
  ]
}

type Row = Readonly<Record<string, unknown>>

/** How facts of a sort are read from and written to their table: any number of rows as one JSON list. */
interface Table {
  readonly read: string
  readonly write: string
  readonly remove: string
  readonly factOf: (row: Row) => Fact
  /** Records travel as text within the JSON, so that they are stored to the letter. */
  readonly rowOf: (fact: Fact) => object
}

function tableOf(sort: Sort): Table {
  const columns = WHOLE.has(sort) ? [{ name: 'definition', path: 'definition', type: 'LONGTEXT' }] : columnsOf(sort)
  const names = columns.map(({ name }) => name).join(', ')
  const paths = columns.map(({ name, path, type }) => `${name} ${type} PATH '$.${path}'`).join(', ')
  const values = columns.map(({ name }) => `${name} = VALUES(${name})`).join(', ')
  return {
    read: `SELECT id, ${names} FROM \`${sort}\` WHERE workspace_id = ? ORDER BY seq`,
    write: `INSERT INTO \`${sort}\` (workspace_id, id, ${names})
      SELECT ?, t.* FROM JSON_TABLE(?, '$[*]' COLUMNS (id ${TEXT} PATH '$.id', ${paths})) t
      ON DUPLICATE KEY UPDATE ${values}`,
    remove: `DELETE FROM \`${sort}\` WHERE workspace_id = ? AND id IN (SELECT id FROM JSON_TABLE(?, '$[*]' COLUMNS (id ${TEXT} PATH '$')) t)`,
    ...(WHOLE.has(sort)
      ? {
          factOf: ({ definition }) => definition as Fact,
          rowOf: (fact) => ({ id: fact.id, definition: JSON.stringify(fact) }),
        }
      : {
          factOf: (row) => {
            const fact: Record<string, unknown> = { id: row['id'] }
            for (const { name, path } of columns) if (row[name] !== null) fact[path] = row[name]
            return fact as unknown as Fact
          },
          rowOf: (fact) => {
            const stated = fact as unknown as Row
            const cell = ({ path, isRecord }: Column) =>
              isRecord ? JSON.stringify(stated[path]) : (stated[path] ?? null)
            return { id: fact.id, ...Object.fromEntries(columns.map((column) => [column.path, cell(column)])) }
          },
        }),
  }
}

const TABLES = bySort(tableOf)

/** All facts of a workspace, in the order in which they were stated. A statement a sort. */
export async function readFacts(
  database: Database,
  workspace: string,
  name: string,
  settings: Settings,
): Promise<Model> {
  const lists = await Promise.all(
    sorts.map(async (sort) => {
      const rows = await database.rows<Row>(TABLES[sort].read, [workspace])
      return [SORTS[sort].list, rows.map(TABLES[sort].factOf)]
    }),
  )
  return Model.of({ name, settings: { ...Model.empty.settings, ...settings }, ...Object.fromEntries(lists) })
}

/**
 * Writes the facts that the steps touched as they stand in `model`, in the order in which it holds them. A few statements, whatever
 * the number of steps.
 */
export async function writeTouched(
  database: Database,
  workspace: string,
  model: Model,
  steps: readonly Step[],
): Promise<void> {
  const touched = touchedBy(steps)
  for (const sort of sorts) await store(database, workspace, sort, touched[sort], model)
}

/** Writes all facts of a new workspace. */
export async function writeAll(database: Database, workspace: string, model: Model): Promise<void> {
  for (const sort of sorts) {
    const written = new Map([...model[SORTS[sort].list].keys()].map((id, index) => [id, index]))
    await store(database, workspace, sort, { removed: new Set(), written }, model)
  }
}

/** A fact that was removed and made anew stands last, so its row goes before it comes. */
async function store(
  database: Database,
  workspace: string,
  sort: Sort,
  { removed, written }: Touched,
  model: Model,
): Promise<void> {
  const table = TABLES[sort]
  const gone = [...removed]
  const kept = [...written.keys()].flatMap((id) => {
    const fact = model[SORTS[sort].list].get(id)
    return fact ? table.rowOf(fact) : []
  })
  for (let i = 0; i < gone.length; i += CHUNK)
    await database.write(table.remove, [workspace, JSON.stringify(gone.slice(i, i + CHUNK))])
  for (let i = 0; i < kept.length; i += CHUNK)
    await database.write(table.write, [workspace, JSON.stringify(kept.slice(i, i + CHUNK))])
}
