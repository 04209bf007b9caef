import about from '../../package.json' with { type: 'json' }
import { photosOf, viewsInOrder, writeWorkspace, type Photos } from '../core/file'
import { findingsOf, tally } from '../core/findings'
import { counted, asId, type Model } from '../core/model'
import {
  differenceInWords,
  differencesIn,
  readDay,
  sheetOf,
  type Finding,
  type SheetRow,
  type Told,
} from '../core/notation'
import { registry } from '../core/notations'
import { bytesOf, contentOf, endingOf, loaded, modelIn, write } from './content'
import { drawn } from './drawing'
import { readForeign } from './foreign'
import { junitOf, sarifOf } from './reports'
import { dayOf, UsageError, viewOf, type Command } from './wishes'

const VERSION = about.version

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

/** What differs between all that two files say, or on one day of them, or between two days of one; as a picture with --out. */
export const diff: Command = async (file, values, out, tell) => {
  const { model, pictures } = await contentOf(file)
  const other = values.second === undefined ? undefined : await contentOf(values.second)
  if (!other && values.compare === undefined)
    throw new UsageError('Name a second file, or another day with --compare DAY.')
  const day = dayOf(values)
  const then = { model, day: values.compare === undefined ? day : dayOf({ day: values.compare }) }
  const now = { model: other?.model ?? model, day }
  const [before, after] = !other && then.day > now.day ? [now, then] : [then, now]
  const isWhole = other !== undefined && values.day === undefined && values.compare === undefined
  const list = [
    ...(isWhole ? differencesIn(registry, { model }, { model: other.model }) : differencesIn(registry, before, after)),
    ...(other
      ? picturesTold([model, photosOf(model, pictures)], [other.model, photosOf(other.model, other.pictures)])
      : []),
  ]
  if (values.out !== undefined)
    await drawn(
      now.model,
      [viewOf(now.model, values)],
      { ...values, compare: undefined },
      other?.pictures ?? pictures,
      out,
      tell,
      then,
    )
  else if (values.json) out(`${JSON.stringify({ differences: list }, null, 2)}\n`)
  else out(list.length === 0 ? 'Nothing differs.\n' : differenceInWords(list))
  return list.length > 0 ? 1 : 0
}

/** Photos that one of two files has and the other has not, or has otherwise. */
function picturesTold([before, then]: [Model, Photos], [after, now]: [Model, Photos]): Told[] {
  return [...new Set([...then.keys(), ...now.keys()])].flatMap((id): Told[] => {
    const [old, photo] = [then.get(id), now.get(id)]
    if (old === photo) return []
    const what = old === undefined ? 'new' : photo === undefined ? 'gone' : 'changed'
    const name = shownBy(after, id) ?? shownBy(before, id) ?? 'shown by nothing'
    return [{ what, sort: 'setting', id, kind: 'Picture', name, was: [] }]
  })
}

/** What a photo stands on: a fact, or a view of which it is the ground. O(facts) */
function shownBy({ entities, views }: Model, photo: string): string | undefined {
  const shows = (values: object) => Object.values(values).includes(photo)
  const fact = [...entities.values()].find(({ fields }) => shows(fields))
  return fact?.name ?? [...views.values()].find(({ look }) => shows(look))?.title
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
    out(`${target}: ${counted(model.entities.size, 'fact')}, ${counted(model.relations.size, 'tie')}\n`)
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

const formatEndings = (): string[] => [
  ...new Set(registry.notations.flatMap(({ exports }) => exports.map(({ extension }) => extension))),
]

const isNamed = (model: Model, name: string): boolean =>
  [...model.entities.values()].some((one) => one.id === name || one.name.toLowerCase() === name.toLowerCase())

function cell(row: SheetRow, id: string): string {
  const value = row[id] ?? ''
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value)
}

const sheetNames = (): string[] =>
  registry.notations.flatMap((notation) => notation.numbers.map(({ id }) => `${notation.id}/${id}`))
