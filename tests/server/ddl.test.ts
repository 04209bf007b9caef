import { join } from 'node:path'
import type { RowDataPacket } from 'mysql2'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { createConnection, type Connection } from 'mysql2/promise'
import { startMariaDb } from '../../scripts/lib/mariadb.mjs'
import { ddlOf } from '../../src/core/notations/uml/formats/ddl'
import { tablesOf, type Table } from '../../src/core/notations/uml/formats/tables'
import { asId } from '../../src/core/model'
import { marramSoundFerries } from '../../src/demo'
import { classModelOf, classView } from '../classShapes'
import { DAY } from '../facts'

/** The statements that are written, carried out by a real MariaDB; then what it says of itself, against what was meant. */

const DATABASE = 'skivel_ddl_test'
let connection: Connection

let database: Awaited<ReturnType<typeof startMariaDb>>

beforeAll(async () => {
  // One of its own: what is carried out there may do as it likes.
  database = await startMariaDb(join('.skivel', 'test-mariadb-ddl'), DATABASE)
  connection = await createConnection({ uri: database.url, multipleStatements: true })
})
afterAll(async () => {
  await connection.end()
  await database.stop()
})

interface Said {
  readonly columns: readonly string[]
  readonly key: readonly string[]
  readonly foreign: readonly string[]
}

async function carriedOut(tables: readonly Table[]): Promise<Map<string, Said>> {
  await connection.query(
    `DROP DATABASE IF EXISTS ${DATABASE}; CREATE DATABASE ${DATABASE} CHARACTER SET utf8mb4; USE ${DATABASE}`,
  )
  await connection.query(ddlOf(tables))
  const rows = async (sql: string) => (await connection.query<RowDataPacket[]>(sql, [DATABASE]))[0]
  const columns = await rows(
    'SELECT TABLE_NAME t, COLUMN_NAME c, IS_NULLABLE n, COLUMN_KEY k FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = ? ORDER BY TABLE_NAME, ORDINAL_POSITION',
  )
  const keys = await rows(
    "SELECT TABLE_NAME t, COLUMN_NAME c FROM information_schema.KEY_COLUMN_USAGE WHERE TABLE_SCHEMA = ? AND CONSTRAINT_NAME = 'PRIMARY' ORDER BY TABLE_NAME, ORDINAL_POSITION",
  )
  const foreign = await rows(
    'SELECT TABLE_NAME t, COLUMN_NAME c, REFERENCED_TABLE_NAME rt, REFERENCED_COLUMN_NAME rc FROM information_schema.KEY_COLUMN_USAGE WHERE TABLE_SCHEMA = ? AND REFERENCED_TABLE_NAME IS NOT NULL',
  )
  const of = (list: RowDataPacket[], table: string) => list.filter(({ t }) => t === table)
  return new Map(
    [...new Set(columns.map(({ t }) => String(t)))].map((table) => [
      table,
      {
        columns: of(columns, table).map(({ c, n }) => `${String(c)} ${n === 'NO' ? 'required' : 'may be missing'}`),
        key: of(keys, table).map(({ c }) => String(c)),
        foreign: of(foreign, table)
          .map(({ c, rt, rc }) => `${String(c)} -> ${String(rt)}.${String(rc)}`)
          .sort(),
      },
    ]),
  )
}

const meant = (tables: readonly Table[]): Map<string, Said> =>
  new Map(
    tables.map(({ name, columns, key, foreign }) => [
      name,
      {
        columns: columns.map((one) => `${one.name} ${one.isRequired ? 'required' : 'may be missing'}`),
        key: [...key],
        foreign: foreign
          .flatMap((one) => one.columns.map((column, at) => `${column} -> ${one.to}.${one.toColumns[at] ?? ''}`))
          .sort(),
      },
    ]),
  )

describe('tables of classes', () => {
  it('of the booking software are taken by MariaDB as they are meant', async () => {
    const demo = marramSoundFerries()
    const tables = tablesOf(demo, demo.views.get(asId('tickets')) ?? classView(), DAY)
    expect(tables.length).toBeGreaterThan(20)
    expect(await carriedOut(tables)).toEqual(meant(tables))
    // What must be there is asked for, and what is gone takes its parts along.
    await expect(connection.query('INSERT INTO refund (amount_amount) VALUES (1)')).rejects.toThrow()
  })
  it('of any classes, in circles and with themselves', async () => {
    for (const [classes, ties] of [
      [5, 12],
      [40, 90],
    ] as const) {
      const tables = tablesOf(classModelOf({ classes, ties }), classView(), DAY)
      expect(await carriedOut(tables)).toEqual(meant(tables))
    }
  })
})
