import { viewsInOrder } from '../core/file'
import { asDay, asId, isDay, type Day, type Model, type View } from '../core/model'
import { notationOf } from '../core/notation'
import { registry } from '../core/notations'
import { limited, limitsOf, type LIMITS } from '../core/scene'

/** A command that cannot be carried out, in words for the person who typed it. */
export class UsageError extends Error {}

export interface CommandValues {
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

export type Print = (text: string) => void

/** Its answer goes to `out`, what is said while it works to `tell`. @throws FileError for a file that is no workspace, UsageError for wishes that make no sense. */
export type Command = (file: string, values: CommandValues, out: Print, tell: Print) => number | Promise<number>

export function numberOf(values: CommandValues, name: keyof typeof LIMITS): number | undefined {
  const text = values[name]
  if (text === undefined) return undefined
  const number = limited(name, text)
  if (number === undefined) throw new UsageError(`--${name} is ${limitsOf(name)}: not “${text}”.`)
  return number
}

export function dayOf({ day }: CommandValues): Day {
  if (day === undefined) return asDay(new Date().toISOString().slice(0, 10))
  if (!isDay(day)) throw new UsageError(`“${day}” is not a day; write it as 2026-11-24.`)
  return day
}

/** The views asked for, in the order in which they are named; `all` are those of the file. */
export function viewsOf(model: Model, values: CommandValues): readonly View[] {
  const { views = [] } = values
  if (views.length === 1 && views[0] === 'all') return viewsInOrder(model)
  return views.length < 2 ? [viewOf(model, values)] : views.map((view) => viewOf(model, { view }))
}

/** The view asked for; with neither view nor picture named, the file’s first view, or the first picture there is. */
export function viewOf(model: Model, values: CommandValues): View {
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

export const pictureNames = (): string[] =>
  registry.notations.flatMap((notation) => notation.pictures.map(({ id }) => `${notation.id}/${id}`))
