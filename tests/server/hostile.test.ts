import { readFileSync } from 'node:fs'
import { request } from 'node:http'
import { connect } from 'node:net'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { pause } from '../../scripts/lib/mariadb.mjs'
import { startServer, type Running } from './running'

let server: Running
beforeAll(async () => {
  server = await startServer(inject('databaseUrl'), { SKIVEL_HOSTS: 'Plans.Example', SKIVEL_LIMIT_MS: '2500' })
})
afterAll(() => server.stop())

interface Answer {
  readonly status: number
  readonly headers: Readonly<Record<string, string | string[] | undefined>>
  readonly text: string
  readonly ms: number
}

/** A request to the letter: nothing about it is put right by a client. */
function ask(
  path: string,
  options: { method?: string; host?: string; headers?: Record<string, string>; body?: string | Buffer } = {},
) {
  const { method = 'GET', host, headers = {}, body } = options
  const { hostname, port } = new URL(server.address)
  const began = performance.now()
  return new Promise<Answer>((resolve, reject) => {
    const sent = request(
      {
        hostname,
        port,
        path,
        method,
        headers: { ...headers, ...(host === undefined ? {} : { host }) },
        setHost: host === undefined,
      },
      (response) => {
        const parts: Buffer[] = []
        response.on('data', (part: Buffer) => parts.push(part))
        response.on('end', () =>
          resolve({
            status: response.statusCode ?? 0,
            headers: response.headers,
            text: Buffer.concat(parts).toString(),
            ms: performance.now() - began,
          }),
        )
      },
    )
    sent.on('error', reject)
    sent.end(body)
  })
}
const JSON_TYPE = { 'content-type': 'application/json' }
const post = (path: string, body: string | Buffer) => ask(path, { method: 'POST', headers: JSON_TYPE, body })
const make = async (body: object): Promise<string> => {
  const { status, text } = await post('/api/workspaces', JSON.stringify(body))
  expect([status, text]).toEqual([201, expect.anything()])
  return (JSON.parse(text) as { id: string }).id
}

describe('names of the server', () => {
  it.each(['localhost', '127.0.0.1:9', '[::1]', 'LOCALHOST:80', 'plans.example:443'])(
    '%s is one of its own',
    async (host) => {
      expect((await ask('/api/health', { host })).status).toBe(200)
    },
  )
  it.each([
    'attacker.example',
    '127.0.0.1.attacker.example',
    'localhost.attacker.example:4321',
    '',
    'plans.example.org',
  ])('“%s” is none: nothing is read, written or deleted by it', async (host) => {
    const id = await make({ list: 'Ada — Head', name: 'T' })
    for (const [method, path] of [
      ['GET', '/'],
      ['GET', '/mark.svg'],
      ['GET', '/api/workspaces'],
      ['GET', `/api/workspaces/${id}/file`],
      ['DELETE', `/api/workspaces/${id}`],
    ] as const) {
      const answer = await ask(path, { method, host })
      expect([path, answer.status === 421 || answer.status === 400]).toEqual([path, true])
    }
    expect((await ask(`/api/workspaces/${id}`)).status).toBe(200)
  })
  it('keeps every answer to itself: pages, files, facts, and what is not there', async () => {
    const id = await make({ list: 'Ada — Head', name: 'T' })
    for (const path of ['/', `/w/${id}`, '/mark.svg', `/api/workspaces/${id}`, '/api/workspaces/none', '/nowhere']) {
      const { headers } = await ask(path)
      const policy = String(headers['content-security-policy'])
      expect(policy).toContain("frame-ancestors 'self'")
      expect(policy.split(';').find((part) => part.includes('script-src'))).not.toMatch(/unsafe|\*|http/)
      expect(headers['cross-origin-resource-policy']).toBe('same-origin')
      expect(headers['x-content-type-options']).toBe('nosniff')
    }
  })
})

/** Numbers from a seed, so that a fault that is found can be found again. */
function dice(seed: number) {
  let state = seed
  return (sides: number): number => {
    state = (Math.imul(state ^ (state >>> 15), 2246822519) + 374761393) >>> 0
    return Math.floor(((state >>> 8) / 2 ** 24) * sides)
  }
}

const NASTY: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  1e308,
  1e-320,
  '',
  ' ',
  'a',
  'constructor',
  '__proto__',
  'toString',
  'é',
  '😀',
  '\ud83d',
  '\u0000',
  '‮',
  '../..',
  "' OR 1=1 --",
  '2026-02-30',
  '9999-12-31',
  '0000-00-00',
  [],
  [[]],
  {},
  { toString: 1 },
  { constructor: { prototype: 1 } },
  [null],
  'x'.repeat(5000),
]
const STEPS = [
  'add-entity',
  'remove-entity',
  'set-entity',
  'add-relation',
  'set-relation',
  'add-view',
  'set-view',
  'remove-view',
  'set-workspace',
  'constructor',
  '',
]
const PATHS = [
  'name',
  'fields.fte',
  'fields.note',
  'fields.__proto__',
  'from',
  'source',
  'scope.root',
  'look.theme',
  'pins.a',
  'options.levels',
  'picture',
  'order',
  'thresholds.org/wide-span',
  'look.tone',
  'themes.own',
  'accepted.org/cycle a',
  'accepted.x',
  '',
]

describe('a fuzz of requests', () => {
  it('is answered with words and never with a failure, each within a second or two', { timeout: 240_000 }, async () => {
    const roll = dice(20_261_126)
    const pick = <T>(list: readonly T[]): T => list[roll(list.length)] as T
    const nasty = () => pick(NASTY)
    const key = () => pick(NASTY.filter((one) => typeof one === 'string'))
    const maybe = (usual: unknown): unknown => (roll(3) === 0 ? nasty() : usual)
    const id = await make({ list: 'Ada — Head\n  Ben — Clerk', name: 'T' })
    const entity = () => ({
      id: maybe('a'),
      kind: maybe('position'),
      name: maybe('A'),
      fields: maybe({ fte: maybe(1), [pick(PATHS)]: nasty() }),
      from: maybe('2026-01-01'),
    })
    const relation = () => ({
      id: maybe('r'),
      kind: maybe('reports-to'),
      source: maybe('a'),
      target: maybe('b'),
      fields: maybe({}),
    })
    const view = () => ({
      id: maybe('v'),
      notation: maybe('organisation'),
      picture: maybe('tree'),
      title: maybe('T'),
      order: maybe(1),
      scope: maybe({ root: nasty() }),
      options: maybe({}),
      pins: maybe({ a: nasty() }),
      look: maybe({}),
    })
    const step = () => {
      const sort = pick(STEPS)
      return maybe({
        do: maybe(sort),
        id: maybe('a'),
        path: maybe(pick(PATHS)),
        value: nasty(),
        ...(sort === 'add-entity' ? { entity: maybe(entity()) } : {}),
        ...(sort === 'add-relation' ? { relation: maybe(relation()) } : {}),
        ...(sort === 'add-view' ? { view: maybe(view()) } : {}),
      })
    }
    const change = () => ({
      id: maybe(`c${roll(1e9)}`),
      base: maybe(0),
      label: maybe('l'),
      author: maybe('a'),
      steps: maybe([step(), step()]),
      ...(roll(9) === 0 ? { [key()]: 1 } : {}),
    })
    const workspace = () =>
      pick([
        { list: nasty() },
        { starter: nasty() },
        {
          file: maybe({
            format: maybe('skivel-workspace'),
            version: maybe(1),
            name: maybe('T'),
            settings: maybe({
              thresholds: maybe({ [key()]: nasty() }),
              accepted: maybe({ [key()]: nasty() }),
              look: maybe({ [key()]: nasty() }),
              themes: maybe({ [key()]: nasty() }),
            }),
            entities: maybe([entity(), entity()]),
            relations: maybe([relation()]),
            views: maybe([view()]),
            pictures: maybe({ [key()]: nasty() }),
          }),
        },
        { name: nasty(), day: nasty() },
        nasty(),
      ])
    const broken = (text: string): string | Buffer =>
      pick<() => string | Buffer>([
        () => text,
        () => text,
        () => text,
        () => text.slice(0, roll(text.length + 1)),
        () => Buffer.from([0xff, 0xfe, ...Buffer.from(text)]),
        () => text.replace(/"/, '\\u0000"'),
      ])()
    const segment = () => encodeURIComponent(pick(['none', id, 'é', '😀', '..', '%', '\u0000', 'a'.repeat(300), "'"]))
    const paths = () =>
      pick([
        `/api/workspaces/${segment()}`,
        `/api/workspaces/${segment()}/file`,
        `/api/workspaces/${id}/views/${segment()}.svg?day=${segment()}&width=${segment()}`,
        `/api/workspaces/${id}/revisions/${segment()}`,
        `/api/workspaces/${segment()}/history?before=${segment()}`,
        `/api/workspaces/${segment()}/changes?since=${segment()}`,
        `/api/workspaces/${segment()}/assets/${segment()}`,
        `/api/workspaces/${segment()}/shares?view=${segment()}`,
        `/api/workspaces?named=${segment()}`,
        `/feeds/${segment()}.ics`,
        `/read/${segment()}?view=${segment()}`,
        `/api/workspaces/${segment()}/readers/${segment()}`,
        `/api/workspaces/${segment()}/book.html?day=${segment()}&since=${segment()}`,
        `/api/workspaces/${id}/views/${segment()}.pdf?paper=${segment()}&scale=${segment()}`,
        `/standins/directory/scim/v2/Users?day=9999-12-31&count=${segment()}&startIndex=${segment()}`,
        `/w/${segment()}`,
        `/${segment()}/%`,
      ])
    const faulty: string[] = []
    const count = { asked: 0, taken: 0, refused: 0 }
    for (let i = 0; i < 3000; i++) {
      const sort = roll(10)
      const answer = await (sort < 5
        ? post(`/api/workspaces/${id}/changes`, broken(JSON.stringify(change())))
        : sort < 7
          ? post('/api/workspaces', broken(JSON.stringify(workspace())))
          : sort < 8
            ? post(`/api/workspaces/${segment()}/shares`, broken(JSON.stringify({ view: nasty(), format: nasty() })))
            : ask(paths(), { method: pick(['GET', 'GET', 'GET', 'DELETE', 'HEAD', 'OPTIONS']) }))
      // The one workspace that is asked for may have been deleted: then there is nothing to be wrong with.
      count.asked++
      if (answer.status < 300) count.taken++
      else if (answer.status < 500) count.refused++
      if (answer.status >= 500 || answer.ms > 2000)
        faulty.push(`${i}: ${answer.status} in ${Math.round(answer.ms)} ms ${answer.text.slice(0, 200)}`)
    }
    expect(faulty).toEqual([])
    expect(count.refused).toBeGreaterThan(1000)
    expect(count.taken).toBeGreaterThan(50)
  })
  it.each<[string, () => string]>([
    [
      'a hundred thousand levels',
      () => `{"id":"a","base":0,"label":"l","author":"a","steps":${'['.repeat(100_000)}${']'.repeat(100_000)}}`,
    ],
    [
      'levels within a value',
      () =>
        `{"id":"a","base":0,"label":"l","author":"a","steps":[{"do":"set-entity","id":"a","path":"name","value":${'['.repeat(100_000)}${']'.repeat(100_000)}}]}`,
    ],
    [
      'two hundred thousand unknown keys',
      () => `{${Array.from({ length: 200_000 }, (_, i) => `"k${i}":1`).join(',')}}`,
    ],
    [
      'a million keys of a fact',
      () =>
        `{"id":"a","base":0,"label":"l","author":"a","steps":[{"do":"add-entity","entity":{"id":"z","kind":"position","name":"Z","fields":{${Array.from({ length: 1_000_000 }, (_, i) => `"k${i}":1`).join(',')}}}}]}`,
    ],
    [
      'three hundred thousand wrong steps',
      () =>
        `{"id":"a","base":0,"label":"l","author":"a","steps":[${Array.from({ length: 300_000 }, () => '{"do":"fly"}').join(',')}]}`,
    ],
  ])('%s are answered with 400 and a path, soon', async (_, body) => {
    const id = await make({ list: 'Ada — Head', name: 'T' })
    const answer = await post(`/api/workspaces/${id}/changes`, body())
    const { error } = JSON.parse(answer.text) as { error: { faults: { path: string }[] } }
    expect([answer.status, error.faults.length > 0]).toEqual([400, true])
    // A promise: within a second, on a machine that may be busy.
    expect(answer.ms).toBeLessThan(3000)
  })
  it('texts full of commas, quotes and braces are taken for what they are', async () => {
    const id = await make({ list: 'Ada — Head', name: 'T' })
    const notes = Array.from({ length: 8 }, (_, i) => (i % 2 ? ',"{\\' : '\\",[').repeat(4000))
    const steps = notes.map((note, i) => ({
      do: 'add-entity',
      entity: { id: `z${i}`, kind: 'position', name: 'Z\\', fields: { note } },
    }))
    const answer = await post(
      `/api/workspaces/${id}/changes`,
      JSON.stringify({ id: 'a', base: 0, label: 'l', author: 'a', steps }),
    )
    expect([answer.status, answer.text]).toEqual([200, expect.anything()])
  })
})

describe('work that would not end', () => {
  /** Everything leads to everything: a picture that takes some seconds. */
  function tangle(): object {
    const steps = Array.from({ length: 420 }, (_, i) => ({
      id: `s${i}`,
      kind: 'step',
      name: `Step ${i}`,
      fields: { process: 'p', order: i },
    }))
    const flows = Array.from({ length: 2400 }, (_, i) => ({
      id: `f${i}`,
      kind: 'flow',
      source: `s${(i * 7) % 420}`,
      target: `s${(i * 61 + Math.floor(i / 420) * 13 + 1) % 420}`,
      fields: {},
    }))
    return {
      format: 'skivel-workspace',
      version: 1,
      name: 'Tangle',
      entities: [{ id: 'p', kind: 'process', name: 'P', fields: {} }, ...steps],
      relations: flows.filter(({ source, target }) => source !== target),
      views: [{ id: 'v', notation: 'process', picture: 'flow', title: 'V' }],
    }
  }
  it('is stopped with a clear answer, while everything else goes on', { timeout: 60_000 }, async () => {
    const id = await make({ file: tangle() })
    const drawing = ask(`/api/workspaces/${id}/views/v.svg`)
    await pause(100)
    const other = await ask(`/api/workspaces/${id}/history`)
    expect(other.status).toBe(200)
    expect(other.ms).toBeLessThan(1500)
    const answer = await drawing
    expect(answer.status).toBe(503)
    expect(JSON.parse(answer.text)).toMatchObject({
      error: { code: 'too-long', message: expect.stringContaining('longer than') as string },
    })
    // The thread that was ended is replaced.
    const small = await make({ list: 'Ada — Head', name: 'T' })
    const { workspace } = JSON.parse((await ask(`/api/workspaces/${small}`)).text) as {
      workspace: { views: { id: string }[] }
    }
    expect((await ask(`/api/workspaces/${small}/views/${workspace.views[0]?.id}.svg`)).status).toBe(200)
  })
  it('is not begun for the far days of a directory', async () => {
    const answer = await ask('/standins/directory/scim/v2/Users?day=9999-12-31')
    expect(answer.status).toBe(200)
    expect(answer.ms).toBeLessThan(5000)
  })
})

describe('listeners that do not read', () => {
  it('cost no more than they are worth', { timeout: 90_000 }, async () => {
    const id = await make({ list: 'Ada — Head', name: 'T' })
    const { workspace } = JSON.parse((await ask(`/api/workspaces/${id}`)).text) as {
      workspace: { entities: { id: string }[] }
    }
    const key = workspace.entities[0]?.id
    const memory = () => Number(readFileSync(`/proc/${server.process.pid}/statm`, 'utf8').split(' ')[1]) * 4096
    const { hostname, port } = new URL(server.address)
    // Twenty changes of about half a megabyte each: with fifteen listeners 150 MB each time, if all of it were held for all of them.
    const note = 'x'.repeat(19_000)
    const twenty = async (first: number) => {
      for (let i = first; i < first + 20; i++) {
        const steps = Array.from({ length: 50 }, (_, k) => ({
          do: 'set-entity',
          id: key,
          path: k % 2 ? 'fields.note' : 'fields.alt',
          value: k % 2 ? note : 'y',
        }))
        const answer = await post(
          `/api/workspaces/${id}/changes`,
          JSON.stringify({ id: `big-${i}`, base: i, label: 'l', author: 'a', steps }),
        )
        expect(answer.status).toBe(200)
      }
      await pause(1000)
    }
    // What the changes themselves need is there before anybody listens.
    await twenty(0)
    const before = memory()
    const sockets = Array.from({ length: 15 }, () => {
      const socket = connect(Number(port), hostname)
      socket.pause()
      socket.on('error', () => undefined)
      socket.write(`GET /api/workspaces/${id}/events?since=20 HTTP/1.1\r\nhost: localhost\r\n\r\n`)
      return socket
    })
    await pause(300)
    await twenty(20)
    await twenty(40)
    // Half of what holding it all would take: when a busy machine collects what is let go is its own affair.
    expect((memory() - before) / 1e6).toBeLessThan(150)
    for (const socket of sockets) socket.destroy()
  })
})
