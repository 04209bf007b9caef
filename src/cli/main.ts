import { parseArgs } from 'node:util'
import '../core/calendar/withHolidays'
import { FileError } from '../core/file'
import { wordsOf } from '../core/model'
import { check, convert, draw, numbers, UsageError, type Command } from './commands'

const USAGE = `Skivel: facts in, diagrams, findings and numbers out.

  skivel check FILE [--day DAY] [--json]
      Finds contradictions. Exit code 1 when there is an error, 3 when a rule could not be checked.
  skivel draw FILE [--view ID | --picture NOTATION/PICTURE] --out X.svg|X.png [--width PX] [--day DAY] [--compare DAY]
      Draws a view of the file, or all facts as a picture; with --compare what differs between two days.
  skivel numbers FILE --sheet NOTATION/SHEET [--day DAY] [--date DAY] [--from NAME --to NAME] [--json]
      Computes a table of numbers; --date asks how likely a plan is done by then, --from and --to what lies between two devices.
  skivel convert A B [--view ID] [--day DAY]
      From one format to another, by the endings: .skivel.json, .bpmn, .ics, .csv, .ldif, .json (SCIM users,
      RFC 8345 topologies), .vcf, .graphml, .hosts, .xmi, .sql; where two formats share an ending, --view tells which.

FILE is a *.skivel.json workspace. DAY is a day such as 2026-11-24; without it, today.
`

const COMMANDS: Readonly<Record<string, Command>> = { check, convert, draw, numbers }

const OPTIONS = {
  day: { type: 'string' },
  date: { type: 'string' },
  compare: { type: 'string' },
  json: { type: 'boolean' },
  view: { type: 'string' },
  picture: { type: 'string' },
  out: { type: 'string' },
  width: { type: 'string' },
  sheet: { type: 'string' },
  from: { type: 'string' },
  to: { type: 'string' },
} as const

type Print = (text: string) => void

/** Runs one command line. Answers the exit code: 0 fine, 1 errors found in the facts, 2 not carried out, 3 something failed inside. */
export async function main(args: readonly string[], out: Print, err: Print): Promise<number> {
  const [name, ...rest] = args
  if (name === undefined || name === 'help' || name === '--help') {
    out(USAGE)
    return name === undefined ? 2 : 0
  }
  try {
    const command = COMMANDS[name]
    if (!command) throw new UsageError(`There is no command “${name}”. There are ${Object.keys(COMMANDS).join(', ')}.`)
    const { values, positionals } = parseArgs({ args: rest, allowPositionals: true, options: OPTIONS })
    const [file, second] = positionals
    if (file === undefined) throw new UsageError('Name a workspace file.')
    const most = command === convert ? 2 : 1
    const extra = positionals[most]
    if (extra !== undefined) throw new UsageError(`One file at a time: “${extra}” is one too many.`)
    return await command(file, { ...values, ...(second === undefined ? {} : { second }) }, out)
  } catch (error) {
    if (error instanceof FileError) {
      const faults = error.faults.map(({ path, message }) => `  ${path} ${message}`)
      err(`${error.message}\n${faults.join('\n')}\n`)
    } else if (error instanceof UsageError || isArgumentError(error)) err(`${error.message}\n`)
    else {
      err(`This failed inside Skivel, and is no fault of the facts: ${wordsOf(error)}.\n`)
      return 3
    }
    return 2
  }
}

const isArgumentError = (error: unknown): error is Error =>
  error instanceof TypeError && 'code' in error && String(error.code).startsWith('ERR_PARSE_ARGS')
