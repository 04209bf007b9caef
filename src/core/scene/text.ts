import advances from './advances.json' with { type: 'json' }

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
  for (const letter of text) {
    const code = letter.codePointAt(0) ?? 0
    sum += table.get(code) ?? (FULL_WIDTH.test(letter) ? 1000 : 640)
  }
  return sum
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
