import { readDuration, type Pace } from '../calendar'
import { readCondition, type Condition } from './conditions'
import { clip, readDay } from './entry'
import { EMPHASES } from './kind'
import { LIMITS } from './limits'

/** What a rule of emphasis asks of a fact. */
export type Clause = { readonly isNot: boolean } & (
  | { readonly sort: 'inside'; readonly name: string }
  /** That something is said at all: “critical”. */
  | { readonly sort: 'said'; readonly field: string }
  | { readonly sort: 'compared'; readonly field: string; readonly test: (value: string | number) => boolean }
)

/** `colour by unit`; `strong where status is late`, whose clauses all hold. */
export type EmphasisRule =
  | { readonly sort: 'colour'; readonly by: string; readonly text: string }
  | { readonly sort: 'where'; readonly give: string; readonly when: readonly Clause[]; readonly text: string }

/** A view has no more rules than this, and a rule no more clauses. */
export const MOST_RULES = 20
const MOST_CLAUSES = 5

const COLOUR = /^colou?r\s+by\s+(\S.*)$/i
const WHERE = new RegExp(`^(${EMPHASES.join('|')})\\s+where\\s+(\\S.*)$`, 'i')
const PLACE = /^(not\s+)?(inside|outside)\s+(?:of\s+)?["“']?([^"”']+)["”']?$/i
const DATED = /^(.+?)\s+(before|after)\s+(.+)$/i
const HAS = /^(.+?)\s+(has|contains)\s+["“']?([^"”']+)["”']?$/i
const IS_NOT = /^(.+?)\s+(?:is\s+not|≠|!=)\s+(.+)$/i

/** A number with what it counts: `10d`, `50 %`, `2 km`. */
const SIZED = /^(.+?)\s*(<=|>=|≤|≥|<|>)\s*(-?\d+(?:[.,]\d+)?)\s*([a-z%°€$£]+)$/i
/** Working times are compared as days of eight hours and weeks of five days. */
const PACE: Pace = { day: 480, week: 2400 }
/** Signs of a comparison: what holds one and is none is not understood. */
const COMPARES = /[<>=≤≥≠]/

const HOW = 'Write “colour by unit”, “strong where status is late” or “quiet where outside Ports”.'

/** Reads a rule; refused in words where it is none. O(length) */
export function readRule(text: string): EmphasisRule | { readonly refused: string } {
  const typed = text.trim().replace(/\s+/g, ' ')
  if (typed.length > LIMITS.name) return { refused: `A rule has ${LIMITS.name} characters at most.` }
  const [, by] = COLOUR.exec(typed) ?? []
  if (by !== undefined) return { sort: 'colour', by: wordOf(by), text: typed }
  const [, give, asked] = WHERE.exec(typed) ?? []
  if (give === undefined || asked === undefined) return { refused: `“${clip(typed)}” is no rule. ${HOW}` }
  const parts = clausesIn(asked)
  if (parts.length > MOST_CLAUSES) return { refused: `A rule asks ${MOST_CLAUSES} things at most.` }
  const when: Clause[] = []
  for (const part of parts) {
    const clause = readClause(part)
    if ('refused' in clause) return clause
    when.push(clause)
  }
  return { sort: 'where', give: give.toLowerCase(), when, text: typed }
}

/** Taken apart at “and”, but for that of “between 1 and 5”. */
function clausesIn(text: string): readonly string[] {
  const parts: string[] = []
  for (const part of text.split(/\s+and\s+/i)) {
    const before = parts.at(-1)
    if (before !== undefined && /\b(?:between|from)\s+-?[\d.,]+$/i.test(before))
      parts[parts.length - 1] = `${before} and ${part}`
    else parts.push(part)
  }
  return parts.map((part) => part.trim()).filter((part) => part !== '')
}

function readClause(text: string): Clause | { readonly refused: string } {
  const [, not, place, name] = PLACE.exec(text) ?? []
  if (place !== undefined && name !== undefined)
    return { sort: 'inside', name: name.trim(), isNot: (place.toLowerCase() === 'outside') !== (not !== undefined) }
  const isNot = /^not\s+/i.test(text)
  const rest = isNot ? text.replace(/^not\s+/i, '') : text
  const [, unlike, value] = IS_NOT.exec(rest) ?? []
  if (unlike !== undefined && value !== undefined)
    return { ...compared(unlike, readCondition(`${unlike} is ${value}`)), isNot: !isNot }
  const [, dated, order, when] = DATED.exec(rest) ?? []
  const day = when === undefined ? undefined : readDay(when)
  if (dated !== undefined && day !== undefined) {
    const isBefore = order?.toLowerCase() === 'before'
    return {
      sort: 'compared',
      field: wordOf(dated),
      isNot,
      test: (other) => {
        const read = readDay(String(other).slice(0, 10)) ?? readDay(String(other).replace(/\s\d{1,2}:\d{2}$/, ''))
        return read !== undefined && (isBefore ? read < day : read > day)
      },
    }
  }
  const [, holder, , held] = HAS.exec(rest) ?? []
  if (holder !== undefined && held !== undefined) {
    const wanted = held.trim().toLowerCase()
    return {
      sort: 'compared',
      field: wordOf(holder),
      isNot,
      test: (other) => String(other).toLowerCase().includes(wanted),
    }
  }
  const sized = readSized(rest)
  if (sized) return { ...sized, isNot }
  const condition = readCondition(rest)
  if (condition) return { ...compared(condition.field, condition), isNot }
  return COMPARES.test(rest)
    ? { refused: `“${clip(rest)}” is not understood. Compare with a number, a working time such as 10d, or a text.` }
    : { sort: 'said', field: wordOf(rest), isNot }
}

/** `duration > 10d`: working times by how long they are, other sizes by their number. */
function readSized(text: string): Omit<Extract<Clause, { sort: 'compared' }>, 'isNot'> | undefined {
  const [, field, sign, count, unit] = SIZED.exec(text) ?? []
  if (field === undefined || count === undefined) return undefined
  const condition = readCondition(`x ${sign} ${count}`)
  const minutes = readDuration(`${count}${unit}`, PACE)
  if (minutes === undefined) return compared(field, condition)
  const limit = readCondition(`x ${sign} ${minutes}`)
  return {
    sort: 'compared',
    field: wordOf(field),
    test: (value) => {
      // A number alone counts days, as float does.
      const own = readDuration(typeof value === 'number' ? `${value}d` : value, PACE)
      return own !== undefined && limit !== undefined && meets(limit, own)
    },
  }
}

const compared = (field: string, condition: Condition | undefined) =>
  ({
    sort: 'compared',
    field: wordOf(field),
    test: (value: string | number) => condition !== undefined && meets(condition, value),
  }) as const

function meets({ intervals, values }: Condition, value: string | number): boolean {
  if (values) {
    const own = String(value).toLowerCase()
    // A cell may name several.
    return values.includes(own) || own.split(/\s*,\s*/).some((one) => values.includes(one))
  }
  const number = typeof value === 'number' ? value : Number.parseFloat(value.replace(',', '.'))
  return (intervals ?? []).some(
    ({ from, fromOpen, to, toOpen }) =>
      (fromOpen ? number > from : number >= from) && (toOpen ? number < to : number <= to),
  )
}

/** A field’s name as it is looked for. */
export const wordOf = (text: string): string => text.trim().replace(/\s+/g, ' ').toLowerCase()

/** The key under which what an emphasis means is kept: “crossed-out”. */
export const slugOf = (emphasis: string): string => emphasis.replace(/\s+/g, '-')
