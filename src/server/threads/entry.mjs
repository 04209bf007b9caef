// A worker's own program: as the build has compiled it, else as it stands.
import { existsSync } from 'node:fs'

const built = new URL('../../../dist/server/threads/worker.mjs', import.meta.url)
if (existsSync(built)) await import(built.href)
else {
  const { register } = await import('tsx/esm/api')
  register()
  await import('./worker.ts')
}
