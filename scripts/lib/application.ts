import { chromium, type Browser } from '@playwright/test'
import { join } from 'node:path'
import { migrate } from '../../src/server/db/migrate'
import { openPool } from '../../src/server/db/pool'
import { startServer } from '../../tests/server/running'
import { chromiumOptions } from './chromium'
import { startMariaDb } from './mariadb.mjs'

/** Runs work against the built application with an empty database of its own and a browser, and takes all of it down again. */
export async function withApplication(
  name: string,
  work: (browser: Browser, address: string) => Promise<void>,
): Promise<void> {
  const database = await startMariaDb(join('.skivel', `${name}-mariadb`), `skivel_${name}`)
  const pool = openPool(database.url)
  await migrate(pool, join('src', 'server', 'db', 'migrations'))
  await pool.query('DELETE FROM workspace')
  await pool.end()
  const server = await startServer(database.url)
  const browser = await chromium.launch(chromiumOptions)
  try {
    await work(browser, server.address)
  } finally {
    await browser.close()
    await server.stop()
    await database.stop()
  }
}
