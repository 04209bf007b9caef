import { readFileSync, writeFileSync } from 'node:fs'
import { parseWorkspace, viewsInOrder, writeWorkspace, type Photos } from '../core/file'
import { findingsOf, tally } from '../core/findings'
import { apply, asDay, asId, isDay, Model, writableWithin, type Day, type View } from '../core/model'
import { decodeText, guessMapping, understoodRows, readTable, type Decoded } from '../core/tabular'
import {
  drawn,
  iconsFor,
  notationOf,
  prepared,
  readDay,
  sheetOf,
  type Notation,
  type SheetRow,
  type Table,
  type TableImport,
  type Wish,
} from '../core/notation'
import { registry } from '../core/notations'
import { svgSize, themeFor, toSvg } from '../core/scene'
import { PngSizeError, toPng } from '../server/draw/png'

/** A command that cannot be carried out, in words for the person who typed it. */
export class UsageError extends Error {}

interface CommandValues {
  readonly day?: string | undefined
  readonly compare?: string | undefined
  readonly json?: boolean | undefined
  readonly view?: string | undefined
  readonly date?: string | undefined
  readonly picture?: string | undefined
  readonly out?: string | undefined
  readonly width?: string | undefined
  readonly sheet?: string | undefined
  readonly from?: string | undefined
  readonly to?: string | undefined
  /** The second file of a conversion. */
  readonly second?: string | undefined
}

/** @throws FileError for a file that is no workspace, UsageError for wishes that make no sense. */
export type Command = (file: string, values: CommandValues, out: (text: string) => void) => number | Promise<number>

const MARKS = { error: '■', warning: '▲', note: '●' } as const

export const check: Command = (file, values, out) => {
  const model = modelIn(file)
  const findings = findingsOf(registry, model, dayOf(values))
  const count = tally(findings)
  if (values.json) {
    const list = findings.map(({ rule, severity, message, subjects, accepted }) => ({
      rule,
      severity,
      message,
      subjects,
      ...(accepted ? { accepted } : {}),
    }))
    out(`${JSON.stringify({ findings: list }, null, 2)}\n`)
  } else {
    for (const { rule, severity, message, accepted } of findings)
      out(`${MARKS[severity]} ${message}  [${rule}]${accepted ? `  accepted: ${accepted.reason}` : ''}\n`)
    out(`${count.error} errors, ${count.warning} warnings, ${count.note} notes\n`)
  }
  if (findings.some(({ failed }) => failed)) return 3
  return count.error > 0 ? 1 : 0
}

export const draw: Command = async (file, values, out) => {
  const { model, pictures } = contentOf(file)
  await Promise.all([prepared(registry.notations, model), iconsFor(model)])
  const target = values.out
  if (target === undefined || !/\.(svg|png)$/i.test(target))
    throw new UsageError('Say where to with --out X.svg or --out X.png.')
  const view = viewOf(model, values)
  const width = values.width === undefined ? undefined : Number(values.width)
  if (width !== undefined && !(Number.isInteger(width) && width > 0))
    throw new UsageError('--width is a whole number of pixels.')
  const against = values.compare === undefined ? undefined : { model, day: dayOf({ day: values.compare }) }
  const scene = drawn(registry, model, view, dayOf(values), against)
  if (!scene)
    throw new UsageError(
      `There is no picture “${view.notation}/${view.picture}”. There are ${pictureNames().join(', ')}.`,
    )
  const { title, caption, alt } = view
  const options = {
    theme: themeFor(model.settings, view.look),
    title,
    images: pictures,
    ...(width === undefined ? {} : { width }),
    ...(caption === undefined ? {} : { caption }),
    ...(alt === undefined ? {} : { alt }),
  }
  const svg = toSvg(scene, options)
  const size = svgSize(scene, options)
  write(target, /\.svg$/i.test(target) ? svg : png(svg, size))
  out(`${target}: ${size.width} × ${size.height} px, ${scene.items.length} items\n`)
  return 0
}

export const numbers: Command = (file, values, out) => {
  const model = modelIn(file)
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
    ? { ...contentOf(file), notes: [] }
    : { ...(await readForeign(file, dayOf(values))), pictures: undefined }
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

const contentOf = (file: string): { model: Model; pictures: Photos } => parseWorkspace(decodedOf(file).text, registry)
const modelIn = (file: string): Model => contentOf(file).model

function decodedOf(file: string): Decoded {
  let bytes
  try {
    bytes = readFileSync(file)
  } catch (error) {
    throw new UsageError(`“${file}” cannot be read: ${error instanceof Error ? error.message : String(error)}`)
  }
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

function png(svg: string, size: { width: number; height: number }): Uint8Array {
  try {
    return toPng(svg, size.width, size.height)
  } catch (error) {
    if (error instanceof PngSizeError) throw new UsageError(error.message)
    throw error
  }
}

function dayOf({ day }: CommandValues): Day {
  if (day === undefined) return asDay(new Date().toISOString().slice(0, 10))
  if (!isDay(day)) throw new UsageError(`“${day}” is not a day; write it as 2026-11-24.`)
  return day
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
