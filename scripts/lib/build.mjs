import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'
import { own, root } from './paths.mjs'
import { must } from './run.mjs'
import { scriptSizes } from './sizes.mjs'

const SOURCES = ['src', 'public', 'astro.config.ts', 'package-lock.json', 'tsconfig.json']

export const buildEnvironment = { ...process.env, ASTRO_TELEMETRY_DISABLED: '1', ASTRO_DISABLE_UPDATE_CHECK: '1' }

/** Builds the pages and the server, unless nothing has changed since the last build. */
export async function build() {
  const mark = join(own, 'built')
  const print = fingerprint()
  if (existsSync(join(root, 'dist', 'server', 'entry.mjs')) && existsSync(mark) && readFileSync(mark, 'utf8') === print)
    return
  console.log('Building …')
  await must('The build', join('node_modules', '.bin', 'astro'), ['build', '--silent'], { env: buildEnvironment })
  const { bundle } = await import('./bundle.mjs')
  await bundle(join(root, 'src', 'server', 'threads', 'worker.ts'), join(root, 'dist', 'server', 'threads'))
  compressFiles(join(root, 'dist', 'client', '_astro'))
  mkdirSync(own, { recursive: true, mode: 0o700 })
  writeFileSync(mark, print)
  const { home, workspace, worker, reader } = scriptSizes()
  console.log(
    `Scripts, compressed: home ${home} kB, workspace ${workspace} kB, worker ${worker} kB, reader ${reader} kB.`,
  )
}

/** What browsers load lies compressed beside itself: compressing it at each request would keep them waiting. */
function compressFiles(folder) {
  for (const name of readdirSync(folder)) {
    if (!/\.(?:js|css)$/.test(name)) continue
    const content = readFileSync(join(folder, name))
    const params = { [constants.BROTLI_PARAM_QUALITY]: 9, [constants.BROTLI_PARAM_SIZE_HINT]: content.length }
    writeFileSync(join(folder, `${name}.br`), brotliCompressSync(content, { params }))
    writeFileSync(join(folder, `${name}.gz`), gzipSync(content, { level: 9 }))
  }
}

function fingerprint() {
  const hash = createHash('sha256')
  const add = (path) => {
    if (!existsSync(path)) return
    const entries = path.match(/\.\w+$/) ? undefined : readdirSync(path, { withFileTypes: true })
    if (!entries) {
      hash.update(path.slice(root.length)).update(readFileSync(path))
      return
    }
    for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const inner = join(path, entry.name)
      if (entry.isDirectory()) add(inner)
      else hash.update(inner.slice(root.length)).update(readFileSync(inner))
    }
  }
  for (const source of SOURCES) add(join(root, source))
  return hash.digest('hex')
}
