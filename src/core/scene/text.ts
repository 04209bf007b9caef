import advances from './advances.json' with { type: 'json' }
import { isUnseen } from './letters'

/** A cut of the shipped fonts whose advances are known. */
export type Cut = 'text400' | 'text700' | 'mono400'

const ELLIPSIS = '…'
// A script that the shipped fonts lack is measured by its class: square ideographs and signs, else a broad letter.
const FULL_WIDTH =
  /[\u1100-\u115f\u2e80-\ua4cf\uac00-\ud7a3\uf900-\ufaff\ufe30-\ufe6f\uff00-\uff60]|[\u{1f000}-\u{3ffff}]/u

const tables: Readonly<Record<Cut, ReadonlyMap<number, number>>> = {
  text400: tableOf(advances.text400),
  text700: tableOf(advances.text700),
  mono400: tableOf(advances.mono400),
}

/** Other scripts stand in one width, whatever they are set in. */
const others = tableOf(advances.others)

function tableOf(runs: Readonly<Record<string, readonly number[]>>): ReadonlyMap<number, number> {
  return new Map(
    Object.entries(runs).flatMap(([first, widths]) =>
      widths.map((width, index) => [Number(first) + index, width] as const),
    ),
  )
}

/** Width in px of a line of text at a type size in px, from the shipped fonts' advances, without kerning. O(length). */
export function textWidth(text: string, size: number, face: Cut): number {
  const known = measured[face]
  const sum = known.get(text) ?? advanceOf(text, face)
  if (known.size > MOST_MEASURED) known.clear()
  known.set(text, sum)
  return (sum * size) / 1000
}

/** The same names are measured at every redraw: what has been measured is remembered. */
const measured: Readonly<Record<Cut, Map<string, number>>> = {
  text400: new Map(),
  text700: new Map(),
  mono400: new Map(),
}
const MOST_MEASURED = 50_000

function advanceOf(text: string, face: Cut): number {
  const table = tables[face]
  let sum = 0
  let [before, isJoined, isFlag] = [0, false, false]
  for (const letter of text) {
    const code = letter.codePointAt(0) ?? 0
    let width = table.get(code) ?? others.get(code) ?? classOf(letter, code)
    // What is joined to an emoji, or colours it, or ends a flag, is drawn within it.
    const ends = isFlag && isRegional(code)
    if ((isJoined && width === EMOJI) || (before === EMOJI && TONE.test(letter)) || ends) width = 0
    // A letter that may be drawn as an emoji is as wide as one where that is asked for.
    else if (code === AS_EMOJI && before > 0 && before < EMOJI) width = EMOJI - before
    isFlag = isRegional(code) && !ends
    isJoined = code === JOINER && sum > 0
    if (width > 0) before = width
    sum += width
  }
  return sum
}

/** The width of an emoji, in thousandths of the type size. */
const EMOJI = 1270
const [JOINER, AS_EMOJI] = [0x200d, 0xfe0f]
const TONE = /[\u{1f3fb}-\u{1f3ff}]/u
const isRegional = (code: number): boolean => code >= 0x1f1e6 && code <= 0x1f1ff

function classOf(letter: string, code: number): number {
  if (isUnseen(code)) return 0
  if (code >= 0x1f000 && code < 0x20000) return EMOJI
  return FULL_WIDTH.test(letter) ? 1000 : 640
}

/**
 * Breaks text into lines no wider than `width` px: between words, and inside a word that is wider by itself.
 * No more than `maxLines`; the last one then ends in an ellipsis. Text past 2 000 characters is not looked at. O(length).
 */
export function wrap(text: string, width: number, size: number, face: Cut, maxLines: number): string[] {
  if (text.length < 200 && textWidth(text, size, face) <= width) {
    const whole = text.trim()
    return whole === '' ? [] : [whole]
  }
  const words = text.slice(0, 2000).trim().split(/\s+/)
  const lines: string[] = []
  let line = ''
  let cut = text.length > 2000
  for (const word of words) {
    const joined = line === '' ? word : `${line} ${word}`
    if (textWidth(joined, size, face) <= width) {
      line = joined
      continue
    }
    const parts = textWidth(word, size, face) <= width ? [word] : broken(word, width, size, face, maxLines)
    if (line !== '') lines.push(line)
    lines.push(...parts.slice(0, -1))
    line = parts.at(-1) ?? ''
    if (lines.length >= maxLines) break
  }
  if (line !== '') lines.push(line)
  if (lines.length > maxLines) cut = true
  const kept = lines.slice(0, maxLines)
  if (cut && kept.length > 0) kept[kept.length - 1] = shortened(kept[kept.length - 1] ?? '', width, size, face)
  return kept
}

function broken(word: string, width: number, size: number, face: Cut, maxLines: number): string[] {
  const parts: string[] = []
  let part = ''
  for (const letter of word) {
    if (part !== '' && textWidth(part + letter, size, face) > width) {
      parts.push(part)
      part = ''
      if (parts.length > maxLines) return parts
    }
    part += letter
  }
  return part === '' ? parts : [...parts, part]
}

function shortened(line: string, width: number, size: number, face: Cut): string {
  const letters = [...line]
  while (letters.length > 0 && textWidth(letters.join('') + ELLIPSIS, size, face) > width) letters.pop()
  return letters.join('').trimEnd() + ELLIPSIS
}
