/** A condition that compares one field with numbers or with a set of texts. */
export interface Condition {
  readonly field: string
  /** Numbers for which it holds, as intervals; undefined for a set. */
  readonly intervals?: readonly Interval[]
  readonly values?: readonly string[]
}

export interface Interval {
  readonly from: number
  readonly fromOpen: boolean
  readonly to: number
  readonly toOpen: boolean
}

const NUMBER = '(-?\\d+(?:[.,]\\d+)?)'
const FIELD = '([\\p{L}_][\\p{L}\\p{N} _.-]*?)'
const COMPARED = new RegExp(`^${FIELD}\\s*(<=|>=|≤|≥|<|>|=|==|≠|!=)\\s*${NUMBER}$`, 'u')
const RANGE = new RegExp(`^${NUMBER}\\s*(<=|≤|<)\\s*${FIELD}\\s*(<=|≤|<)\\s*${NUMBER}$`, 'u')
const BETWEEN = new RegExp(`^${FIELD}\\s+(?:between|from)\\s+${NUMBER}\\s+(?:and|to)\\s+${NUMBER}$`, 'iu')
const SET = new RegExp(`^${FIELD}\\s+in\\s+[{(\\[]?([^})\\]]+)[})\\]]?$`, 'iu')
const IS = new RegExp(`^${FIELD}\\s*(?:=|==|is)\\s*["“']?([^"”']+)["”']?$`, 'iu')

const number = (text: string | undefined): number => Number((text ?? '').replace(',', '.'))

/** Reads `fare > 100`, `10 <= weight < 20`, `class in {car, van}` and the like; undefined for any other text. */
export function readCondition(text: string): Condition | undefined {
  const typed = text.trim()
  const range = RANGE.exec(typed)
  if (range)
    return {
      field: key(range[3]),
      intervals: [
        { from: number(range[1]), fromOpen: range[2] === '<', to: number(range[5]), toOpen: range[4] === '<' },
      ],
    }
  const between = BETWEEN.exec(typed)
  if (between)
    return {
      field: key(between[1]),
      intervals: [{ from: number(between[2]), fromOpen: false, to: number(between[3]), toOpen: false }],
    }
  const compared = COMPARED.exec(typed)
  if (compared) return { field: key(compared[1]), intervals: halves(compared[2] ?? '', number(compared[3])) }
  const set = SET.exec(typed)
  if (set)
    return {
      field: key(set[1]),
      values: (set[2] ?? '')
        .split(/\s*[,;|]\s*/)
        .map(key)
        .filter(Boolean),
    }
  const is = IS.exec(typed)
  return is ? { field: key(is[1]), values: [key(is[2])] } : undefined
}

const key = (text: string | undefined): string => (text ?? '').trim().toLowerCase()

function halves(sign: string, at: number): Interval[] {
  const below = (open: boolean): Interval => ({ from: -Infinity, fromOpen: true, to: at, toOpen: open })
  const above = (open: boolean): Interval => ({ from: at, fromOpen: open, to: Infinity, toOpen: true })
  switch (sign) {
    case '<':
      return [below(true)]
    case '<=':
    case '≤':
      return [below(false)]
    case '>':
      return [above(true)]
    case '>=':
    case '≥':
      return [above(false)]
    case '≠':
    case '!=':
      return [below(true), above(true)]
    default:
      return [{ from: at, fromOpen: false, to: at, toOpen: false }]
  }
}

/** Some value for which two conditions hold at once, in words; undefined when there is none. */
export function overlapOf(a: Condition, b: Condition): string | undefined {
  if (a.values && b.values) return a.values.find((value) => b.values?.includes(value))
  for (const p of a.intervals ?? [])
    for (const q of b.intervals ?? []) {
      const from = p.from > q.from ? p : q.from > p.from ? q : p.fromOpen ? p : q
      const to = p.to < q.to ? p : q.to < p.to ? q : p.toOpen ? p : q
      if (from.from < to.to) return inWords(from.from, to.to)
      if (from.from === to.to && !from.fromOpen && !to.toOpen) return String(from.from)
    }
  return undefined
}

/** Some number for which none of the conditions holds, in words; undefined when there is none. Sets always leave other values open. */
export function gapOf(conditions: readonly Condition[]): string | undefined {
  if (conditions.some(({ values }) => values)) return 'any other value'
  const all = conditions
    .flatMap(({ intervals }) => intervals ?? [])
    .sort((a, b) => a.from - b.from || Number(a.fromOpen) - Number(b.fromOpen))
  let [end, open] = [-Infinity, false]
  for (const { from, fromOpen, to, toOpen } of all) {
    if (from > end) return inWords(end, from)
    if (from === end && open && fromOpen && Number.isFinite(from)) return String(from)
    if (to > end || (to === end && open && !toOpen)) [end, open] = [to, toOpen]
  }
  return end < Infinity ? inWords(end, Infinity) : undefined
}

export function inWords(from: number, to: number): string {
  if (from === -Infinity) return `below ${to}`
  if (to === Infinity) return `above ${from}`
  return `between ${from} and ${to}`
}
