import type { Day, FieldValue } from '../../../model'
import {
  clip,
  lineFor,
  readDay,
  remembering,
  tooLongName,
  unquoted,
  type Refusal,
  type Unquoted,
} from '../../../notation'
import { typedFields, type Ref } from '../typed'

/** What a line of use cases states. */
export type LineKind = 'subject' | 'use-case' | 'actor' | 'participation' | 'include' | 'extend' | 'generalization'

export interface Typed {
  readonly is: LineKind
  /** Its own name; empty for a tie. */
  readonly name: string
  readonly fields: Readonly<Record<string, FieldValue>>
  /** Who takes part. */
  readonly source?: Ref
  /** What a tie leads to. */
  readonly target?: Ref
  readonly from?: Day
  readonly to?: Day
}

/** Beneath a use case or an actor a line says what it is tied to; beneath a subject words are a use case. */
export type Within = 'use-case' | 'actor' | 'subject' | 'elsewhere'

export interface More {
  readonly source?: Ref | undefined
  readonly target?: Ref | undefined
  readonly from?: Day | undefined
  readonly to?: Day | undefined
}

export const typed = (
  is: LineKind,
  name: string,
  fields: Readonly<Record<string, FieldValue | undefined>>,
  more: More = {},
): Typed => ({
  is,
  name,
  fields: typedFields(fields),
  ...(more.source ? { source: more.source } : {}),
  ...(more.target ? { target: more.target } : {}),
  ...(more.from === undefined ? {} : { from: more.from }),
  ...(more.to === undefined ? {} : { to: more.to }),
})

const DATES = /\s{2,}(since|until)\s+((?:(?!\s{2}).)+?)\s*$/i
const VERBS = [
  ['includes', 'include'],
  ['extends', 'extend'],
  ['is an', 'generalization'],
  ['is a', 'generalization'],
] as const

/** Reads a line; what it says that cannot be understood is named. */
export function readLine(line: string, within: Within): Typed | Refusal {
  const said = unquoted(line)
  const dates: { from?: Day; to?: Day } = {}
  let text = said.text.trim()
  for (let found = DATES.exec(text); found; found = DATES.exec(text)) {
    const day = readDay(found[2] ?? '')
    if (!day) break
    dates[found[1]?.toLowerCase() === 'since' ? 'from' : 'to'] = day
    text = text.slice(0, found.index)
  }
  if (within === 'use-case' || within === 'actor') return readTie(text, said, within, dates)
  if (within === 'elsewhere') {
    const part = readParticipation(text, said, dates)
    if (part) return part
  }
  return readHolder(text, said, within, dates)
}

/** `includes Pay`, `extends Book a trip  if: sold out`, `is a Customer`. */
function readTie(text: string, said: Unquoted, within: Within, dates: More): Typed | Refusal {
  const [first = '', ...parts] = text.split(/\s{2,}|\t+/).filter(Boolean)
  const verb = VERBS.find(([word]) => new RegExp(`^${word}\\s`, 'i').test(`${first} `))
  const known = VERBS.filter(([, sort]) => within === 'use-case' || sort === 'generalization').map(([word]) => word)
  if (!verb || !known.includes(verb[0]))
    return {
      refused: `“${clip(said.plain(text))}” is not understood beneath ${within === 'actor' ? 'an actor' : 'a use case'}: write ${known.filter((word) => word !== 'is an').join(', ')}.`,
    }
  const target = refIn(first.slice(verb[0].length), said)
  if (target.name.trim() === '') return { refused: `After “${verb[0]}” a name is missing.` }
  const fields: Record<string, FieldValue> = {}
  for (const part of parts) {
    const [, condition] = /^if:\s*(.+)$/i.exec(part) ?? []
    if (condition === undefined || verb[1] !== 'extend')
      return { refused: `“${clip(said.plain(part))}” is not understood here.` }
    fields['condition'] = said.plain(condition.trim())
  }
  return tooLongName(target.name) ?? typed(verb[1], '', fields, { target, ...dates })
}

/** `Passenger: Book a trip`. */
function readParticipation(text: string, said: Unquoted, dates: More): Typed | Refusal | undefined {
  const [, who, what = ''] = /^(\S.*?):(?:\s+(.*))?$/.exec(text) ?? []
  // `(actor)` and the like are said of what has a line of its own.
  if (who === undefined || /\s{2}|\)\s*$/.test(who)) return undefined
  const [source, target] = [refIn(who, said), refIn(what, said)]
  if (target.name.trim() === '') return { refused: `After “${clip(source.name)}:” a use case is missing.` }
  return (
    tooLongName(source.name) ?? tooLongName(target.name) ?? typed('participation', '', {}, { source, target, ...dates })
  )
}

/** `Booking service  (subject)  system: Booking`, `Clerk  (actor)  role: Port clerk`, `Book a trip`. */
function readHolder(text: string, said: Unquoted, within: Within, dates: More): Typed | Refusal {
  const [first = '', ...parts] = text.split(/\s{2,}|\t+/).filter(Boolean)
  const [, head = first, inner] = /^(.*?)\s*\(([^()]*)\)$/.exec(first) ?? []
  if (inner !== undefined) parts.unshift(`(${inner})`)
  const name = said.plain(head.trim())
  if (name.trim() === '') return { refused: 'A name is missing.' }
  const fields: Record<string, FieldValue> = {}
  let is: 'subject' | 'use-case' | 'actor' = 'use-case'
  for (const part of parts) {
    const [, word] = /^\((.*)\)$/.exec(part) ?? []
    const meant = (['subject', 'actor', 'use case'] as const).find((one) => one === word?.trim().toLowerCase())
    if (meant) {
      if (within === 'subject' && meant !== 'use case') return { refused: 'Beneath a subject stand its use cases.' }
      is = meant === 'use case' ? 'use-case' : meant
      continue
    }
    const [, label = '', value] = /^([^:]+):\s*(.+)$/.exec(part) ?? []
    const field = is === 'subject' ? 'system' : is === 'actor' ? 'role' : undefined
    if (value === undefined || label.trim().toLowerCase() !== field)
      return { refused: `“${clip(said.plain(part))}” is not understood here: write (subject), (actor) or (use case).` }
    fields[field] = said.plain(value.trim())
  }
  return tooLongName(name) ?? typed(is, name, fields, dates)
}

function refIn(text: string, said: Unquoted): Ref {
  const [, name = text, nth] = /^(.+?) #([2-9]|[1-9]\d{1,3})$/.exec(text.trim()) ?? []
  return { name: said.plain(name.trim()), nth: nth === undefined ? 1 : Number(nth) }
}

/** A line as it is read back to the same. */
export const lineOf = remembering((one: Typed, within: Within) =>
  lineFor(
    (quote) => textFor(one, quote),
    (text) => {
      const read = readLine(text, within)
      return !('refused' in read) && JSON.stringify(read) === JSON.stringify(one)
    },
  ),
)

const WORD: Readonly<Record<string, string>> = { include: 'includes', extend: 'extends', generalization: 'is a' }

function textFor({ is, name, fields, source, target, from, to }: Typed, quote: (text: string) => string): string {
  const ref = (one: Ref | undefined) => (one ? `${quote(one.name)}${one.nth > 1 ? ` #${one.nth}` : ''}` : '')
  const text = (field: string) => (typeof fields[field] === 'string' ? quote(fields[field] as string) : '')
  const parts: string[] = []
  if (is === 'participation') parts.push(`${ref(source)}: ${ref(target)}`)
  else if (target) {
    parts.push(`${WORD[is] ?? is} ${ref(target)}`)
    if (text('condition') !== '') parts.push(`if: ${text('condition')}`)
  } else {
    parts.push(quote(name))
    if (is !== 'use-case') parts.push(`(${is})`)
    for (const field of ['system', 'role']) if (text(field) !== '') parts.push(`${field}: ${text(field)}`)
  }
  if (from) parts.push(`since ${from}`)
  if (to) parts.push(`until ${to}`)
  return parts.join('  ')
}
