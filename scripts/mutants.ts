import { spawn } from 'node:child_process'
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { availableParallelism, tmpdir } from 'node:os'
import { join, relative, resolve } from 'node:path'
import ts from 'typescript'

/**
 * How many small faults the tests notice: changes one operator, number or condition at a time, of so many drawn from the rooms below, and runs the
 * tests that answer for the room. The same seed draws the same ones. Prints those that nobody noticed, and the share that was.
 *   npm run mutants -- --count 150 --seed 2026 --room layout
 */
const CORE = 'src/core'
const ROOMS: Readonly<Record<string, { readonly files: readonly string[]; readonly tests: readonly string[] }>> = {
  model: {
    files: [`${CORE}/model`],
    tests: ['tests/core/model', 'tests/core/file', 'tests/core/checker.test.ts', 'tests/core/memory.test.ts'],
  },
  file: { files: [`${CORE}/file`], tests: ['tests/core/file', 'tests/core/hostile.test.ts'] },
  findings: {
    files: [`${CORE}/findings`],
    tests: [
      'tests/core/checker.test.ts',
      'tests/core/failing.test.ts',
      'tests/core/organisation/rules.test.ts',
      'tests/core/schedule',
    ],
  },
  layout: {
    files: [`${CORE}/layout`],
    tests: ['tests/core/layout', 'tests/reference/flow', 'tests/reference/tidyTree', 'tests/core/schedule/pictures'],
  },
  calendar: {
    files: [`${CORE}/calendar`],
    tests: ['tests/reference/workingTime', 'tests/core/holidays', 'tests/core/schedule', 'tests/core/hostile'],
  },
  organisation: { files: [`${CORE}/notations/organisation/rules`], tests: ['tests/core/organisation/rules'] },
  process: { files: [`${CORE}/notations/process/rules`], tests: ['tests/core/process', 'tests/reference/soundness'] },
  schedule: {
    files: [`${CORE}/notations/schedule/rules`, `${CORE}/notations/schedule/criticalPath.ts`],
    tests: ['tests/core/schedule', 'tests/reference/criticalPath'],
  },
  network: {
    files: [
      `${CORE}/notations/network/rules`,
      ...['topology', 'ways', 'losses', 'carried', 'firewall', 'addresses', 'availability'].map(
        (name) => `${CORE}/notations/network/${name}.ts`,
      ),
    ],
    tests: ['tests/core/network', 'tests/reference/addresses', 'tests/reference/networks', 'tests/reference/firewall'],
  },
}
/** Seconds after which a run of the tests is taken to have noticed. */
const PATIENCE = 90

interface Mutant {
  readonly room: string
  readonly file: string
  readonly from: number
  readonly to: number
  readonly text: string
}

const SWAPS: ReadonlyMap<ts.SyntaxKind, string> = new Map([
  [ts.SyntaxKind.LessThanToken, '<='],
  [ts.SyntaxKind.LessThanEqualsToken, '<'],
  [ts.SyntaxKind.GreaterThanToken, '>='],
  [ts.SyntaxKind.GreaterThanEqualsToken, '>'],
  [ts.SyntaxKind.EqualsEqualsEqualsToken, '!=='],
  [ts.SyntaxKind.ExclamationEqualsEqualsToken, '==='],
  [ts.SyntaxKind.PlusToken, '-'],
  [ts.SyntaxKind.MinusToken, '+'],
  [ts.SyntaxKind.AsteriskToken, '/'],
  [ts.SyntaxKind.AmpersandAmpersandToken, '||'],
  [ts.SyntaxKind.BarBarToken, '&&'],
])
const METHODS: Readonly<Record<string, string>> = {
  min: 'max',
  max: 'min',
  some: 'every',
  every: 'some',
  floor: 'ceil',
  ceil: 'floor',
}

const sources = new Map<string, string>()
/** A file as it was when it was first read: it may be worked on meanwhile. */
function sourceOf(file: string): string {
  const source = sources.get(file) ?? readFileSync(file, 'utf8')
  sources.set(file, source)
  return source
}

/** Every small fault that a file could have. Texts for people and types are left alone. */
function mutantsIn(room: string, file: string): Mutant[] {
  const source = ts.createSourceFile(file, sourceOf(file), ts.ScriptTarget.Latest, true)
  const found: Mutant[] = []
  const add = (node: ts.Node, text: string) =>
    found.push({ room, file, from: node.getStart(source), to: node.end, text })
  const visit = (node: ts.Node): void => {
    if (ts.isTypeNode(node) || ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) return
    if (ts.isBinaryExpression(node)) {
      const swapped = SWAPS.get(node.operatorToken.kind)
      const isText = [node.left, node.right].some(
        (side) => ts.isStringLiteral(side) && node.operatorToken.kind === ts.SyntaxKind.PlusToken,
      )
      if (swapped && !isText) add(node.operatorToken, swapped)
    }
    if (ts.isNumericLiteral(node) && !ts.isPropertyAssignment(node.parent)) add(node, String(Number(node.text) + 1))
    if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken)
      add(node, node.operand.getText(source))
    if (ts.isIfStatement(node)) add(node.expression, 'false')
    if (ts.isConditionalExpression(node)) add(node.condition, `!(${node.condition.getText(source)})`)
    if (ts.isPropertyAccessExpression(node)) {
      const swapped = METHODS[node.name.text]
      if (swapped && ts.isCallExpression(node.parent)) add(node.name, swapped)
    }
    if (node.kind === ts.SyntaxKind.TrueKeyword) add(node, 'false')
    if (node.kind === ts.SyntaxKind.FalseKeyword) add(node, 'true')
    ts.forEachChild(node, visit)
  }
  visit(source)
  return found
}

function filesIn(path: string): string[] {
  if (path.endsWith('.ts')) return [path]
  return readdirSync(path, { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory() || entry.name.endsWith('.ts') ? filesIn(join(path, entry.name)) : [],
  )
}

/** Numbers from 0 to 1 that a seed decides (mulberry32). */
function diceOf(seed: number): () => number {
  let state = seed
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state)
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32
  }
}

function drawn(all: readonly Mutant[], count: number, dice: () => number): Mutant[] {
  const left = [...all]
  return Array.from({ length: Math.min(count, left.length) }, () =>
    left.splice(Math.floor(dice() * left.length), 1),
  ).flat()
}

/** A copy of the project in which a line may be wrong. */
function copyOfProject(): string {
  const place = mkdtempSync(join(tmpdir(), 'mutants-'))
  for (const part of [
    'src',
    'tests',
    'scripts',
    'demo',
    'bin',
    'package.json',
    'tsconfig.json',
    'vitest.config.ts',
    'docs',
  ])
    cpSync(part, join(place, part), { recursive: true })
  symlinkSync(resolve('node_modules'), join(place, 'node_modules'))
  return place
}

function testsNotice(place: string, tests: readonly string[]): Promise<boolean> {
  return new Promise((done) => {
    const run = spawn(
      process.execPath,
      ['node_modules/vitest/vitest.mjs', 'run', '--bail', '1', '--reporter', 'dot', ...tests],
      {
        cwd: place,
        stdio: 'ignore',
        detached: true,
      },
    )
    const patience = setTimeout(() => run.pid !== undefined && process.kill(-run.pid, 'SIGKILL'), PATIENCE * 1000)
    run.on('close', (code) => {
      clearTimeout(patience)
      done(code !== 0)
    })
  })
}

async function outcomeOf({ room, file, from, to, text }: Mutant, place: string): Promise<boolean> {
  const sound = sourceOf(file)
  writeFileSync(join(place, file), sound.slice(0, from) + text + sound.slice(to))
  try {
    return await testsNotice(place, ROOMS[room]?.tests ?? [])
  } finally {
    writeFileSync(join(place, file), sound)
  }
}

function inWords({ file, from, to, text }: Mutant): string {
  const sound = sourceOf(file)
  const line = sound.slice(0, from).split('\n').length
  return `${relative('.', file)}:${line}  ${sound.slice(from, to).replace(/\s+/g, ' ').slice(0, 60)}  →  ${text.slice(0, 60)}`
}

const option = (name: string): string | undefined => {
  const at = process.argv.indexOf(`--${name}`)
  return at < 0 ? undefined : process.argv[at + 1]
}
const only = option('room')
const all = Object.entries(ROOMS)
  .filter(([room]) => only === undefined || room === only)
  .flatMap(([room, { files }]) => files.flatMap(filesIn).flatMap((file) => mutantsIn(room, file)))
const mutants = drawn(all, Number(option('count') ?? 120), diceOf(Number(option('seed') ?? 2026)))
console.log(`${mutants.length} of ${all.length} small faults`)
const places = Array.from({ length: Math.max(1, Math.min(4, availableParallelism())) }, copyOfProject)
// Tests that fail without any fault would seem to notice every one.
for (const room of new Set(mutants.map((mutant) => mutant.room)))
  if (await testsNotice(places[0] ?? '.', ROOMS[room]?.tests ?? []))
    throw new Error(`the tests of ${room} fail as they are`)
const tally = new Map<string, { noticed: number; all: number }>()
const open = [...mutants]
try {
  await Promise.all(
    places.map(async (place) => {
      for (let mutant = open.pop(); mutant; mutant = open.pop()) {
        const isNoticed = await outcomeOf(mutant, place)
        const { noticed, all: count } = tally.get(mutant.room) ?? { noticed: 0, all: 0 }
        tally.set(mutant.room, { noticed: noticed + Number(isNoticed), all: count + 1 })
        if (!isNoticed) console.log(`  not noticed  ${inWords(mutant)}`)
      }
    }),
  )
} finally {
  for (const place of places) rmSync(place, { recursive: true, force: true })
}
const sum = [...tally.values()].reduce((a, b) => ({ noticed: a.noticed + b.noticed, all: a.all + b.all }), {
  noticed: 0,
  all: 0,
})
for (const [room, { noticed, all: count }] of tally) console.log(`  ${room.padEnd(14)} ${noticed} of ${count}`)
console.log(`${((100 * sum.noticed) / Math.max(1, sum.all)).toFixed(0)} % noticed`)
