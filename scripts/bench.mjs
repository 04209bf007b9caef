/** Speed as ratios against a reference library in the same run, and as growth with size. */
import { join } from 'node:path'
import { build } from './lib/build.mjs'
import { commandPath, debianPackages, npmPackages } from './lib/packages.mjs'
import { own, root } from './lib/paths.mjs'
import { must } from './lib/run.mjs'

await npmPackages()
await must('The core’s benchmark', process.execPath, ['--import', 'tsx', join('scripts', 'bench', 'core.ts')])
await must('The benchmark of plans', process.execPath, ['--import', 'tsx', join('scripts', 'bench', 'plans.ts')])
await must('The benchmark of processes', process.execPath, [
  '--import',
  'tsx',
  join('scripts', 'bench', 'processes.ts'),
])
await must('The benchmark of networks', process.execPath, ['--import', 'tsx', join('scripts', 'bench', 'networks.ts')])
await must('The benchmark of classes', process.execPath, ['--import', 'tsx', join('scripts', 'bench', 'classes.ts')])
await must('The benchmark of figures', process.execPath, ['--import', 'tsx', join('scripts', 'bench', 'figures.ts')])
await must('The benchmark of states and sequences', process.execPath, [
  '--import',
  'tsx',
  join('scripts', 'bench', 'behaviour.ts'),
])
await must('The benchmark of files', process.execPath, ['--import', 'tsx', join('scripts', 'bench', 'files.ts')])
// Compiled into one program, as the command line is: one of its libraries is of the older kind.
const { bundle } = await import('./lib/bundle.mjs')
await bundle(join(root, 'scripts', 'bench', 'readers.ts'), join(own, 'bench'))
await must('The benchmark of readers of files', process.execPath, [join(own, 'bench', 'readers.mjs')])
await debianPackages('mariadbd', ['mariadb-server-core', 'mariadb-client-core'])
await debianPackages('chromium', ['chromium'])
await build()
await must('The benchmark of many who read', process.execPath, [
  '--import',
  'tsx',
  join('scripts', 'bench', 'readings.ts'),
])
const env = { ...process.env, SKIVEL_CHROMIUM: commandPath('chromium') }
await must('The browser’s benchmark', process.execPath, ['--import', 'tsx', join('scripts', 'bench', 'browser.ts')], {
  env,
})
