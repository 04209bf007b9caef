/**
 * One command for everything: packages, database, build, server. Needs nothing but Node and, on a new machine, a way to
 * install Debian packages. `--fresh` forgets this clone's database and begins anew.
 */
import { mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { build } from './lib/build.mjs'
import { startMariaDb } from './lib/mariadb.mjs'
import { npmPackages } from './lib/packages.mjs'
import { own } from './lib/paths.mjs'
import { must, Stop } from './lib/run.mjs'
import { supervise } from './lib/supervise.mjs'

let running
let stopping = 0
/** A terminal and npm may both pass one Ctrl-C on. */
const SAME_MS = 700

/** Ends everything in order; asked again a moment later, at once. */
async function stop(code) {
  if (stopping !== 0) {
    if (Date.now() - stopping < SAME_MS) return
    running?.kill?.()
    process.exit(code || 1)
  }
  stopping = Date.now()
  await running?.stop()
  process.exit(code)
}
process.on('SIGINT', () => void stop(0))
process.on('SIGTERM', () => void stop(0))

try {
  const [major, minor] = process.versions.node.split('.').map(Number)
  if (major < 20 || (major === 20 && minor < 18))
    throw new Stop(`Skivel needs Node 20.18 or newer; this is ${process.versions.node}.`)
  mkdirSync(own, { recursive: true, mode: 0o700 })
  await npmPackages()
  const given = process.env.SKIVEL_DATABASE_URL
  const folder = join(own, 'mariadb')
  const startDatabase = given ? undefined : () => startMariaDb(folder, 'skivel')
  if (startDatabase && process.argv.includes('--fresh')) rmSync(folder, { recursive: true, force: true })
  const database = startDatabase ? await startDatabase() : { url: given, isUp: () => true, stop: async () => {} }
  // Until the servers are watched, the database is all there is to stop.
  running = database
  await Promise.all([
    build(),
    must('Preparing the database', process.execPath, ['--import', 'tsx', join('scripts', 'prepare.ts'), '--demo'], {
      env: { ...process.env, SKIVEL_DATABASE_URL: database.url },
    }),
  ])
  if (stopping === 0) {
    const kept = supervise({ database, startDatabase, environment: process.env })
    running = kept
    void kept.ended.then((code) => stop(code))
  }
} catch (error) {
  console.error(error instanceof Stop ? `\n${error.message}` : error)
  await stop(1)
}
