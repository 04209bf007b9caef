import type { FieldValue } from '../../../model'
import { clip, remembering, tooLongName, unquoted, type Refusal, type Unquoted } from '../../../notation'
import { CALL_SORTS, OPERANDS, type CallSort } from '../kinds'
import { datesText, readBackLine, refIn, refText, typedLine, withoutDates, type Dates, type TypedLine } from '../typed'
import { SILENT } from './structure'

/** What a line of a sequence states. */
export type LineKind = 'call' | 'operand' | 'lifeline'

/** A line, read; a message has who says it as its source. */
export interface Typed extends TypedLine<LineKind> {
  /** The class that a lifeline is an instance of, by its name. */
  readonly class?: string
}

export const typed = (
  is: LineKind,
  name: string,
  fields: Parameters<typeof typedLine>[2],
  { class: of, ...more }: Parameters<typeof typedLine>[3] & { readonly class?: string | undefined } = {},
): Typed => ({ ...typedLine(is, name, fields, more), ...(of === undefined ? {} : { class: of }) })

const VERB = new RegExp(`^(\\S.*?)\\s+(${CALL_SORTS.join('|')})(?:\\s+(.*))?$`, 'i')
const OPENS = new RegExp(`^(${OPERANDS.join('|')})(?:\\s+(.*))?$`, 'i')

/** Reads a line; what it says that cannot be understood is named. */
export function readLine(line: string): Typed | Refusal {
  const said = unquoted(line)
  const { text, dates } = withoutDates(said.text)
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
function readCall(text: string, said: Unquoted, dates: Dates): Typed | Refusal {
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
function readLifeline(text: string, said: Unquoted, dates: Dates): Typed | Refusal {
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

const write = remembering((one: Typed, _within: 'sequence') =>
  readBackLine(one, (quote) => textFor(one, quote), readLine),
)
/** A line as it is read back to the same. */
export const lineOf = (one: Typed): string => write(one, 'sequence')

function textFor(
  { is, name, fields, source, target, class: of, ...dates }: Typed,
  quote: (text: string) => string,
): string {
  const said = name === SILENT ? '' : quote(name)
  const parts: string[] = []
  if (is === 'lifeline') {
    parts.push(quote(name), fields['actor'] === true ? '(actor)' : '(lifeline)')
    if (of !== undefined) parts.push(`class: ${quote(of)}`)
  } else if (is === 'operand') parts.push([String(fields['sort'] ?? 'if'), said].filter(Boolean).join(' '))
  else
    parts.push(
      `${refText(source, quote)} ${String(fields['sort'] ?? 'asks')} ${refText(target, quote)}${said === '' ? '' : `: ${said}`}`,
    )
  return [...parts, ...datesText(dates)].join('  ')
}
