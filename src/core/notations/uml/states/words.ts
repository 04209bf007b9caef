import type { FieldValue } from '../../../model'
import { clip, remembering, tooLongName, unquoted, type Refusal, type Unquoted } from '../../../notation'
import { STATE_FORMS } from '../kinds'
import { isFault } from '../syntax/scan'
import { readTransition, transitionText, triggersIn } from '../syntax/transition'
import { datesText, readBackLine, refIn, refText, typedLine, withoutDates, type Ref, type TypedLine } from '../typed'

/** What a line of a state machine states. */
export type LineKind = 'state' | 'region' | 'transition'

/** A line, read; a transition without a target is internal. */
export type Typed = TypedLine<LineKind>

/** Beneath a state a line says what leads away from it, and what stands in it. */
export type Within = 'state' | 'elsewhere'

export const typed = typedLine<LineKind>

const LEADS = /^(?:on\s|\[|\/|->|→)/i
const DOES = ['entry', 'do', 'exit'] as const

/** What stands before an arrow is an event, with “on” or without: `after 14 d -> Overdue`. No state is called so but in quotation marks. */
const ARROW = /->|→/

/** Reads a line; what it says that cannot be understood is named. */
export function readLine(line: string, within: Within): Typed | Refusal {
  const said = unquoted(line)
  const text = said.text.trim()
  const leads = LEADS.test(text)
  if (leads || ARROW.test(text)) {
    if (within === 'state') return readLeading(leads ? said : { ...said, text: `on ${text}` })
    return { refused: 'What leads away from a state stands beneath it.' }
  }
  return readHolder(said)
}

/** `Draft  entry: open the form`, `(initial)`, `Paid  (final)`, `Delivery  (region)`. */
function readHolder(said: Unquoted): Typed | Refusal {
  const { text, dates } = withoutDates(said.text)
  const [first = '', ...parts] = text.split(/\s{2,}|\t+/).filter(Boolean)
  const [, head = first, inner] = /^(.*?)\s*\(([^()]*)\)$/.exec(first.trim()) ?? []
  if (inner !== undefined) parts.unshift(`(${inner})`)
  const fields: Record<string, FieldValue> = {}
  let isRegion = false
  for (const part of parts) {
    const [, bracket] = /^\((.*)\)$/.exec(part.trim()) ?? []
    if (bracket !== undefined) {
      const word = bracket.trim().toLowerCase()
      const form = STATE_FORMS.find((one) => one === word)
      if (word === 'region') isRegion = true
      else if (form) fields['form'] = form
      else
        return {
          refused: `“${clip(said.plain(bracket))}” is no sort of state: write ${STATE_FORMS.slice(1).join(', ')}, or region.`,
        }
      continue
    }
    const [, label = '', value] = /^([^:]+):\s*(.+)$/.exec(part) ?? []
    const field = DOES.find((one) => one === label.trim().toLowerCase())
    if (field === undefined || value === undefined)
      return {
        refused: `“${clip(said.plain(part))}” is not understood here: write entry: …, do: … or exit: … after two spaces.`,
      }
    fields[field] = said.plain(value.trim())
  }
  if (fields['form'] === 'state') delete fields['form']
  const form = fields['form']
  const name = said.plain(head.trim()) || (typeof form === 'string' ? form : '')
  if (name.trim() === '') return { refused: 'A name is missing.' }
  if (isRegion && Object.keys(fields).length > 0) return { refused: 'A region is no sort of state, and does nothing.' }
  return tooLongName(name) ?? typed(isRegion ? 'region' : 'state', name, fields, dates)
}

/** `on submit [complete] / notify -> Submitted`; without an arrow what the state does by itself. */
function readLeading(said: Unquoted): Typed | Refusal {
  const { text, dates } = withoutDates(said.text)
  const at = Math.max(text.lastIndexOf('->'), text.lastIndexOf('→'))
  const arrow = at < 0 ? undefined : text.startsWith('->', at) ? '->' : '→'
  const left = (arrow === undefined ? text : text.slice(0, at)).trim()
  const target = arrow === undefined ? undefined : stateIn(text.slice(at + arrow.length), said)
  if (target?.name.trim() === '') return { refused: 'After the arrow the name of a state is missing.' }
  const [, event] = /^on(?:\s+(.*))?$/i.exec(left) ?? []
  if (/^on$/i.test(left)) return { refused: 'After “on” an event is missing.' }
  const body = event ?? left
  const read = readTransition(body)
  if (isFault(read)) return { refused: `At “${clip(said.plain(body.slice(read.at))) || 'the end'}”: ${read.refused}` }
  if (event !== undefined && read.triggers.length === 0) return { refused: 'After “on” an event is missing.' }
  if (event === undefined && read.triggers.length > 0) return { refused: 'Before an event write “on”.' }
  if (!target && read.triggers.length === 0)
    return { refused: 'What a state does by itself is on an event; what leads away has an arrow.' }
  const plain = (part: string | undefined) => (part === undefined ? undefined : said.plain(part))
  const trigger = read.triggers.map(said.plain).join(', ')
  return typed(
    'transition',
    '',
    {
      trigger: trigger === '' ? undefined : trigger,
      guard: plain(read.guard),
      effect: plain(read.effect),
      internal: target ? undefined : true,
    },
    { target, ...dates },
  )
}

/** The state that a line names: pseudostates by their sort, in brackets or not. */
function stateIn(text: string, said: Unquoted): Ref {
  const ref = refIn(text, said)
  const [, form] = /^\((.+)\)$/.exec(ref.name) ?? []
  return form === undefined || said.plain(text.trim()) !== text.trim() ? ref : { ...ref, name: form.toLowerCase() }
}

/** A line as it is read back to the same. */
export const lineOf = remembering((one: Typed, within: Within) =>
  readBackLine(
    one,
    (quote) => textFor(one, quote),
    (text) => readLine(text, within),
  ),
)

function textFor({ is, name, fields, target, ...dates }: Typed, quote: (text: string) => string): string {
  const text = (field: string): string | undefined =>
    typeof fields[field] === 'string' && fields[field] !== '' ? (fields[field] as string) : undefined
  const parts: string[] = []
  if (is === 'transition') {
    const [trigger, guard, effect] = [text('trigger'), text('guard'), text('effect')]
    const isPlain = quote('') === ''
    const body = transitionText({
      triggers: trigger === undefined ? [] : isPlain ? triggersIn(trigger) : [quote(trigger)],
      ...(guard === undefined ? {} : { guard: quote(guard) }),
      ...(effect === undefined ? {} : { effect: quote(effect) }),
    })
    const arrow = target ? `-> ${refText(target, quote)}` : ''
    parts.push([trigger === undefined ? '' : 'on', body, arrow].filter(Boolean).join(' '))
  } else {
    const form = text('form')
    parts.push(form !== undefined && form === name ? '' : quote(name))
    if (is === 'region') parts.push('(region)')
    if (form !== undefined) parts.push(`(${form})`)
    for (const field of DOES) {
      const value = text(field)
      if (value !== undefined) parts.push(`${field}: ${quote(value)}`)
    }
  }
  return [...parts, ...datesText(dates)].filter(Boolean).join('  ')
}
