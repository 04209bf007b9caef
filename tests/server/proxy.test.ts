import { spawn, type ChildProcess } from 'node:child_process'
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, connect, type AddressInfo } from 'node:net'
import { resolve } from 'node:path'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { pause } from '../../scripts/lib/mariadb.mjs'
import { commandPath } from '../../scripts/lib/packages.mjs'
import { startServer, type Running } from './running'

/** The configuration that ships with the program, in a real proxy of Debian's. */
const FOLDER = resolve('.skivel', 'test-nginx')
let server: Running
let proxy: ChildProcess
let port = 0

const freePort = () =>
  new Promise<number>((tell) => {
    const one = createServer().listen(0, '127.0.0.1', () => {
      const { port: free } = one.address() as AddressInfo
      one.close(() => tell(free))
    })
  })
beforeAll(async () => {
  server = await startServer(inject('databaseUrl'), { SKIVEL_BEHIND_PROXY: 'yes' })
  port = await freePort()
  rmSync(FOLDER, { recursive: true, force: true })
  mkdirSync(FOLDER, { recursive: true })
  writeFileSync(`${FOLDER}/people`, 'ida:{PLAIN}made-up\n')
  const shipped = readFileSync('docs/proxy.nginx.conf', 'utf8')
    .replace('127.0.0.1:4321', new URL(server.address).host)
    .replace('127.0.0.1:8080', `127.0.0.1:${port}`)
    .replace('/etc/skivel/people', `${FOLDER}/people`)
  writeFileSync(
    `${FOLDER}/nginx.conf`,
    `daemon off; pid ${FOLDER}/pid; error_log stderr error; worker_processes 1; ${process.getuid?.() === 0 ? 'user root;' : ''}
     events { worker_connections 256; }
     http { access_log off; client_body_temp_path ${FOLDER}/body; proxy_temp_path ${FOLDER}/proxy; fastcgi_temp_path ${FOLDER}/f; uwsgi_temp_path ${FOLDER}/u; scgi_temp_path ${FOLDER}/s; ${shipped} }`,
  )
  proxy = spawn(commandPath('nginx') ?? 'nginx', ['-c', `${FOLDER}/nginx.conf`, '-p', FOLDER], { stdio: 'ignore' })
  for (let tries = 0; tries < 100; tries++) {
    if (
      await fetch(`http://127.0.0.1:${port}/mark.svg`).then(
        ({ ok }) => ok,
        () => false,
      )
    )
      break
    await pause(50)
  }
})
afterAll(async () => {
  proxy.kill('SIGTERM')
  await server.stop()
})

/** A request to the letter, as nobody or as somebody. */
const sent = (method: string, path: string, signedIn = false, body = '') =>
  new Promise<string>((tell, refuse) => {
    const socket = connect(port, '127.0.0.1', () =>
      socket.write(
        `${method} ${path} HTTP/1.1\r\nhost: localhost\r\nconnection: close\r\ncontent-type: application/json\r\ncontent-length: ${Buffer.byteLength(body)}\r\n${signedIn ? `authorization: Basic ${btoa('ida:made-up')}\r\n` : ''}\r\n${body}`,
      ),
    )
    let text = ''
    socket.on('data', (part) => (text += part.toString('latin1')))
    socket.on('end', () => tell(text))
    socket.on('error', refuse)
  })
const statusOf = (answer: string) => Number(/^HTTP\/1\.1 (\d+)/.exec(answer)?.[1])

describe('a proxy that asks for a sign-in, as it ships', () => {
  it('lets readers read, colleagues work, and nobody else in', async () => {
    expect(statusOf(await sent('GET', '/'))).toBe(401)
    expect(statusOf(await sent('GET', '/api/workspaces'))).toBe(401)
    expect(statusOf(await sent('GET', '/', true))).toBe(200)
    const made = await sent('POST', '/api/workspaces', true, JSON.stringify({ list: 'Ada — Head', name: 'Behind' }))
    expect(statusOf(made)).toBe(201)
    const id = /"id":"([\w-]+)"/.exec(made)?.[1] ?? ''
    const { workspace } = (await (await fetch(`${server.address}/api/workspaces/${id}`)).json()) as {
      workspace: { views: { id: string }[] }
    }
    const reader = await sent(
      'POST',
      `/api/workspaces/${id}/readers`,
      true,
      JSON.stringify({ reach: 'view', of: workspace.views[0]?.id, findings: false, comments: true }),
    )
    const path = /"path":"(\/read\/[\w-]{43})"/.exec(reader)?.[1] ?? ''
    const page = await sent('GET', path)
    expect([statusOf(page), page.includes('Ada')]).toEqual([200, true])
    const script = /\/_astro\/[\w.-]+\.js/.exec(page)?.[0] ?? '/mark.svg'
    expect(statusOf(await sent('GET', script))).toBe(200)
    expect(statusOf(await sent('GET', `${path}/comments`))).toBe(200)
    expect(statusOf(await sent('GET', `/letters/${'a'.repeat(43)}`))).toBe(404)
  })
  it.each([
    '/read/x\\..\\..\\api\\workspaces',
    '/read/%2e%2e/api/workspaces',
    '/read/..%2f..%2fapi/workspaces',
    '/read//../api/workspaces',
    '//api/workspaces',
    '/_astro/..\\api\\workspaces',
    '/_astro/%2e%2e/api/workspaces',
    '/feeds/x/..%5c..%5capi%5cworkspaces',
    '/letters/../api/workspaces',
    '/READ/../api/workspaces',
    '/read/x%2f..%2f..%2fapi%2fworkspaces',
  ])('is not passed by %s', async (path) => {
    for (const method of ['GET', 'DELETE', 'POST']) {
      const answer = await sent(method, path)
      expect([400, 401, 404, 405], `${method} ${path}`).toContain(statusOf(answer))
      expect(answer).not.toContain('"workspaces"')
    }
  })
})
