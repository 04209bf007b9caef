import { inWords, type Interval } from './conditions'

/**
 * Conditions as they are written at flows and transitions, decided against each other: `not`, `and`, `or` over comparisons
 * with numbers, of two things, and with sets. What else stands there is words, of which only one and its negation are known
 * to exclude each other.
 */

/** What is known of two conditions: they exclude each other; there is a case for both, in words; or nothing is known. */
export type Verdict =
  { readonly are: 'apart' } | { readonly are: 'together'; readonly where: string } | { readonly are: 'unknown' }

/** One thing said, or that it is not so. */
type Literal =
  | { readonly is: 'words'; readonly key: string; readonly holds: boolean }
  | { readonly is: 'numbers'; readonly key: string; readonly intervals: readonly Interval[] }
  | {
      readonly is: 'texts'
      readonly key: string
      readonly values: ReadonlySet<string>
      readonly holds: boolean
      readonly signs?: Signs
    }
  | { readonly is: 'pair'; readonly key: string; readonly signs: string }
/** What an equation of two names says of them as two things. */
type Signs = { readonly key: string; readonly signs: string }

/** Ways in which a condition holds, each of them things that are so together. */
type Ways = readonly (readonly Literal[])[]

/** So many ways are looked at, and so deep are parentheses taken apart: what has more is words. */
const MOST_WAYS = 64
const DEEPEST = 40

/** What is known of two conditions together. O(ways of one · ways of the other), bounded. */
export function verdictOf(a: string, b: string): Verdict {
  const [one, other] = [waysOf(a), waysOf(b)]
  let where: string | undefined
  let isPossible = false
  for (const p of one)
    for (const q of other) {
      const held = witness([...p, ...q])
      if (held === 'none') continue
      isPossible = true
      if (where === undefined && held !== 'unknown' && isSure(p, q)) where = held.where
    }
  if (!isPossible) return { are: 'apart' }
  return where === undefined ? { are: 'unknown' } : { are: 'together', where }
}

/** Two ways speak of the same, and not each of words that the other does not say. */
function isSure(p: readonly Literal[], q: readonly Literal[]): boolean {
  const keys = (all: readonly Literal[]) => new Set(all.map(({ key }) => key))
  const [mine, theirs] = [keys(p), keys(q)]
  const own = (all: readonly Literal[], others: ReadonlySet<string>) =>
    all.some(({ is, key }) => is === 'words' && !others.has(key))
  return [...mine].some((key) => theirs.has(key)) && !(own(p, theirs) && own(q, mine))
}

/** A case in which all of it is so, in words that may be empty; none, or nobody knows whether there is one. */
function witness(all: readonly Literal[]): { readonly where: string } | 'none' | 'unknown' {
  const said: string[] = []
  let isUnknown = false
  for (const [key, own] of groups(all)) {
    const words = own.filter((one) => one.is === 'words')
    if (words.some(({ holds }) => holds) && words.some(({ holds }) => !holds)) return 'none'
    const signs = own.flatMap((one) => (one.is === 'pair' ? [one.signs] : []))
    if (signs.length > 0 && ![...'<=>'].some((sign) => signs.every((one) => one.includes(sign)))) return 'none'
    const intervals = own.flatMap((one) => (one.is === 'numbers' ? [one.intervals] : []))
    const texts = own.filter((one) => one.is === 'texts')
    const least = intervals.length === 0 ? undefined : met(intervals)
    if (least?.length === 0) return 'none'
    const left = valuesLeft(texts)
    const among = left && (least ? left.filter((value) => isIn(numberOf(value), least)) : left)
    // What it equals may be the name of another thing, whose number nobody knows.
    if (among?.length === 0 && left?.length !== 0 && texts.some(({ signs: pair }) => pair)) isUnknown = true
    else if (among?.length === 0) return 'none'
    const [value] = among ?? []
    const [first] = least ?? []
    if (value !== undefined) said.push(`${key} is ${value}`)
    else if (first) said.push(`${key} is ${intervalWords(first)}`)
  }
  return isUnknown ? 'unknown' : { where: said.join(' and ') }
}

/** What is said about each thing; an equation of two names is said of them as two things, too. */
function groups(all: readonly Literal[]): ReadonlyMap<string, readonly Literal[]> {
  const byKey = new Map<string, Literal[]>()
  const put = (key: string, one: Literal) => {
    const known = byKey.get(key)
    if (known) known.push(one)
    else byKey.set(key, [one])
  }
  for (const one of all) {
    put(one.key, one)
    if (one.is === 'texts' && one.signs) put(one.signs.key, { is: 'pair', ...one.signs })
  }
  return byKey
}

/** The numbers that lie in one interval of each. */
function met(all: readonly (readonly Interval[])[]): readonly Interval[] {
  return all.reduce((left, right) => left.flatMap((p) => right.flatMap((q) => between(p, q) ?? [])))
}

function between(p: Interval, q: Interval): Interval | undefined {
  const low = p.from > q.from ? p : q.from > p.from ? q : p.fromOpen ? p : q
  const high = p.to < q.to ? p : q.to < p.to ? q : p.toOpen ? p : q
  const one = { from: low.from, fromOpen: low.fromOpen, to: high.to, toOpen: high.toOpen }
  return one.from < one.to || (one.from === one.to && !one.fromOpen && !one.toOpen) ? one : undefined
}

const intervalWords = ({ from, to }: Interval): string => (from === to ? String(from) : inWords(from, to))

const isIn = (number: number | undefined, all: readonly Interval[]): boolean =>
  number !== undefined && met([all, [{ from: number, fromOpen: false, to: number, toOpen: false }]]).length > 0

/** The texts that are left; undefined where only some are excluded. */
function valuesLeft(texts: readonly Extract<Literal, { is: 'texts' }>[]): readonly string[] | undefined {
  const named = texts.filter(({ holds }) => holds)
  const [first] = named
  if (!first) return undefined
  const others = texts.filter((one) => one !== first)
  return [...first.values].filter((value) => others.every(({ values, holds }) => values.has(value) === holds))
}

/** So many conditions are remembered: each is asked about beside all others of its state. */
const MOST_READ = 2000
const read = new Map<string, Ways>()

/** The ways in which a condition holds; one that has too many is words. */
function waysOf(text: string): Ways {
  const typed = text.trim().toLowerCase().replaceAll(/\s+/g, ' ')
  const known = read.get(typed) ?? ways(typed, true, 0) ?? [[{ is: 'words', key: typed, holds: true }]]
  if (read.size >= MOST_READ) read.clear()
  read.set(typed, known)
  return known
}

function ways(text: string, holds: boolean, depth: number): Ways | undefined {
  if (depth > DEEPEST) return undefined
  const inner = withoutParentheses(text)
  const either = parted(inner, OR)
  if (either.length > 1) return holds ? any(either, holds, depth) : every(either, holds, depth)
  const both = parted(inner, AND)
  if (both.length > 1) return holds ? every(both, holds, depth) : any(both, holds, depth)
  const negated = NOT.exec(inner)?.[1]
  if (negated !== undefined) return ways(negated, !holds, depth + 1)
  return said(inner, holds)
}

function any(parts: readonly string[], holds: boolean, depth: number): Ways | undefined {
  const all: (readonly Literal[])[] = []
  for (const part of parts) {
    const own = ways(part, holds, depth + 1)
    if (own === undefined || all.length + own.length > MOST_WAYS) return undefined
    all.push(...own)
  }
  return all
}

function every(parts: readonly string[], holds: boolean, depth: number): Ways | undefined {
  let all: Ways = [[]]
  for (const part of parts) {
    const own = ways(part, holds, depth + 1)
    if (own === undefined || all.length * own.length > MOST_WAYS) return undefined
    all = all.flatMap((way) => own.map((more) => [...way, ...more]))
  }
  return all
}

const OR = /^(?:\|\||∨|or\b)/
const AND = /^(?:&&|∧|and\b)/
const NOT = /^(?:not\b|!(?!=)|¬)\s*(.+)$/s

/** A condition parted where a word or a sign stands outside of all parentheses and quotation marks. `between 1 and 5` is one. */
function parted(text: string, sign: RegExp): string[] {
  const parts: string[] = []
  let from = 0
  let isWithin = false
  for (const { at, isOutside } of letters(text)) {
    if (!isOutside || at < from) continue
    if (/^between\b/.test(text.slice(at, at + 8)) && startsWord(text, at)) isWithin = true
    const [whole] = sign.exec(text.slice(at, at + 4)) ?? []
    if (whole === undefined || (/\p{L}/u.test(whole) && !startsWord(text, at))) continue
    if (sign === AND && isWithin) {
      isWithin = false
      continue
    }
    parts.push(text.slice(from, at).trim())
    from = at + whole.length
  }
  parts.push(text.slice(from).trim())
  return parts.every((part) => part !== '') ? parts : [text]
}

const startsWord = (text: string, at: number): boolean => at === 0 || !/[\p{L}\p{N}_.]/u.test(text[at - 1] ?? '')

const OPENING = '([{'
const CLOSING = ')]}'

/** Each letter with whether it stands outside of parentheses and quotation marks. */
function* letters(text: string): Generator<{ readonly at: number; readonly isOutside: boolean }> {
  let depth = 0
  let quote = ''
  for (let at = 0; at < text.length; at++) {
    const letter = text[at] ?? ''
    if (quote !== '') {
      if (letter === quote) quote = ''
      continue
    }
    if (letter === '"' || letter === '“') {
      quote = letter === '“' ? '”' : letter
      continue
    }
    if (OPENING.includes(letter)) depth += 1
    yield { at, isOutside: depth === 0 }
    if (CLOSING.includes(letter)) depth = Math.max(0, depth - 1)
  }
}

/** Without the parentheses that stand around all of it. */
function withoutParentheses(text: string): string {
  let inner = text.trim()
  while (inner.startsWith('(') && inner.endsWith(')')) {
    let depth = 0
    const end = [...inner].findIndex((letter) => {
      if (letter === '(') depth += 1
      if (letter === ')') depth -= 1
      return depth === 0
    })
    if (end !== [...inner].length - 1) break
    inner = inner.slice(1, -1).trim()
  }
  return inner
}

const SIDE = '([^<>=≤≥≠!]+?)'
const COMPARED = new RegExp(`^${SIDE}\\s*(<=|>=|=<|=>|<>|!=|==|[<>=≤≥≠])\\s*${SIDE}$`)
const BETWEEN_TWO = new RegExp(`^${SIDE}\\s*(<=|≤|<)\\s*${SIDE}\\s*(<=|≤|<)\\s*${SIDE}$`)
const BETWEEN = /^(.+?)(?:\s+is)?\s+(?:between|from)\s+(\S+)\s+(?:and|to)\s+(\S+)$/
const SET = /^(.+?)\s+(not\s+)?in\s+[{([]?([^})\]]*)[})\]]?$/
const IS = /^(.+?)\s+is\s+(not\s+)?(.+)$/
const NUMBER = /^[+-]?\d+(?:[.,]\d+)?$/

const SIGNS: Readonly<Record<string, string>> = {
  '<': '<',
  '<=': '<=',
  '=<': '<=',
  '≤': '<=',
  '>': '>',
  '>=': '=>',
  '=>': '=>',
  '≥': '=>',
  '=': '=',
  '==': '=',
  '≠': '<>',
  '!=': '<>',
  '<>': '<>',
}

/** One thing said, as what it allows. */
function said(text: string, holds: boolean): Ways {
  const range = BETWEEN_TWO.exec(text)
  if (range) {
    const [, low = '', first = '', middle = '', second = '', high = ''] = range
    const both = [compared(low, first, middle, true), compared(middle, second, high, true)]
    const not = [compared(low, first, middle, false), compared(middle, second, high, false)]
    return holds ? [both] : not.map((one) => [one])
  }
  const among = BETWEEN.exec(text)
  if (among && NUMBER.test(among[2] ?? '') && NUMBER.test(among[3] ?? '')) {
    const [, field = '', low = '', high = ''] = among
    const ends = [compared(field, '>=', low, holds), compared(field, '<=', high, holds)]
    return holds ? [ends] : ends.map((one) => [one])
  }
  const [, left, sign, right] = COMPARED.exec(text) ?? []
  if (left !== undefined && sign !== undefined && right !== undefined) return [[compared(left, sign, right, holds)]]
  const [, whole, none, list] = SET.exec(text) ?? []
  if (whole !== undefined && list !== undefined) return [[oneOf(whole, list.split(/\s*[,;|]\s*/), holds === !none)]]
  const [, what, not, value] = IS.exec(text) ?? []
  if (what !== undefined && value !== undefined) return [[oneOf(what, [value], holds === !not)]]
  return [[{ is: 'words', key: termOf(text), holds }]]
}

/** What is compared, with spaces where they part words and nowhere else. */
const termOf = (text: string): string => text.trim().replaceAll(/\s*([^\p{L}\p{N}\s])\s*/gu, '$1')
const numberOf = (text: string): number | undefined => {
  const term = text.trim()
  return NUMBER.test(term) ? Number(term.replace(',', '.')) : undefined
}
const unquoted = (text: string): string => text.trim().replace(/^["“'](.*)["”']$/s, '$1')

function compared(left: string, sign: string, right: string, holds: boolean): Literal {
  const asked = SIGNS[sign] ?? ''
  const signs = holds ? asked : [...'<=>'].filter((one) => !asked.includes(one)).join('')
  const [low, high] = [numberOf(left), numberOf(right)]
  if (high !== undefined && low === undefined)
    return { is: 'numbers', key: termOf(left), intervals: within(signs, high) }
  if (low !== undefined && high === undefined)
    return { is: 'numbers', key: termOf(right), intervals: within(turned(signs), low) }
  const [one, other] = [termOf(left), termOf(right)]
  const pair = one <= other ? { key: `${one}\n${other}`, signs } : { key: `${other}\n${one}`, signs: turned(signs) }
  // A name beside an equals sign may be a value as well as another thing.
  if (asked === '=' || asked === '<>')
    return {
      is: 'texts',
      key: one,
      values: new Set([unquoted(other)]),
      holds: signs === '=',
      ...(/^["“']/.test(right.trim()) ? {} : { signs: pair }),
    }
  return { is: 'pair', ...pair }
}

const turned = (signs: string): string =>
  [...'<=>'].filter((sign) => signs.includes(sign === '<' ? '>' : sign === '>' ? '<' : '=')).join('')

/** The numbers that stand to another one as the signs say. */
function within(signs: string, at: number): readonly Interval[] {
  const below = { from: -Infinity, fromOpen: true, to: at, toOpen: !signs.includes('=') }
  const above = { from: at, fromOpen: !signs.includes('='), to: Infinity, toOpen: true }
  if (signs.includes('<') && signs.includes('>') && signs.includes('='))
    return [{ from: -Infinity, fromOpen: true, to: Infinity, toOpen: true }]
  return [
    ...(signs.includes('<') ? [below] : []),
    ...(signs.includes('>') ? [above] : []),
    ...(signs === '=' ? [{ from: at, fromOpen: false, to: at, toOpen: false }] : []),
  ]
}

function oneOf(what: string, list: readonly string[], holds: boolean): Literal {
  const values = list.map(unquoted).filter(Boolean)
  const numbers = values.map(numberOf)
  if (values.length > 0 && numbers.every((one) => one !== undefined)) {
    const each = numbers.map((one) => within(holds ? '=' : '<>', one ?? 0))
    return { is: 'numbers', key: termOf(what), intervals: holds ? each.flat() : met(each) }
  }
  return { is: 'texts', key: termOf(what), values: new Set(values), holds }
}
