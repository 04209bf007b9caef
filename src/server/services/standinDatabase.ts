import type { Day } from '../../core/model'
import { BOOKING_DATABASE } from '../../demo'
import type { DatabaseAddress } from './databases'
import { NotFound } from './errors'
import type { Store } from './store'

/** Who may look at the made-up database, as `scripts/lib/mariadb.mjs` lays it out. */
const READER = { user: 'reader', password: 'made-up-and-read-only', database: BOOKING_DATABASE } as const
const LOCK_S = 20

let laying: Promise<unknown> = Promise.resolve()
let laidOn: Day | undefined

/**
 * Where the made-up booking database is, laid by the statements for a day.
 * @throws NotFound where this program works in somebody's own MariaDB, in which none is laid.
 */
export async function standinDatabase(
  store: Store,
  day: Day,
  statements: (day: Day) => readonly string[],
): Promise<DatabaseAddress> {
  const turn = laying.then(() => lay(store, day, statements))
  laying = turn.catch(() => undefined)
  await turn
  const { hostname, port } = new URL(process.env['SKIVEL_DATABASE_URL'] ?? '')
  return { ...READER, host: hostname, port: Number(port || 3306) }
}

async function lay({ pool }: Store, day: Day, statements: (day: Day) => readonly string[]): Promise<void> {
  if (laidOn === day) return
  laidOn = undefined
  const connection = await pool.getConnection()
  try {
    await connection.query(`SELECT GET_LOCK('${BOOKING_DATABASE}', ${LOCK_S})`)
    await connection.query(`DROP DATABASE IF EXISTS ${BOOKING_DATABASE}`)
    await connection.query(`CREATE DATABASE ${BOOKING_DATABASE} CHARACTER SET utf8mb4`)
    await connection.query(`USE ${BOOKING_DATABASE}`)
    for (const statement of statements(day)) await connection.query(statement)
    laidOn = day
  } catch (error) {
    if (!isRefused(error)) throw error
    throw new NotFound(
      'No made-up database is laid here: Skivel works in a MariaDB of your own. Type in where yours is.',
    )
  } finally {
    // Its next user would be in this database, and hold its lock.
    connection.destroy()
  }
}

const isRefused = (error: unknown): boolean =>
  error instanceof Error && 'code' in error && error.code === 'ER_DBACCESS_DENIED_ERROR'
