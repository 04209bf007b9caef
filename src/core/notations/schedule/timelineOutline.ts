import { readWhen, tidyWhen } from '../../calendar'
import type { Entity, Id, Model, Step, View } from '../../model'
import {
  GONE,
  removal,
  changed,
  removeEntity,
  addEntity,
  readList,
  setEntity,
  setField,
  lineFor,
  unquoted,
  tooLongName,
  type Outcome,
  type Outline,
  type Refusal,
  type Wish,
} from '../../notation'
import { plans } from './kinds'
import { planOf } from './frame'
import { textOf } from './work'

/** A line of a timeline as typed: `1887  Two pilots begin`, or a span `1887..1935  Steam`; `[Fleet]` at the end names its band, `(minor)` says that it is no main one. */
interface Typed {
  readonly when: string
  readonly until: string | undefined
  readonly name: string
  readonly band: string | undefined
  readonly minor: boolean
}

const NO_DATE = 'A line of a timeline begins with its date: 1887, May 1887, 1887-05-14, 44 BCE, or a span 1887..1935.'
const SPAN = /\s*(?:\.\.|–|\bto\b)\s*/
const NEW_EVENT = 'New event'

function readLine(line: string): Typed | Refusal {
  const { text, plain } = unquoted(line)
  const [, unmarked = text.trim(), mark] = /^(.*?)\s*(\(minor\))$/i.exec(text.trim()) ?? []
  const [, rest = unmarked, band] = /^(.*?)\s*\[([^\]]+)\]$/.exec(unmarked) ?? []
  const [first = '', ...more] = rest.split(/\s{2,}|\t+|\s+[–—:]\s+/)
  const [dates = '', words = ''] = more.length > 0 ? [first, more.join(' ')] : splitDate(rest)
  const [from = '', to] = dates.split(SPAN)
  const [when, until] = [tidyWhen(from), to === undefined ? undefined : tidyWhen(to)]
  if (when === undefined || (to !== undefined && until === undefined))
    return { refused: `“${line.trim().slice(0, 40)}”: ${NO_DATE}` }
  const name = plain(words.trim()) || NEW_EVENT
  const tooLong = tooLongName(name)
  return tooLong ?? { when, until, name, band: band && plain(band.trim()), minor: mark !== undefined }
}

/** Whether a line of a list begins with a date. */
export const isDated = (line: string): boolean => !('refused' in readLine(line))

/** The date is the longest beginning of a line that can be read as one. */
function splitDate(text: string): [string, string] {
  const words = text.split(/\s+/)
  for (let count = Math.min(6, words.length); count > 0; count--) {
    const head = words.slice(0, count).join(' ')
    if (head.split(SPAN).every((part) => tidyWhen(part) !== undefined)) return [head, words.slice(count).join(' ')]
  }
  return ['', text]
}

function shown(model: Model, view: View): Entity[] {
  if (view.scope['plan'] === '') return []
  const plan = typeof view.scope['plan'] === 'string' ? planOf(model, view) : undefined
  const year = (entity: Entity) => readWhen(textOf(entity, 'when') ?? '')?.from ?? 0
  return ['event', 'era']
    .flatMap((kind) => model.ofKind(kind))
    .filter((entity) => textOf(entity, 'when') !== undefined && (plan === undefined || textOf(entity, 'plan') === plan))
    .sort((a, b) => year(a) - year(b))
}

/** A minor one is indented; where no main one stands above it, it is said to be minor. */
function lineOf(entity: Entity, mark = ''): string {
  const [when = '', until, band] = ['when', 'until', 'band'].map((field) => textOf(entity, field))
  const dates = until === undefined ? when : `${when}..${until}`
  return lineFor(
    (name) => `${dates}  ${name(entity.name)}${band === undefined ? '' : `  [${name(band)}]`}${mark}`,
    (text) => {
      const read = readLine(text)
      return !('refused' in read) && read.name === entity.name && read.band === band
    },
  )
}

/** Whether it stands, as a minor one, beneath the first main one. */
const isIndented = (entity: Entity, at: number, main: number): boolean => !isMain(entity) && main >= 0 && main < at

const isMain = ({ fields }: Entity): boolean => fields['weight'] === 'main'

/** The plan that holds the events, made where the view has none yet. */
const planFor = (wish: Wish): { readonly id: Id | undefined; readonly steps: readonly Step[] } =>
  plans.isBlank(wish.view)
    ? plans.forWish(wish, {}, 'New timeline')
    : { id: wish.view.scope['plan'] === undefined ? undefined : planOf(wish.model, wish.view), steps: [] }

const make = (id: Id, { when, until, name, band, minor }: Typed, main: boolean, plan: Id | undefined): Entity => ({
  id,
  kind: until === undefined ? 'event' : 'era',
  name,
  fields: {
    when,
    ...(until === undefined ? {} : { until }),
    weight: main && !minor ? 'main' : 'minor',
    ...(band === undefined ? {} : { band }),
    ...(plan === undefined ? {} : { plan }),
  },
})

/** A timeline as text: one line an event with its date first; main ones at the outer level, minor ones indented. */
export const timelineOutline: Outline = {
  hint: '1887  What happened, or 1887..1935  An era',

  lines: (model, view) => {
    const events = shown(model, view)
    const main = events.findIndex(isMain)
    return events.map((entity, at) => {
      const depth = isIndented(entity, at, main) ? 1 : 0
      return { id: entity.id, depth, text: lineOf(entity, isMain(entity) || depth === 1 ? '' : '  (minor)') }
    })
  },

  write: ({ model, view }, line, text) => {
    const entity = model.entities.get(line)
    if (!entity) return GONE
    const typed = readLine(text)
    if ('refused' in typed) return typed
    const kind = typed.until === undefined ? 'event' : 'era'
    if (kind !== entity.kind) {
      const made = make(line, typed, isMain(entity), textOf(entity, 'plan') as Id | undefined)
      return changed(`Make “${typed.name}” ${kind === 'era' ? 'a span' : 'a point in time'}`, [
        removeEntity(line),
        addEntity(made),
      ])
    }
    const steps: Step[] = typed.name === entity.name ? [] : [setEntity(line, 'name', typed.name)]
    for (const field of ['when', 'until', 'band'] as const)
      if (typed[field] !== textOf(entity, field)) steps.push(setField(line, field, typed[field] ?? null))
    const events = shown(model, view)
    const isMinor = typed.minor || isIndented(entity, events.indexOf(entity), events.findIndex(isMain))
    if (isMinor === isMain(entity)) steps.push(setField(line, 'weight', isMinor ? 'minor' : 'main'))
    return changed(`Write “${typed.name.slice(0, 60)}”`, steps)
  },

  insert: (wish, line, text) => {
    const above = line === undefined ? undefined : wish.model.entities.get(line)
    const typed =
      text.trim() === ''
        ? {
            when: textOf(above ?? EMPTY, 'when') ?? wish.day,
            until: undefined,
            name: NEW_EVENT,
            band: undefined,
            minor: false,
          }
        : readLine(text)
    if ('refused' in typed) return typed
    const plan = planFor(wish)
    const id = wish.newId()
    const main = above ? isMain(above) : true
    return changed('Add a line', [...plan.steps, addEntity(make(id, typed, main, plan.id))], { select: id })
  },

  indent: ({ model }, line) => weigh(model, line, 'minor'),
  outdent: ({ model }, line) => weigh(model, line, 'main'),
  move: () => ({ refused: 'Events stand in the order of their dates. Change the date at the beginning of the line.' }),
  remove: ({ model }, line) => {
    const entity = model.entities.get(line)
    if (!entity) return GONE
    return changed(`Remove “${entity.name}”`, removal(model, line))
  },

  paste: (wish, _line, text) => {
    const read = readList(text)
    if ('refused' in read) return read
    const plan = planFor(wish)
    const steps = [...plan.steps]
    let first: Id | undefined
    for (const { depth, text: line } of read) {
      const typed = readLine(line)
      if ('refused' in typed) return { refused: `${typed.refused} Nothing was changed.` }
      const id = wish.newId()
      first ??= id
      steps.push(addEntity(make(id, typed, depth === 0, plan.id)))
    }
    if (first === undefined) return { refused: 'There is no line in what was pasted.' }
    return changed(`Paste ${read.length} ${read.length === 1 ? 'line' : 'lines'}`, steps, { select: first })
  },
}

const EMPTY: Entity = { id: '' as Id, kind: 'event', name: '', fields: {} }

function weigh(model: Model, line: Id, weight: 'main' | 'minor'): Outcome {
  const entity = model.entities.get(line)
  if (!entity) return GONE
  if (entity.fields['weight'] === weight) return { refused: `It is ${weight} already.` }
  return changed(`Make “${entity.name}” ${weight}`, [setField(line, 'weight', weight)])
}
