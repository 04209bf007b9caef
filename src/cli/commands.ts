import { readFileSync, writeFileSync } from 'node:fs'
import about from '../../package.json' with { type: 'json' }
import { carriedBy, isPdf } from '../core/file/carried'
import { parseWorkspace, viewsInOrder, writeWorkspace, type Photos } from '../core/file'
import { findingsOf, tally } from '../core/findings'
import { apply, asDay, asId, isDay, Model, wordsOf, writableWithin, type Day, type View } from '../core/model'
import { decodeText, guessMapping, understoodRows, readTable, type Decoded } from '../core/tabular'
import {
  differenceInWords,
  differencesIn,
  iconsFor,
  notationOf,
  prepared,
  readDay,
  sheetOf,
  type Finding,
  type Notation,
  type SheetRow,
  type Table,
  type TableImport,
  type Wish,
} from '../core/notation'
import { registry } from '../core/notations'
import { limited, limitsOf, type LIMITS } from '../core/scene'
import { junitOf, sarifOf } from './reports'
import { DeliveryError, FORMATS, PngSizeError } from '../server/draw/formats'

const VERSION = about.version

/** A command that cannot be carried out, in words for the person who typed it. */
export class UsageError extends Error {}

interface CommandValues {
  readonly day?: string | undefined
  readonly compare?: string | undefined
  readonly json?: boolean | undefined
  readonly format?: string | undefined
  readonly view?: string | undefined
  readonly views?: readonly string[] | undefined
  readonly date?: string | undefined
  readonly picture?: string | undefined
  readonly out?: string | undefined
  readonly width?: string | undefined
  readonly megapixels?: string | undefined
  readonly paper?: string | undefined
  readonly across?: boolean | undefined
  readonly dpi?: string | undefined
  readonly border?: string | undefined
  readonly quality?: string | undefined
  readonly transparent?: boolean | undefined
  readonly letters?: string | undefined
  readonly scale?: string | undefined
  readonly overlap?: string | undefined
  readonly wide?: string | undefined
  readonly 'without-tables'?: boolean | undefined
  readonly since?: string | undefined
  readonly 'with-facts'?: boolean | undefined
  readonly sheet?: string | undefined
  readonly from?: string | undefined
  readonly to?: string | undefined
  /** The second file of a conversion. */
  readonly second?: string | undefined
}

/** @throws FileError for a file that is no workspace, UsageError for wishes that make no sense. */
export type Command = (file: string, values: CommandValues, out: (text: string) => void) => number | Promise<number>

const MARKS = { error: '■', warning: '▲', note: '●' } as const

export const check: Command = async (file, values, out) => {
  const model = await modelIn(file)
  const findings = findingsOf(registry, model, dayOf(values))
  const asked = values.format ?? (values.json ? 'json' : 'words')
  const form = REPORTS.find((one) => one === asked)
  if (!form) throw new UsageError(`--format is one of ${REPORTS.join(', ')}.`)
  const report = reported(form, model, findings, file)
  if (values.out === undefined) out(report)
  else write(values.out, report)
  if (findings.some(({ failed }) => failed)) return 3
  return tally(findings).error > 0 ? 1 : 0
}

const REPORTS = ['words', 'json', 'sarif', 'junit'] as const

function reported(form: (typeof REPORTS)[number], model: Model, findings: readonly Finding[], file: string): string {
  if (form === 'sarif')
    return `${JSON.stringify(sarifOf(registry, model, findings, { name: file, text: textIn(file) }, VERSION), null, 2)}\n`
  if (form === 'junit') return junitOf(registry, findings, { name: file })
  if (form === 'json') {
    const list = findings.map(({ rule, severity, message, subjects, accepted }) => ({
      rule,
      severity,
      message,
      subjects,
      ...(accepted ? { accepted } : {}),
    }))
    return `${JSON.stringify({ findings: list }, null, 2)}\n`
  }
  const count = tally(findings)
  const lines = findings.map(
    ({ rule, severity, message, accepted }) =>
      `${MARKS[severity]} ${message}  [${rule}]${accepted ? `  accepted: ${accepted.reason}` : ''}\n`,
  )
  return `${lines.join('')}${count.error} errors, ${count.warning} warnings, ${count.note} notes\n`
}

/** The lines of a workspace file; of a picture there are none. */
const textIn = (file: string): string | undefined =>
  /\.json$/i.test(file) ? new TextDecoder().decode(bytesOf(file)) : undefined

/** What differs between two files, or between two days of one; as a picture with --out. */
export const diff: Command = async (file, values, out) => {
  const { model, pictures } = await contentOf(file)
  const other = values.second === undefined ? undefined : await contentOf(values.second)
  if (!other && values.compare === undefined)
    throw new UsageError('Name a second file, or another day with --compare DAY.')
  const day = dayOf(values)
  const then = { model, day: values.compare === undefined ? day : dayOf({ day: values.compare }) }
  const now = { model: other?.model ?? model, day }
  const [before, after] = !other && then.day > now.day ? [now, then] : [then, now]
  const list = differencesIn(registry, before, after)
  if (values.out !== undefined)
    await drawn(
      now.model,
      [viewOf(now.model, values)],
      { ...values, compare: undefined },
      other?.pictures ?? pictures,
      out,
      {
        ...then,
      },
    )
  else if (values.json) out(`${JSON.stringify({ differences: list }, null, 2)}\n`)
  else out(list.length === 0 ? 'Nothing differs.\n' : differenceInWords(list))
  return list.length > 0 ? 1 : 0
}

function numberOf(values: CommandValues, name: keyof typeof LIMITS): number | undefined {
  const text = values[name]
  if (text === undefined) return undefined
  const number = limited(name, text)
  if (number === undefined) throw new UsageError(`--${name} is ${limitsOf(name)}: not “${text}”.`)
  return number
}

const LETTERS = ['named', 'inside', 'outlines'] as const

export const draw: Command = async (file, values, out) => {
  const { model, pictures } = await contentOf(file)
  await drawn(model, viewsOf(model, values), values, pictures, out)
  return 0
}

/** Draws views into the file that is named. */
async function drawn(
  model: Model,
  views: readonly View[],
  values: CommandValues,
  pictures: Photos,
  out: (text: string) => void,
  against?: { readonly model: Model; readonly day: Day },
): Promise<void> {
  await iconsFor(model)
  const target = values.out
  const ending = endingOf(target ?? '').replace('.jpeg', '.jpg')
  const format = FORMATS.find((one) => `.${one}` === ending)
  if (target === undefined || !format)
    throw new UsageError(`Say where to with --out: a name that ends in ${FORMATS.map((one) => `.${one}`).join(', ')}.`)
  if (views.length > 1 && format !== 'pdf') throw new UsageError('Only a PDF holds several views.')
  const letters = LETTERS.find((one) => one === values.letters)
  if (values.letters !== undefined && !letters) throw new UsageError(`--letters is one of ${LETTERS.join(', ')}.`)
  const scale = numberOf(values, 'scale')
  const day = dayOf(values)
  // What draws is loaded when something is drawn: checking alone begins at once.
  const { delivered } = await import('../server/draw/deliver')
  const done = await told(() =>
    delivered(model, views, {
      format,
      day,
      compare: values.compare === undefined ? undefined : dayOf({ day: values.compare }),
      against,
      width: numberOf(values, 'width'),
      megapixels: numberOf(values, 'megapixels'),
      paper: values.paper,
      across: values.across,
      dpi: numberOf(values, 'dpi'),
      border: numberOf(values, 'border'),
      quality: numberOf(values, 'quality'),
      transparent: values.transparent,
      letters,
      scale: scale === undefined ? undefined : scale / 100,
      overlap: numberOf(values, 'overlap'),
      wide: numberOf(values, 'wide'),
      tables: values['without-tables'] !== true,
      facts: values['with-facts'],
      images: pictures,
    }),
  )
  write(target, done.content)
  out(`${target}: ${done.size}, ${done.items} items\n`)
  if (done.missing.length > 0)
    out(`${target}: the fonts have no ${done.missing.slice(0, 20).join(' ')}; this cannot be seen there\n`)
}

/** The workspace as a book: all its views, its registers, what is found, and what has changed since a day. */
export const book: Command = async (file, values, out) => {
  const { model, pictures } = await contentOf(file)
  await iconsFor(model)
  const target = values.out
  const format = (['pdf', 'html'] as const).find((one) => `.${one}` === endingOf(target ?? ''))
  if (target === undefined || !format)
    throw new UsageError('Say where to with --out: a name that ends in .pdf or .html.')
  const { book: made } = await import('../server/draw/deliver')
  const since = values.since === undefined ? undefined : dayOf({ day: values.since })
  const { content, size, missing } = await made(model, { format, day: dayOf(values), since, images: pictures })
  write(target, content)
  out(`${target}: ${size}\n`)
  if (missing.length > 0)
    out(`${target}: the fonts have no ${missing.slice(0, 20).join(' ')}; this cannot be seen there\n`)
  return 0
}

/** What cannot be drawn so is said as what was typed wrongly. */
async function told<T>(run: () => Promise<T>): Promise<T> {
  try {
    return await run()
  } catch (error) {
    if (error instanceof DeliveryError || error instanceof PngSizeError) throw new UsageError(error.message)
    throw error
  }
}

export const numbers: Command = async (file, values, out) => {
  const model = await modelIn(file)
  const sheet = sheetOf(registry, values.sheet ?? '')
  if (!sheet) throw new UsageError(`Name a sheet with --sheet. There are ${sheetNames().join(', ')}.`)
  const by = values.date === undefined ? undefined : readDay(values.date)
  if (values.date !== undefined && !by) throw new UsageError(`“${values.date}” is not a day; write it as 2026-11-24.`)
  const { from, to } = values
  for (const end of [from, to])
    if (end !== undefined && !isNamed(model, end)) throw new UsageError(`Nothing in the file is called “${end}”.`)
  const asking = { ...(by ? { by } : {}), ...(from === undefined ? {} : { from }), ...(to === undefined ? {} : { to }) }
  const rows = sheet.rows(model, dayOf(values), asking)
  if (values.json) out(`${JSON.stringify({ columns: sheet.columns, rows }, null, 2)}\n`)
  else {
    out(`${sheet.columns.map(({ label, unit }) => (unit ? `${label} (${unit})` : label)).join('\t')}\n`)
    for (const row of rows) out(`${sheet.columns.map(({ id }) => cell(row, id)).join('\t')}\n`)
  }
  return 0
}

/** From one format to another: a workspace file, a table of CSV or LDIF or SCIM, BPMN; by the names’ endings. */
export const convert: Command = async (file, values, out) => {
  const target = values.second
  if (target === undefined) throw new UsageError('Say into which file: skivel convert A B.')
  const { model, pictures, notes } = /\.skivel\.json$/i.test(file)
    ? { ...(await contentOf(file)), notes: [] }
    : { ...(await loaded(await readForeign(file, dayOf(values)))), pictures: undefined }
  for (const note of notes) out(`${note}\n`)
  if (/\.skivel\.json$/i.test(target)) {
    write(target, `${JSON.stringify(writeWorkspace(model, pictures), null, 1)}\n`)
    out(`${target}: ${model.entities.size} facts, ${model.relations.size} ties\n`)
    return 0
  }
  const extension = endingOf(target)
  const found = registry.notations.flatMap((notation) =>
    notation.exports.filter((one) => one.extension === extension).map((format) => ({ notation, format })),
  )
  const asked = values.view === undefined ? undefined : viewOf(model, values)
  const first = found.find(({ notation }) => notation.id === asked?.notation) ?? found[0]
  if (!first)
    throw new UsageError(
      `Nothing here is written as “${extension}”. There are .skivel.json, ${formatEndings().join(', ')}.`,
    )
  const views = viewsInOrder(model)
  const view =
    asked ??
    views.find(({ notation }) => notation === first.notation.id) ??
    first.notation.view(() => asId('view'), model.name)
  write(target, await first.format.write(model, view, dayOf(values)))
  out(`${target}: ${first.format.title}\n`)
  return 0
}

const endingOf = (name: string): string => /\.[^./\\]+$/.exec(name.toLowerCase())?.[0] ?? ''

const formatEndings = (): string[] => [
  ...new Set(registry.notations.flatMap(({ exports }) => exports.map(({ extension }) => extension))),
]

/** A workspace of a file in another format: of the notations that read its ending the first that makes something of it, of a table the one that knows most of its columns. */
async function readForeign(file: string, day: Day): Promise<{ model: Model; notes: readonly string[] }> {
  const { text, note } = decodedOf(file)
  const said = note === undefined ? [] : [note]
  const ending = endingOf(file)
  let refused: string | undefined
  for (const notation of registry.notations) {
    const whole = notation.files.find(({ extensions }) => extensions.includes(ending))
    const begun = begunFor(notation, file, day)
    if (whole) {
      const bare = Model.of({ name: baseOf(file) })
      const { read } = await whole.load()
      const found = read({ ...begun, model: bare }, text)
      // A file that brings no view of its own is shown in the usual one.
      if (!('refused' in found)) {
        const base = found.view === undefined ? begun.model : bare
        return { model: apply(base, writableWithin(found.change)).model, notes: [...found.facts, ...said] }
      }
      refused ??= found.refused
    }
    for (const sort of notation.imports) {
      const reader = sort.readers.find(({ extensions }) => extensions.includes(ending))
      const table = reader?.read(text)
      if (table && !('refused' in table)) return planned(begun, sort, table, said)
      refused ??= table?.refused
    }
  }
  if (refused !== undefined) throw new UsageError(refused)
  if (!['.csv', '.tsv'].includes(ending)) throw new UsageError(`Files ending in “${ending}” are not read here.`)
  const table = readTable(text)
  if ('refused' in table) throw new UsageError(table.refused)
  const known = (sort: TableImport) => guessMapping(table.heading, sort.columns).filter(Boolean).length
  const [best] = registry.notations
    .flatMap((notation) => notation.imports.map((sort) => ({ notation, sort, count: known(sort) })))
    .sort((a, b) => b.count - a.count)
  if (!best) throw new UsageError(`Files ending in “${ending}” are not read here.`)
  return planned(begunFor(best.notation, file, day), best.sort, table, said)
}

/** Nothing but a view of a notation, and the wish to bring something into it. */
function begunFor(notation: Notation, file: string, day: Day): Wish {
  let count = 0
  const view = notation.view(() => asId('view'), baseOf(file))
  const model = Model.of({ name: baseOf(file), views: [view] })
  return { model, view, day, selection: [], newId: () => asId(`n${++count}`) }
}

function planned(wish: Wish, sort: TableImport, table: Table, said: readonly string[]) {
  const mapping = guessMapping(table.heading, sort.columns)
  const { rows, understood } = understoodRows(table, mapping, sort.columns)
  const guessed = understood.flatMap((one, index) => {
    const heading = table.heading[index] ?? ''
    if (one?.doubtful)
      throw new UsageError(
        `Nothing in “${heading}” tells how it is meant: ${one.ways.map(({ label }) => label).join(', or ')}.`,
      )
    return one?.said === undefined ? [] : [`“${heading}”: ${one.said}.`]
  })
  const plan = sort.plan(wish, rows, { leaveOutFaulty: false, endGone: false })
  if (plan.faults.length > 0)
    throw new UsageError(plan.faults.map(({ row, column, message }) => `Row ${row}, ${column}: ${message}`).join('\n'))
  return {
    model: apply(wish.model, writableWithin(plan.change)).model,
    notes: [...(table.notes ?? []), ...guessed, ...said],
  }
}

const isNamed = (model: Model, name: string): boolean =>
  [...model.entities.values()].some((one) => one.id === name || one.name.toLowerCase() === name.toLowerCase())

const baseOf = (file: string): string => /([^/\\]+?)(?:\.[^./\\]+)?$/.exec(file)?.[1] ?? 'Workspace'

function cell(row: SheetRow, id: string): string {
  const value = row[id] ?? ''
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value)
}

/** The facts of a workspace file, or of a picture that carries them. */
async function contentOf(file: string): Promise<{ model: Model; pictures: Photos }> {
  const bytes = bytesOf(file)
  return loaded(parseWorkspace((await carriedIn(file, bytes)) ?? decoded(bytes).text, registry))
}

/** With what is large and loaded when facts ask for it: holidays, coasts. */
async function loaded<T extends { readonly model: Model }>(content: T): Promise<T> {
  await prepared(registry.notations, content.model)
  return content
}
const modelIn = async (file: string): Promise<Model> => (await contentOf(file)).model

/** The facts that a picture carries; undefined for what is no picture. @throws UsageError for one that carries none */
async function carriedIn(file: string, bytes: Uint8Array): Promise<string | undefined> {
  const isDocument = isPdf(bytes)
  const isPicture = isDocument || /\.(svg|png|jpe?g|webp)$/i.test(file)
  if (!isPicture) return undefined
  const reader = isDocument ? (await import('../core/file/pdfFile')).carriedByPdf : carriedBy
  try {
    const text = await reader(bytes)
    if (text !== undefined) return text
  } catch (error) {
    throw new UsageError(`“${file}” cannot be read: ${wordsOf(error)}.`)
  }
  throw new UsageError(`“${file}” carries no facts. Pictures carry them when they are handed out with their facts.`)
}

function bytesOf(file: string): Uint8Array {
  try {
    return readFileSync(file)
  } catch (error) {
    throw new UsageError(`“${file}” cannot be read: ${error instanceof Error ? error.message : String(error)}`)
  }
}

const decodedOf = (file: string): Decoded => decoded(bytesOf(file))

function decoded(bytes: Uint8Array): Decoded {
  const decoded = decodeText(bytes)
  if ('refused' in decoded) throw new UsageError(decoded.refused)
  return decoded
}

function write(file: string, content: string | Uint8Array): void {
  try {
    writeFileSync(file, content)
  } catch (error) {
    throw new UsageError(`“${file}” cannot be written: ${error instanceof Error ? error.message : String(error)}`)
  }
}

function dayOf({ day }: CommandValues): Day {
  if (day === undefined) return asDay(new Date().toISOString().slice(0, 10))
  if (!isDay(day)) throw new UsageError(`“${day}” is not a day; write it as 2026-11-24.`)
  return day
}

/** The views asked for, in the order in which they are named; `all` are those of the file. */
function viewsOf(model: Model, values: CommandValues): readonly View[] {
  const { views = [] } = values
  if (views.length === 1 && views[0] === 'all') return viewsInOrder(model)
  return views.length < 2 ? [viewOf(model, values)] : views.map((view) => viewOf(model, { view }))
}

/** The view asked for; with neither view nor picture named, the file’s first view, or the first picture there is. */
function viewOf(model: Model, values: CommandValues): View {
  const views = viewsInOrder(model)
  if (values.view !== undefined) {
    const view = views.find(({ id }) => id === values.view)
    if (view) return view
    const known = views.map(({ id, title }) => `${id} (${title})`).join(', ') || 'none'
    throw new UsageError(`The file has no view “${values.view}”. It has ${known}.`)
  }
  const [first] = views
  if (values.picture === undefined && first) return first
  const [notation = '', picture = ''] = (values.picture ?? pictureNames()[0] ?? '').split('/')
  const known = notationOf(registry, { notation })
  const view = known?.view(() => asId('picture'), model.name)
  if (!view) throw new UsageError(`There is no picture “${values.picture}”. There are ${pictureNames().join(', ')}.`)
  return { ...view, picture }
}

const pictureNames = (): string[] =>
  registry.notations.flatMap((notation) => notation.pictures.map(({ id }) => `${notation.id}/${id}`))

const sheetNames = (): string[] =>
  registry.notations.flatMap((notation) => notation.numbers.map(({ id }) => `${notation.id}/${id}`))
