import { createServer, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { assetsOf } from '../../src/server/services/photos'
import { startServer, type Running } from './running'

let server: Running
let workspace = ''
beforeAll(async () => {
  server = await startServer(inject('databaseUrl'))
  const body = JSON.stringify({ list: 'Ada — Head\n  Ben — Clerk', name: 'T' })
  const made = await fetch(`${server.address}/api/workspaces`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body,
  })
  workspace = ((await made.json()) as { id: string }).id
})
afterAll(() => server.stop())

const picture = (format: 'png' | 'jpeg' | 'webp' | 'gif', width = 500, height = 300) =>
  sharp({ create: { width, height, channels: 3, background: '#886644' } })
    [format]()
    .toBuffer()
async function send(bytes: Uint8Array, at = workspace, more = '') {
  const response = await fetch(`${server.address}/api/workspaces/${at}/assets${more}`, {
    method: 'POST',
    body: new Uint8Array(bytes),
  })
  return { status: response.status, body: (await response.json()) as { id: string; error: { message: string } } }
}

describe('a photo', () => {
  it.each(['png', 'jpeg', 'webp'] as const)(
    'sent as %s is cropped to a square and drawn anew as JPEG',
    async (format) => {
      const { status, body } = await send(await picture(format))
      expect(status).toBe(201)
      const kept = await fetch(`${server.address}/api/workspaces/${workspace}/assets/${body.id}`)
      expect(kept.headers.get('content-type')).toBe('image/jpeg')
      const { format: now, width, height, exif } = await sharp(await kept.arrayBuffer()).metadata()
      expect([now, width, height, exif]).toEqual(['jpeg', 320, 320, undefined])
    },
  )
  it('that is to stay whole keeps its shape, made smaller where it is large, and comes back so with a file', async () => {
    const { status, body } = await send(await picture('png', 2400, 800), workspace, '?shape=whole')
    expect(status).toBe(201)
    const kept = await fetch(`${server.address}/api/workspaces/${workspace}/assets/${body.id}`)
    const bytes = Buffer.from(await kept.arrayBuffer())
    const { width, height } = await sharp(bytes).metadata()
    expect([width, height]).toEqual([1200, 400])
    expect(body.id).toMatch(/^[0-9a-f]{40}-1200x400$/)
    // A file that carries it brings it back as it was.
    const address = `data:image/jpeg;base64,${bytes.toString('base64')}`
    const [again] = await assetsOf(new Map([[body.id, address]]))
    expect(again?.content.equals(bytes)).toBe(true)
    // One that says another size than it has is drawn anew, as any that is not ours.
    const [other] = await assetsOf(new Map([[body.id.replace('1200x400', '400x1200'), address]]))
    expect(other?.content.equals(bytes)).toBe(false)
  })
  it('that is the same is kept once', async () => {
    const bytes = await picture('png', 90, 90)
    expect((await send(bytes)).body.id).toBe((await send(bytes)).body.id)
  })
  it.each([
    ['no picture', () => Promise.resolve(Buffer.from('no picture')), 400, 'cannot be read'],
    ['a GIF', () => picture('gif'), 400, 'PNG, JPEG or WebP'],
    ['half a picture', async () => (await picture('jpeg', 2000, 2000)).subarray(0, 1200), 400, 'cannot be read'],
    ['nothing', () => Promise.resolve(Buffer.alloc(0)), 400, 'cannot be read'],
    ['more than 5 MB', () => Promise.resolve(Buffer.alloc(5_000_001)), 413, 'larger than 5 MB'],
  ])('that is %s is refused in words', async (_, bytes, status, words) => {
    const answer = await send(await bytes())
    expect([answer.status, answer.body.error.message]).toEqual([status, expect.stringContaining(words)])
  })
  it('of a workspace that is not there is refused, and one that is not there is not found', async () => {
    expect((await send(await picture('png'), 'nowhere')).status).toBe(404)
    expect((await fetch(`${server.address}/api/workspaces/${workspace}/assets/nothing`)).status).toBe(404)
  })
})

describe('pictures in a workspace file', () => {
  const fileWith = (id: string, bytes: Uint8Array, type = 'jpeg') => ({
    format: 'skivel-workspace',
    version: 1,
    name: 'With a picture',
    entities: [{ id: 'ada', kind: 'person', name: 'Ada', fields: { photo: id } }],
    pictures: { [id]: `data:image/${type};base64,${Buffer.from(bytes).toString('base64')}` },
  })
  async function begin(file: object) {
    const response = await fetch(`${server.address}/api/workspaces`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ file }),
    })
    return { status: response.status, body: (await response.json()) as { id: string; error: { message: string } } }
  }
  const saved = async (id: string) =>
    (await (await fetch(`${server.address}/api/workspaces/${id}/file`)).json()) as { pictures?: Record<string, string> }

  it('travel with it, byte for byte, as often as it is saved and opened again', async () => {
    const { body } = await send(await picture('jpeg'))
    const kept = new Uint8Array(
      await (await fetch(`${server.address}/api/workspaces/${workspace}/assets/${body.id}`)).arrayBuffer(),
    )
    const first = (await begin(fileWith(body.id, kept))).body.id
    const again = await saved(first)
    expect(again.pictures?.[body.id]).toBe(`data:image/jpeg;base64,${Buffer.from(kept).toString('base64')}`)
    const second = (await begin(again)).body.id
    expect((await saved(second)).pictures).toEqual(again.pictures)
    expect((await fetch(`${server.address}/api/workspaces/${second}/assets/${body.id}`)).status).toBe(200)
  })
  it('from elsewhere are drawn anew under the identity that the facts know', async () => {
    const id = 'c'.repeat(40)
    const made = await begin(fileWith(id, await picture('png', 900, 400), 'png'))
    const kept = await fetch(`${server.address}/api/workspaces/${made.body.id}/assets/${id}`)
    const { format, width, height } = await sharp(await kept.arrayBuffer()).metadata()
    expect([format, width, height]).toEqual(['jpeg', 320, 320])
  })
  it('that no fact names are left behind', async () => {
    const [named, loose] = ['e'.repeat(40), 'f'.repeat(40)]
    const file = fileWith(named, await picture('png'), 'png')
    const made = await begin({ ...file, pictures: { ...file.pictures, [loose]: 'data:image/png;base64,AAAA' } })
    expect(made.status).toBe(201)
    expect(Object.keys((await saved(made.body.id)).pictures ?? {})).toEqual([named])
  })
  it('that cannot be read are refused, and no workspace is begun', async () => {
    const count = async () =>
      ((await (await fetch(`${server.address}/api/workspaces`)).json()) as { workspaces: unknown[] }).workspaces.length
    const before = await count()
    const answer = await begin(fileWith('d'.repeat(40), Buffer.from('nothing that could be seen')))
    expect([answer.status, answer.body.error.message]).toEqual([400, expect.stringContaining('cannot be read')])
    expect(await count()).toBe(before)
  })
})

describe('the directory', () => {
  it('is read page by page into a table', async () => {
    const response = await fetch(`${server.address}/api/directory/users`)
    const { heading, rows } = (await response.json()) as { heading: string[]; rows: string[][] }
    expect(heading.slice(0, 4)).toEqual(['Id', 'Name', 'Title', 'Manager id'])
    const page = await fetch(`${server.address}/standins/directory/scim/v2/Users?startIndex=1&count=10`)
    const { totalResults, itemsPerPage } = (await page.json()) as { totalResults: number; itemsPerPage: number }
    expect([rows.length, itemsPerPage]).toEqual([totalResults, 10])
    expect(new Set(rows.map(([id]) => id)).size).toBe(rows.length)
  })
})

describe('the network', () => {
  it('tells of its neighbours as a table of cables, each once', async () => {
    const response = await fetch(`${server.address}/api/network/neighbours`)
    const { heading, rows } = (await response.json()) as { heading: string[]; rows: string[][] }
    expect(heading).toEqual(['From', 'From port', 'To', 'To port'])
    expect(rows.length).toBeGreaterThan(40)
    expect(new Set(rows.map((row) => row.join('|'))).size).toBe(rows.length)
  })
})

describe.each([
  ['/api/directory/users', 'The directory', 'SKIVEL_DIRECTORY_URL'],
  ['/api/network/neighbours', 'The network', 'SKIVEL_NEIGHBOURS_URL'],
])('what is asked at %s', (path, who, variable) => {
  async function toldBy(address: string): Promise<[number, string]> {
    const before = process.env[variable]
    process.env[variable] = address
    const asking = await startServer(inject('databaseUrl'))
    if (before === undefined) delete process.env[variable]
    else process.env[variable] = before
    const response = await fetch(`${asking.address}${path}`)
    const { error } = (await response.json()) as { error: { message: string } }
    await asking.stop()
    return [response.status, error.message]
  }
  /** What it says when it is answered by this. */
  async function toldOf(answer: (response: ServerResponse) => void): Promise<[number, string]> {
    const other = createServer((_, response) => answer(response))
    await new Promise<void>((resolve) => other.listen(0, '127.0.0.1', resolve))
    const { port } = other.address() as AddressInfo
    const told = await toldBy(`http://127.0.0.1:${port}`)
    other.close()
    other.closeAllConnections()
    return told
  }

  it('and does not answer is said so, in words and with 502', async () => {
    expect(await toldBy('http://127.0.0.1:9/scim')).toEqual([502, expect.stringContaining(`${who} does not answer`)])
  })
  it('and answers something else, or without an end, is said so', async () => {
    const lower = who.toLowerCase()
    expect(await toldOf((response) => response.end('<p>no'))).toEqual([502, `What ${lower} answers is not JSON.`])
    expect(await toldOf((response) => response.end('{}'))).toEqual([
      502,
      expect.stringContaining(`What ${lower} answers is not understood`),
    ])
    const endless = (response: ServerResponse) => {
      const more = () => void (response.destroyed || response.write('x'.repeat(1_000_000), () => setImmediate(more)))
      more()
    }
    expect(await toldOf(endless)).toEqual([
      502,
      expect.stringContaining(`${who} answers too much. This is larger than 20 MB`),
    ])
  })
})
