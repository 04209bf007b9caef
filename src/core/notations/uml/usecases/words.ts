import type { FieldValue } from '../../../model'
import { clip, remembering, tooLongName, unquoted, type Refusal, type Unquoted } from '../../../notation'
import { datesText, readBackLine, refIn, refText, typedLine, withoutDates, type Dates, type TypedLine } from '../typed'

/** What a line of use cases states. */
export type LineKind = 'subject' | 'use-case' | 'actor' | 'participation' | 'include' | 'extend' | 'generalization'

/** A line, read; who takes part is its source. */
export type Typed = TypedLine<LineKind>

/** Beneath a use case or an actor a line says what it is tied to; beneath a subject words are a use case. */
export type Within = 'use-case' | 'actor' | 'subject' | 'elsewhere'

export const typed = typedLine<LineKind>

const VERBS = [
  ['includes', 'include'],
  ['extends', 'extend'],
  ['is an', 'generalization'],
  ['is a', 'generalization'],
] as const

/** Reads a line; what it says that cannot be understood is named. */
export function readLine(line: string, within: Within): Typed | Refusal {
  const said = unquoted(line)
  const { text, dates } = withoutDates(said.text)
  if (within === 'use-case' || within === 'actor') return readTie(text, said, within, dates)
  if (within === 'elsewhere') {
    const part = readParticipation(text, said, dates)
    if (part) return part
  }
  return readHolder(text, said, within, dates)
}

/** `includes Pay`, `extends Book a trip  if: sold out`, `is a Customer`. */
function readTie(text: string, said: Unquoted, within: Within, dates: Dates): Typed | Refusal {
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
function readParticipation(text: string, said: Unquoted, dates: Dates): Typed | Refusal | undefined {
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
function readHolder(text: string, said: Unquoted, within: Within, dates: Dates): Typed | Refusal {
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

/** A line as it is read back to the same. */
export const lineOf = remembering((one: Typed, within: Within) =>
  readBackLine(
    one,
    (quote) => textFor(one, quote),
    (text) => readLine(text, within),
  ),
)

const WORD: Readonly<Record<string, string>> = { include: 'includes', extend: 'extends', generalization: 'is a' }

function textFor({ is, name, fields, source, target, ...dates }: Typed, quote: (text: string) => string): string {
  const text = (field: string) => (typeof fields[field] === 'string' ? quote(fields[field] as string) : '')
  const parts: string[] = []
  if (is === 'participation') parts.push(`${refText(source, quote)}: ${refText(target, quote)}`)
  else if (target) {
    parts.push(`${WORD[is] ?? is} ${refText(target, quote)}`)
    if (text('condition') !== '') parts.push(`if: ${text('condition')}`)
  } else {
    parts.push(quote(name))
    if (is !== 'use-case') parts.push(`(${is})`)
    for (const field of ['system', 'role']) if (text(field) !== '') parts.push(`${field}: ${text(field)}`)
  }
  return [...parts, ...datesText(dates)].join('  ')
}
