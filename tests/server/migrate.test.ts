import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { userInfo } from 'node:os'
import { join, resolve } from 'node:path'
import type { Pool } from 'mysql2/promise'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startMariaDb } from '../../scripts/lib/mariadb.mjs'
import { migrate, statements } from '../../src/server/db/migrate'
import { databaseOn, openPool } from '../../src/server/db/pool'

const FOLDER = 'src/server/db/migrations'
const files = readdirSync(FOLDER).sort()
/** One of its own: databases come and go there. */
const OWN = join('.skivel', 'test-mariadb-migrate')
let server: Awaited<ReturnType<typeof startMariaDb>>
const pools: Pool[] = []

/** A database there, as its owner sees it. */
function open(name: string): Pool {
  const note = join(OWN, 'socket-path')
  const socket = existsSync(note) ? readFileSync(note, 'utf8') : resolve(OWN, 'db.sock')
  const pool = openPool(`mysql://${userInfo().username}@localhost/${name}?socket=${encodeURIComponent(socket)}`)
  pools.push(pool)
  return pool
}

beforeAll(async () => {
  server = await startMariaDb(OWN, 'skivel_migrate')
})
afterAll(async () => {
  for (const pool of pools) await pool.end()
  await server.stop()
})

/** An empty database. */
async function empty(name: string): Promise<Pool> {
  const maker = open('skivel_migrate')
  await maker.query(`DROP DATABASE IF EXISTS ${name}`)
  await maker.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`)
  return open(name)
}

/** All tables as the database would make them. */
async function shape(pool: Pool): Promise<readonly string[]> {
  const database = databaseOn(pool)
  const tables = await database.rows<{ name: string }>(
    'SELECT TABLE_NAME AS name FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() ORDER BY TABLE_NAME',
  )
  const made: string[] = []
  for (const { name } of tables) {
    const [rows] = await pool.query<never[]>(`SHOW CREATE TABLE \`${name}\``)
    made.push(String((rows[0] as unknown as Record<string, string>)['Create Table']).replace(/ AUTO_INCREMENT=\d+/, ''))
  }
  return made
}

describe('migrations', () => {
  it('are carried out once', async () => {
    const pool = await empty('skivel_migrate_once')
    expect(await migrate(pool, FOLDER)).toEqual(files)
    expect(await migrate(pool, FOLDER)).toEqual([])
  })
  it('go on wherever they were cut off, and end as if they had not been', { timeout: 120_000 }, async () => {
    const whole = await empty('skivel_migrate_whole')
    await migrate(whole, FOLDER)
    const wanted = await shape(whole)
    expect(wanted.length).toBeGreaterThan(8)
    const all = files.flatMap((name) =>
      statements(readFileSync(join(FOLDER, name), 'utf8')).map((sql, at) => ({ name, sql, at })),
    )
    for (const { name, at } of all) {
      const pool = await empty('skivel_migrate_cut')
      // What came before, and of this one the statements up to that which was carried out without anybody noting it.
      await pool.query(
        'CREATE TABLE migration (name VARCHAR(200) NOT NULL PRIMARY KEY, done_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)) ENGINE=InnoDB',
      )
      for (const one of all) {
        if (one.name < name || (one.name === name && one.at <= at)) await pool.query(one.sql)
        if (one.name < name && one.at === 0) await pool.query('INSERT INTO migration (name) VALUES (?)', [one.name])
      }
      expect(await migrate(pool, FOLDER), `${name} cut off after statement ${at + 1}`).toEqual(
        files.filter((one) => one >= name),
      )
      expect(await shape(pool), `${name} cut off after statement ${at + 1}`).toEqual(wanted)
    }
  })
  it('are one server’s work: another waits for it, and says so where that does not end', async () => {
    const pool = await empty('skivel_migrate_two')
    const names = (await Promise.all([migrate(pool, FOLDER), migrate(pool, FOLDER)])).flat().sort()
    expect(names).toEqual(files)
    const holder = await pool.getConnection()
    await holder.query("SELECT GET_LOCK('skivel-migration', 1)")
    await expect(migrate(pool, FOLDER, 1)).rejects.toThrow('Another server has been bringing')
    holder.destroy()
    expect(await migrate(pool, FOLDER)).toEqual([])
  })
})
