import { parseArgs } from 'node:util'
import { FileError } from '../core/file'
import { wordsOf } from '../core/model'
import { check, convert, diff, numbers } from './commands'
import { book, draw } from './drawing'
import { refuseSenseless } from './sense'
import { UsageError, type Command, type CommandValues, type Print } from './wishes'

const USAGE = `Skivel: facts in, diagrams, findings and numbers out.

  skivel check FILE [--day DAY] [--format words|json|sarif|junit] [--out REPORT]
      Finds contradictions. Exit code 0 when there is no error, 1 when there is one, 3 when a rule could not be
      checked. --json is --format json; SARIF is 2.1.0.
  skivel draw FILE [--view ID ... | --picture NOTATION/PICTURE] --out X.svg|.png|.jpg|.webp|.pdf|.html|.docx|.odt
      [--day DAY] [--compare DAY]
      Draws a view of the file, or all facts as a picture; with --compare what differs between two days. How large:
      --width PX, --megapixels N, or --paper A4 [--across] [--dpi N]; --border N (mm on a paper, else px).
      --quality 1..100 (JPEG, WebP), --transparent (PNG, WebP, SVG), --letters named|inside|outlines (SVG),
      --scale PERCENT [--overlap MM] (PDF in sheets). Several --view, or --view all, make one PDF.
      --wide MM (DOCX, ODT), [--without-tables] (HTML, too: the picture, its words and the registers of what it shows).
      --with-facts puts the facts that are shown into the file, as a workspace file.
  skivel diff A B [--day DAY] [--json]
  skivel diff FILE --compare DAY [--day DAY] [--json]
      What differs between all that two files say, or only between their facts of a day, or between two days of one
      file, in words; with --out X.svg|.png|.jpg|.webp|.pdf [--view ID] as a picture. Exit code 0 when nothing
      differs, 1 when something does.
  skivel book FILE --out X.pdf|.html [--day DAY] [--since DAY]
      All views with what is said of them, registers, findings, and what has changed since a day.
  skivel numbers FILE --sheet NOTATION/SHEET [--day DAY] [--date DAY] [--from NAME --to NAME] [--json]
      Computes a table of numbers; --date asks how likely a plan is done by then, --from and --to what lies between two devices.
  skivel convert A B [--view ID] [--day DAY]
      From one format to another, by the endings: .skivel.json, .bpmn, .ics, .csv, .ldif, .json (SCIM users,
      RFC 8345 topologies), .vcf, .graphml, .hosts, .xmi, .sql; where two formats share an ending, --view tells which.

Any command that cannot be carried out ends with 2, and says why.
FILE is a *.skivel.json workspace, or a picture (.svg, .png, .pdf) that carries its facts. DAY is a day such as 2026-11-24; without it, today.
`

const COMMANDS: Readonly<Record<string, Command>> = { book, check, convert, diff, draw, numbers }

const OPTIONS = {
  day: { type: 'string' },
  date: { type: 'string' },
  compare: { type: 'string' },
  json: { type: 'boolean' },
  format: { type: 'string' },
  view: { type: 'string', multiple: true },
  picture: { type: 'string' },
  out: { type: 'string' },
  width: { type: 'string' },
  megapixels: { type: 'string' },
  paper: { type: 'string' },
  across: { type: 'boolean' },
  dpi: { type: 'string' },
  border: { type: 'string' },
  quality: { type: 'string' },
  transparent: { type: 'boolean' },
  letters: { type: 'string' },
  scale: { type: 'string' },
  overlap: { type: 'string' },
  wide: { type: 'string' },
  'without-tables': { type: 'boolean' },
  since: { type: 'string' },
  'with-facts': { type: 'boolean' },
  sheet: { type: 'string' },
  from: { type: 'string' },
  to: { type: 'string' },
} as const

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
    refuseSenseless(name, values as CommandValues)
    const [file, second] = positionals
    if (file === undefined) throw new UsageError('Name a workspace file.')
    const most = command === convert || command === diff ? 2 : 1
    const extra = positionals[most]
    if (extra !== undefined) throw new UsageError(`One file at a time: “${extra}” is one too many.`)
    const { view: views, ...others } = values
    const [view] = views ?? []
    return await command(
      file,
      { ...others, ...(views ? { views, view } : {}), ...(second === undefined ? {} : { second }) },
      out,
      err,
    )
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
