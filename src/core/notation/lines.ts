import { escapedOrdinal, unmarked, type RawLine } from './bullets'
import { LIMITS } from './limits'
import type { Refusal } from './wish'

/** A line of a typed or pasted list. */
export interface ListLine {
  readonly depth: number
  readonly text: string
}

/** The same as it was read. */
export interface ReadLine extends ListLine {
  /** With the sign before it, where that may mean something. */
  readonly raw: string
}

/**
 * The lines of an indented, bulleted or numbered list, each with its depth: a line is below the nearest line above that is
 * indented less, or whose sign or number is of a level above its own. Signs of a list are dropped, and lines of nothing else. O(length).
 */
export function readList(text: string): ReadLine[] | Refusal {
  if (text.length > LIMITS.paste)
    return {
      refused: `${(text.length / 1e6).toFixed(1)} million characters are too many for one paste; ${LIMITS.paste / 1e6} million is the most. Nothing was changed.`,
    }
  const raw: RawLine[] = []
  for (const line of text.split(/\r\n|\r|\n|\u2028/)) {
    if (line.trim() === '') continue
    const tooLong = tooLongLine(line)
    if (tooLong) return { refused: `${tooLong.refused} Nothing was changed.` }
    if (raw.length === LIMITS.lines)
      return { refused: `This list has more than ${LIMITS.lines.toLocaleString('en')} lines. Nothing was changed.` }
    const indent = /^[\s\u00a0]*/.exec(line)?.[0] ?? ''
    raw.push({
      columns: [...indent].reduce((sum, letter) => sum + (letter === '\t' ? 4 : 1), 0),
      text: line.slice(indent.length).trimEnd(),
    })
  }
  const open: { readonly columns: number; readonly level: number }[] = []
  return unmarked(raw).flatMap(({ text: bare, level, mark }, at) => {
    const { columns, text: whole } = raw[at] as RawLine
    const isWithin = (one: { readonly columns: number; readonly level: number } | undefined) =>
      one !== undefined && (one.columns > columns || (one.columns === columns && one.level >= level))
    while (isWithin(open.at(-1))) open.pop()
    if (bare === '') return []
    const depth = open.length
    open.push({ columns, level })
    return { depth, text: bare, raw: mark ? whole : bare }
  })
}

/** Why a line is not read: taking it apart may look at each character for each other one. */
export const tooLongLine = (line: string): Refusal | undefined =>
  line.length > LIMITS.line
    ? {
        refused: `A line of ${line.length.toLocaleString('en')} characters is not taken; ${LIMITS.line.toLocaleString('en')} is the most.`,
      }
    : undefined

/**
 * Lines with their depths as a text that `readList` reads to the same; a line that says nothing is an empty pair of quotation
 * marks, and one that would count has a backslash that says it does not.
 */
export function listText(lines: readonly ListLine[]): string {
  const said = lines.map(({ depth, text }) => ({ columns: 2 * depth, text: text || NOTHING_SAID }))
  const read = unmarked(said)
  // Where one counts, others may as soon as it does not.
  const isCounted = read.some(({ mark }) => mark === 'count')
  return said
    .map(({ columns, text }, at) => {
      const { mark, text: back } = read[at] ?? {}
      const isKept = mark === 'sign' || (back === text && !isCounted)
      return `${' '.repeat(columns)}${isKept ? text : escapedOrdinal(text)}`
    })
    .join('\n')
}

const NOTHING_SAID = '""'

/** A line without the texts that stand in it in quotation marks: there each is a sign of its own, until `plain` puts them back into a part. */
export interface Unquoted {
  readonly text: string
  /** A part as it was meant: what was one text in quotation marks without them, any other with those that it had. */
  readonly plain: (part: string) => string
}

/** A quotation stands for a whole part of a line: it begins and ends at a space or at a sign. Its own marks are doubled. */
const QUOTED = /(?<=^|[\s,;:&([@])"((?:[^"]|"")*)"(?=$|[\s,;:&)\]%])/g
/** Signs that no text holds, since they can be written nowhere. */
const SIGNS =
  '\u0001\u0002\u0003\u0004\u0005\u0006\u0007\u0008\u000e\u000f\u0010\u0011\u0012\u0013\u0014\u0015\u0016\u0017'
const SIGN = new RegExp(`[${SIGNS}]`, 'g')

/** Sets aside what stands in quotation marks, so that a line can be taken apart by its signs. O(line) */
export function unquoted(line: string): Unquoted {
  const texts: string[] = []
  const text = line.replace(SIGN, '').replace(QUOTED, (whole, inner: string) => {
    const sign = SIGNS[texts.length]
    if (sign === undefined) return whole
    texts.push(inner.replaceAll('""', '"'))
    return sign
  })
  const meant = (sign: string) => texts[SIGNS.indexOf(sign)] ?? ''
  return {
    text,
    plain: (part) =>
      part.length === 1 && SIGNS.includes(part) ? meant(part) : part.replace(SIGN, (sign) => quoted(meant(sign))),
  }
}

const quoted = (text: string): string => `"${text.replaceAll('"', '""')}"`

/**
 * A line as its parts say, read back to the same: names stand as they are, and in quotation marks where something in them would be
 * read as something else. Names of one line of text. `isRead` tells whether a line is read as it is meant.
 */
export function lineFor(line: (name: (text: string) => string) => string, isRead: (text: string) => boolean): string {
  const plain = line((name) => name)
  const [listed] = plain.includes('\n') ? [] : listOf(plain)
  return (plain === '' || listed?.text === plain) && isRead(plain) ? plain : line(quoted)
}

const listOf = (text: string): readonly ListLine[] => {
  const lines = readList(text)
  return 'refused' in lines ? [] : lines
}

/** So many lines are remembered. */
const MOST_WRITTEN = 20_000

/** Writes lines, and remembers those that have been written: writing one reads it back. `within` tells apart where a line stands. */
export function remembering<T, W extends string>(write: (one: T, within: W) => string): (one: T, within: W) => string {
  const written = new Map<string, string>()
  return (one, within) => {
    const key = `${within} ${JSON.stringify(one)}`
    const line = written.get(key) ?? write(one, within)
    if (written.size >= MOST_WRITTEN) written.clear()
    written.set(key, line)
    return line
  }
}
