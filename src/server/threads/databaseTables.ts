import { connect, type Socket } from 'node:net'
import mysql, { type Connection, type RowDataPacket } from 'mysql2/promise'
import { grouped } from '../../core/model'
import { Unreachable } from '../services/errors'
import { referencesIn, type ToldReference } from './references'

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

const MOST_TABLES = 2000
const MOST_COLUMNS = 40_000
/** Bytes that a database may say in all. */
const MOST_BYTES = 16_000_000
const PATIENCE_MS = 10_000

/**
 * The tables of a MariaDB, by its `information_schema`. Nothing is written there. It is a foreign program: what it says is bounded before it is read. O(columns)
 * @throws Unreachable where it is too large, in words; whatever its connection throws
 */
export async function tablesTold(address: DatabaseAddress): Promise<DatabaseTables> {
  const who = `The database “${address.database}” at ${address.host}:${address.port}`
  let socket: Socket | undefined
  let heard = 0
  const connection = await mysql.createConnection({
    ...address,
    charset: 'utf8mb4',
    connectTimeout: PATIENCE_MS,
    // A server may ask for files of this machine: it gets none.
    flags: ['-LOCAL_FILES'],
    stream: () => {
      socket = connect({ host: address.host, port: address.port, timeout: PATIENCE_MS })
      socket.on('timeout', () => socket?.destroy(new Error('it is silent')))
      socket.on('data', ({ length }: Buffer) => {
        heard += length
        if (heard > MOST_BYTES) socket?.destroy(new Error('it says too much'))
      })
      return socket
    },
  })
  connection.on('error', () => undefined)
  try {
    await connection.query({ sql: 'SET SESSION TRANSACTION READ ONLY', timeout: PATIENCE_MS })
    return { database: address.database, tables: await tablesOf(connection, address.database, who) }
  } catch (error) {
    if (heard > MOST_BYTES)
      throw new Unreachable(`${who} tells more than ${MOST_BYTES / 1e6} MB of itself, which is too much.`)
    throw error
  } finally {
    connection.destroy()
    socket?.destroy()
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

/** The references of a table, as the statement says that would make it. */
async function madeReferences(connection: Connection, table: string): Promise<readonly ToldReference[]> {
  const [rows] = await connection.query<RowDataPacket[]>({ sql: 'SHOW CREATE TABLE ??', timeout: PATIENCE_MS }, [table])
  return referencesIn(String(rows[0]?.['Create Table'] ?? ''))
}

/** Rows by their table, and those of each by their index. */
function gathered<T extends IndexRow>(rows: readonly T[]): ReadonlyMap<string, ReadonlyMap<string, readonly T[]>> {
  return new Map([...grouped(rows, ({ t }) => t)].map(([name, list]) => [name, grouped(list, ({ i }) => i)]))
}
