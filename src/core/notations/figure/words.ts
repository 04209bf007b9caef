import type { Entity, Fields } from '../../model'
import {
  EMPHASES,
  lineFor,
  readEntry,
  remembering,
  tooLongName,
  unquoted,
  type Field,
  type Refusal,
} from '../../notation'
import { part, UNNAMED } from './kinds'

/** What a line says: `Text  (strong, 40 %, at 3 8, done)  = people with First aid  <https://example.org>`. */
export interface Said {
  readonly name: string
  /** Of the fields that a line says. */
  readonly fields: Fields
}

/** Fields that a line says besides its text, in the order in which it says them. */
export const SAID = [
  'emphasis',
  'value',
  'unit',
  'across',
  'up',
  'done',
  'image',
  'pointAcross',
  'pointDown',
  'gathers',
  'link',
] as const

const PAIR = String.raw`(-?\d+(?:\.\d+)?) (-?\d+(?:\.\d+)?)`
const NUMBER = /^(-?(?:\d+(?:\.\d+)?|\d{1,3}(?:,\d{3})+(?:\.\d+)?))(?: ?([^\s\d.,()][^,()]{0,23}))?$/

/** What one word or two in the brackets say; undefined for what is none of it. */
const SIGNS: readonly ((text: string) => Fields | undefined)[] = [
  (text) => (EMPHASES.some((one) => one === text) ? { emphasis: text } : undefined),
  (text) => (text === 'done' ? { done: true } : text === 'open' ? { done: false } : undefined),
  (text) => {
    const [, across, up] = new RegExp(`^at ${PAIR}$`).exec(text) ?? []
    return across === undefined ? undefined : checked({ across: Number(across), up: Number(up) })
  },
  (text) => {
    const [, x, y] = new RegExp(`^point ${PAIR}$`).exec(text) ?? []
    return x === undefined ? undefined : checked({ pointAcross: Number(x), pointDown: Number(y) })
  },
  (text) => {
    const [, image] = /^picture (\S{1,64})$/.exec(text) ?? []
    return image === undefined ? undefined : { image }
  },
  (text) => {
    const [, number, unit] = NUMBER.exec(text) ?? []
    if (number === undefined) return undefined
    const value = Number(number.replaceAll(',', ''))
    return { value, ...(unit === undefined ? {} : { unit: unit.trim() }) }
  },
]

/** Numbers beyond what their fields hold are no numbers of a line. */
function checked(fields: Fields): Fields | undefined {
  const holds = ([id, value]: [string, unknown]) =>
    !('refused' in readEntry(part.fields.find((one): one is Field => one.id === id) as Field, String(value)))
  return Object.entries(fields).every(holds) ? fields : undefined
}

/** Takes a line apart. What is none of the signs is its text. O(line) */
export function readLine(line: string): Said | Refusal {
  const { text, plain } = unquoted(line.trim())
  const fields: Record<string, Fields[string]> = {}
  let rest = text
  const [, before, link] = /^(.*?)\s*<((?:https?:\/\/|mailto:|#)[^\s<>]+)>$/s.exec(rest) ?? []
  if (before !== undefined && link !== undefined) [rest, fields['link']] = [before, plain(link)]
  const [, name, gathers] = /^(.*?)\s*(?<=^|\s)= (\S.*)$/s.exec(rest) ?? []
  if (name !== undefined && gathers !== undefined) [rest, fields['gathers']] = [name, plain(gathers.trim())]
  const [, words, list] = /^(.*?)\s*\(([^()]+)\)$/s.exec(rest) ?? []
  const signs = list?.split(/\s*,\s+/).map((one) => SIGNS.map((read) => read(one.trim())).find(Boolean))
  if (words !== undefined && signs?.every((one) => one !== undefined)) {
    rest = words
    for (const one of signs) Object.assign(fields, one)
  }
  const called = plain(rest.trim())
  const tooLong = tooLongName(called, 'A line') ?? tooLongName(String(fields['gathers'] ?? ''), 'What a set gathers')
  return tooLong ?? { name: called.trim() === '' ? UNNAMED : called, fields }
}

const wordsOf = ({ emphasis, value, unit, across, up, done, image, pointAcross, pointDown }: Fields): string[] => [
  ...(typeof emphasis === 'string' ? [emphasis] : []),
  ...(typeof value === 'number' ? [unit === undefined ? `${value}` : `${value} ${String(unit)}`] : []),
  ...(typeof across === 'number' && typeof up === 'number' ? [`at ${across} ${up}`] : []),
  ...(done === true ? ['done'] : done === false ? ['open'] : []),
  ...(typeof image === 'string' ? [`picture ${image}`] : []),
  ...(typeof pointAcross === 'number' && typeof pointDown === 'number' ? [`point ${pointAcross} ${pointDown}`] : []),
]

/** What a line says of a part; read back it says the same. */
export const saidOf = ({ name, fields }: Pick<Entity, 'name' | 'fields'>): Said => ({
  name,
  fields: Object.fromEntries(SAID.flatMap((key) => (fields[key] === undefined ? [] : [[key, fields[key]]]))),
})

export const lineOf = remembering((said: Said, _within: ''): string => {
  const { name, fields } = said
  const words = wordsOf(fields)
  return lineFor(
    (text) =>
      [
        text(name),
        ...(words.length > 0 ? [`(${words.join(', ')})`] : []),
        ...(fields['gathers'] === undefined ? [] : [`= ${text(String(fields['gathers']))}`]),
        ...(fields['link'] === undefined ? [] : [`<${String(fields['link'])}>`]),
      ].join('  '),
    (text) => {
      const read = readLine(text)
      return !('refused' in read) && read.name === name && JSON.stringify(saidOf(read)) === JSON.stringify(said)
    },
  )
})
