import { carryOutApart } from '../threads/apart'
import type { DatabaseAddress, DatabaseTables } from '../threads/databaseTables'
import { BadRequest, Overload, TooLong, Unreachable } from './errors'

export type { DatabaseAddress }

/** How long all of it may take. */
const MOST_MS = 30_000
/** Databases that are asked at once: each may keep us waiting. */
const MOST_ASKED = 4
let asked = 0

/** Where a MariaDB usually is. */
const PORT = 3306
const LOOPBACK = ['127.0.0.1', 'localhost', '[::1]']

/**
 * Which databases may be asked, as `host:port`: those that the keeper of this server has named in `SKIVEL_DATABASES`, else the one of this machine and the made-up one.
 * Whoever reaches the page would else learn through it what listens where.
 */
function mayBeAsked({ host, port }: DatabaseAddress): boolean {
  const named = process.env['SKIVEL_DATABASES']?.split(/[\s,]+/).filter(Boolean) ?? LOOPBACK
  const own = new URL(process.env['SKIVEL_DATABASE_URL'] ?? 'mysql://localhost')
  const places = [...named, ...LOOPBACK.map((name) => `${name}:${own.port || PORT}`)].map((place) =>
    /:\d+$/.test(place.replace(/^\[.*\]/, '')) ? place : `${place}:${PORT}`,
  )
  const place = `${host.includes(':') ? `[${host}]` : host}:${port}`
  return places.some((one) => one.toLowerCase() === place.toLowerCase())
}

/**
 * The tables of a MariaDB, read in a thread of its own.
 * @throws BadRequest for one that may not be asked; Unreachable, in the same words whatever failed, or where it is too large; Overload
 */
export async function databaseTables(address: DatabaseAddress, patience = MOST_MS): Promise<DatabaseTables> {
  if (!mayBeAsked(address))
    throw new BadRequest(
      'This server does not ask databases there. Whoever keeps it names those that may be asked, in SKIVEL_DATABASES.',
      [{ path: 'host', message: 'is not among those that may be asked' }],
    )
  if (asked >= MOST_ASKED) throw new Overload('Other databases are being asked. Try again in a moment.')
  asked++
  try {
    return await carryOutApart('databaseTables', address, patience)
  } catch (error) {
    if (error instanceof Unreachable) throw error
    if (!(error instanceof TooLong)) console.error('A database could not be read:', wordsOf(error))
    throw new Unreachable(
      `The database “${address.database}” at ${address.host}:${address.port} could not be read: it is not there, does not answer in time, or is not open to this user.`,
    )
  } finally {
    asked--
  }
}

const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error))
