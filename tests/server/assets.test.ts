import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
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
async function send(bytes: Uint8Array, at = workspace) {
  const response = await fetch(`${server.address}/api/workspaces/${at}/assets`, {
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
  it('that does not answer is said so, in words and with 502', async () => {
    const before = process.env['SKIVEL_DIRECTORY_URL']
    process.env['SKIVEL_DIRECTORY_URL'] = 'http://127.0.0.1:9/scim'
    const lost = await startServer(inject('databaseUrl'))
    if (before === undefined) delete process.env['SKIVEL_DIRECTORY_URL']
    const response = await fetch(`${lost.address}/api/directory/users`)
    expect([response.status, ((await response.json()) as { error: { message: string } }).error.message]).toEqual([
      502,
      expect.stringContaining('The directory does not answer'),
    ])
    await lost.stop()
  })
})
