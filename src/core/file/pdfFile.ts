import { MOST_CARRIED, unpacked, within } from './unpacked'

/** The name of the file within a PDF. */
export const CARRIED_FILE = 'facts.skivel.json'

/** Bytes that all packed lists of objects of one document may unpack to. */
const MOST_UNPACKED = 16_000_000
/** With less room left than that no further list is tried: a few packed bytes fill it. */
const LEAST_ROOM = 1_000_000
/** So many places are looked at where the name of the file stands, and so many lists of objects. */
const MOST_PLACES = 200
const MOST_LISTS = 5000
/** Characters of one object that are looked at: what we look for stands in small ones. */
const WINDOW = 4000
/** Characters at the end of a document in which it says that it ends there. */
const TAIL = 2000

/**
 * The text of the workspace file that a PDF carries as an attached file (ISO 32000-1, 7.11.4); undefined where it carries none. Only what leads to it is
 * read, and unpacked within bounds: nothing else of the document is looked at. @throws RangeError for what is no PDF, or carries more than is taken. O(bytes)
 */
export function carriedByPdf(bytes: Uint8Array): string | undefined {
  const text = new TextDecoder('latin1').decode(bytes)
  // One that was cut off has lost what says where everything is.
  if (!text.startsWith('%PDF-') || !text.includes('%%EOF', Math.max(0, text.length - TAIL)))
    throw new RangeError('this PDF cannot be read')
  const [number] = fileNumbers(text)
  const found = number ?? fileNumbers(listsOf(text, bytes))[0]
  const file = found === undefined ? undefined : objectAt(text, found)
  if (file === undefined) return undefined
  const content = streamAt(text, bytes, file)
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(
      content.isPacked ? unpacked(content.bytes, MOST_CARRIED) : within(content.bytes),
    )
  } catch (error) {
    throw new RangeError('what is attached to this PDF cannot be read', { cause: error })
  }
}

const hex = (text: string, isWide: boolean): string =>
  (isWide ? 'feff' : '') +
  [...text]
    .map((one) =>
      one
        .charCodeAt(0)
        .toString(16)
        .padStart(isWide ? 4 : 2, '0'),
    )
    .join('')

/** The name of the file in the ways in which a PDF may write it (7.9.2): in brackets, or as hexadecimal digits of one or two bytes a letter. */
const NAMES: readonly string[] = [
  `(${CARRIED_FILE})`,
  `(\xfe\xff${[...CARRIED_FILE].map((one) => `\0${one}`).join('')})`,
  ...[hex(CARRIED_FILE, false), hex(CARRIED_FILE, true)].flatMap((digits) => [
    `<${digits}>`,
    `<${digits.toUpperCase()}>`,
  ]),
]

/** The numbers of the objects that hold a file of that name: /EF << /F 15 0 R >> beside it. */
function fileNumbers(text: string): readonly number[] {
  const numbers: number[] = []
  let places = 0
  for (const name of NAMES)
    for (let at = text.indexOf(name); at >= 0 && ++places < MOST_PLACES; at = text.indexOf(name, at + 1)) {
      const around = text.slice(Math.max(0, at - WINDOW / 4), at + WINDOW / 4)
      const held = /\/EF\s{0,9}<<([^<>]{0,200})>>/.exec(around)?.[1]
      const number = /\/F\s{1,9}(\d{1,9})\s{1,9}\d{1,5}\s{1,9}R/.exec(held ?? '')?.[1]
      if (number !== undefined) numbers.push(Number(number))
    }
  return numbers
}

/** Where the content of an object begins, the one that was written last: `15 0 obj`. */
function objectAt(text: string, number: number): number | undefined {
  for (let at = text.length, tries = 0; at >= 0 && tries < MOST_PLACES; tries++) {
    at = text.lastIndexOf(`${number} `, at - 1)
    const head = at < 0 ? null : /^\d+\s{1,9}\d{1,5}\s{1,9}obj/.exec(text.slice(at, at + 40))
    if (head && !/\d/.test(text[at - 1] ?? '')) return at + head[0].length
  }
  return undefined
}

/** The bytes of a stream, and whether they are packed. @throws RangeError for one that is packed otherwise, or has no end */
function streamAt(
  text: string,
  bytes: Uint8Array,
  from: number,
): { readonly bytes: Uint8Array; readonly isPacked: boolean } {
  const begins = text.indexOf('stream', from)
  if (begins < 0 || begins - from > WINDOW) throw new RangeError('what is attached to this PDF cannot be read')
  const words = text.slice(from, begins)
  // One filter, by itself or alone in a list.
  const filters = /\/Filter\s{0,9}(\[[^\]]{0,90}\]|\/\w{1,30})/.exec(words)?.[1]?.replace(/[[\]\s]/g, '')
  const start = begins + 'stream'.length + (text.startsWith('\r\n', begins + 6) ? 2 : 1)
  const end = text.indexOf('endstream', start)
  const stated = Number(/\/Length\s{1,9}(\d{1,10})(?!\s{1,9}\d{1,5}\s{1,9}R)/.exec(words)?.[1] ?? NaN)
  const length = text.startsWith('endstream', afterLine(text, start + stated)) ? stated : end - start
  if (end < 0 || (filters !== undefined && filters !== '/FlateDecode'))
    throw new RangeError('what is attached to this PDF cannot be read')
  return { bytes: bytes.subarray(start, start + length), isPacked: filters !== undefined }
}

const afterLine = (text: string, at: number): number => at + (/^\s{0,2}/.exec(text.slice(at, at + 2))?.[0].length ?? 0)

/** What stands in packed lists of objects (7.5.7), as text, one after another, as far as there is room for it. */
function listsOf(text: string, bytes: Uint8Array): string {
  const lists: string[] = []
  let left = MOST_UNPACKED
  let count = 0
  for (let at = text.indexOf('/ObjStm'); at >= 0 && ++count < MOST_LISTS; at = text.indexOf('/ObjStm', at + 1)) {
    const from = text.lastIndexOf('obj', at)
    if (left < LEAST_ROOM) break
    if (from < 0 || at - from > WINDOW) continue
    try {
      const { bytes: packed, isPacked } = streamAt(text, bytes, from + 3)
      const list = isPacked ? unpacked(packed, left) : within(packed, left)
      left -= list.length
      lists.push(new TextDecoder('latin1').decode(list))
    } catch (error) {
      // A list that cannot be read holds nothing that could be; trying it may have taken all the room there is for one.
      if (!(error instanceof RangeError)) throw error
      left = Math.floor(left / 8)
    }
  }
  return lists.join('\n')
}
