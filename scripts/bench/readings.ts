/** Many who read while some work: how soon those who work are answered, what readers get, and how much memory the server takes. */
import { readFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { join } from 'node:path'
import { writeWorkspace } from '../../src/core/file'
import { marramSoundFerries } from '../../src/demo'
import { migrate } from '../../src/server/db/migrate'
import { openPool } from '../../src/server/db/pool'
import { startServer } from '../../tests/server/running'
import { startMariaDb } from '../lib/mariadb.mjs'

const ROUNDS = 6
const [READERS, READERS_OF_LARGE, WORKERS] = [300, 50, 30]
const BOXES = 3000
/** Each of them states something once a second or so, none at the same moment as the others. */
const PAUSE_MS = [500, 1500] as const

const database = await startMariaDb(join('.skivel', 'readings-mariadb'), 'skivel_readings')
const pool = openPool(database.url)
await migrate(pool, join('src', 'server', 'db', 'migrations'))
await pool.query('DELETE FROM workspace')
await pool.end()
// Each of them asks from an address of their own, as behind a proxy.
const server = await startServer(database.url, { SKIVEL_BEHIND_PROXY: 'yes' })
const from = (who: number) => ({ 'x-forwarded-for': `10.0.${who >> 8}.${who & 255}` })

interface Told {
  readonly id: string
  readonly path: string
  readonly revision: number
  readonly workspace: { readonly entities: { readonly id: string }[]; readonly views: { readonly id: string }[] }
}
/** Sent by hand, and what comes is not unpacked: who asks shares the processors with who is asked. */
const agent = new Agent({ keepAlive: true, timeout: 4000 })
function exchange(path: string, who: number, text?: string, headers = {}): Promise<{ status: number; bytes: Buffer }> {
  const method = text === undefined ? 'GET' : 'POST'
  const all = { 'content-type': 'application/json', ...from(who), ...headers }
  return new Promise((resolve, reject) => {
    request(server.address + path, { method, agent, headers: all }, (response) => {
      const parts: Buffer[] = []
      response.on('data', (part: Buffer) => parts.push(part))
      response.on('end', () => resolve({ status: response.statusCode ?? 0, bytes: Buffer.concat(parts) }))
      response.on('error', reject)
    })
      .on('error', reject)
      .end(text)
  })
}
const read = (path: string, who: number) => exchange(path, who, undefined, { 'accept-encoding': 'gzip' })
async function ask(path: string, who: number, body?: object, headers = {}): Promise<{ status: number; body: Told }> {
  const { status, bytes } = await exchange(path, who, body && JSON.stringify(body), headers)
  return { status, body: JSON.parse(bytes.toString()) as Told }
}
const begun = async (who: number, body: object) => {
  const { id } = (await ask('/api/workspaces', who, body)).body
  const { workspace } = (await ask(`/api/workspaces/${id}`, who)).body
  return { id, view: workspace.views[0]?.id ?? '', first: workspace.entities[0]?.id ?? '' }
}
const chart = (count: number) =>
  [
    'Head — Head',
    ...Array.from({ length: count }, (_, at) => `${'  '.repeat(1 + (at % 6))}Person ${at} — Title ${at}`),
  ].join('\n')
const pageOf = async (workspace: string, view: string) =>
  (await ask(`/api/workspaces/${workspace}/readers`, 0, { reach: 'view', of: view, findings: false })).body.path

const memory = () =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.process.pid}/status`, 'utf8'))?.[1] ?? 0) / 1024
const statuses = new Map<string, number>()
const count = (what: string) => statuses.set(what, (statuses.get(what) ?? 0) + 1)
const timed = async (into: number[], work: () => Promise<unknown>) => {
  const began = performance.now()
  await work()
  into.push(performance.now() - began)
}
const percentile = (list: readonly number[], share: number) =>
  Math.round([...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))] ?? 0)

const demo = (await ask('/api/workspaces', 0, { file: writeWorkspace(marramSoundFerries()) })).body.id
const large = await begun(0, { list: chart(BOXES), as: 'people' })
const [small, big] = [await pageOf(demo, 'port-services'), await pageOf(large.id, large.view)]
const atRest = memory()
let [peak, isOver] = [0, false]
const watch = setInterval(() => (peak = Math.max(peak, memory())), 100)
const took = { changes: [] as number[], pictures: [] as number[], readings: [] as number[], large: [] as number[] }

const working = Array.from({ length: WORKERS }, async (_, who) => {
  const own = await begun(who, { list: chart(99), as: 'people' })
  for (let at = 0; !isOver; at++) {
    const steps = [{ do: 'set-entity', id: own.first, path: 'name', value: `Name ${at}` }]
    const change = { id: `${who}-${at}`, base: at, label: 'l', author: 'a', steps }
    await timed(took.changes, async () => {
      const { status } = await ask(`/api/workspaces/${own.id}/changes`, who, change, { 'x-skivel-writer': `w${who}` })
      count(`change ${status}`)
    })
    if (at % 5 === 0)
      await timed(took.pictures, async () => {
        const { status } = await read(`/api/workspaces/${own.id}/views/${own.view}.svg`, who)
        count(`picture ${status}`)
      })
    await new Promise((resolve) => setTimeout(resolve, PAUSE_MS[0] + Math.random() * (PAUSE_MS[1] - PAUSE_MS[0])))
  }
})
await new Promise((resolve) => setTimeout(resolve, 1500))
for (let round = 0; round < ROUNDS; round++)
  await Promise.all([
    ...Array.from({ length: READERS }, (_, who) =>
      timed(took.readings, async () => count(`reading ${(await read(small, 100 + who)).status}`)),
    ),
    ...Array.from({ length: READERS_OF_LARGE }, (_, who) =>
      timed(took.large, async () => count(`reading ${(await read(big, 1000 + who)).status}`)),
    ),
  ])
isOver = true
await Promise.all(working)
clearInterval(watch)
console.table(
  Object.entries(took).map(([what, list]) => ({
    what,
    count: list.length,
    'p50 ms': percentile(list, 0.5),
    'p99 ms': percentile(list, 0.99),
  })),
)
console.table([...statuses].map(([what, times]) => ({ answered: what, times })))
console.table([{ 'MB at rest': Math.round(atRest), 'MB at most': Math.round(peak) }])
await server.stop()
await database.stop()
