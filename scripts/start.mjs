/**
 * One command for everything: packages, database, build, server. Needs nothing but Node and, on a new machine, a way to
 * install Debian packages. `--fresh` forgets this clone's database and begins anew.
 */
import { fork } from 'node:child_process'
import { mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { build } from './lib/build.mjs'
import { startMariaDb } from './lib/mariadb.mjs'
import { npmPackages } from './lib/packages.mjs'
import { own, root } from './lib/paths.mjs'
import { must, Stop } from './lib/run.mjs'

let database
let server
let stopping = false

async function stop(code) {
  if (stopping) return
  stopping = true
  if (server && server.exitCode === null) {
    const gone = new Promise((resolve) => server.once('exit', resolve))
    server.kill('SIGTERM')
    await gone
  }
  await database?.stop()
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
  if (!given) {
    const folder = join(own, 'mariadb')
    if (process.argv.includes('--fresh')) rmSync(folder, { recursive: true, force: true })
    database = await startMariaDb(folder, 'skivel')
  }
  const env = { ...process.env, SKIVEL_DATABASE_URL: given ?? database.url }
  await Promise.all([
    build(),
    must('Preparing the database', process.execPath, ['--import', 'tsx', join('scripts', 'prepare.ts'), '--demo'], {
      env,
    }),
  ])
  if (!stopping) {
    // Its own process group: Ctrl-C reaches this script, which stops the server before the database.
    server = fork(join(root, 'scripts', 'serve.mjs'), { cwd: root, env, detached: true })
    server.on('exit', (code) => void stop(code ?? 1))
  }
} catch (error) {
  console.error(error instanceof Stop ? `\n${error.message}` : error)
  await stop(1)
}
