import type { Photos } from '../core/file'
import type { Model, View } from '../core/model'
import { iconsFor, type Against, type Along } from '../core/notation'
import type { Delivered } from '../server/draw/deliver'
import { DeliveryError, FORMATS, missingInWords, PngSizeError } from '../server/draw/formats'
import { contentOf, endingOf, write } from './content'
import { dayOf, numberOf, UsageError, viewsOf, type Command, type CommandValues, type Print } from './wishes'

const LETTERS = ['named', 'inside', 'outlines'] as const

export const draw: Command = async (file, values, out, tell) => {
  const { model, pictures } = await contentOf(file)
  await drawn(model, viewsOf(model, values), values, pictures, out, tell)
  return 0
}

/** Draws views into the file that is named. */
export async function drawn(
  model: Model,
  views: readonly View[],
  values: CommandValues,
  pictures: Photos,
  out: Print,
  tell: Print,
  against?: Against,
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
      onSheet: progress(tell),
      onFacts: (along) => tell(`${target} takes along, for whoever has it to read:\n${along.map(lineOf).join('')}`),
    }),
  )
  kept(target, done, `${done.size}, ${done.items} items`, out)
}

/** Writes a file, and says what it is and which of its letters no font has. */
function kept(target: string, { content, missing }: Delivered, words: string, out: Print): void {
  write(target, content)
  out(`${target}: ${words}\n`)
  if (missing.length > 0) out(`${target}: the fonts have no ${missingInWords(missing)}; this cannot be seen there\n`)
}

/** Facts of a kind that go along, by name. */
function lineOf({ word, names, fields, bare }: Along): string {
  const told = fields.length > 0 ? ` with ${fields.join(', ')}` : ''
  const stubs = bare > 0 ? [`${bare} without a name`] : []
  const named = names.length > 0 ? [`${names.length}${told}: ${names.join(', ')}`] : []
  return `  ${word}: ${[...named, ...stubs].join('; ')}\n`
}

const EVERY_MS = 2000

/** Says how far a long document is, from time to time. */
export function progress(tell: Print, now: () => number = Date.now): (done: number, all?: number) => void {
  let last = now()
  return (done, all) => {
    if (now() - last < EVERY_MS) return
    last = now()
    tell(all === undefined ? `page ${done} …\n` : `sheet ${done} of ${all} …\n`)
  }
}

/** The workspace as a book: all its views, its registers, what is found, and what has changed since a day. */
export const book: Command = async (file, values, out, tell) => {
  const { model, pictures } = await contentOf(file)
  await iconsFor(model)
  const target = values.out
  const format = (['pdf', 'html'] as const).find((one) => `.${one}` === endingOf(target ?? ''))
  if (target === undefined || !format)
    throw new UsageError('Say where to with --out: a name that ends in .pdf or .html.')
  const { book: made } = await import('../server/draw/deliver')
  const since = values.since === undefined ? undefined : dayOf({ day: values.since })
  const onPage = progress(tell)
  const done = await made(model, { format, day: dayOf(values), since, images: pictures, onPage })
  kept(target, done, done.size, out)
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
