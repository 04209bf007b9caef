import type { Day, Entity, Fields, FieldValue, Id, Step } from '../../model'
import { lineFor, placedAfter, readDay, tie, type Refusal, type Unquoted } from '../../notation'

/** What lines of every outline of this notation are read as, and what is made of them. */

/** A fact named in a line: the so-manieth of that name. */
export interface Ref {
  readonly name: string
  readonly nth: number
}

export interface Dates {
  readonly from?: Day | undefined
  readonly to?: Day | undefined
}

/** A line, read. The same facts have the same line, key by key. */
export interface TypedLine<Is extends string> {
  readonly is: Is
  /** Its own name; empty for a tie. */
  readonly name: string
  readonly fields: Readonly<Record<string, FieldValue>>
  /** Where a tie begins, where it does not begin at what it stands beneath. */
  readonly source?: Ref
  /** What a tie leads to. */
  readonly target?: Ref
  readonly from?: Day
  readonly to?: Day
}

export const typedLine = <Is extends string>(
  is: Is,
  name: string,
  fields: Readonly<Record<string, FieldValue | undefined>>,
  { source, target, from, to }: Dates & { readonly source?: Ref | undefined; readonly target?: Ref | undefined } = {},
): TypedLine<Is> => ({
  is,
  name,
  fields: typedFields(fields),
  ...(source ? { source } : {}),
  ...(target ? { target } : {}),
  ...(from === undefined ? {} : { from }),
  ...(to === undefined ? {} : { to }),
})

/** Fields of a line, without those that say nothing, in an order that makes lines alike where facts are. */
export const typedFields = (
  fields: Readonly<Record<string, FieldValue | undefined>>,
): Readonly<Record<string, FieldValue>> =>
  Object.fromEntries(
    Object.entries(fields)
      .flatMap(([key, value]): [string, FieldValue][] => (value === undefined ? [] : [[key, value]]))
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  )

const DATES = /\s{2,}(since|until)\s+((?:(?!\s{2}).)+?)\s*$/i

/** A line without the days behind it, and the days. */
export function withoutDates(line: string): { readonly text: string; readonly dates: { from?: Day; to?: Day } } {
  const dates: { from?: Day; to?: Day } = {}
  let text = line.trim()
  for (let found = DATES.exec(text); found; found = DATES.exec(text)) {
    const day = readDay(found[2] ?? '')
    if (!day) break
    dates[found[1]?.toLowerCase() === 'since' ? 'from' : 'to'] = day
    text = text.slice(0, found.index)
  }
  return { text, dates }
}

export const datesText = ({ from, to }: Dates): string[] => [
  ...(from ? [`since ${from}`] : []),
  ...(to ? [`until ${to}`] : []),
]

/** The name of a fact in a part of a line: `Ticket`, `Ticket #2`. */
export function refIn(text: string, said: Unquoted): Ref {
  const [, name = text, nth] = /^(.+?) #([2-9]|[1-9]\d{1,3})$/.exec(text.trim()) ?? []
  return { name: said.plain(name.trim()), nth: nth === undefined ? 1 : Number(nth) }
}

export const refText = (ref: Ref | undefined, quote: (text: string) => string): string =>
  ref ? `${quote(ref.name)}${ref.nth > 1 ? ` #${ref.nth}` : ''}` : ''

/** A line as it is read back to the same. */
export const readBackLine = <T extends object>(
  one: T,
  write: (quote: (text: string) => string) => string,
  read: (text: string) => T | Refusal,
): string => lineFor(write, (text) => JSON.stringify(read(text)) === JSON.stringify(one))

/** The one of a list that a line names. */
export function named<T extends { readonly name: string }>(list: readonly T[], { name, nth }: Ref): T | undefined {
  const wanted = name.toLowerCase()
  const found = list.filter((one) => one.name.toLowerCase() === wanted)
  return found[nth - 1] ?? (nth === 1 ? undefined : found[0])
}

/** A tie with its days. */
export function datedTie(id: Id, kind: string, source: Id, target: Id, fields: Fields, { from, to }: Dates): Step {
  const made = tie(id, kind, source, target, fields)
  return made.do === 'add-relation'
    ? {
        ...made,
        relation: {
          ...made.relation,
          ...(from === undefined ? {} : { from }),
          ...(to === undefined ? {} : { to }),
        },
      }
    : made
}

/** Steps that put what is made right after one of its siblings; none where it stands behind all of them anyway. */
export const rightAfter = (siblings: readonly Entity[], above: Id | undefined, made: Id | undefined): Step[] =>
  made === undefined || siblings.at(-1)?.id === above ? [] : placedAfter(siblings, above, made)
