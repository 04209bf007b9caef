import { LIMITS } from './limits'
import type { Refusal } from './notation'

/** A line of a typed or pasted list. */
export interface ListLine {
  readonly depth: number
  readonly text: string
}

const BULLET = /^(?:[-*•◦▪‣·–]|\d{1,3}[.)]|[a-z][.)])\s+/i

/** The lines of an indented, bulleted or numbered list, each with its depth: a line is below the nearest line above that is indented less. O(length). */
export function readList(text: string): ListLine[] | Refusal {
  if (text.length > LIMITS.paste)
    return {
      refused: `${(text.length / 1e6).toFixed(1)} million characters are too many for one paste; ${LIMITS.paste / 1e6} million is the most. Nothing was changed.`,
    }
  const open: number[] = []
  const lines: ListLine[] = []
  for (const raw of text.split(/\r\n|\r|\n|\u2028/)) {
    if (raw.trim() === '') continue
    if (lines.length === LIMITS.lines)
      return { refused: `This list has more than ${LIMITS.lines.toLocaleString('en')} lines. Nothing was changed.` }
    const indent = /^[\s\u00a0]*/.exec(raw)?.[0] ?? ''
    const columns = [...indent].reduce((sum, letter) => sum + (letter === '\t' ? 4 : 1), 0)
    while (open.length > 0 && (open.at(-1) ?? 0) >= columns) open.pop()
    lines.push({ depth: open.length, text: raw.trim().replace(BULLET, '') })
    open.push(columns)
  }
  return lines
}
