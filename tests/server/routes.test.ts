import { readdirSync } from 'node:fs'
import { request } from 'node:http'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { writeWorkspace } from '../../src/core/file'
import { marramSoundFerries } from '../../src/demo'
import { startServer, type Running } from './running'

/** How many requests are sent; some hundred thousand take minutes on a quiet machine. */
const REQUESTS = Number(process.env['SKIVEL_FUZZ'] ?? 3000)
/** Longer beside other work than on a machine that does nothing else, as where a number is given. */
const MOST_MS = process.env['SKIVEL_FUZZ'] === undefined ? 2000 : 1000

/** Every address of the server, and whether something is drawn there. A new one has to be named here. */
const ROUTES: Readonly<Record<string, 'plain' | 'draws' | 'streams'>> = {
  '/': 'draws',
  '/404': 'plain',
  '/api/bin': 'plain',
  '/api/bin/[id]': 'plain',
  '/api/databases/tables': 'draws',
  '/api/directory/users': 'plain',
  '/api/health': 'plain',
  '/api/network/neighbours': 'plain',
  '/api/starters/[notation]/[starter]': 'draws',
  '/api/workspaces': 'draws',
  '/api/workspaces/[id]': 'plain',
  '/api/workspaces/[id]/[book]': 'draws',
  '/api/workspaces/[id]/assets': 'draws',
  '/api/workspaces/[id]/assets/[asset]': 'plain',
  '/api/workspaces/[id]/changes': 'plain',
  '/api/workspaces/[id]/comments': 'plain',
  '/api/workspaces/[id]/comments/[comment]': 'plain',
  '/api/workspaces/[id]/copy': 'plain',
  '/api/workspaces/[id]/events': 'streams',
  '/api/workspaces/[id]/file': 'plain',
  '/api/workspaces/[id]/history': 'plain',
  '/api/workspaces/[id]/readers': 'plain',
  '/api/workspaces/[id]/readers/[reader]': 'plain',
  '/api/workspaces/[id]/revisions/[revision]': 'plain',
  '/api/workspaces/[id]/shares': 'plain',
  '/api/workspaces/[id]/shares/[share]': 'plain',
  '/api/workspaces/[id]/views/[picture]': 'draws',
  '/feeds/[file]': 'draws',
  '/letters/[secret]': 'plain',
  '/read/[secret]': 'draws',
  '/read/[secret]/comments': 'plain',
  '/standins/database/address': 'draws',
  '/standins/directory/scim/v2/Users': 'draws',
  '/standins/mail': 'plain',
  '/standins/mail/address': 'plain',
  '/standins/mail/letters': 'plain',
  '/standins/neighbours/lldp': 'draws',
  '/w/[id]': 'draws',
}

function routesIn(folder: string, path = ''): readonly string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory()
      ? routesIn(join(folder, entry.name), `${path}/${entry.name}`)
      : [`${path}/${entry.name.replace(/\.(?:ts|astro)$/, '')}`.replace(/\/index$/, '') || '/'],
  )
}

let server: Running
let workspace = ''
beforeAll(async () => {
  server = await startServer(inject('databaseUrl'))
  const made = await fetch(`${server.address}/api/workspaces`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ file: writeWorkspace(marramSoundFerries()) }),
  })
  workspace = ((await made.json()) as { id: string }).id
})
afterAll(() => server.stop())

/** Numbers from a seed, so that a fault that is found can be found again. */
function dice(seed: number) {
  let state = seed
  return (sides: number): number => {
    state = (Math.imul(state ^ (state >>> 15), 2246822519) + 374761393) >>> 0
    return Math.floor(((state >>> 8) / 2 ** 24) * sides)
  }
}

interface Answer {
  readonly status: number
  readonly ms: number
  readonly text: string
}
function send(method: string, path: string, headers: Record<string, string>, body: string | undefined) {
  const { hostname, port } = new URL(server.address)
  const began = performance.now()
  return new Promise<Answer>((tell, refuse) => {
    const sent = request({ hostname, port, path, method, headers }, (response) => {
      let text = ''
      // A stream of events begins, and is left.
      if (/event-stream/.test(String(response.headers['content-type']))) response.destroy()
      response.on('data', (part: Buffer) => (text += text.length < 400 ? part.toString('latin1') : ''))
      response.on('close', () => tell({ status: response.statusCode ?? 0, ms: performance.now() - began, text }))
      response.on('error', () => undefined)
    })
    sent.on('error', refuse)
    sent.end(body)
  })
}

describe('every address of the server', () => {
  it('stands in the table', () => {
    expect([...routesIn(join('src', 'pages'))].sort()).toEqual(Object.keys(ROUTES).sort())
  })
  it(`answers ${REQUESTS} requests that are nonsense with words, soon, and lives`, { timeout: 3_600_000 }, async () => {
    const roll = dice(20_261_201)
    const pick = <T>(list: readonly T[]): T => list[roll(list.length)] as T
    const WORDS = [
      'id',
      'base',
      'label',
      'author',
      'steps',
      'view',
      'thread',
      'words',
      'file',
      'list',
      'name',
      'day',
      'reach',
      'of',
      'findings',
      'proposal',
      'format',
      'entities',
      'pictures',
      '__proto__',
      'constructor',
      'x',
    ]
    const nested = (depth: number): string => {
      const [open, close] = pick([
        ['[', ']'],
        ['{"a":', '}'],
        ['{"entities":[', ']}'],
      ] as const)
      return open.repeat(depth) + '1' + close.repeat(depth)
    }
    const value = (depth = 0): string =>
      pick<() => string>([
        () => 'null',
        () => 'true',
        () => pick(['0', '-1', '1e308', '1.5', '99999999999999999999']),
        () =>
          JSON.stringify(
            pick([
              '',
              ' ',
              'a',
              'é',
              '😀',
              '../..',
              '2026-02-30',
              '2026-11-24',
              'whole-company',
              'organisation',
              workspace,
              'x'.repeat(3000),
            ]),
          ),
        () => '"\\u0000"',
        () => '"\\ud83d"',
        () => nested(pick([2, 90, 150, 7000])),
        () => (depth > 3 ? '{}' : object(depth + 1)),
        () => (depth > 3 ? '[]' : `[${Array.from({ length: roll(5) }, () => value(depth + 1)).join()}]`),
        () => `[${'{},'.repeat(pick([3, 2000]))}{}]`,
        () => '{"do":"set-entity","id":"md","path":"name","value":"x"}',
      ])()
    const object = (depth = 0): string =>
      `{${Array.from({ length: 1 + roll(6) }, () => `${JSON.stringify(pick(WORDS))}:${value(depth)}`).join()}}`
    const segment = () =>
      encodeURIComponent(
        pick([
          workspace,
          workspace,
          workspace,
          'none',
          'é',
          '😀',
          "'",
          'a'.repeat(300),
          'whole-company.svg',
          'port-racks.png',
          'book.pdf',
          '1',
          '%',
          'a'.repeat(43),
          '__proto__',
        ]),
      )
    const query = () =>
      roll(3) > 0
        ? ''
        : `?${pick(['day', 'since', 'on', 'before', 'named', 'view', 'width', 'paper', 'with', 'compare', 'dpi', 'x'])}=${encodeURIComponent(pick(['', '1', '-1', 'é', '__proto__', '2026-02-30', '9999-12-31', 'a'.repeat(2000), '%00', 'whole-company', 'all']))}`
    const faulty: string[] = []
    const counts = new Map<number, number>()
    for (let at = 0; at < REQUESTS; at++) {
      const route = pick(Object.keys(ROUTES))
      const path = route.replace(/\[\w+\]/g, segment) + query()
      const method = pick(['GET', 'GET', 'POST', 'POST', 'PUT', 'PATCH', 'DELETE', 'HEAD', 'OPTIONS'])
      // The one workspace that is asked for stays.
      if (method === 'DELETE' && path.includes(workspace) && route === '/api/workspaces/[id]') continue
      const body =
        method === 'GET' || method === 'HEAD'
          ? undefined
          : pick([object, object, () => value(), () => object().slice(0, roll(40)), () => ''])()
      const type = pick([
        'application/json',
        'application/json',
        'application/json',
        'text/plain',
        'application/x-www-form-urlencoded',
        'image/png',
      ])
      const answer = await send(
        method,
        path,
        body === undefined ? {} : { 'content-type': type, 'content-length': String(Buffer.byteLength(body)) },
        body,
      )
      counts.set(answer.status, (counts.get(answer.status) ?? 0) + 1)
      const isSlow = answer.ms > (ROUTES[route] === 'draws' ? 20_000 : MOST_MS)
      if ((answer.status >= 500 && answer.status !== 502 && answer.status !== 503) || isSlow)
        faulty.push(
          `${at}: ${method} ${path.slice(0, 120)} ${type} ${(body ?? '').slice(0, 160)} → ${answer.status} in ${Math.round(answer.ms)} ms ${answer.text.slice(0, 160)}`,
        )
    }
    expect(faulty).toEqual([])
    expect(server.process.exitCode).toBeNull()
    expect(counts.get(400) ?? 0).toBeGreaterThan(REQUESTS / 20)
    expect(counts.get(404) ?? 0).toBeGreaterThan(REQUESTS / 20)
  })
})
