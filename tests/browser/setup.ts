import { join } from 'node:path'
import { startMariaDb } from '../../scripts/lib/mariadb.mjs'
import { migrate } from '../../src/server/db/migrate'
import { openPool } from '../../src/server/db/pool'
import { startServer } from '../server/running'

/** The built server before a database of the browser tests' own. */
export default async function setup(): Promise<() => Promise<void>> {
  const database = await startMariaDb(join('.skivel', 'test-browser-mariadb'), 'skivel_browser_test')
  const pool = openPool(database.url)
  await pool.query('DROP DATABASE skivel_browser_test')
  await pool.query('CREATE DATABASE skivel_browser_test CHARACTER SET utf8mb4')
  await pool.end()
  const fresh = openPool(database.url)
  await migrate(fresh, 'src/server/db/migrations')
  await fresh.end()
  const server = await startServer(database.url)
  process.env['SKIVEL_ADDRESS'] = server.address
  process.env['SKIVEL_TEST_DATABASE_URL'] = database.url
  return async () => {
    await server.stop()
    await database.stop()
  }
}
