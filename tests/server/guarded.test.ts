import { connect } from 'node:net'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { askedFrom, inTurns, isPlain } from '../../scripts/lib/requests.mjs'
import { answerTo } from '../../src/server/http/endpoint'
import { asked, startServer, type Running } from './running'

let server: Running
beforeAll(async () => {
  server = await startServer(inject('databaseUrl'), { SKIVEL_STANDINS: 'no' })
})
afterAll(() => server.stop())

/** A request to the letter, and the first line of its answer. */
const sent = (line: string) =>
  new Promise<string>((resolve, reject) => {
    const { hostname, port } = new URL(server.address)
    const socket = connect(Number(port), hostname, () =>
      socket.write(`${line} HTTP/1.1\r\nhost: localhost\r\nconnection: close\r\n\r\n`),
    )
    let text = ''
    socket.on('data', (part) => (text += part.toString('latin1')))
    socket.on('end', () => resolve(text))
    socket.on('error', reject)
  })
interface Answer {
  readonly id: string
  readonly error: { code: string; message: string }
}
const call = (path: string, method?: string, body?: unknown) => asked<Answer>(server, path, method, body)
const well = async () => (await fetch(`${server.address}/api/health`)).status

describe('addresses that are not written plainly', () => {
  const PLACES = [
    '/read/x\\..\\..\\api\\workspaces',
    '/read/%2e%2e/api/workspaces',
    '//api/workspaces',
    '/read/..%2fapi%2fworkspaces',
    '/feeds/x/../../api/workspaces',
    '/_astro/..;/api/workspaces',
    '/read/%252e%252e/api/workspaces',
    '/read/x%5c..%5capi',
    '/read/\tapi',
    '/api/./workspaces',
    '/read/x%00',
  ]
  it.each(PLACES)('%s is refused before anything looks at it, whatever is asked of it', async (path) => {
    for (const method of ['GET', 'DELETE', 'POST', 'HEAD']) {
      const answer = await sent(`${method} ${path}`)
      expect(answer.split('\r\n')[0], `${method} ${path}`).toMatch(/^HTTP\/1\.1 400/)
      expect(answer).not.toContain('"workspaces"')
    }
  })
  it('are told from those that are', () => {
    for (const path of PLACES) expect([path, isPlain(path)]).toEqual([path, false])
    for (const path of [
      '/',
      '/w/abc?x=../..',
      '/api/workspaces/a/views/b%20c.svg?paper=a/b//c\\d',
      '/read/abc#x',
      '/api/starters/process/escalation.svg',
      '/a/%',
      '/w/%C3%A9',
      '/x/...',
      '/x/..a',
    ])
      expect([path, isPlain(path)]).toEqual([path, true])
  })
  it('come from the connection, or from what the last proxy has noted', () => {
    const request = (noted?: string) => ({
      socket: { remoteAddress: '127.0.0.1' },
      headers: { 'x-forwarded-for': noted },
    })
    expect(askedFrom(request('6.6.6.6'), false)).toBe('127.0.0.1')
    expect(askedFrom(request('6.6.6.6, 10.0.0.7'), true)).toBe('10.0.0.7')
    expect(askedFrom(request(), true)).toBe('127.0.0.1')
  })
})

describe('what would end the server', () => {
  it.each(['pictures', 'look', 'settings', 'entities', 'unknown', 'name', 'views'])(
    'a file that is deep in “%s” is refused in words',
    async (place) => {
      const deep = '['.repeat(6000) + ']'.repeat(6000)
      for (const text of [
        `{"file":{"format":"skivel-workspace","version":1,"name":"T","${place}":${deep}}}`,
        `{"file":{"format":"skivel-workspace","version":1,"name":"T","${place}":{"a":${deep}}}}`,
        `{"${place}":${deep}}`,
      ]) {
        const response = await fetch(`${server.address}/api/workspaces`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: text,
        })
        const { error } = (await response.json()) as Answer
        expect([response.status, error.message]).toEqual([400, expect.stringContaining('not JSON')])
      }
      expect(await well()).toBe(200)
    },
  )
  it('is not met by a hundred of them at once: others are served, and the same process lives', async () => {
    const { pid } = server.process
    const body = `{"file":{"pictures":${'{"a":'.repeat(6000)}1${'}'.repeat(6000)}}}`
    const statuses = await Promise.all(
      Array.from({ length: 100 }, () =>
        fetch(`${server.address}/api/workspaces`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body,
        }).then(({ status }) => status),
      ),
    )
    expect(new Set(statuses)).toEqual(new Set([400]))
    expect((await call('/api/workspaces', 'POST', { list: 'Ada — Head' })).status).toBe(201)
    expect([server.process.pid, server.process.exitCode]).toEqual([pid, null])
  })
})

describe('what is no fault of the server', () => {
  it('is answered with what is wrong', async () => {
    const { id } = (await call('/api/workspaces', 'POST', { list: 'Ada — Head', name: 'T' })).body
    const comment = { id: 'c-1', author: 'Ida', words: 'w' }
    const places: [string, string, unknown][] = [
      [`/api/workspaces/${id}/comments`, 'POST', { ...comment, view: ' ' }],
      [`/api/workspaces/${id}/comments`, 'POST', { ...comment, view: 'a', fact: '<' }],
      [`/api/workspaces/${id}/comments`, 'POST', { ...comment, view: '__proto__' }],
      ['/api/workspaces', 'POST', { name: ' ' }],
      ['/api/workspaces', 'POST', { list: 'Ada', name: '\t\n' }],
      [
        `/api/workspaces/${id}/changes`,
        'POST',
        { id: 'n-1', base: 0, label: 'l', author: 'a', steps: [{ do: 'set-workspace', path: 'name', value: ' ' }] },
      ],
    ]
    for (const [path, method, body] of places)
      expect([body, (await call(path, method, body)).status]).toEqual([body, 400])
    const { workspace } = (await (await fetch(`${server.address}/api/workspaces/${id}`)).json()) as {
      workspace: { views: { id: string }[] }
    }
    const view = workspace.views[0]?.id ?? ''
    for (const query of [
      'paper=__proto__',
      'paper=constructor',
      'paper=toString&dpi=300',
      'with=__proto__',
      'with=constructor,toString',
    ])
      for (const format of ['png', 'pdf', 'svg']) {
        const { status } = await fetch(`${server.address}/api/workspaces/${id}/views/${view}.${format}?${query}`)
        expect([query, format, status < 500]).toEqual([query, format, true])
      }
  })
  it('that there is no room is said as what it is', async () => {
    for (const error of [
      Object.assign(new Error('Disk full (/tmp/x)'), { code: 'ER_DISK_FULL' }),
      Object.assign(new Error("The table 'entity' is full"), { code: 'ER_RECORD_FILE_FULL' }),
      Object.assign(new Error('write ENOSPC'), { code: 'ENOSPC' }),
    ]) {
      const answer = answerTo(error)
      const { error: told } = (await answer.json()) as Answer
      expect([answer.status, told.code, told.message]).toEqual([507, 'no-room', expect.stringContaining('no room')])
    }
  })
})

describe('stand-ins', () => {
  it('are not there where the keeper of the server does without', async () => {
    for (const [path, method] of [
      ['/standins/database/address', 'POST'],
      ['/standins/database/address?day=2027-01-01', 'GET'],
      ['/standins/mail/letters', 'GET'],
      ['/standins/directory/scim/v2/Users', 'GET'],
      ['/standins/neighbours/lldp', 'GET'],
    ] as const)
      expect([path, (await call(path, method, method === 'POST' ? {} : undefined)).status]).toEqual([path, 404])
  })
  it('change nothing by being looked at', async () => {
    const other = await startServer(inject('databaseUrl'))
    const answer = await fetch(`${other.address}/standins/database/address?day=2027-01-12`)
    expect(answer.status).toBe(404)
    const foreign = await fetch(`${other.address}/standins/database/address`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', origin: 'https://elsewhere.example' },
      body: '{"day":"2027-01-12"}',
    })
    expect(foreign.status).toBe(403)
    await other.stop()
  })
})

describe('the list of workspaces', () => {
  it('is looked through by the server itself, whoever was there first and has gone', { timeout: 30_000 }, async () => {
    const { id } = (await call('/api/workspaces', 'POST', { list: 'Ada — Head\n  vacant — Clerk', name: 'Looked at' }))
      .body
    // The first who ask leave at once.
    for (let at = 0; at < 5; at++) {
      const left = new AbortController()
      const asked = fetch(server.address, { signal: left.signal }).catch(() => undefined)
      left.abort()
      await asked
    }
    interface Entry {
      readonly id: string
      readonly tally?: { readonly warning: number }
      readonly trouble?: string
      readonly isLookedAt?: boolean
    }
    const entry = async () =>
      ((await (await fetch(`${server.address}/api/workspaces`)).json()) as { workspaces: Entry[] }).workspaces.find(
        (one) => one.id === id,
      )
    let found = await entry()
    for (let tries = 0; tries < 100 && found?.isLookedAt; tries++) {
      await new Promise((resolve) => setTimeout(resolve, 100))
      found = await entry()
    }
    expect([found?.trouble, found?.isLookedAt, typeof found?.tally]).toEqual([undefined, undefined, 'object'])
  })
})

describe('feeds and pages', () => {
  it('tell nobody by their tags which workspace they are of', async () => {
    const { marramSoundFerries } = await import('../../src/demo')
    const { writeWorkspace } = await import('../../src/core/file')
    const { id } = (await call('/api/workspaces', 'POST', { file: writeWorkspace(marramSoundFerries()) })).body
    const made = async (view: string) =>
      (
        (await call(`/api/workspaces/${id}/shares`, 'POST', { view, format: 'plan' })).body as unknown as {
          path: string
        }
      ).path
    const tags = await Promise.all(
      [await made('dry-dock'), await made('dry-dock')].map(
        async (path) => (await fetch(server.address + path)).headers.get('etag') ?? '',
      ),
    )
    expect(tags.every((tag) => tag.length > 20 && !tag.includes(id))).toBe(true)
    expect(new Set(tags).size).toBe(2)
  })
})

describe('a crowd', () => {
  it('is let in a few at a time, in its order, and everything else that waits goes on in between', async () => {
    const turn = inTurns(2)
    const seen: string[] = []
    const crowd = Array.from({ length: 5 }, async (_, at) => {
      await turn()
      seen.push(`reader ${at}`)
    })
    const others = (async () => {
      for (let at = 0; at < 2; at++) {
        await new Promise((resolve) => setImmediate(resolve))
        seen.push('other')
      }
    })()
    await Promise.all([...crowd, others])
    expect(seen).toEqual(['reader 0', 'reader 1', 'other', 'reader 2', 'reader 3', 'other', 'reader 4'])
    // Who comes when nobody waits is let in as well.
    await turn()
  })
})
