import mysql, { type Pool, type PoolConnection, type ResultSetHeader, type RowDataPacket } from 'mysql2/promise'

export type Row = RowDataPacket
export type Value = string | number | Buffer | null

/** Where statements are run: the pool, or one connection within a transaction. Prepared statements only. */
export interface Database {
  rows<T>(sql: string, values?: readonly Value[]): Promise<(T & Row)[]>
  write(sql: string, values?: readonly Value[]): Promise<ResultSetHeader>
}

const CONNECT_MS = 3000

/** A pool for a `mysql://` or `mariadb://` address. It connects when first asked. */
export function openPool(url: string): Pool {
  const { hostname, port, username, password, pathname, searchParams } = new URL(url)
  const socketPath = searchParams.get('socket')
  return mysql.createPool({
    ...(socketPath ? { socketPath } : { host: hostname, port: Number(port || 3306) }),
    user: decodeURIComponent(username),
    password: decodeURIComponent(password),
    database: pathname.slice(1),
    charset: 'utf8mb4',
    timezone: 'Z',
    connectionLimit: 10,
    connectTimeout: CONNECT_MS,
    supportBigNumbers: true,
    enableKeepAlive: true,
  })
}

export const databaseOn = (runner: Pool | PoolConnection): Database => ({
  async rows<T>(sql: string, values: readonly Value[] = []) {
    const [rows] = await runner.execute<(T & Row)[]>(sql, [...values])
    return rows
  },
  async write(sql, values = []) {
    const [result] = await runner.execute<ResultSetHeader>(sql, [...values])
    return result
  },
})

/** Runs work in one transaction: committed when it returns, rolled back when it throws. */
export async function inTransaction<T>(pool: Pool, work: (database: Database) => Promise<T>): Promise<T> {
  const connection = await pool.getConnection()
  let broken = false
  try {
    await connection.beginTransaction()
    const result = await work(databaseOn(connection))
    await connection.commit()
    return result
  } catch (error) {
    broken = isUnavailable(error)
    // A connection that is gone has rolled back by itself.
    if (!broken) await connection.rollback()
    throw error
  } finally {
    if (broken) connection.destroy()
    else connection.release()
  }
}

const UNAVAILABLE = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'ENOENT',
  'EPIPE',
  'ETIMEDOUT',
  'PROTOCOL_CONNECTION_LOST',
  'ER_SERVER_SHUTDOWN',
  'ER_CON_COUNT_ERROR',
  'ER_NORMAL_SHUTDOWN',
  'ER_CONNECTION_KILLED',
])

/** Whether an error is known by its code, or by what it says. */
const isOf =
  (codes: ReadonlySet<string>, words: RegExp) =>
  (error: unknown): boolean =>
    error instanceof Error && (('code' in error && codes.has(String(error.code))) || words.test(error.message))

/** Whether an error says that the database does not answer, rather than that it refuses. */
export const isUnavailable = isOf(UNAVAILABLE, /connection is in closed state|Connection lost|Pool is closed/i)

/** What a database says, or the system under it, that has no room to write. */
const FULL = new Set([
  'ER_DISK_FULL',
  'ER_RECORD_FILE_FULL',
  'ER_ERROR_ON_WRITE',
  'ER_TEMP_FILE_WRITE_FAILURE',
  'ENOSPC',
  'EDQUOT',
])

/** Whether an error says that there is no room left to write anything. */
export const isFull = isOf(FULL, /No space left on device|table is full|disk full/i)
