/** The web server: static files from the build, everything else from the application. Started by `npm start` and by the tests. */
import { createServer } from 'node:http'
import { join } from 'node:path'
import compression from 'compression'
import sirv from 'sirv'
import { handler } from '../dist/server/entry.mjs'
import { root } from './lib/paths.mjs'

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
  setHeaders: (response, path) => {
    if (path.startsWith('/_astro/')) response.setHeader('cache-control', 'public, max-age=31536000, immutable')
  },
})

const server = createServer((request, response) => {
  compress(request, response, () => {
    files(request, response, () => {
      handler(request, response, (error) => {
        if (error) console.error(error)
        if (!response.headersSent)
          response.writeHead(error ? 500 : 404, { 'content-type': 'text/plain; charset=utf-8' })
        response.end(error ? 'Something went wrong in the server.' : 'There is no such page.')
      })
    })
  })
})

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
  process.send?.({ listening: port })
  console.log(`Skivel is at http://127.0.0.1:${port}`)
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
