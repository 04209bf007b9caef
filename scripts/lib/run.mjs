import { spawn, spawnSync } from 'node:child_process'
import { root } from './paths.mjs'

/** Something that a person has to put right, in words. */
export class Stop extends Error {}

/** Runs a command to its end with its output shown, and answers its exit code. */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit', ...options })
    child.on('error', reject)
    child.on('exit', (code, signal) => resolve(code ?? (signal ? 1 : 0)))
  })
}

/** Runs a command and answers what it printed, with its exit code. */
export function output(command, args, options = {}) {
  const { status, stdout, stderr, error } = spawnSync(command, args, { cwd: root, encoding: 'utf8', ...options })
  return { code: error ? 127 : (status ?? 1), stdout: stdout ?? '', stderr: stderr ?? '' }
}

export const has = (command) => output('sh', ['-c', `command -v ${command}`]).code === 0

/** @throws Stop when the command fails. */
export async function must(what, command, args, options) {
  const code = await run(command, args, options)
  if (code !== 0) throw new Stop(`${what} failed (${command} ended with ${code}).`)
}
