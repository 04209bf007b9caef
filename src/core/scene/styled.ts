import { wrap, type Cut } from './text'

/** Words of a line in one style. */
export interface Run {
  readonly words: string
  readonly isStrong: boolean
  readonly isSlanted: boolean
}

/** A text without its signs: its letters, lines parted by line ends, and how each letter is set. */
interface Styled {
  readonly plain: string
  readonly styles: Uint8Array
}

const STRONG = 1
const SLANTED = 2
const SIGNS = /[*\\]/
const OPENS_AFTER = /[\s([{“"'‘—–/-]/
const CLOSES_BEFORE = /[\s.,;:!?)\]}”"'’…—–/-]/
/** Signs further in than this are letters. */
const MOST_READ = 2000

/**
 * Reads `**strong**`, `*slanted*` and `***both***` as CommonMark does (0.31, 6.2), but never within a word, so that `2*3*4` stays what it is. A backslash that
 * stands alone parts lines (6.7 has it at the end of one); before a star or a backslash it says that the sign is meant. What is not closed is letters. O(length)
 */
function styledOf(text: string): Styled {
  const letters: string[] = []
  const styles: number[] = []
  const open: { readonly count: number; readonly at: number }[] = []
  /** Signs that turned out to be some are taken out at the end, so that places stay. */
  const isSign: boolean[] = []
  const put = (letter: string, sign = false) => {
    letters.push(letter)
    styles.push(0)
    isSign.push(sign)
  }
  for (let at = 0; at < text.length; at++) {
    const letter = text.charAt(at)
    const next = text.charAt(at + 1)
    if (letter === '\\' && (next === '*' || next === '\\')) {
      put(next)
      at++
      continue
    }
    if (letter === '\\' && /^\s?$/.test(text.charAt(at - 1)) && /\s/.test(next) && letters.length > 0) {
      put('\n')
      continue
    }
    if (letter !== '*' || at > MOST_READ) {
      put(letter)
      continue
    }
    let count = 1
    while (text.charAt(at + count) === '*') count++
    const [before, after] = [text.charAt(at - 1), text.charAt(at + count)]
    let left = count
    if (before !== '' && /\S/.test(before) && (after === '' || CLOSES_BEFORE.test(after))) {
      // What is open with just so many stars ends first: others within it are letters.
      const same = open.findLastIndex((one) => one.count === left)
      if (same >= 0) open.length = same + 1
      for (let last = open.at(-1); last && last.count <= left; last = open.at(-1)) {
        open.pop()
        left -= last.count
        const style = (last.count & 1 ? SLANTED : 0) | (last.count & 2 ? STRONG : 0)
        for (let i = last.at; i < letters.length; i++) styles[i] = (styles[i] ?? 0) | style
        for (let i = last.at - last.count; i < last.at; i++) isSign[i] = true
      }
    }
    for (let i = 0; i < count; i++) put('*', i < count - left)
    if (left === count && count <= 3 && (before === '' || OPENS_AFTER.test(before)) && /\S/.test(after))
      open.push({ count, at: letters.length })
    at += count - 1
  }
  const kept = letters.map((_, at) => at).filter((at) => !isSign[at])
  return { plain: kept.map((at) => letters[at]).join(''), styles: Uint8Array.from(kept, (at) => styles[at] ?? 0) }
}

/** A text without the signs of its style, on one line: what is read aloud, searched and measured. O(length) */
export const plainOf = (text: string): string =>
  SIGNS.test(text) ? styledOf(text).plain.replace(/\s*\n\s*/g, ' ') : text

/** Whether a text says anything of its style. */
export const isStyled = (text: string): boolean => SIGNS.test(text) && plainOf(text) !== text

/** Breaks a styled text into lines as `wrap` does, and where it says so; each line in runs of one style. O(length) */
export function wrapStyled(
  text: string,
  width: number,
  size: number,
  cut: Cut,
  maxLines: number,
): readonly (readonly Run[])[] {
  if (!SIGNS.test(text))
    return wrap(text, width, size, cut, maxLines).map((words) => [{ words, isStrong: false, isSlanted: false }])
  const { plain, styles } = styledOf(text)
  // Measured as if all were strong where some of it is: no line is then too wide.
  const widest = cut === 'text400' && styles.some((style) => style & STRONG) ? 'text700' : cut
  const lines: (readonly Run[])[] = []
  let start = 0
  for (const paragraph of plain.split('\n')) {
    const room = maxLines - lines.length
    if (room < 1) break
    lines.push(...runsOf(wrap(paragraph, width, size, widest, room), paragraph, styles.subarray(start)))
    start += paragraph.length + 1
  }
  return lines
}

/** The styles of a paragraph’s letters handed on to its lines, which have the same letters but for spaces. */
function runsOf(lines: readonly string[], paragraph: string, styles: Uint8Array): readonly (readonly Run[])[] {
  let at = 0
  return lines.map((line) => {
    const runs: { words: string; style: number }[] = []
    for (let i = 0; i < line.length; i++) {
      const letter = line.charAt(i)
      while (at < paragraph.length && /\s/.test(paragraph.charAt(at)) && letter !== ' ') at++
      const last = runs.at(-1)
      const isOwn = letter !== ' ' && paragraph.charAt(at) === letter
      const style = isOwn ? (styles[at] ?? 0) : (last?.style ?? 0)
      if (isOwn) at++
      if (last && last.style === style) last.words += letter
      else runs.push({ words: letter, style })
    }
    return runs.map(({ words, style }) => ({
      words,
      isStrong: (style & STRONG) !== 0,
      isSlanted: (style & SLANTED) !== 0,
    }))
  })
}

/**
 * A text with a sign around what is selected, or without it where it stands there; a sign that parts lines takes the place of what is selected. Answers what is
 * selected then. O(length)
 */
export function withSign(
  text: string,
  start: number,
  end: number,
  sign: string,
): { readonly text: string; readonly start: number; readonly end: number } {
  const [before, chosen, after] = [text.slice(0, start), text.slice(start, end), text.slice(end)]
  if (sign.trim() === '\\') {
    const at = before.trimEnd().length + sign.length
    return { text: before.trimEnd() + sign + after.trimStart(), start: at, end: at }
  }
  // Spaces at its ends stay outside: a sign stands beside a letter.
  const [, lead = '', words = '', trail = ''] = /^(\s*)(.*?)(\s*)$/s.exec(chosen) ?? []
  if (hasSign(/\*+$/.exec(before)?.[0], sign) && hasSign(/^\*+/.exec(after)?.[0], sign))
    return {
      text: before.slice(0, -sign.length) + chosen + after.slice(sign.length),
      start: start - sign.length,
      end: end - sign.length,
    }
  const from = start + lead.length + sign.length
  return { text: before + lead + sign + words + sign + trail + after, start: from, end: from + words.length }
}

/** Two stars are no two of one; of three there are both. */
const hasSign = (stars: string | undefined, sign: string): boolean => stars === sign || stars === '***'
