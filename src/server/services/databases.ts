import mysql, { type Connection, type RowDataPacket } from 'mysql2/promise'
import { grouped } from '../../core/model'
import { Unreachable } from './errors'

/** Where a database is, and who asks it. Nothing of it is kept. */
export interface DatabaseAddress {
  readonly host: string
  readonly port: number
  readonly user: string
  readonly password: string
  readonly database: string
}

/** What a database tells of itself; the core reads it. */
export interface DatabaseTables {
  readonly database: string
  readonly tables: readonly ToldTable[]
}
interface ToldTable {
  readonly name: string
  readonly columns: readonly {
    readonly name: string
    readonly type: string
    readonly isRequired: boolean
    /** A literal as the database writes it. */
    readonly initial?: string
    readonly isCounted?: true
  }[]
  readonly key: readonly string[]
  readonly unique: readonly (readonly string[])[]
  readonly foreign: readonly ToldReference[]
}
interface ToldReference {
  readonly columns: readonly string[]
  readonly to: string
  readonly toColumns: readonly string[]
  readonly cascades: boolean
}

const MOST_TABLES = 2000
const MOST_COLUMNS = 40_000

const PATIENCE_MS = 10_000
/** How long all of it may take. */
const MOST_MS = 30_000
/** Databases that are asked at once: each may keep us waiting. */
const MOST_ASKED = 4
let asked = 0

/**
 * The tables of a MariaDB, by its `information_schema`. Nothing is written there. O(columns)
 * @throws Unreachable when it does not answer, refuses, or is too large, in words that name it.
 */
export async function databaseTables(address: DatabaseAddress, patience = MOST_MS): Promise<DatabaseTables> {
  if (asked >= MOST_ASKED) throw new Unreachable('Other databases are being asked. Try again in a moment.')
  asked++
  const who = `The database “${address.database}” at ${address.host}:${address.port}`
  let connection: Connection | undefined
  let timer: ReturnType<typeof setTimeout> | undefined
  let isOver = false
  // One that answers word by word, or never, keeps nobody else waiting.
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Unreachable(`${who} does not answer in time.`)), patience)
  })
  const read = async (): Promise<DatabaseTables> => {
    connection = await mysql.createConnection({
      ...address,
      charset: 'utf8mb4',
      connectTimeout: PATIENCE_MS,
      // A server may ask for files of this machine: it gets none.
      flags: ['-LOCAL_FILES'],
    })
    connection.on('error', () => undefined)
    if (isOver) connection.destroy()
    await connection.query({ sql: 'SET SESSION TRANSACTION READ ONLY', timeout: PATIENCE_MS })
    return { database: address.database, tables: await tablesOf(connection, address.database, who) }
  }
  try {
    return await Promise.race([read(), late])
  } catch (error) {
    if (error instanceof Unreachable) throw error
    throw new Unreachable(`${who} ${wordsFor(error)}`)
  } finally {
    asked--
    isOver = true
    clearTimeout(timer)
    connection?.destroy()
  }
}

interface ColumnRow extends RowDataPacket {
  readonly t: string
  readonly c: string
  readonly type: string
  readonly nullable: string
  readonly initial: string | null
  readonly extra: string
}
interface IndexRow extends RowDataPacket {
  readonly t: string
  readonly i: string
  readonly c: string
}
interface ReferenceRow extends IndexRow {
  readonly rt: string | null
  readonly rc: string | null
  readonly rule: string | null
}

async function tablesOf(connection: Connection, database: string, who: string): Promise<readonly ToldTable[]> {
  const rows = async <T extends RowDataPacket>(sql: string): Promise<T[]> => {
    const [found] = await connection.query<T[]>({ sql: `${sql} LIMIT ${MOST_COLUMNS + 1}`, timeout: PATIENCE_MS }, [
      database,
    ])
    if (found.length > MOST_COLUMNS)
      throw new Unreachable(`${who} has more than ${MOST_COLUMNS.toLocaleString('en')} columns, which are too many.`)
    return found
  }
  const columns = await rows<ColumnRow>(
    `SELECT c.TABLE_NAME t, c.COLUMN_NAME c, c.COLUMN_TYPE type, c.IS_NULLABLE nullable, c.COLUMN_DEFAULT initial, c.EXTRA extra
     FROM information_schema.COLUMNS c
     JOIN information_schema.TABLES o ON o.TABLE_SCHEMA = c.TABLE_SCHEMA AND o.TABLE_NAME = c.TABLE_NAME AND o.TABLE_TYPE = 'BASE TABLE'
     WHERE c.TABLE_SCHEMA = ? ORDER BY c.TABLE_NAME, c.ORDINAL_POSITION`,
  )
  const indexes = await rows<IndexRow>(
    `SELECT TABLE_NAME t, INDEX_NAME i, COLUMN_NAME c FROM information_schema.STATISTICS
     WHERE TABLE_SCHEMA = ? AND NON_UNIQUE = 0 ORDER BY TABLE_NAME, INDEX_NAME, SEQ_IN_INDEX`,
  )
  const visible = await rows<ReferenceRow>(
    `SELECT k.TABLE_NAME t, k.CONSTRAINT_NAME i, k.COLUMN_NAME c, k.REFERENCED_TABLE_NAME rt, k.REFERENCED_COLUMN_NAME rc, r.DELETE_RULE rule
     FROM information_schema.KEY_COLUMN_USAGE k
     LEFT JOIN information_schema.REFERENTIAL_CONSTRAINTS r ON r.CONSTRAINT_SCHEMA = k.CONSTRAINT_SCHEMA AND r.TABLE_NAME = k.TABLE_NAME AND r.CONSTRAINT_NAME = k.CONSTRAINT_NAME
     WHERE k.TABLE_SCHEMA = ? ORDER BY k.TABLE_NAME, k.CONSTRAINT_NAME, k.ORDINAL_POSITION`,
  )
  const names = [...new Set(columns.map(({ t }) => t))]
  if (names.length > MOST_TABLES)
    throw new Unreachable(`${who} has more than ${MOST_TABLES.toLocaleString('en')} tables, which are too many.`)
  const keys = gathered(indexes)
  // To who may do nothing but read, not all of them is told there: then each table is asked how it was made.
  const refers = visible.filter(({ rt }) => rt !== null)
  const isBlind = (visible.length === 0 && indexes.length > 0) || refers.some(({ rule }) => rule === null)
  const ties = new Map<string, readonly ToldReference[]>()
  if (isBlind) for (const name of names) ties.set(name, await madeReferences(connection, name))
  else for (const [name, list] of gathered(refers)) ties.set(name, [...list.values()].map(referenceOf))
  const byTable = grouped(columns, ({ t }) => t)
  return names.map((name): ToldTable => ({
    name,
    columns: (byTable.get(name) ?? []).map(({ c, type, nullable, initial, extra }) => ({
      name: c,
      type,
      isRequired: nullable === 'NO',
      ...(initial !== null && /^(?:'|-?\d)/.test(initial) ? { initial } : {}),
      ...(/auto_increment/i.test(extra) ? { isCounted: true as const } : {}),
    })),
    key: (keys.get(name)?.get('PRIMARY') ?? []).map(({ c }) => c),
    unique: [...(keys.get(name) ?? [])].flatMap(([index, list]) =>
      index === 'PRIMARY' ? [] : [list.map(({ c }) => c)],
    ),
    foreign: ties.get(name) ?? [],
  }))
}

const referenceOf = (list: readonly ReferenceRow[]): ToldReference => ({
  columns: list.map(({ c }) => c),
  to: list[0]?.rt ?? '',
  toColumns: list.map(({ rc }) => rc ?? ''),
  cascades: list[0]?.rule === 'CASCADE',
})

const REFERENCE = /^\s*CONSTRAINT .* FOREIGN KEY \((.+)\) REFERENCES `((?:[^`]|``)+)` \((.+)\)(.*)$/gm

/** The references of a table, as the statement says that would make it. */
async function madeReferences(connection: Connection, table: string): Promise<readonly ToldReference[]> {
  const [rows] = await connection.query<RowDataPacket[]>({ sql: 'SHOW CREATE TABLE ??', timeout: PATIENCE_MS }, [table])
  const names = (list: string) => [...list.matchAll(/`((?:[^`]|``)+)`/g)].map(([, name = '']) => plain(name))
  const plain = (name: string) => name.replaceAll('``', '`')
  return [...String(rows[0]?.['Create Table'] ?? '').matchAll(REFERENCE)].map(
    ([, columns = '', to = '', toColumns = '', actions = '']) => ({
      columns: names(columns),
      to: plain(to),
      toColumns: names(toColumns),
      cascades: /ON DELETE CASCADE/.test(actions),
    }),
  )
}

/** Rows by their table, and those of each by their index. */
function gathered<T extends IndexRow>(rows: readonly T[]): ReadonlyMap<string, ReadonlyMap<string, readonly T[]>> {
  return new Map([...grouped(rows, ({ t }) => t)].map(([name, list]) => [name, grouped(list, ({ i }) => i)]))
}

const WORDS: Readonly<Record<string, string>> = {
  ER_DBACCESS_DENIED_ERROR: 'is not open to this user.',
  ER_BAD_DB_ERROR: 'is not there.',
  ECONNREFUSED: 'does not answer: nobody listens there.',
  ENOTFOUND: 'does not answer: nobody knows that host.',
  ETIMEDOUT: 'does not answer.',
}

function wordsFor(error: unknown): string {
  const code = error instanceof Error && 'code' in error ? String(error.code) : ''
  if (code.startsWith('ER_ACCESS_DENIED')) return 'refuses this user or password.'
  return WORDS[code] ?? `does not answer as a MariaDB: ${error instanceof Error ? error.message : String(error)}`
}
