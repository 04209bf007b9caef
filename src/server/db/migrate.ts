import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Pool } from 'mysql2/promise'
import { databaseOn } from './pool'

const LOCK = 'skivel-migration'
/** How long another server may work at it before this one says so. */
const LOCK_S = 60

/**
 * Brings a database up to the newest numbered migration in a folder. Two servers may call it at once: a lock lets one of them work, and the other
 * wait. Each statement may be carried out again: a migration that was cut off goes on at the next start.
 * @returns the names of the migrations that were carried out now.
 * @throws Error in words where another server has not come to an end of it.
 */
export async function migrate(pool: Pool, folder: string, patience = LOCK_S): Promise<string[]> {
  const connection = await pool.getConnection()
  const database = databaseOn(connection)
  let isLocked = false
  try {
    const [lock] = await database.rows<{ got: number | null }>('SELECT GET_LOCK(?, ?) AS got', [LOCK, patience])
    isLocked = lock?.got === 1
    if (!isLocked)
      throw new Error(
        `Another server has been bringing the database up to date for ${patience} s. Start this one again when it is done.`,
      )
    await connection.query(
      'CREATE TABLE IF NOT EXISTS migration (name VARCHAR(200) NOT NULL PRIMARY KEY, done_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)) ENGINE=InnoDB',
    )
    const done = new Set((await database.rows<{ name: string }>('SELECT name FROM migration')).map(({ name }) => name))
    const due = readdirSync(folder)
      .filter((name) => /^\d+_.*\.sql$/.test(name) && !done.has(name))
      .sort()
    for (const name of due) {
      for (const statement of statements(readFileSync(join(folder, name), 'utf8'))) await connection.query(statement)
      await database.write('INSERT INTO migration (name) VALUES (?)', [name])
    }
    await connection.query('SELECT RELEASE_LOCK(?)', [LOCK])
    isLocked = false
    return due
  } finally {
    // With a connection that ends, its lock ends too.
    if (isLocked) connection.destroy()
    else connection.release()
  }
}

/** The statements of a migration, one after another. */
export const statements = (sql: string): string[] =>
  sql
    .replace(/^--.*$/gm, '')
    .split(/;\s*(?:\n|$)/)
    .map((statement) => statement.trim())
    .filter(Boolean)
