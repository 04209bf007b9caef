/**
 * All tests, from nothing: installs what is missing, checks types, style and rooms, runs unit, server and browser tests.
 * The last line counts them all; the exit code is not 0 when anything failed.
 */
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { build, buildEnvironment } from './lib/build.mjs'
import { commandPath, debianPackages, npmPackages } from './lib/packages.mjs'
import { own, root } from './lib/paths.mjs'
import { run, Stop } from './lib/run.mjs'

const bin = (name) => join(root, 'node_modules', '.bin', name)
const count = { passed: 0, failed: 0 }

/** A check that counts as one test. */
async function check(what, command, args) {
  const began = Date.now()
  const code = await run(command, args, { env: buildEnvironment })
  count[code === 0 ? 'passed' : 'failed']++
  console.log(`${code === 0 ? '✓' : '✘'} ${what} (${((Date.now() - began) / 1000).toFixed(1)} s)`)
}

/** A suite that counts its own tests into a report; one that ends without a report has failed as a whole. */
async function suite(what, name, command, args, read) {
  const report = join(own, `report-${name}.json`)
  rmSync(report, { force: true })
  const env = { ...buildEnvironment, SKIVEL_REPORT: report, SKIVEL_CHROMIUM: commandPath('chromium') ?? '' }
  const code = await run(command, args(report), { env })
  const counted = existsSync(report) ? read(JSON.parse(readFileSync(report, 'utf8'))) : { passed: 0, failed: 0 }
  if (code !== 0 && counted.failed === 0) counted.failed = 1
  if (code === 0 && counted.passed === 0) counted.failed = 1
  count.passed += counted.passed
  count.failed += counted.failed
  console.log(`${counted.failed === 0 ? '✓' : '✘'} ${what}: ${counted.passed} passed, ${counted.failed} failed`)
}

const vitest = (config) => (report) => [
  'run',
  '--config',
  config,
  '--reporter=default',
  '--reporter=json',
  `--outputFile.json=${report}`,
]
const fromVitest = ({ numPassedTests, numTotalTests }) => ({
  passed: numPassedTests,
  failed: numTotalTests - numPassedTests,
})
const fromPlaywright = ({ stats }) => {
  if (stats.flaky > 0) console.log(`! ${stats.flaky} passed only at the second try; they are named above.`)
  return { passed: stats.expected + stats.flaky, failed: stats.unexpected + stats.skipped }
}

/** Tests that stop the server or the database, or that look at how soon something is there, have the machine to themselves. */
const ALONE = '(together|home|hostile)\\.spec'

try {
  mkdirSync(own, { recursive: true, mode: 0o700 })
  await npmPackages()
  await debianPackages('mariadbd', ['mariadb-server-core', 'mariadb-client-core'])
  await debianPackages('chromium', ['chromium'])
  await debianPackages('nginx', ['nginx-light'])
  await build()
  // What needs one core beside what needs the other.
  const server = suite('server', 'server', bin('vitest'), vitest('vitest.server.config.ts'), fromVitest)
  await check('types', bin('astro'), ['check', '--minimumSeverity', 'error'])
  await check('lint', bin('eslint'), ['.', '--max-warnings=0'])
  await check('formatting', bin('prettier'), ['--check', '--log-level=warn', '.'])
  await check('rooms', bin('depcruise'), ['src', '--config', '.dependency-cruiser.cjs', '--output-type', 'err'])
  await server
  await suite('core, reference and command line', 'unit', bin('vitest'), vitest('vitest.config.ts'), fromVitest)
  await suite(
    'browser',
    'browser',
    bin('playwright'),
    () => ['test', '--workers=2', '--grep-invert', ALONE],
    fromPlaywright,
  )
  await suite(
    'browser, alone',
    'alone',
    bin('playwright'),
    () => ['test', '--workers=1', '--grep', ALONE],
    fromPlaywright,
  )
} catch (error) {
  console.error(error instanceof Stop ? error.message : error)
  count.failed++
}
console.log(`${count.passed} passed, ${count.failed} failed`)
process.exit(count.failed === 0 ? 0 : 1)
