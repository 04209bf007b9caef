/** Signs, numbers and letters that lists of documents, mails and chats put before their lines. */

/** Signs that stand for a line whatever stands beside them. Those of documents tell a level by being others; a dash alone says that nothing is said. */
const LEVELLED = '•●○◦▪■□‣➢➤\uf0b7\uf0a7\uf0d8\uf0fc\uf06e\uf0a8'
const SIGN = new RegExp(`^(?:([${LEVELLED}])|(o)(?=\\t)|–(?=\\s)|[-*·✓✔→☐☑☒])(?:\\s+|$)`)
/** A box to tick, after another sign or in its place. */
const TASK = /^(?:\[[ xX]\]|[☐☑☒✓✔])(?:\s+|$)/

/** A number, several of them with dots between, a letter or a Roman number: `1.`, `1)`, `(1)`, `1.)`, `1.1`, `a.`, `IV.` */
const ORDINAL = /^(\()?(\d{1,3}(?:\.\d{1,3}){0,5}|[a-z]|[ivxlc]{2,7})(\.\)|[.)]|)(?=\s|$)/i
/** What would be an ordinal, with a backslash that says it is none, as CommonMark has it. */
const ESCAPED = /^(\(?[\da-z]{1,7})\\(\\*[.)])/i

const MONTHS = new Set(
  'january february march april may june july august september october november december jan feb mar apr jun jul aug sep sept oct nov dec januar februar märz mai juni juli oktober dezember okt dez'.split(
    ' ',
  ),
)
const isMonth = (text: string): boolean => MONTHS.has(/^\p{L}+/u.exec(text)?.[0].toLowerCase() ?? '')

/** What an ordinal may count as: where it stands in the sequence of its style. */
interface Count {
  /** Digits after the same numbers, or letters, with what closes them. */
  readonly style: string
  readonly value: number
}

interface Ordinal {
  readonly counts: readonly Count[]
  /** The numbers before its last, such as `1` of `1.2`; undefined for what has no numbers. */
  readonly prefix?: string
  readonly digits?: string
  /** A number with nothing behind it: part of a sequence only where others go on beneath it. */
  readonly isBare: boolean
  readonly length: number
}

function ordinalOf(text: string): Ordinal | undefined {
  const [whole, open = '', token = '', close = ''] = ORDINAL.exec(text) ?? []
  if (whole === undefined || (open !== '' && close !== ')')) return undefined
  const form = `${open}${close}`
  if (/^\d/.test(token)) {
    const numbers = token.split('.')
    const prefix = numbers.slice(0, -1).join('.')
    // An address is no number of a list, nor is 0.5.
    if (numbers.length > 1 && numbers.some((one) => Number(one) === 0)) return undefined
    const style = numbers.length > 1 ? `${prefix}.` : `digits ${form}`
    const isBare = close === '' && numbers.length === 1
    return { counts: [{ style, value: Number(numbers.at(-1)) }], prefix, digits: token, isBare, length: whole.length }
  }
  if (close === '') return undefined
  const size = token === token.toLowerCase() ? 'small' : 'large'
  const roman = romanOf(token.toLowerCase())
  const counts = [
    ...(roman === undefined ? [] : [{ style: `${size} roman ${form}`, value: roman }]),
    ...(token.length > 1
      ? []
      : [{ style: `${size} letters ${form}`, value: token.toLowerCase().charCodeAt(0) - 'a'.charCodeAt(0) + 1 }]),
  ]
  return counts.length > 0 && (size === 'small' || token === token.toUpperCase())
    ? { counts, isBare: false, length: whole.length }
    : undefined
}

const ROMAN: readonly (readonly [string, number])[] = [
  ['c', 100],
  ['xc', 90],
  ['l', 50],
  ['xl', 40],
  ['x', 10],
  ['ix', 9],
  ['v', 5],
  ['iv', 4],
  ['i', 1],
]

function romanOf(text: string): number | undefined {
  let value = 0
  let written = ''
  for (const [letters, worth] of ROMAN)
    while (text.startsWith(letters, written.length) && (letters.length === 1 || !written.endsWith(letters))) {
      value += worth
      written += letters
    }
  return written === text ? value : undefined
}

/** A line as it came: how far it is indented, and what stands in it. */
export interface RawLine {
  readonly columns: number
  readonly text: string
}

/** A line without its sign or number, and how many levels these put it beneath the first of its indent. */
export interface Unmarked {
  readonly text: string
  readonly level: number
  /** What it was that is gone. */
  readonly mark?: 'sign' | 'count'
}

/** A sequence of ordinals of one style, or lines with one sign, at one indent. */
interface Chain {
  counts: readonly Count[]
  readonly first: readonly Count[]
  readonly lines: number[]
  readonly ordinal?: Ordinal
  last: Ordinal | undefined
  /** Those of its indent that it stands beneath. */
  readonly within: readonly Chain[]
  /** Numbers of another level go on from one of its own. */
  isLed: boolean
  /** It begins beneath a line that is indented less. */
  readonly isNested: boolean
}

interface Frame {
  readonly columns: number
  readonly chains: Chain[]
}

/**
 * Lines without what a list puts before them. A sign is one by itself; a number or a letter only in a sequence with its
 * neighbours, so that initials, dates and figures stay. O(length)
 */
export function unmarked(raw: readonly RawLine[]): Unmarked[] {
  const ordinals = raw.map(({ text }) => ordinalOf(text))
  const chainOf = new Map<number, Chain>()
  const frames: Frame[] = []
  for (const [at, { columns, text }] of raw.entries()) {
    while (frames.length > 0 && (frames.at(-1)?.columns ?? 0) > columns) frames.pop()
    if (frames.at(-1)?.columns !== columns) frames.push({ columns, chains: [] })
    const { chains } = frames.at(-1) as Frame
    const ordinal = ordinals[at]
    const sign = SIGN.exec(text)
    const drawn = sign?.[1] ?? sign?.[2]
    if (ordinal) count(at, ordinal, chains, frames.at(-2))
    else if (drawn !== undefined) level(at, drawn, chains)
    else if (!sign) chains.splice(0)
    const chain = chains.at(-1)
    if (chain && (ordinal || drawn !== undefined)) chainOf.set(at, chain)
  }
  const counts = new Map<Chain, boolean>()
  const isCounted = (chain: Chain): boolean => {
    const known = counts.get(chain) ?? isSequence(chain, raw)
    counts.set(chain, known)
    return known
  }
  return raw.map(({ text }, at): Unmarked => {
    const chain = chainOf.get(at)
    const levels = chain?.within.filter(isCounted).length ?? 0
    const ordinal = ordinals[at]
    if (ordinal && chain && isCounted(chain))
      return { text: withoutTask(text.slice(ordinal.length).trimStart()), level: levels, mark: 'count' }
    return SIGN.test(text)
      ? { text: unbulleted(text), level: levels, mark: 'sign' }
      : { text: unescaped(text), level: 0 }
  })
}

function count(at: number, ordinal: Ordinal, chains: Chain[], outer: Frame | undefined): void {
  const next = (chain: Chain): readonly Count[] =>
    ordinal.counts.filter(({ style, value }) =>
      chain.counts.some((one) => one.style === style && one.value + 1 === value),
    )
  const going = chains.findLastIndex((chain) => next(chain).length > 0)
  const chain = chains[going]
  if (chain) {
    chains.splice(going + 1)
    chain.counts = next(chain)
    chain.last = ordinal
    chain.lines.push(at)
    return
  }
  const leader = [chains.at(-1), chains.length === 0 ? outer?.chains.at(-1) : undefined].find(
    (one) => one?.last?.digits !== undefined && one.last.digits === ordinal.prefix,
  )
  if (leader) leader.isLed = true
  else {
    // What begins again, or in the middle, is beneath nothing that stands before it.
    const again = chains.findIndex(({ first }) =>
      first.some(({ style }) => ordinal.counts.some((one) => one.style === style)),
    )
    const begins = ordinal.counts.some(({ value }) => value === 1) && !ordinal.prefix
    if (!begins) chains.splice(0)
    else if (again >= 0) chains.splice(again)
  }
  begin(chains, {
    counts: ordinal.counts,
    first: ordinal.counts,
    lines: [at],
    ordinal,
    isLed: leader !== undefined,
    isNested: outer !== undefined,
  })
}

function level(at: number, sign: string, chains: Chain[]): void {
  const known = chains.findLastIndex(({ first }) => first[0]?.style === sign)
  if (known < 0)
    return begin(chains, { counts: [], first: [{ style: sign, value: 0 }], lines: [at], isLed: false, isNested: false })
  chains.splice(known + 1)
  chains[known]?.lines.push(at)
}

function begin(chains: Chain[], { ordinal, ...chain }: Omit<Chain, 'last' | 'within'>): void {
  const within = [...chains]
  chains.push({ ...chain, ...(ordinal ? { ordinal } : {}), last: ordinal, within })
}

/** Several that follow one another, from the first where they are letters, or a first one alone beneath a line; days of months are none. */
function isSequence({ first, counts, lines, ordinal, isLed, isNested }: Chain, raw: readonly RawLine[]): boolean {
  if (!ordinal || isLed) return true
  if (ordinal.isBare || lines.every((line) => isMonth((raw[line]?.text ?? '').replace(ORDINAL, '').trimStart())))
    return false
  const begins = first.find(({ style }) => style === counts[0]?.style)?.value
  const { digits, prefix = '' } = ordinal
  if (lines.length < 2) return isNested && digits === '1'
  if (digits === undefined) return begins === 1
  return prefix === '' || (begins === 1 && !prefix.includes('.'))
}

/** A line without the sign of a list before it. What counts needs its neighbours, and stays. */
export const unbulleted = (line: string): string => (SIGN.test(line) ? withoutTask(line.replace(SIGN, '')) : line)

const withoutTask = (text: string): string => text.replace(TASK, '')

const unescaped = (text: string): string => text.replace(ESCAPED, '$1$2')

/** A line that begins as something counted does, written so that it is read as it stands. */
export const escapedOrdinal = (line: string): string =>
  ORDINAL.test(line) || ESCAPED.test(line) ? line.replace(/^(\(?[\da-z]{1,7})(\\*[.)])/i, '$1\\$2') : line
