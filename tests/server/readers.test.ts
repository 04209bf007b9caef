import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { writeWorkspace } from '../../src/core/file'
import { asId, Model } from '../../src/core/model'
import { marramSoundFerries } from '../../src/demo'
import { openPool } from '../../src/server/db/pool'
import { asked, startServer, type Running } from './running'

let server: Running
let workspace = ''
interface Answer {
  id: string
  path: string
  revision: number
  reader: { id: string; readAt: string | null }
  readers: { id: string; readAt: string | null; reach: string }[]
  error: { message: string; faults?: { path: string }[] }
}
const call = (path: string, method?: string, body?: unknown) => asked<Answer>(server, path, method, body)
const readers = (of = workspace) => `/api/workspaces/${of}/readers`
const made = async (more: object = {}) =>
  (await call(readers(), 'POST', { reach: 'view', of: 'port-services', findings: false, ...more })).body
const read = async (path: string) => {
  const response = await fetch(server.address + path)
  return { status: response.status, headers: response.headers, text: await response.text() }
}
/** What a page says of an address where nothing is. */
const gone = () => read('/read/' + 'a'.repeat(43))
const begun = async (model = marramSoundFerries()) =>
  (await call('/api/workspaces', 'POST', { file: writeWorkspace(model) })).body.id

/** The demo, one of its positions leading to a view of the same chapter, one to a view of another. */
function leading(): Model {
  const demo = marramSoundFerries()
  const entities = new Map(demo.entities)
  for (const [id, link] of [
    ['berth-n', '#view=two-levels'],
    ['berth-s', '#view=port-network'],
    ['pax', 'https://example.org/desk'],
  ] as const) {
    const one = entities.get(asId(id))
    if (one) entities.set(one.id, { ...one, fields: { ...one.fields, link } })
  }
  return demo.with({ entities })
}

beforeAll(async () => {
  server = await startServer(inject('databaseUrl'))
  workspace = await begun(leading())
})
afterAll(() => server.stop())

describe('a page to read', () => {
  it('shows a view with its words, and nothing else of the workspace', async () => {
    const { path, reader } = await made()
    expect(path).toMatch(/^\/read\/[\w-]{43}$/)
    expect(reader.readAt).toBeNull()
    const { status, text, headers } = await read(path)
    expect([status, headers.get('cache-control'), headers.get('referrer-policy')]).toEqual([
      200,
      'private, no-store',
      'no-referrer',
    ])
    expect(text).toContain('<title>Port services</title>')
    expect(text).toContain('Lune Aske')
    // Of the picture, not of the facts: no identity of a workspace, no other view, nobody who is not drawn, no field that is not.
    for (const other of [workspace, 'whole-company', 'Wren Adair', 'tick-app-1', 'lune.aske@', '49500', 'person-'])
      expect(text, other).not.toContain(other)
  })
  it('leads to views that may be read and to addresses, and nowhere else', async () => {
    const chapter = await made({ reach: 'chapter', of: 'organisation' })
    const { text } = await read(`${chapter.path}?view=port-services`)
    expect(text).toContain(`<a href="${chapter.path}?view=two-levels">`)
    expect(text).toContain('<a href="https://example.org/desk">')
    expect(text).not.toContain('port-network')
    const alone = await read((await made()).path)
    expect(alone.text).not.toContain('?view=')
    expect(alone.text).toContain('<a href="https://example.org/desk">')
  })
  it('holds a chapter or all, of which each is read, and none beside', async () => {
    const { path } = await made({ reach: 'chapter', of: 'organisation' })
    const first = await read(path)
    expect(first.text.match(/<option/g)).toHaveLength(6)
    expect((await read(`${path}?view=port-services`)).text).toContain('<title>Port services</title>')
    const outside = await read(`${path}?view=port-network`)
    expect([outside.status, outside.text]).toEqual([404, (await gone()).text])
    const all = await made({ reach: 'workspace', of: 'all' })
    expect((await read(all.path)).text.match(/<option/g)?.length).toBe(marramSoundFerries().views.size)
  })
  it('is as of today and follows the facts, or stays as of its day; with findings where they are wanted', async () => {
    const own = await begun()
    const make = async (more: object) =>
      (await call(readers(own), 'POST', { reach: 'view', of: 'whole-company', findings: false, ...more })).body.path
    const [moving, fixed, found] = [
      await make({}),
      await make({ day: '2027-03-01' }),
      await make({ day: '2026-11-24', findings: true }),
    ]
    expect((await read(fixed)).text).toContain('as of 1 Mar 2027')
    expect((await read(fixed)).text).toContain('Head of terminals')
    expect((await read(moving)).text).not.toContain('Service designer” reports to')
    expect((await read(found)).text).toContain('“Service designer” reports to')
    const steps = [{ do: 'set-entity', id: 'person-lune-aske', path: 'name', value: 'Lune of the Quay' }]
    await call(`/api/workspaces/${own}/changes`, 'POST', { id: 'r-1', base: 0, label: 'l', author: 'a', steps })
    expect((await read(moving)).text).toContain('Lune of the Quay')
  })
  it('that is withdrawn, has run out, or lies in the bin with its workspace answers as one that never was', async () => {
    const never = await gone()
    expect(never.status).toBe(404)
    expect(never.text).toContain('There is nothing at this address, or it was withdrawn.')
    const own = await begun()
    const make = async (more: object = {}) =>
      (await call(readers(own), 'POST', { reach: 'view', of: 'whole-company', findings: false, ...more })).body
    const [kept, withdrawn, late] = [await make(), await make(), await make({ until: '2020-01-01' })]
    expect((await call(`${readers(own)}/${withdrawn.reader.id}`, 'DELETE')).status).toBe(200)
    expect((await call(`${readers(own)}/${withdrawn.reader.id}`, 'DELETE')).status).toBe(404)
    for (const { path } of [withdrawn, late]) {
      const answer = await read(path)
      expect([answer.status, answer.text]).toEqual([404, never.text])
    }
    expect((await read(kept.path)).status).toBe(200)
    await call(`/api/workspaces/${own}`, 'DELETE')
    const binned = await read(kept.path)
    expect([binned.status, binned.text]).toEqual([404, never.text])
  })
  it('is listed with its last reading, without its secret, which is kept nowhere', async () => {
    const { path, reader } = await made({ of: 'two-levels' })
    await read(path)
    const listed = (await call(readers())).body.readers.find(({ id }) => id === reader.id)
    expect(Date.now() - Date.parse(listed?.readAt ?? '')).toBeLessThan(60_000)
    const pool = openPool(inject('databaseUrl'))
    const [rows] = await pool.query('SELECT * FROM reader')
    await pool.end()
    expect(JSON.stringify(rows)).not.toContain(path.slice(6))
    expect(JSON.stringify(listed)).not.toContain(path.slice(6))
  })
  it(
    'says in words that many read just now, and is drawn once for all who read the same',
    { timeout: 90_000 },
    async () => {
      const list = ['Head — Head', ...Array.from({ length: 600 }, (_, at) => `  Person ${at} — Title ${at}`)].join('\n')
      const own = (await call('/api/workspaces', 'POST', { list, as: 'people' })).body.id
      const { workspace: facts } = (await (await fetch(`${server.address}/api/workspaces/${own}`)).json()) as {
        workspace: { views: { id: string }[] }
      }
      const of = facts.views[0]?.id ?? ''
      const paths = await Promise.all(
        Array.from(
          { length: 80 },
          async () => (await call(readers(own), 'POST', { reach: 'view', of, findings: false })).body.path,
        ),
      )
      const answers = await Promise.all(paths.map(read))
      const refused = answers.filter(({ status }) => status === 503)
      expect(refused.length).toBeGreaterThan(20)
      for (const { text, headers } of refused)
        expect([headers.get('retry-after'), text.includes('Many read here just now.')]).toEqual(['5', true])
      expect(answers.filter(({ status }) => status === 200).length + refused.length).toBe(80)
      // As many who read one address are one drawing.
      const same = await Promise.all(Array.from({ length: 80 }, () => read(paths[0] ?? '')))
      expect(same.map(({ status }) => status)).toEqual(same.map(() => 200))
    },
  )
  it('may stand in a frame of any page; no other page of ours may', async () => {
    const { headers } = await read((await made()).path)
    // No star: it would leave out a file on a disk.
    expect(headers.get('content-security-policy')).not.toContain('frame-ancestors')
    expect(headers.get('x-frame-options')).toBeNull()
    for (const path of ['/', `/w/${workspace}`, `/api/workspaces/${workspace}`]) {
      const other = await read(path)
      expect(other.headers.get('content-security-policy')).toContain("frame-ancestors 'self'")
      expect(other.headers.get('x-frame-options')).toBe('SAMEORIGIN')
    }
  })
  it('lets nothing be changed, whatever is asked of it', async () => {
    const { path } = await made({ reach: 'workspace', of: 'all' })
    const before = (await call(`/api/workspaces/${workspace}`)).body.revision
    const secret = path.slice(6)
    const body = JSON.stringify({
      id: 'x-1',
      base: 0,
      label: 'l',
      author: 'a',
      steps: [{ do: 'remove-entity', id: 'md' }],
    })
    const paths = [
      path,
      `${path}/changes`,
      `${path}/api/workspaces/${workspace}/changes`,
      `/read/${secret}.json`,
      `/api/workspaces/${secret}`,
      `/api/workspaces/${secret}/changes`,
      `/api/workspaces/${secret}/file`,
      `/api/workspaces/${secret}/readers`,
      `${path}?view=../../x`,
      `${path}?view=${'a'.repeat(3000)}`,
      `${path}?view=%00`,
      `${path}%2f..%2f..%2fapi`,
      `/feeds/${secret}.ics`,
      `/read/${'%F0%9F%98%80'.repeat(20)}`,
      '/read/',
    ]
    for (const one of paths)
      for (const method of ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS']) {
        const answer = await fetch(server.address + one, {
          method,
          redirect: 'manual',
          headers: { 'content-type': 'application/json' },
          ...(method === 'GET' || method === 'OPTIONS' ? {} : { body }),
        })
        expect(answer.status, `${method} ${one}`).toBeLessThan(500)
        expect(await answer.text(), `${method} ${one}`).not.toContain('"entities"')
      }
    expect((await call(`/api/workspaces/${workspace}`)).body.revision).toBe(before)
  })
  it.each([
    [{ reach: 'view', of: 'nothing', findings: false }, 'of'],
    [{ reach: 'all', of: 'x', findings: false }, 'reach'],
    [{ reach: 'view', of: 'port-services', findings: false, day: 'soon' }, 'day'],
    [{ reach: 'view', of: 'port-services', findings: 'yes please' }, 'findings'],
    [{ reach: 'view', of: 'port-services', findings: false, secret: 'mine' }, 'secret'],
  ])('is refused in words for %j', async (body, path) => {
    const { status, body: answer } = await call(readers(), 'POST', body)
    expect([status, answer.error.faults?.[0]?.path]).toEqual([400, path])
  })
  it('is one of a hundred of a workspace at most, also when many are made at once', async () => {
    const own = await begun()
    const answers = await Promise.all(
      Array.from({ length: 110 }, () =>
        call(readers(own), 'POST', { reach: 'view', of: 'whole-company', findings: false }),
      ),
    )
    expect(answers.filter(({ status }) => status === 201)).toHaveLength(100)
    expect(answers.find(({ status }) => status === 400)?.body.error.message).toContain('100 such addresses at most')
  })
})
