import fc from 'fast-check'
import { existsSync, readFileSync } from 'node:fs'
import { createServer, type AddressInfo } from 'node:net'
import { userInfo } from 'node:os'
import { join } from 'node:path'
import type { RowDataPacket } from 'mysql2'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { createConnection, type Connection } from 'mysql2/promise'
import { startMariaDb } from '../../scripts/lib/mariadb.mjs'
import { ddlOf } from '../../src/core/notations/uml/formats/ddl'
import { tablesOf } from '../../src/core/notations/uml/formats/tables'
import { read as readDdl } from '../../src/core/notations/uml/formats/readDdl'
import { read } from '../../src/core/notations/uml/formats/readSchema'
import { schemasOn } from '../../src/core/notations/uml/schema/facts'
import { columnLine, referenceLine, type Table } from '../../src/core/notations/uml/schema/table'
import { apply, asId, Model } from '../../src/core/model'
import { bookingTables, marramSoundFerries } from '../../src/demo'
import { databaseTables } from '../../src/server/services/databases'
import { Unreachable } from '../../src/server/services/errors'
import { classModelOf, classView } from '../classShapes'
import { classModel, textOf } from '../core/uml/facts'
import { databaseModels, statements } from '../databaseShapes'
import { DAY, wishFor } from '../facts'

/** The statements that are written, carried out by a real MariaDB; then what it says of itself, against what was meant. */

const DATABASE = 'skivel_ddl_test'
const FOLDER = join('.skivel', 'test-mariadb-ddl')
let connection: Connection

let database: Awaited<ReturnType<typeof startMariaDb>>

beforeAll(async () => {
  // One of its own: what is carried out there may do as it likes.
  database = await startMariaDb(FOLDER, DATABASE)
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

/** What the database tells of itself, as it is kept. */
async function readBack(user = 'skivel'): Promise<readonly Table[]> {
  const { hostname: host, port, password } = new URL(database.url)
  const { tables } = await databaseTables({
    host,
    port: Number(port),
    user,
    password: user === 'skivel' ? decodeURIComponent(password) : '',
    database: DATABASE,
  })
  const begun = Model.of({ views: [classView()] })
  const found = read(wishFor(begun, { view: classView() }), JSON.stringify({ database: DATABASE, tables }))
  if ('refused' in found) throw new Error(found.refused)
  const [schema] = schemasOn(apply(begun, found.change).model, DAY)
  return (schema?.tables ?? []).map(({ name, columns, key, unique, foreign }) => ({
    name,
    columns,
    key,
    unique,
    foreign,
  }))
}

/** Tables in one order, and what stands in each in no order that means anything. */
const sorted = (tables: readonly Table[]) =>
  tables
    .map(({ name, columns, key, unique, foreign }) => ({
      name,
      columns: columns.map((one) => columnLine(one)),
      key,
      unique: unique.map((one) => one.join()).sort(),
      foreign: foreign.map(referenceLine).sort(),
    }))
    .sort((one, other) => (one.name < other.name ? -1 : 1))

describe('a database that is read', () => {
  it('tells what was written, whatever the classes, and makes the same classes', async () => {
    for (const text of fc.sample(databaseModels, { numRuns: 12, seed: 7 })) {
      const model = classModel(text)
      const tables = tablesOf(model, classView(), DAY)
      await carriedOut(tables)
      const told = await readBack()
      expect(sorted(told)).toEqual(sorted(tables))
      const sql = readDdl(wishFor(Model.of({ views: [classView()] }), { view: classView() }), ddlOf(told))
      if ('refused' in sql) throw new Error(sql.refused)
      const used = (line: string) => !/^Date(?:Time)? {2}\(primitive\)$/.test(line)
      expect(statements(textOf(apply(Model.of({ views: [classView()] }), sql.change).model)).filter(used)).toEqual(
        statements(textOf(model)).filter(used),
      )
    }
  })
  it('tells the same to who may do nothing but look, and nothing can be written by it', async () => {
    const demo = marramSoundFerries()
    const tables = bookingTables(demo, DAY)
    await carriedOut(tables)
    const note = join(FOLDER, 'socket-path')
    const socket = existsSync(note) ? readFileSync(note, 'utf8') : join(FOLDER, 'db.sock')
    const root = await createConnection({ socketPath: socket, user: userInfo().username })
    await root.query("CREATE USER IF NOT EXISTS 'looker'@'127.0.0.1'")
    await root.query(`GRANT SELECT ON ${DATABASE}.* TO 'looker'@'127.0.0.1'`)
    await root.end()
    expect(sorted(await readBack('looker'))).toEqual(sorted(await readBack()))
    expect(sorted(await readBack('looker'))).toEqual(sorted(tables))
  })
  it('says why where it cannot be read', async () => {
    const { hostname: host, port, password } = new URL(database.url)
    const address = {
      host,
      port: Number(port),
      user: 'skivel',
      password: decodeURIComponent(password),
      database: DATABASE,
    }
    const refused = (more: Partial<typeof address>) => databaseTables({ ...address, ...more })
    await expect(refused({ password: 'wrong' })).rejects.toThrow(/refuses this user or password/)
    await expect(refused({ user: 'nobody' })).rejects.toThrow(/refuses this user or password/)
    await expect(refused({ database: 'mysql' })).rejects.toThrow(/is not open to this user/)
    await expect(refused({ port: 1 })).rejects.toThrow(/nobody listens there/)
    await expect(refused({ host: 'no.such.host.invalid' })).rejects.toThrow(Unreachable)
    // One that takes a connection and says nothing, asked more often than may ask at once.
    const silent = createServer()
    await new Promise<void>((resolve) => silent.listen(0, '127.0.0.1', resolve))
    const { port: mute } = silent.address() as AddressInfo
    for (let at = 0; at < 6; at++)
      await expect(databaseTables({ ...address, port: mute }, 100)).rejects.toThrow(/does not answer in time/)
    silent.close()
    expect((await databaseTables(address)).database).toBe(DATABASE)
  })
})

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
