import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { root } from './paths.mjs'

const STATIC = /(?:import|export)(?:[^"'()]*?from)?\s*["']\.\/([\w.~-]+\.js)["']/g

/** What a page has to load before it can begin: the scripts by name, each with those that it imports, in kB as they are compressed. */
export function scriptSizes() {
  const folder = join(root, 'dist', 'client', '_astro')
  const files = existsSync(folder) ? readdirSync(folder) : []
  const reach = (starts) => {
    const seen = new Set()
    const open = [...starts]
    for (let file = open.pop(); file !== undefined; file = open.pop()) {
      if (seen.has(file) || !files.includes(file)) continue
      seen.add(file)
      for (const [, next] of readFileSync(join(folder, file), 'utf8').matchAll(STATIC)) open.push(next)
    }
    return seen
  }
  const named = (name) =>
    files
      .filter((file) => file.startsWith(`${name}.`) || file.startsWith(`${name}-`))
      .filter((file) => file.endsWith('.js'))
  const weigh = (...names) =>
    Math.round(
      [...reach(names.flatMap(named))].reduce(
        (sum, file) => sum + gzipSync(readFileSync(join(folder, file))).length,
        0,
      ) / 1000,
    )
  return {
    home: weigh('Home', 'client'),
    workspace: weigh('Workspace', 'client'),
    worker: weigh('worker'),
    reader: weigh('_secret_'),
  }
}
