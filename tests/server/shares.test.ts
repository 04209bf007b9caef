import ICAL from 'ical.js'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { writeWorkspace } from '../../src/core/file'
import { marramSoundFerries } from '../../src/demo'
import { openPool } from '../../src/server/db/pool'
import { asked, startServer, type Running } from './running'

let server: Running
let workspace = ''
const shares = () => `/api/workspaces/${workspace}/shares`
interface Answer {
  id: string
  path: string
  share: { id: string; readAt: string | null }
  shares: { id: string; readAt: string | null }[]
  error: { message: string; faults?: { path: string }[] }
}
const call = (path: string, method?: string, body?: unknown) => asked<Answer>(server, path, method, body)
const makeOne = async (view = 'dry-dock') => (await call(shares(), 'POST', { view, format: 'plan' })).body
const summaries = (text: string) =>
  new ICAL.Component(ICAL.parse(text) as ConstructorParameters<typeof ICAL.Component>[0])
    .getAllSubcomponents('vevent')
    .map((event) => String(event.getFirstPropertyValue('summary')))

beforeAll(async () => {
  server = await startServer(inject('databaseUrl'))
  workspace = (await call('/api/workspaces', 'POST', { file: writeWorkspace(marramSoundFerries()) })).body.id
})
afterAll(() => server.stop())

describe('an address to subscribe to', () => {
  it('answers the plan as a calendar, and what is changed meanwhile', async () => {
    const { path } = await makeOne()
    expect(path).toMatch(/^\/feeds\/[\w-]{43}\.ics$/)
    const first = await fetch(server.address + path)
    expect([first.status, first.headers.get('content-type')]).toEqual([200, 'text/calendar; charset=utf-8'])
    const before = summaries(await first.text())
    const task = [...marramSoundFerries().entities.values()].find(
      ({ kind, name }) => kind === 'task' && before.includes(name),
    )
    const steps = [{ do: 'set-entity', id: task?.id, path: 'name', value: 'A name of its own' }]
    const change = { id: `share-${Date.now()}`, base: 0, label: 'l', author: 'a', steps }
    expect((await call(`/api/workspaces/${workspace}/changes`, 'POST', change)).status).toBe(200)
    const after = summaries(await (await fetch(server.address + path)).text())
    expect([before.includes('A name of its own'), after.includes('A name of its own')]).toEqual([false, true])
    expect(after).toHaveLength(before.length)
  })
  it('says that nothing is new without sending it all again', async () => {
    const { path } = await makeOne()
    const first = await fetch(server.address + path)
    const tag = first.headers.get('etag') ?? ''
    const again = await fetch(server.address + path, { headers: { 'if-none-match': `"other", ${tag}` } })
    expect([again.status, await again.text(), again.headers.get('etag')]).toEqual([304, '', tag])
    expect((await fetch(server.address + path, { headers: { 'if-none-match': '"other"' } })).status).toBe(200)
    expect((await fetch(server.address + path, { method: 'HEAD' })).status).toBe(200)
  })
  it('is listed with its readings, but without its secret', async () => {
    const { path, share } = await makeOne('history')
    const listed = async () => (await call(`${shares()}?view=history`)).body.shares
    expect(await listed()).toEqual([expect.objectContaining({ id: share.id, readAt: null })])
    await fetch(server.address + path)
    const [read] = await listed()
    expect(Date.now() - Date.parse(read?.readAt ?? '')).toBeLessThan(60_000)
    expect(JSON.stringify(read)).not.toContain(path.slice(7, 50))
    const pool = openPool(inject('databaseUrl'))
    const [rows] = await pool.query('SELECT * FROM `share`')
    await pool.end()
    expect(JSON.stringify(rows)).not.toContain(path.slice(7, 50))
  })
  it('that is withdrawn answers like one that never was, and the others stay', async () => {
    const [kept, gone] = [await makeOne(), await makeOne()]
    expect((await call(`${shares()}/${gone.share.id}`, 'DELETE')).status).toBe(200)
    const [answer, never] = [await call(gone.path), await call(`/feeds/${'x'.repeat(43)}.ics`)]
    expect([answer.status, answer.body]).toEqual([404, never.body])
    expect((await call(`${shares()}/${gone.share.id}`, 'DELETE')).status).toBe(404)
    expect((await fetch(server.address + kept.path)).status).toBe(200)
  })
  it('of a workspace cannot be withdrawn through another one, and goes with its own', async () => {
    const other = (await call('/api/workspaces', 'POST', { list: 'Ada — Head' })).body.id
    const { share, path } = await makeOne()
    expect((await call(`/api/workspaces/${other}/shares/${share.id}`, 'DELETE')).status).toBe(404)
    const third = (await call('/api/workspaces', 'POST', { file: writeWorkspace(marramSoundFerries()) })).body.id
    const its = (await call(`/api/workspaces/${third}/shares`, 'POST', { view: 'dry-dock', format: 'plan' })).body
    await call(`/api/workspaces/${third}`, 'DELETE')
    expect([(await call(its.path)).status, (await fetch(server.address + path)).status]).toEqual([404, 200])
  })
  it.each([
    [{ view: 'nowhere', format: 'plan' }, 404, 'no such view'],
    [{ view: 'dry-dock', format: 'bpmn' }, 400, 'cannot be subscribed to'],
    [{ view: 'today', format: 'plan' }, 404, 'no such view'],
    [{ view: 'dry-dock' }, 400, 'format'],
    [{ view: '../x', format: 'plan' }, 400, 'view'],
  ])('for %j is refused in words', async (body, status, words) => {
    const answer = await call(shares(), 'POST', body)
    expect([answer.status, answer.body.error.message]).toEqual([status, expect.stringContaining(words)])
  })
  it.each(['/feeds/x', '/feeds/.ics', `/feeds/${'y'.repeat(43)}`, `/feeds/${'z'.repeat(5000)}.ics`, '/feeds/%27.ics'])(
    'such as %s is not there',
    async (path) => expect((await call(path)).status).toBe(404),
  )
  it('is read in its own format only', async () => {
    const { path } = await makeOne()
    expect((await call(path.replace('.ics', '.csv'))).status).toBe(404)
  })
})
