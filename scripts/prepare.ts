/** Brings the database up to date, puts the demo into an empty one, and lays the made-up database beside it. Run by `npm start` with tsx. */
import { join } from 'node:path'
import { asDay } from '../src/core/model'
import { marramPictures, marramSoundFerries, marramTalk } from '../src/demo'
import { migrate } from '../src/server/db/migrate'
import { openPool } from '../src/server/db/pool'
import { say } from '../src/server/services/comments'
import { createWorkspace } from '../src/server/services/workspaces'
import { NotFound } from '../src/server/services/errors'
import { standinDatabase } from '../src/server/services/standinDatabase'
import { storeOn } from '../src/server/services/store'
import { bookingStatements } from '../src/standins/bookingDatabase'

const url = process.env['SKIVEL_DATABASE_URL']
if (!url) throw new Error('SKIVEL_DATABASE_URL is not set.')
const store = storeOn(openPool(url))
try {
  await migrate(store.pool, join(import.meta.dirname, '..', 'src', 'server', 'db', 'migrations'))
  const [known] = await store.database.rows<{ count: number }>('SELECT COUNT(*) AS count FROM workspace')
  if (process.argv.includes('--demo') && Number(known?.count) === 0) {
    const demo = marramSoundFerries()
    const id = await createWorkspace(store, demo, marramPictures())
    for (const said of marramTalk(demo)) await say(store, id, said)
  }
  if (process.argv.includes('--demo')) await layStandin()
} finally {
  await store.pool.end()
}

async function layStandin(): Promise<void> {
  try {
    await standinDatabase(store, asDay(new Date().toISOString().slice(0, 10)), bookingStatements)
  } catch (error) {
    // In a MariaDB of somebody's own none is laid.
    if (!(error instanceof NotFound)) throw error
  }
}
