import { readDay } from './entry'
import { clip } from './entry'
import { readCondition, type Condition } from './conditions'
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
  const when = parts.map(readClause)
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

function readClause(text: string): Clause {
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
  const condition = readCondition(rest)
  if (condition) return { ...compared(condition.field, condition), isNot }
  return { sort: 'said', field: wordOf(rest), isNot }
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

/** The names of fields that a rule asks for. */
export const fieldsAsked = (rule: EmphasisRule): readonly string[] =>
  rule.sort === 'colour' ? [rule.by] : rule.when.flatMap((clause) => (clause.sort === 'inside' ? [] : [clause.field]))
