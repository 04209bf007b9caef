// The command line as one program: the core is TypeScript, and compiling some hundred files at each start takes longer than most commands do.
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { own, root } from './paths.mjs'

const folder = join(own, 'command-line')

/** When the newest of the sources was written, and how many there are: another program has another name. */
function stampOf(path) {
  let [newest, count] = [0, 0]
  for (const entry of readdirSync(path, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile()) continue
    count++
    newest = Math.max(newest, statSync(join(entry.parentPath ?? entry.path, entry.name)).mtimeMs)
  }
  return `${Math.round(newest).toString(36)}-${count.toString(36)}`
}

async function compiled(stamp) {
  const { bundle } = await import('./bundle.mjs')
  const making = join(folder, `${stamp}.${process.pid}`)
  await bundle(join(root, 'src', 'cli', 'main.ts'), making)
  // A program that is still running may need its parts: what was made within a day stays.
  const isOld = (name) => statSync(join(folder, name)).mtimeMs < Date.now() - 86_400_000
  const before = readdirSync(folder).filter((name) => !name.startsWith(stamp) && isOld(name))
  try {
    renameSync(making, join(folder, stamp))
  } catch (error) {
    // Another process was faster: what it has made is the same.
    rmSync(making, { recursive: true, force: true })
    if (!existsSync(join(folder, stamp))) throw error
  }
  for (const name of before) rmSync(join(folder, name), { recursive: true, force: true })
}

/** The program, compiled where its sources have changed; as it stands where nothing can be written. */
export async function commandLine() {
  try {
    const stamp = stampOf(join(root, 'src'))
    const program = join(folder, stamp, 'main.mjs')
    if (!existsSync(program)) {
      mkdirSync(folder, { recursive: true })
      await compiled(stamp)
    }
    return await import(pathToFileURL(program).href)
  } catch (error) {
    if (!['EACCES', 'EROFS', 'EPERM', 'ENOSPC'].includes(error?.code)) throw error
    const { register } = await import('tsx/esm/api')
    register()
    return import('../../src/cli/main.ts')
  }
}
