import { spawn } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { freePort, pause, startMariaDb } from '../../scripts/lib/mariadb.mjs'
import { supervise } from '../../scripts/lib/supervise.mjs'
import { migrate } from '../../src/server/db/migrate'
import { openPool } from '../../src/server/db/pool'

/** The command lines of all processes that run now, by process. */
const commandLines = (): { pid: number; line: string }[] =>
  readdirSync('/proc').flatMap((pid) => {
    if (!/^\d+$/.test(pid)) return []
    try {
      return [{ pid: Number(pid), line: readFileSync(join('/proc', pid, 'cmdline'), 'utf8').replaceAll('\0', ' ') }]
    } catch {
      // It has ended while the list was read.
      return []
    }
  })
/** This process's web servers. */
const servers = () =>
  commandLines().filter(({ pid, line }) => {
    if (!line.includes('scripts/serve.mjs')) return false
    const stat = readFileSync(join('/proc', String(pid), 'stat'), 'utf8')
    return Number(stat.split(') ')[1]?.split(' ')[1]) === process.pid
  })

/** Prints every command line of a database's that is seen. */
const WATCH = `
const fs = require('fs')
for (;;)
  for (const pid of fs.readdirSync('/proc'))
    try {
      const line = fs.readFileSync('/proc/' + pid + '/cmdline', 'utf8').replaceAll('\\0', ' ')
      if (line.includes('mariadb')) fs.writeSync(1, line + '\\n')
    } catch {}
`

describe('the servers of npm start', { timeout: 120_000 }, () => {
  it('are started again when they are killed, and stopped when that is asked for', async () => {
    const folder = join('.skivel', 'test-supervised')
    const start = () => startMariaDb(folder, 'supervised')
    const database = await start()
    const pool = openPool(database.url)
    await migrate(pool, 'src/server/db/migrations')
    await pool.end()
    const said: string[] = []
    const port = await freePort(undefined)
    const kept = supervise({
      database,
      startDatabase: start,
      environment: { ...process.env, PORT: String(port) },
      say: (line) => said.push(line),
    })
    const well = async () => {
      const deadline = Date.now() + 30_000
      for (;;) {
        const answer = await fetch(`http://127.0.0.1:${port}/api/health`).catch(() => undefined)
        if (answer?.ok) return
        if (Date.now() > deadline) throw new Error(`it is not well: ${said.join(' ')}`)
        await pause(100)
      }
    }
    await well()
    const [server] = servers()
    process.kill(server?.pid ?? 0, 'SIGKILL')
    await pause(50)
    await well()
    expect(said).toEqual(['The web server ended (SIGKILL). It is started again.'])
    const made = await fetch(`http://127.0.0.1:${port}/api/workspaces`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ list: 'Ada — Head', name: 'Kept' }),
    })
    expect(made.status).toBe(201)
    process.kill(database.pid ?? 0, 'SIGKILL')
    await pause(1500)
    await well()
    expect(said[1]).toContain('The database ended. It is started again')
    const { id } = (await made.json()) as { id: string }
    expect((await fetch(`http://127.0.0.1:${port}/api/workspaces/${id}`)).status).toBe(200)
    await kept.stop()
    expect(servers()).toEqual([])
    await expect(fetch(`http://127.0.0.1:${port}/api/health`)).rejects.toThrow()
  })
  it('stop although the web server has just been killed', async () => {
    const database = await startMariaDb(join('.skivel', 'test-supervised'), 'supervised')
    const kept = supervise({ database, environment: { ...process.env, PORT: '0' }, say: () => undefined })
    await pause(300)
    for (const { pid } of servers()) process.kill(pid, 'SIGKILL')
    await kept.stop()
    expect(servers()).toEqual([])
    // Asked again at once, when there is nothing left to end.
    expect(() => kept.kill()).not.toThrow()
  })
  it('do not show the database’s password to everybody on the machine', async () => {
    const folder = join('.skivel', 'test-secret')
    // Setting up blocks this process, so another one looks at all command lines again and again.
    const watcher = spawn(process.execPath, ['-e', WATCH], { stdio: ['ignore', 'pipe', 'inherit'] })
    let seen = ''
    watcher.stdout.on('data', (part: Buffer) => (seen += part.toString()))
    await pause(300)
    const database = await startMariaDb(folder, 'secret')
    await pause(100)
    watcher.kill()
    const { password } = new URL(database.url)
    await database.stop()
    expect(seen.includes('mariadbd')).toBe(true)
    expect(/mariadb .*--socket/.test(seen)).toBe(true)
    expect(seen.includes(decodeURIComponent(password))).toBe(false)
  })
})
