import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Pool } from 'mysql2/promise'
import { databaseOn } from './pool'

/**
 * Brings a database up to the newest numbered migration in a folder. Two servers may call it at once: a lock lets one of them work.
 * @returns the names of the migrations that were carried out now.
 */
export async function migrate(pool: Pool, folder: string): Promise<string[]> {
  const connection = await pool.getConnection()
  const database = databaseOn(connection)
  try {
    await connection.query("SELECT GET_LOCK('skivel-migration', 60)")
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
    return due
  } finally {
    await connection.query("SELECT RELEASE_LOCK('skivel-migration')")
    connection.release()
  }
}

const statements = (sql: string): string[] =>
  sql
    .replace(/^--.*$/gm, '')
    .split(/;\s*(?:\n|$)/)
    .map((statement) => statement.trim())
    .filter(Boolean)
