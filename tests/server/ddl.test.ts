import fc from 'fast-check'
import { existsSync, readFileSync } from 'node:fs'
import { createServer, type AddressInfo, type Socket } from 'node:net'
import { userInfo } from 'node:os'
import { join } from 'node:path'
import type { RowDataPacket } from 'mysql2'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
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
import { BadRequest, Unreachable } from '../../src/server/services/errors'
import { referencesIn } from '../../src/server/threads/references'
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
beforeEach(() => {
  process.env['SKIVEL_DATABASES'] = `127.0.0.1:${new URL(database.url).port}`
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
    // A dozen databases are made and read.
  }, 180_000)
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
  it('says in one way that it cannot be read', async () => {
    const { hostname: host, port, password } = new URL(database.url)
    const address = {
      host,
      port: Number(port),
      user: 'skivel',
      password: decodeURIComponent(password),
      database: DATABASE,
    }
    const refused = (more: Partial<typeof address>) => databaseTables({ ...address, ...more })
    // Whatever failed is said in the same words: whoever reaches the page learns nothing of what is where.
    const words = async (failing: Promise<unknown>, at: { port: number; database: string }) => {
      const error: unknown = await failing.then(
        () => undefined,
        (thrown: unknown) => thrown,
      )
      expect(error).toBeInstanceOf(Unreachable)
      return String(error).replace(`:${at.port} `, ':PORT ').replace(at.database, 'DATABASE')
    }
    const silent = createServer()
    await new Promise<void>((resolve) => silent.listen(0, '127.0.0.1', resolve))
    const { port: mute } = silent.address() as AddressInfo
    process.env['SKIVEL_DATABASES'] = `127.0.0.1:${port} 127.0.0.1:1 127.0.0.1:${mute}`
    const said = new Set([
      await words(refused({ password: 'wrong' }), address),
      await words(refused({ user: 'nobody' }), address),
      await words(refused({ database: 'mysql' }), { ...address, database: 'mysql' }),
      await words(refused({ port: 1 }), { ...address, port: 1 }),
      await words(databaseTables({ ...address, port: mute }, 1500), { ...address, port: mute }),
    ])
    expect([...said]).toEqual([expect.stringContaining('could not be read')])
    // Asked more often than may ask at once, one that is silent keeps nobody from being asked later.
    await Promise.allSettled(Array.from({ length: 6 }, () => databaseTables({ ...address, port: mute }, 300)))
    silent.close()
    expect((await databaseTables(address)).database).toBe(DATABASE)
  })
})

describe('what may be asked', () => {
  it('is what the keeper of the server has named, and nothing else of any network', async () => {
    const { port } = new URL(database.url)
    const ask = (host: string, at: number) =>
      databaseTables({ host, port: at, user: 'skivel', password: '', database: DATABASE }, 2000)
    process.env['SKIVEL_DATABASES'] = `127.0.0.1:${port} db.example`
    for (const [host, at] of [
      ['169.254.169.254', 80],
      ['127.0.0.1', 1],
      ['db.example', 22],
      ['localhost', Number(port)],
      ['127.0.0.2', Number(port)],
    ] as const)
      await expect(ask(host, at), `${host}:${at}`).rejects.toThrow(BadRequest)
    await expect(ask('127.0.0.1', Number(port))).rejects.toThrow(Unreachable)
  })
})

describe('a foreign program that answers as a database', () => {
  /** Says what it is told to as often as it can, whatever it is asked. */
  const flood = async (part: Buffer) => {
    const sockets = new Set<Socket>()
    const server = createServer((socket) => {
      sockets.add(socket)
      socket.on('error', () => undefined)
      const pour = () => {
        while (!socket.destroyed && socket.write(part));
      }
      socket.on('drain', pour)
      pour()
    })
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    const end = () => {
      for (const socket of sockets) socket.destroy()
      server.close()
    }
    return { port: (server.address() as AddressInfo).port, end }
  }
  it('is heard no further than so many bytes', async () => {
    const one = await flood(Buffer.alloc(65_536, 0xff))
    process.env['SKIVEL_DATABASES'] = `127.0.0.1:${one.port}`
    const before = process.memoryUsage().rss
    await expect(
      databaseTables({ host: '127.0.0.1', port: one.port, user: 'a', password: '', database: 'd' }, 8000),
    ).rejects.toThrow(Unreachable)
    one.end()
    expect((process.memoryUsage().rss - before) / 1e6).toBeLessThan(300)
  })
})

describe('references as a database states them', () => {
  it('are read off its statement, names with backticks and all', () => {
    const statement = [
      'CREATE TABLE `t` (',
      '  `a` int(11) DEFAULT NULL,',
      '  CONSTRAINT `f``1` FOREIGN KEY (`a`,`b``c`) REFERENCES `o``p` (`x`, `y`) ON DELETE CASCADE ON UPDATE CASCADE,',
      '  CONSTRAINT `f2` FOREIGN KEY (`a`) REFERENCES `q` (`x`),',
      '  CONSTRAINT `c` CHECK (`a` > 1),',
      "  `n` varchar(9) COMMENT 'CONSTRAINT `f` FOREIGN KEY (`a`) REFERENCES `b` (`c`)'",
      ') ENGINE=InnoDB',
    ].join('\n')
    expect(referencesIn(statement)).toEqual([
      { columns: ['a', 'b`c'], to: 'o`p', toColumns: ['x', 'y'], cascades: true },
      { columns: ['a'], to: 'q', toColumns: ['x'], cascades: false },
    ])
  })
  it('are looked for in a time that grows with the text alone', () => {
    const bait = (count: number) => `CONSTRAINT ${'FOREIGN KEY (a) REFERENCES '.repeat(count)}`
    const names = (count: number) => `  CONSTRAINT \`f\` FOREIGN KEY (${'`a`,'.repeat(count)}`
    for (const text of [bait(200_000), names(1_000_000), '`'.repeat(4_000_000), 'CONSTRAINT `'.repeat(300_000)]) {
      const began = performance.now()
      expect(referencesIn(text)).toEqual([])
      // Gone through more than once for each of its parts, it would take hours.
      expect(performance.now() - began).toBeLessThan(3000)
    }
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
