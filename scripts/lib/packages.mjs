import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { join } from 'node:path'
import { root } from './paths.mjs'
import { has, must, output, Stop } from './run.mjs'

/** Installs the npm packages of the lock file, unless they are there already. */
export async function npmPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex')
  const mark = join(root, 'node_modules', '.skivel-lock')
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return
  const installed = join(root, 'node_modules', '.package-lock.json')
  const fresh =
    existsSync(installed) && statSync(installed).mtimeMs >= statSync(join(root, 'package-lock.json')).mtimeMs
  if (!fresh) {
    console.log('Installing npm packages …')
    await must('Installing the npm packages', 'npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'])
  }
  writeFileSync(mark, lock)
}

/** Installs Debian packages that provide a command, as root or through sudo. @throws Stop with the one command to run. */
export async function debianPackages(command, packages) {
  if (commandPath(command)) return
  const install = `apt-get install -y --no-install-recommends ${packages.join(' ')}`
  const isRoot = process.getuid?.() === 0
  const sudo = !isRoot && has('sudo') && output('sudo', ['-n', 'true']).code === 0
  if (!has('apt-get') || (!isRoot && !sudo))
    throw new Stop(
      `Skivel needs ${packages.join(' and ')}. Please run once:\n\n    sudo apt-get update && sudo ${install}\n`,
    )
  console.log(`Installing ${packages.join(' and ')} …`)
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  const [first, ...rest] = sudo ? ['sudo', 'apt-get'] : ['apt-get']
  const quiet = { stdio: ['ignore', 'ignore', 'inherit'], env }
  await must('Reading the list of Debian packages', first, [...rest, 'update'], quiet)
  await must(`Installing ${packages.join(' and ')}`, first, [...rest, ...install.split(' ').slice(1)], quiet)
  if (!commandPath(command)) throw new Stop(`${packages.join(' and ')} did not bring the command ${command}.`)
}

/** Where a command is; Debian keeps servers in sbin, which is not on everybody's path. */
export function commandPath(command) {
  const found = output('sh', ['-c', `command -v ${command}`]).stdout.trim()
  if (found) return found
  return ['/usr/sbin', '/usr/local/sbin', '/sbin']
    .map((folder) => join(folder, command))
    .find((path) => existsSync(path))
}
