import { FORMATS, type Format } from '../server/draw/formats'
import { endingOf } from './content'
import { UsageError, type CommandValues } from './wishes'

type Wish = Exclude<keyof CommandValues, 'views' | 'second'>

const SIZES = ['width', 'megapixels', 'paper'] as const satisfies readonly Wish[]
const PIXELS: readonly Wish[] = [...SIZES, 'across', 'dpi', 'border']
const TEXT: readonly Wish[] = ['wide', 'without-tables']

/** What each format can be wished to be. */
const OF_FORMAT: Readonly<Record<Format, readonly Wish[]>> = {
  svg: [...PIXELS, 'transparent', 'letters', 'with-facts'],
  png: [...PIXELS, 'transparent', 'with-facts'],
  jpg: [...PIXELS, 'quality'],
  webp: [...PIXELS, 'quality', 'transparent'],
  pdf: ['paper', 'across', 'border', 'scale', 'overlap', 'with-facts'],
  html: ['without-tables'],
  docx: TEXT,
  odt: TEXT,
}

const DRAWN: readonly Wish[] = [...new Set(FORMATS.flatMap((format) => OF_FORMAT[format]))]

const OF_COMMAND: Readonly<Record<string, readonly Wish[]>> = {
  check: ['day', 'json', 'format', 'out'],
  draw: ['day', 'compare', 'view', 'picture', 'out', ...DRAWN],
  diff: ['day', 'compare', 'json', 'out', 'view', 'picture', ...DRAWN],
  book: ['day', 'since', 'out'],
  numbers: ['sheet', 'day', 'date', 'from', 'to', 'json'],
  convert: ['view', 'day'],
}

/** What is wished for is something that the command, and the format that it writes, can do. @throws UsageError that names what cannot */
export function refuseSenseless(command: string, values: CommandValues): void {
  const said = (Object.keys(values) as (keyof CommandValues)[]).filter(
    (key): key is Wish => key !== 'views' && key !== 'second' && values[key] !== undefined && values[key] !== false,
  )
  const foreign = said.find((wish) => OF_COMMAND[command]?.includes(wish) === false)
  if (foreign !== undefined) throw new UsageError(`“${command}” does nothing with --${foreign}.`)
  if (command === 'draw' || command === 'diff') refuseForFormat(said, values)
}

function refuseForFormat(said: readonly Wish[], values: CommandValues): void {
  const drawn = said.filter((wish) => DRAWN.includes(wish))
  const [first] = drawn
  if (values.out === undefined) {
    if (first !== undefined) throw new UsageError(`--${first} is about a picture: say where to with --out.`)
    return
  }
  if (values.json) throw new UsageError('Either words as JSON with --json, or a picture with --out.')
  const ending = endingOf(values.out).replace('.jpeg', '.jpg')
  const format = FORMATS.find((one) => `.${one}` === ending)
  if (!format) return
  const wrong = drawn.find((wish) => !OF_FORMAT[format].includes(wish))
  if (wrong !== undefined) {
    const others = FORMATS.filter((one) => OF_FORMAT[one].includes(wrong)).map((one) => one.toUpperCase())
    throw new UsageError(`--${wrong} means nothing for ${format.toUpperCase()}, only for ${others.join(', ')}.`)
  }
  const [one, other] = SIZES.filter((size) => said.includes(size))
  if (one !== undefined && other !== undefined)
    throw new UsageError(`Say how large once: with --${one} or with --${other}.`)
  const needs = (wish: Wish, what: Wish) => {
    if (said.includes(wish) && !said.includes(what))
      throw new UsageError(`--${wish} is said of --${what}: say that as well.`)
  }
  needs('overlap', 'scale')
  // A view may have a paper of its own, which goes by what is said of it unless another size is named.
  const size = SIZES.find((each) => each !== 'paper' && said.includes(each))
  if (size !== undefined) {
    needs('dpi', 'paper')
    needs('across', 'paper')
  }
}
