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
import { CALL_SORTS, OPERANDS, type CallSort } from '../kinds'
import { typedFields, type Ref } from '../typed'
import { SILENT } from './structure'

/** What a line of a sequence states. */
export type LineKind = 'call' | 'operand' | 'lifeline'

export interface Typed {
  readonly is: LineKind
  readonly name: string
  readonly fields: Readonly<Record<string, FieldValue>>
  /** Whose message it is, and to whom. */
  readonly source?: Ref
  readonly target?: Ref
  /** The class that a lifeline is an instance of, by its name. */
  readonly class?: string
  readonly from?: Day
  readonly to?: Day
}

export interface More {
  readonly source?: Ref | undefined
  readonly target?: Ref | undefined
  readonly class?: string | undefined
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
  ...(more.class === undefined ? {} : { class: more.class }),
  ...(more.from === undefined ? {} : { from: more.from }),
  ...(more.to === undefined ? {} : { to: more.to }),
})

const DATES = /\s{2,}(since|until)\s+((?:(?!\s{2}).)+?)\s*$/i
const VERB = new RegExp(`^(\\S.*?)\\s+(${CALL_SORTS.join('|')})(?:\\s+(.*))?$`, 'i')
const OPENS = new RegExp(`^(${OPERANDS.join('|')})(?:\\s+(.*))?$`, 'i')

/** Reads a line; what it says that cannot be understood is named. */
export function readLine(line: string): Typed | Refusal {
  const said = unquoted(line)
  const dates: { from?: Day; to?: Day } = {}
  let text = said.text.trim()
  for (let found = DATES.exec(text); found; found = DATES.exec(text)) {
    const day = readDay(found[2] ?? '')
    if (!day) break
    dates[found[1]?.toLowerCase() === 'since' ? 'from' : 'to'] = day
    text = text.slice(0, found.index)
  }
  if (/\((?:lifeline|actor)\)/i.test(text)) return readLifeline(text, said, dates)
  const [, word, guard = ''] = OPENS.exec(text) ?? []
  const sort = OPERANDS.find((one) => one === word?.toLowerCase())
  if (sort !== undefined) {
    const name = said.plain(guard.trim()) || SILENT
    return tooLongName(name) ?? typed('operand', name, { sort }, dates)
  }
  return readCall(text, said, dates)
}

/** `Passenger asks Booking: book(2)`. */
function readCall(text: string, said: Unquoted, dates: { from?: Day; to?: Day }): Typed | Refusal {
  const [, sender, verb, rest = ''] = VERB.exec(text) ?? []
  if (sender === undefined || verb === undefined)
    return {
      refused: `“${clip(said.plain(text))}” is not understood: write who ${CALL_SORTS.join(', ')} whom, as in “Passenger asks Booking: book(2)”, or ${OPERANDS.join(', ')}.`,
    }
  const sort = verb.toLowerCase() as CallSort
  // A colon with a space before it belongs to the name: `<name> : <class>`.
  const colon = rest.search(/(?<=\S):\s/)
  const ends = colon < 0 && /\S:$/.test(rest) ? rest.length - 1 : colon
  const receiver = (ends < 0 ? rest : rest.slice(0, ends)).trim()
  const words = ends < 0 ? '' : rest.slice(ends + 1).trim()
  if (receiver === '') return { refused: `After “${verb}” it is missing whom.` }
  const name = said.plain(words) || SILENT
  const [source, target] = [refIn(sender, said), refIn(receiver, said)]
  if (source.name.trim() === '' || target.name.trim() === '') return { refused: 'A name is missing.' }
  return (
    tooLongName(name) ??
    tooLongName(source.name) ??
    tooLongName(target.name) ??
    typed('call', name, { sort: sort === 'asks' ? undefined : sort }, { source, target, ...dates })
  )
}

/** `clock  (lifeline)  class: Clock`, `Passenger  (actor)`. */
function readLifeline(text: string, said: Unquoted, dates: { from?: Day; to?: Day }): Typed | Refusal {
  const [head = '', ...parts] = text
    .split(/\s{2,}|\t+|(?=\((?:lifeline|actor)\))/i)
    .filter((part) => part.trim() !== '')
  const name = said.plain(head.trim())
  if (name.trim() === '' || /^\((?:lifeline|actor)\)$/i.test(head.trim())) return { refused: 'A name is missing.' }
  const fields: Record<string, FieldValue> = {}
  let of: string | undefined
  for (const raw of parts) {
    const part = raw.trim()
    if (/^\(lifeline\)$/i.test(part)) continue
    if (/^\(actor\)$/i.test(part)) {
      fields['actor'] = true
      continue
    }
    const [, value] = /^class:\s*(.+)$/i.exec(part) ?? []
    if (value === undefined)
      return { refused: `“${clip(said.plain(part))}” is not understood here: write class: … after two spaces.` }
    of = said.plain(value.trim())
  }
  return tooLongName(name) ?? typed('lifeline', name, fields, { class: of, ...dates })
}

function refIn(text: string, said: Unquoted): Ref {
  const [, name = text, nth] = /^(.+?) #([2-9]|[1-9]\d{1,3})$/.exec(text.trim()) ?? []
  return { name: said.plain(name.trim()), nth: nth === undefined ? 1 : Number(nth) }
}

const write = remembering((one: Typed, _within: 'sequence') =>
  lineFor(
    (quote) => textFor(one, quote),
    (text) => {
      const read = readLine(text)
      return !('refused' in read) && JSON.stringify(read) === JSON.stringify(one)
    },
  ),
)
/** A line as it is read back to the same. */
export const lineOf = (one: Typed): string => write(one, 'sequence')

function textFor(
  { is, name, fields, source, target, class: of, from, to }: Typed,
  quote: (text: string) => string,
): string {
  const ref = (one: Ref | undefined) => (one ? `${quote(one.name)}${one.nth > 1 ? ` #${one.nth}` : ''}` : '')
  const said = name === SILENT ? '' : quote(name)
  const parts: string[] = []
  if (is === 'lifeline') {
    parts.push(quote(name), fields['actor'] === true ? '(actor)' : '(lifeline)')
    if (of !== undefined) parts.push(`class: ${quote(of)}`)
  } else if (is === 'operand') parts.push([String(fields['sort'] ?? 'if'), said].filter(Boolean).join(' '))
  else parts.push(`${ref(source)} ${String(fields['sort'] ?? 'asks')} ${ref(target)}${said === '' ? '' : `: ${said}`}`)
  if (from) parts.push(`since ${from}`)
  if (to) parts.push(`until ${to}`)
  return parts.join('  ')
}
