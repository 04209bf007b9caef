/** The web server: static files from the build, everything else from the application. Started by `npm start` and by the tests. */
import { createHash } from 'node:crypto'
import { createServer } from 'node:http'
import { join } from 'node:path'
import compression from 'compression'
import sirv from 'sirv'
import { handler } from '../dist/server/entry.mjs'
import { root } from './lib/paths.mjs'
import { askedFrom, inTurns, isPlain } from './lib/requests.mjs'

const FIRST_PORT = Number(process.env.PORT ?? 4321)
const TRIES = process.env.PORT ? 1 : 20

const compress = compression({
  filter: (request, response) =>
    !/event-stream/.test(String(response.getHeader('content-type'))) && compression.filter(request, response),
})
const files = sirv(join(root, 'dist', 'client'), {
  // Looked up anew at each request: a build may replace the files while the server runs.
  dev: true,
  etag: true,
  brotli: true,
  gzip: true,
  setHeaders: (response, path) => {
    if (path.startsWith('/_astro/')) response.setHeader('cache-control', 'public, max-age=31536000, immutable')
  },
})

/** Names by which this server may be asked: those of this machine, and those that are configured. */
const hosts = new Set([
  'localhost',
  '127.0.0.1',
  '[::1]',
  ...(process.env.SKIVEL_HOSTS ?? '')
    .toLowerCase()
    .split(/[\s,]+/)
    .filter(Boolean),
])
const isOurs = (host) =>
  hosts.has(
    String(host ?? '')
      .replace(/:\d+$/, '')
      .toLowerCase(),
  )

/** Hashes of the few scripts that the pages hold themselves, read off this server's own first page: no other one runs. */
let scripts = ''
const policy = (isRead) =>
  [
    "default-src 'none'",
    `script-src 'self' ${scripts}`.trim(),
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    "connect-src 'self'",
    "worker-src 'self'",
    "frame-src 'self'",
    // What is read may stand in a frame of any page, of a file on a disk too, which no star means; nothing can be changed there.
    ...(isRead ? [] : ["frame-ancestors 'self'"]),
    "form-action 'self'",
    "base-uri 'none'",
    "object-src 'none'",
  ].join('; ')

async function readScripts(port) {
  const texts = new Set()
  // Bare, so that nothing has to be drawn for it.
  for (const path of ['/?bare', '/w/none?bare', '/read/none?bare', '/letters/none?bare']) {
    const page = await (await fetch(`http://127.0.0.1:${port}${path}`)).text()
    for (const [, text] of page.matchAll(/<script>([\s\S]*?)<\/script>/g)) texts.add(text)
  }
  scripts = [...texts].map((text) => `'sha256-${createHash('sha256').update(text).digest('base64')}'`).join(' ')
}

function guard(request, response) {
  const isRead = /^\/read\/[\w-]+(?:\?|$)/.test(request.url ?? '')
  response.setHeader('content-security-policy', policy(isRead))
  response.setHeader('cross-origin-resource-policy', 'same-origin')
  response.setHeader('cross-origin-opener-policy', 'same-origin')
  response.setHeader('x-content-type-options', 'nosniff')
  if (!isRead) response.setHeader('x-frame-options', 'SAMEORIGIN')
  response.setHeader('referrer-policy', 'same-origin')
}

// Nobody is answered before it is known which scripts may run; the pages that tell are asked bare.
let begin
const begun = new Promise((resolve) => (begin = resolve))

/** Behind a proxy of one's own, which notes who asks. */
const behindProxy = process.env.SKIVEL_BEHIND_PROXY === 'yes'

function refuse(response, status, code, message) {
  response.writeHead(status, { 'content-type': 'application/json; charset=utf-8' })
  response.end(JSON.stringify({ error: { code, message } }))
}

/** What is open to those who may only read. */
const READS = /^\/(?:read|feeds)\//
const turn = inTurns(2)
/** What the build has made lies in one folder, but for what stands beside it by name. */
const FILES = /^\/(?:_astro\/|[\w-]+\.\w+(?:\?|$))/

async function answer(request, response) {
  const address = request.url ?? ''
  if (!address.endsWith('?bare')) await begun
  if (READS.test(address)) await turn()
  guard(request, response)
  if (!isPlain(address)) return refuse(response, 400, 'bad-request', 'This address is not written plainly.')
  if (!isOurs(request.headers.host))
    return refuse(
      response,
      421,
      'forbidden',
      'This server is not known by that name. Names beside localhost are set with SKIVEL_HOSTS.',
    )
  const left = new AbortController()
  response.on('close', () => left.abort())
  const known = {
    // How much of an answer lies here unread: whoever listens to events and does not read them is waited for, and then left.
    unread: () => response.writableLength,
    address: askedFrom(request, behindProxy),
    left: left.signal,
  }
  // Whether there is a file is looked up on the disk, which nobody is to wait for who asks for none.
  const orFile = FILES.test(address) ? files : (_request, _response, next) => next()
  compress(request, response, () => {
    orFile(request, response, () => {
      Promise.resolve(handler(request, response, (error) => fail(response, error), known)).catch((error) =>
        fail(response, error),
      )
    })
  })
}

/** An error in one request is answered there, and ends nothing else. */
function fail(response, error) {
  if (error) console.error(error)
  if (!response.headersSent) response.writeHead(error ? 500 : 404, { 'content-type': 'text/plain; charset=utf-8' })
  response.end(error ? 'Something went wrong in the server.' : 'There is no such page.')
}

const server = createServer((request, response) => {
  answer(request, response).catch((error) => fail(response, error))
})
// What nobody waited for has failed: said, and all others are served on. What is kept in memory can be read again.
process.on('uncaughtException', (error) => console.error('Something failed that nobody waited for:', error))
process.on('unhandledRejection', (error) => console.error('Something failed that nobody waited for:', error))
server.headersTimeout = 20_000
server.requestTimeout = 120_000

let tries = 0
server.on('error', (error) => {
  if (error.code !== 'EADDRINUSE' || ++tries >= TRIES) {
    console.error(
      error.code === 'EADDRINUSE' ? `Port ${FIRST_PORT + tries - 1} is taken. Set PORT to another one.` : error,
    )
    process.exit(1)
  }
  console.log(`Port ${FIRST_PORT + tries - 1} is taken; trying ${FIRST_PORT + tries}.`)
  server.listen(FIRST_PORT + tries, '127.0.0.1')
})
server.on('listening', () => {
  const { port } = server.address()
  // Where this server finds what it serves itself: a stand-in is asked as a system outside would be.
  process.env.SKIVEL_SELF = `http://127.0.0.1:${port}`
  process.env.SKIVEL_ROOT = root
  readScripts(port).then(
    () => {
      process.send?.({ listening: port })
      begin()
      console.log(`Skivel is at http://127.0.0.1:${port}`)
      // The first page’s pictures are drawn before somebody asks for them; what comes of it is not needed here.
      fetch(`http://127.0.0.1:${port}/`).catch(() => undefined)
    },
    (error) => {
      console.error('The first page could not be read:', error)
      process.exit(1)
    },
  )
})
server.listen(FIRST_PORT, '127.0.0.1')

const stop = () => {
  server.close(() => process.exit(0))
  // Streams of events never end by themselves.
  server.closeAllConnections()
  setTimeout(() => process.exit(0), 500).unref()
}
process.on('SIGTERM', stop)
process.on('SIGINT', stop)
// Whoever started this server and is gone will not stop it any more.
process.on('disconnect', stop)
