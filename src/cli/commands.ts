import { readFileSync, writeFileSync } from 'node:fs'
import { parseWorkspace, viewsInOrder } from '../core/file'
import { findingsOf, tally } from '../core/findings'
import { asDay, asId, isDay, type Day, type Model, type View } from '../core/model'
import { notationOf, pictureOf, sheetOf, type SheetRow } from '../core/notation'
import { registry } from '../core/notations'
import { svgSize, themeOf, toSvg } from '../core/scene'
import { PngSizeError, toPng } from '../server/draw/png'

/** A command that cannot be carried out, in words for the person who typed it. */
export class UsageError extends Error {}

export interface CommandValues {
  readonly day?: string | undefined
  readonly compare?: string | undefined
  readonly json?: boolean | undefined
  readonly view?: string | undefined
  readonly picture?: string | undefined
  readonly out?: string | undefined
  readonly width?: string | undefined
  readonly sheet?: string | undefined
}

/** @throws FileError for a file that is no workspace, UsageError for wishes that make no sense. */
export type Command = (file: string, values: CommandValues, out: (text: string) => void) => number

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
  return count.error > 0 ? 1 : 0
}

export const draw: Command = (file, values, out) => {
  const model = modelIn(file)
  const target = values.out
  if (target === undefined || !/\.(svg|png)$/i.test(target))
    throw new UsageError('Say where to with --out X.svg or --out X.png.')
  const view = viewOf(model, values)
  const picture = pictureOf(registry, view)
  if (!picture)
    throw new UsageError(
      `There is no picture “${view.notation}/${view.picture}”. There are ${pictureNames().join(', ')}.`,
    )
  const width = values.width === undefined ? undefined : Number(values.width)
  if (width !== undefined && !(Number.isInteger(width) && width > 0))
    throw new UsageError('--width is a whole number of pixels.')
  const against = values.compare === undefined ? undefined : { model, day: dayOf({ day: values.compare }) }
  const scene = picture.draw(model, view, dayOf(values), against)
  const { title, caption, alt } = view
  const options = {
    theme: themeOf(view.look['theme']),
    title,
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
  const rows = sheet.rows(model, dayOf(values))
  if (values.json) out(`${JSON.stringify({ columns: sheet.columns, rows }, null, 2)}\n`)
  else {
    out(`${sheet.columns.map(({ label, unit }) => (unit ? `${label} (${unit})` : label)).join('\t')}\n`)
    for (const row of rows) out(`${sheet.columns.map(({ id }) => cell(row, id)).join('\t')}\n`)
  }
  return 0
}

const cell = (row: SheetRow, id: string): string => String(row[id] ?? '')

function modelIn(file: string): Model {
  let text: string
  try {
    text = readFileSync(file, 'utf8')
  } catch (error) {
    throw new UsageError(`“${file}” cannot be read: ${error instanceof Error ? error.message : String(error)}`)
  }
  return parseWorkspace(text, registry)
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
