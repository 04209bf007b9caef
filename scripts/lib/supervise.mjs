import { fork } from 'node:child_process'
import { join } from 'node:path'
import { pause } from './mariadb.mjs'
import { root } from './paths.mjs'

const LOOK_MS = 1000
/** A server that ends sooner than this after it began is not well. */
const SOON_MS = 5000
const MOST_SOON = 5
const KILL_MS = 8000

/**
 * Keeps the database and the web server running: whichever ends without being asked to is started again, with a line that says so.
 * `startDatabase` answers what `startMariaDb` does; without it the database is somebody else's. `stop` ends both, whatever state they are in.
 * @returns {{ stop: () => Promise<void>, kill: () => void, ended: Promise<number> }} `ended` comes with a code when the web server cannot be kept running.
 */
export function supervise({ database, startDatabase, environment, say = console.log }) {
  let held = database
  let server
  let port
  let soon = 0
  let stopping = false
  let end
  const ended = new Promise((resolve) => (end = resolve))

  function startServer() {
    const began = Date.now()
    // Its own process group: Ctrl-C reaches this script, which stops the server before the database.
    const child = fork(join(root, 'scripts', 'serve.mjs'), {
      cwd: root,
      env: { ...environment, SKIVEL_DATABASE_URL: held.url, ...(port ? { PORT: String(port) } : {}) },
      detached: true,
    })
    server = child
    child.on('message', ({ listening }) => (port = listening ?? port))
    child.on('exit', (code, signal) => {
      if (server === child) server = undefined
      if (stopping) return
      // One that never came up has said why.
      if (port === undefined) return end(code ?? 1)
      soon = Date.now() - began < SOON_MS ? soon + 1 : 0
      if (soon >= MOST_SOON) {
        say('The web server does not stay up; Skivel stops.')
        return end(code || 1)
      }
      say(`The web server ended (${signal ?? `code ${code}`}). It is started again.`)
      setTimeout(() => !stopping && startServer(), 200 * 2 ** soon)
    })
  }

  async function watch() {
    while (!stopping && startDatabase) {
      await pause(LOOK_MS)
      if (stopping || held.isUp()) continue
      say('The database ended. It is started again; what was confirmed is all there.')
      try {
        const before = held.url
        held = await startDatabase()
        // Another port: the web server has to be told.
        if (held.url !== before) server?.kill('SIGTERM')
      } catch (error) {
        say(`The database could not be started: ${error.message}`)
      }
    }
  }

  startServer()
  const watching = watch()

  async function stop() {
    stopping = true
    const child = server
    if (child && child.exitCode === null && child.signalCode === null) {
      const gone = new Promise((resolve) => child.once('exit', resolve))
      child.kill('SIGTERM')
      const killing = setTimeout(() => child.kill('SIGKILL'), KILL_MS)
      await gone
      clearTimeout(killing)
    }
    await watching
    await held.stop()
  }
  /** Without waiting for anything. */
  function kill() {
    server?.kill('SIGKILL')
    if (held.pid !== undefined && held.isUp()) process.kill(held.pid, 'SIGTERM')
  }
  return { stop, kill, ended }
}
