import { join } from 'node:path'
import type { TestProject } from 'vitest/node'
import { startMariaDb } from '../../scripts/lib/mariadb.mjs'
import { migrate } from '../../src/server/db/migrate'
import { openPool } from '../../src/server/db/pool'

declare module 'vitest' {
  export interface ProvidedContext {
    readonly databaseUrl: string
  }
}

/** A MariaDB of the tests' own, brought up to the newest migration. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const database = await startMariaDb(join('.skivel', 'test-mariadb'), 'skivel_server_test')
  const pool = openPool(database.url)
  await pool.query('DROP DATABASE skivel_server_test')
  await pool.query('CREATE DATABASE skivel_server_test CHARACTER SET utf8mb4')
  await pool.query('USE skivel_server_test')
  await pool.end()
  const fresh = openPool(database.url)
  await migrate(fresh, 'src/server/db/migrations')
  await fresh.end()
  project.provide('databaseUrl', database.url)
  return database.stop
}
