/** Half of a character, or a control character that neither XML nor a page can show. Tabs and line ends are text. */
const UNWRITABLE = /[\p{Cs}\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/u
const ALL_UNWRITABLE = new RegExp(UNWRITABLE, 'gu')

/** Whether every character of a text can be stored, written to any format and read back. O(characters) */
export const isWritable = (text: string): boolean => !UNWRITABLE.test(text)

/** The text without what cannot be written, as where a cut went through the middle of a character. O(characters) */
export const writable = (text: string): string => (isWritable(text) ? text : text.replace(ALL_UNWRITABLE, ''))

/** The same for every text within plain JSON; what needs nothing is the same object. O(characters) */
export const writableWithin = <T>(json: T): T => (isWritableWithin(json) ? json : (mended(json) as T))

function isWritableWithin(json: unknown): boolean {
  if (typeof json === 'string') return isWritable(json)
  if (typeof json !== 'object' || json === null) return true
  for (const key in json) if (!isWritableWithin((json as Readonly<Record<string, unknown>>)[key])) return false
  return true
}

function mended(json: unknown): unknown {
  if (typeof json === 'string') return writable(json)
  if (Array.isArray(json)) return json.map(writableWithin)
  if (typeof json !== 'object' || json === null) return json
  return Object.fromEntries(Object.entries(json).map(([key, value]) => [key, writableWithin(value as unknown)]))
}

/** A text of at most so many characters (UTF-16 units), cut between two of them. */
export const cut = (text: string, most: number): string => (text.length > most ? writable(text.slice(0, most)) : text)

/** `1 task`, `1,200 tasks`. */
export const counted = (count: number, one: string, many = `${one}s`): string =>
  `${count.toLocaleString('en')} ${count === 1 ? one : many}`

/** What an error says of itself, short enough for a message and without its last full stop. */
export const wordsOf = (error: unknown): string =>
  cut(error instanceof Error ? error.message : String(error), 200).replace(/\.$/, '')
