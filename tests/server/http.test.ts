import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { createConnection } from 'mysql2/promise'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { pause, startMariaDb } from '../../scripts/lib/mariadb.mjs'
import { parseWorkspace, writeWorkspace } from '../../src/core/file'
import { Model } from '../../src/core/model'
import { carriedByPdf } from '../../src/core/file/pdfFile'
import { registry } from '../../src/core/notations'
import { marramSoundFerries } from '../../src/demo'
import { migrate } from '../../src/server/db/migrate'
import { openPool } from '../../src/server/db/pool'
import { startServer, type Running } from './running'

let server: Running
beforeAll(async () => {
  server = await startServer(inject('databaseUrl'))
})
afterAll(() => server.stop())

interface Answer {
  readonly status: number
  readonly body: {
    id: string
    revision: number
    error: { code: string; message: string; faults?: { path: string }[] }
    workspace: { entities: { id: string; name: string }[] }
  }
}
async function call(
  path: string,
  init: { method?: string; json?: unknown; text?: string; headers?: Record<string, string> } = {},
  at = server,
): Promise<Answer> {
  const { method = 'GET', json, text, headers = {} } = init
  const body = json === undefined ? text : JSON.stringify(json)
  const response = await fetch(at.address + path, {
    method,
    headers: { 'content-type': 'application/json', ...headers },
    ...(body === undefined ? {} : { body }),
  })
  return { status: response.status, body: (await response.json()) as Answer['body'] }
}
const make = async (at = server): Promise<string> =>
  (await call('/api/workspaces', { method: 'POST', json: { list: 'Ada — Head\n  Ben — Clerk', name: 'T' } }, at)).body
    .id
let count = 0
const change = (base: number, value: string, key: string) => ({
  id: `h${++count}-${Date.now()}`,
  base,
  label: 'l',
  author: 'a',
  steps: [{ do: 'set-entity', id: key, path: 'name', value }],
})

describe('malformed bodies are answered with 400 and the path of the fault', () => {
  let workspace = ''
  beforeAll(async () => {
    workspace = await make()
  })
  it.each([
    ['/api/workspaces', '{', 'body'],
    ['/api/workspaces', '[]', 'body'],
    ['/api/workspaces', '{"list":5}', 'list'],
    ['/api/workspaces', '{"list":"a","starter":"b"}', 'body'],
    ['/api/workspaces', '{"surprise":1}', 'surprise'],
    ['/api/workspaces', '{"file":{"format":"x"}}', 'format'],
    ['/api/workspaces', '{"day":"2026-02-30"}', 'day'],
    ['changes', '{}', 'id'],
    ['changes', '{"id":"a","base":-1,"label":"l","author":"a","steps":[{}]}', 'base'],
    ['changes', '{"id":"a","base":0,"label":"l","author":"a","steps":[]}', 'steps'],
    ['changes', '{"id":"a","base":0,"label":"l","author":"a","steps":[{"do":"fly"}]}', 'steps[0].do'],
    ['changes', '{"id":"a/b","base":0,"label":"l","author":"a","steps":[{}]}', 'id'],
    ['changes', 'null', 'body'],
  ])('%s %s: %s', async (path, text, fault) => {
    const { status, body } = await call(path.startsWith('/') ? path : `/api/workspaces/${workspace}/${path}`, {
      method: 'POST',
      text,
    })
    expect([status, body.error.code]).toEqual([400, 'bad-request'])
    expect(body.error.faults?.map((one) => one.path)).toContain(fault)
  })
  it.each([
    '?day=soon',
    '?width=1',
    '?width=999999',
    '?width=1e3',
    '?transparent=maybe',
    '?colour=red',
    '?dpi=3',
    '?quality=101',
    '?border=-1',
    '?scale=0',
    '?letters=bold',
    '?facts=all',
    '?compare=then',
  ])('a picture with %s', async (query) => {
    const { status, body } = await call(`/api/workspaces/${workspace}/views/x.png${query}`)
    expect([status, body.error.faults?.length]).toEqual([400, 1])
  })
  it('a body that is not JSON by its type, not UTF-8, or too large', async () => {
    const url = '/api/workspaces'
    expect(
      (
        await call(url, {
          method: 'POST',
          text: 'a=1',
          headers: { 'content-type': 'application/x-www-form-urlencoded' },
        })
      ).status,
    ).toBe(400)
    const bytes = await fetch(server.address + url, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: new Uint8Array([0x7b, 0xff, 0xfe]),
    })
    expect(bytes.status).toBe(400)
    const large = await call(url, { method: 'POST', text: `{"list":"${'x'.repeat(65_000_000)}"}` })
    expect([large.status, large.body.error.code]).toEqual([413, 'too-large'])
  })
  it('a list of 10 MB and a name of 10 000 characters are refused, and the rest goes on', async () => {
    const list = await call('/api/workspaces', { method: 'POST', json: { list: 'x\n'.repeat(5_000_000) } })
    expect([list.status, list.body.error.faults?.[0]?.path]).toEqual([400, 'list'])
    const name = await call('/api/workspaces', { method: 'POST', json: { list: 'x'.repeat(10_000) } })
    expect([name.status, /10,000 characters/.test(name.body.error.message)]).toEqual([400, true])
    expect((await call('/api/health')).status).toBe(200)
  })
})

describe('what is not there is answered with 404', () => {
  it.each([
    '/api/workspaces/none',
    '/api/workspaces/none/changes',
    '/api/workspaces/none/views/a.svg',
    '/api/workspaces/none/events',
    '/api/workspaces/none/file',
  ])('%s', async (path) => {
    const { status, body } = await call(path)
    expect([status, body.error.code]).toEqual([404, 'not-found'])
  })
  it('an unknown starter', async () =>
    expect((await call('/api/workspaces', { method: 'POST', json: { starter: 'a/b' } })).status).toBe(404))
})

describe('another site’s page', () => {
  it('may not write, JSON or not', async () => {
    for (const origin of ['http://elsewhere.example', 'null'])
      expect((await call('/api/workspaces', { method: 'POST', json: { list: '' }, headers: { origin } })).status).toBe(
        403,
      )
    expect(
      (await call('/api/workspaces', { method: 'POST', json: { list: '' }, headers: { origin: server.address } }))
        .status,
    ).toBe(201)
  })
})

describe('pictures and files', () => {
  it('are drawn by the server as asked', async () => {
    const { body } = await call('/api/workspaces', {
      method: 'POST',
      json: { file: writeWorkspace(marramSoundFerries()) },
    })
    const png = await fetch(
      `${server.address}/api/workspaces/${body.id}/views/whole-company.png?width=900&day=2026-11-24`,
    )
    const bytes = Buffer.from(await png.arrayBuffer())
    expect([png.headers.get('content-type'), bytes.readUInt32BE(16)]).toEqual(['image/png', 900])
    const svg = await fetch(`${server.address}/api/workspaces/${body.id}/views/whole-company.svg`)
    expect(await svg.text()).toContain('Hedda Lauring')
    const file = await fetch(`${server.address}/api/workspaces/${body.id}/file`)
    expect(file.headers.get('content-disposition')).toContain('marram-sound-ferries.skivel.json')
    expect(await file.json()).toEqual(JSON.parse(JSON.stringify(writeWorkspace(marramSoundFerries()))))
  })
})

describe('files for documents', () => {
  const made = async () => {
    const file = writeWorkspace(marramSoundFerries())
    const { body } = await call('/api/workspaces', { method: 'POST', json: { file } })
    return `${server.address}/api/workspaces/${body.id}/views/whole-company`
  }
  it.each([
    ['jpg?width=500', 'image/jpeg', [0xff, 0xd8, 0xff]],
    ['jpeg?width=500', 'image/jpeg', [0xff, 0xd8, 0xff]],
    ['webp?megapixels=0.2', 'image/webp', [0x52, 0x49, 0x46, 0x46]],
    ['pdf?paper=A4&across=yes', 'application/pdf', [0x25, 0x50, 0x44, 0x46]],
    ['html?tables=no', 'text/html; charset=utf-8', [0x3c, 0x21, 0x64, 0x6f]],
    ['docx?wide=120', 'application/vnd.openxmlformats-officedocument.wordprocessingml.document', [0x50, 0x4b, 3, 4]],
    ['odt', 'application/vnd.oasis.opendocument.text', [0x50, 0x4b, 3, 4]],
    ['svg?letters=outlines', 'image/svg+xml; charset=utf-8', [0x3c, 0x73, 0x76, 0x67]],
  ])('%s is a %s', async (path, type, begins) => {
    const answer = await fetch(`${await made()}.${path}`)
    expect([answer.status, answer.headers.get('content-type')]).toEqual([200, type])
    expect([...new Uint8Array(await answer.arrayBuffer()).subarray(0, begins.length)]).toEqual(begins)
  })
  it('hold several views, with links among them and the facts that they show', async () => {
    const answer = await fetch(`${await made()}.pdf?with=cancelled,dry-dock&facts=yes`)
    const bytes = new Uint8Array(await answer.arrayBuffer())
    const text = carriedByPdf(bytes)
    expect([...parseWorkspace(text ?? '', registry).model.views.keys()].sort()).toEqual([
      'cancelled',
      'dry-dock',
      'whole-company',
    ])
  })
  it('of all the workspace are a book, in two formats', async () => {
    const base = (await made()).replace(/\/views\/.*$/, '')
    const pdf = await fetch(`${base}/book.pdf?day=2026-11-24&since=2026-01-01`)
    expect([pdf.status, pdf.headers.get('content-type')]).toEqual([200, 'application/pdf'])
    const html = await fetch(`${base}/book.html?day=2026-11-24`)
    expect(await html.text()).toContain('Hedda Lauring')
    expect((await fetch(`${base}/book.txt`)).status).toBe(404)
    expect((await fetch(`${base}/book.pdf?since=then`)).status).toBe(400)
    expect((await fetch(`${server.address}/api/workspaces/none/book.pdf`)).status).toBe(404)
  })
  it.each([
    ['pdf?paper=A77', 400, 'no paper'],
    ['png?paper=A2&dpi=1200', 400, 'px'],
    ['pdf?with=nothing', 404, 'no such view'],
    ['gif', 404, 'A picture ends in'],
  ])('%s is refused in words', async (path, status, words) => {
    const answer = await fetch(`${await made()}.${path}`)
    expect(answer.status).toBe(status)
    expect(((await answer.json()) as { error: { message: string } }).error.message).toContain(words)
  })
})

describe('the paper of a view', () => {
  it('shapes its picture at its address, of every notation', async () => {
    const model = marramSoundFerries()
    const shown = [
      'whole-company',
      'cancelled',
      'port-network',
      'ticket-classes',
      'dry-dock',
      'history',
      'figure-summer',
    ]
    const views = [...model.views.values()].filter(({ id }) => shown.includes(id))
    expect(views).toHaveLength(shown.length)
    const onSquare = views.map((view) => ({ ...view, look: { ...view.look, paper: 'Square' } }))
    const file = writeWorkspace(Model.of({ ...writeWorkspace(model), views: onSquare }))
    const { body } = await call('/api/workspaces', { method: 'POST', json: { file } })
    for (const id of shown) {
      const answer = await fetch(`${server.address}/api/workspaces/${body.id}/views/${id}.png?width=400&day=2026-11-24`)
      const bytes = Buffer.from(await answer.arrayBuffer())
      expect([id, bytes.readUInt32BE(16), bytes.readUInt32BE(20)]).toEqual([id, 400, 400])
    }
  })
})

describe('what a page loads', () => {
  const scripts = readdirSync(join('dist', 'client', '_astro')).filter((name) => name.endsWith('.js'))
  it.each(['br', 'gzip'])('comes as it lies there compressed, and is kept for good: %s', async (encoding) => {
    for (const name of scripts) {
      const answer = await fetch(`${server.address}/_astro/${name}`, { headers: { 'accept-encoding': encoding } })
      expect(answer.headers.get('content-encoding'), name).toBe(encoding)
      // What is compressed as it is sent has no length before.
      expect(answer.headers.get('content-length'), name).not.toBeNull()
      expect(answer.headers.get('cache-control')).toContain('immutable')
      expect(await answer.text()).toBe(readFileSync(join('dist', 'client', '_astro', name), 'utf8'))
    }
  })
  it('comes as it is to whoever takes nothing compressed', async () => {
    const [name = ''] = scripts
    const answer = await fetch(`${server.address}/_astro/${name}`, { headers: { 'accept-encoding': 'identity' } })
    expect(answer.headers.get('content-encoding')).toBeNull()
    expect(await answer.text()).toBe(readFileSync(join('dist', 'client', '_astro', name), 'utf8'))
  })
})

describe('server-sent events', () => {
  it('go on after the last one heard', async () => {
    const workspace = await make()
    const { body } = await call(`/api/workspaces/${workspace}`)
    const key = body.workspace.entities[0]?.id ?? ''
    for (const [base, value] of ['One', 'Two', 'Three'].entries())
      await call(`/api/workspaces/${workspace}/changes`, { method: 'POST', json: change(base, value, key) })
    const stream = await fetch(`${server.address}/api/workspaces/${workspace}/events`, {
      headers: { 'last-event-id': '1' },
    })
    const reader = stream.body?.pipeThrough(new TextDecoderStream()).getReader()
    let text = ''
    while (!text.includes('id: 3')) text += (await reader?.read())?.value ?? ''
    await reader?.cancel()
    expect(text.match(/^id: \d+/gm)).toEqual(['id: 2', 'id: 3'])
  })
})

describe('kill -9', () => {
  it('of the server loses no confirmed change', async () => {
    const mortal = await startServer(inject('databaseUrl'))
    const workspace = await make(mortal)
    const key = (await call(`/api/workspaces/${workspace}`, {}, mortal)).body.workspace.entities[0]?.id ?? ''
    let confirmed = 0
    const writing = (async () => {
      for (let base = 0; base < 500; base++) {
        const { status } = await call(
          `/api/workspaces/${workspace}/changes`,
          { method: 'POST', json: change(base, `N${base}`, key) },
          mortal,
        )
        if (status === 200) confirmed = base + 1
      }
    })().catch(() => 'killed')
    while (confirmed < 20) await pause(5)
    await mortal.stop('SIGKILL')
    expect(await writing).toBe('killed')
    const { body } = await call(`/api/workspaces/${workspace}`)
    expect(body.revision).toBeGreaterThanOrEqual(confirmed)
    expect(body.workspace.entities[0]?.name).toBe(`N${body.revision - 1}`)
  })
})

describe('a database that stops', () => {
  it('is answered with 503 in words, and all is well when it is back', async () => {
    const folder = join('.skivel', 'test-mariadb-mortal')
    const database = await startMariaDb(folder, 'mortal')
    const pool = openPool(database.url)
    await migrate(pool, 'src/server/db/migrations')
    await pool.end()
    const before = await startServer(database.url)
    const workspace = await make(before)
    await database.stop()
    const { status, body } = await call(`/api/workspaces/${workspace}`, {}, before)
    expect([status, body.error.code]).toEqual([503, 'unavailable'])
    expect((await call('/api/health', {}, before)).status).toBe(503)
    const again = await startMariaDb(folder, 'mortal')
    expect(again.url).toBe(database.url)
    expect((await call(`/api/workspaces/${workspace}`, {}, before)).status).toBe(200)
    await before.stop()
    await again.stop()
  })
})

describe('a database somewhere', () => {
  const ask = async (body: unknown) => {
    const response = await fetch(`${server.address}/api/databases/tables`, {
      method: 'POST',
      body: JSON.stringify(body),
      headers: { 'content-type': 'application/json' },
    })
    return { status: response.status, body: (await response.json()) as { tables: { name: string }[] } & Answer['body'] }
  }
  const standin = async (day: string) => {
    const response = await fetch(`${server.address}/standins/database/address`, {
      method: 'POST',
      body: JSON.stringify({ day }),
      headers: { 'content-type': 'application/json' },
    })
    return (await response.json()) as object
  }
  it('ships as a stand-in, which is another one from day to day', async () => {
    const names = async (day: string) => (await ask(await standin(day))).body.tables.map(({ name }) => name)
    expect(await names('2026-11-24')).not.toContain('waiting_list')
    expect(await names('2027-01-12')).toContain('waiting_list')
    // Two who ask for different days at once each wait their turn.
    const both = await Promise.all([standin('2026-11-24'), standin('2027-01-12'), standin('2026-11-24')])
    expect(both.map((one) => 'port' in one)).toEqual([true, true, true])
  })
  it('is asked by who may only look at it', async () => {
    const { host, port, user, password, database } = (await standin('2026-11-24')) as Record<string, string>
    const connection = await createConnection({ host, port: Number(port), user, password, database } as object)
    for (const statement of [
      'CREATE TABLE x (id INT)',
      'DELETE FROM ticket',
      'DROP TABLE ticket',
      'INSERT INTO port (name) VALUES (1)',
    ])
      await expect(connection.query(statement)).rejects.toThrow(/denied/)
    await connection.end()
  })
  it('is refused with what is wrong, and what was typed stands in no answer and no table', async () => {
    expect((await ask({})).status).toBe(400)
    for (const more of [
      { host: 'a b' },
      { port: 0 },
      { port: '3306' },
      { database: '' },
      { host: 'x'.repeat(300) },
      { more: 1 },
    ])
      expect((await ask({ ...(await standin('2026-11-24')), ...more })).status).toBe(400)
    const secret = 'a-password-that-nobody-has'
    const refused = await ask({ ...(await standin('2026-11-24')), password: secret })
    expect([refused.status, refused.body.error.code]).toEqual([502, 'unreachable'])
    expect(JSON.stringify(refused.body)).not.toContain(secret)
  })
})

describe('a starter', () => {
  it('is drawn at an address of its own, and one that is not there is not found', async () => {
    const answer = await fetch(`${server.address}/api/starters/process/escalation.svg`)
    expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'image/svg+xml; charset=utf-8'])
    expect(await answer.text()).toContain('Call the duty manager')
    for (const path of ['process/escalation', 'process/nothing.svg', 'nothing/escalation.svg', '%20/y.svg'])
      expect((await fetch(`${server.address}/api/starters/${path}`)).status).toBe(404)
  })
})
