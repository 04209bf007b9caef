import type { Fault } from './scan'

/** How many: from the least to the most, `Infinity` where it is not bounded; a bound that is no number is a name that stands for one. */
export interface Multiplicity {
  readonly lower: number | string
  readonly upper: number | string
}

const NAME = /^[\p{L}_][\p{L}\p{N}_.]*$/u

/**
 * `<multiplicity-range> ::= [<lower> '..'] <upper>` (UML 2.5.1, 7.5.4): `1`, `0..1`, `*`, `1..*`, `2..MAX`. `*` alone is `0..*`.
 */
export function readMultiplicity(text: string): Multiplicity | Fault {
  const tidy = text.trim()
  if (tidy === '') return { refused: 'A multiplicity such as 1, 0..1 or * is missing.', at: 0 }
  const dots = tidy.indexOf('..')
  const [first, second] = dots < 0 ? [undefined, tidy] : [tidy.slice(0, dots).trim(), tidy.slice(dots + 2).trim()]
  const upper = bound(second, true)
  if (upper === undefined) return notOne(tidy, dots < 0 ? 0 : dots + 2)
  if (first === undefined) return { lower: upper === Infinity ? 0 : upper, upper }
  const lower = bound(first, false)
  if (lower === undefined) return notOne(tidy, 0)
  if (typeof lower === 'number' && typeof upper === 'number' && lower > upper)
    return { refused: `In “${tidy}” the least, ${lower}, is more than the most, ${upper}.`, at: 0 }
  return { lower, upper }
}

const notOne = (text: string, at: number): Fault => ({
  refused: `“${text}” is no multiplicity: write 1, 0..1, *, 1..* or 2..5.`,
  at,
})

function bound(text: string, isUpper: boolean): number | string | undefined {
  if (isUpper && text === '*') return Infinity
  if (/^\d{1,9}$/.test(text)) return Number(text)
  return NAME.test(text) ? text : undefined
}

export const isMany = ({ upper }: Multiplicity): boolean => typeof upper !== 'number' || upper > 1
