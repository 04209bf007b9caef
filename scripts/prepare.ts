/** Brings the database up to date and puts the demo into an empty one. Run by `npm start` with tsx. */
import { join } from 'node:path'
import { marramPictures, marramSoundFerries } from '../src/demo'
import { migrate } from '../src/server/db/migrate'
import { openPool } from '../src/server/db/pool'
import { createWorkspace } from '../src/server/services/workspaces'
import { storeOn } from '../src/server/services/store'

const url = process.env['SKIVEL_DATABASE_URL']
if (!url) throw new Error('SKIVEL_DATABASE_URL is not set.')
const store = storeOn(openPool(url))
try {
  await migrate(store.pool, join(import.meta.dirname, '..', 'src', 'server', 'db', 'migrations'))
  const [known] = await store.database.rows<{ count: number }>('SELECT COUNT(*) AS count FROM workspace')
  if (process.argv.includes('--demo') && Number(known?.count) === 0)
    await createWorkspace(store, marramSoundFerries(), marramPictures())
} finally {
  await store.pool.end()
}
