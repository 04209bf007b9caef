import type { FieldValue } from '../../../model'
import { clip, remembering, tooLongName, unquoted, type Refusal, type Unquoted } from '../../../notation'
import { datesText, readBackLine, refIn, refText, typedLine, withoutDates, type Dates, type TypedLine } from '../typed'

/** What a line of components and nodes states. */
export type LineKind =
  'component' | 'component-port' | 'deployment-node' | 'provides' | 'requires' | 'deploys' | 'dependency'

/** A line, read. */
export type Typed = TypedLine<LineKind>

/** Beneath what a line stands. */
export type Within = 'component' | 'component-port' | 'deployment-node' | 'elsewhere'

export const typed = typedLine<LineKind>

type Verb = 'provides' | 'requires' | 'uses' | 'deploys' | 'port'
const BENEATH: Readonly<Record<Within, readonly Verb[]>> = {
  component: ['provides', 'requires', 'uses', 'port'],
  'component-port': ['provides', 'requires'],
  'deployment-node': ['deploys'],
  elsewhere: [],
}

/** Reads a line; what it says that cannot be understood is named. */
export function readLine(line: string, within: Within): Typed | Refusal {
  const said = unquoted(line)
  const { text, dates } = withoutDates(said.text)
  const known = BENEATH[within]
  const verb = known.find((one) => new RegExp(`^${one}(?:\\s|$)`, 'i').test(text))
  if (verb) return readBeneath(verb, text.slice(verb.length).trim(), said, dates)
  // In a node stand nodes, too.
  if (within === 'deployment-node' || within === 'elsewhere') return readHolder(text, said, within, dates)
  return { refused: `“${clip(said.plain(text))}” is not understood there: write ${known.join(', ')}.` }
}

function readBeneath(verb: Verb, rest: string, said: Unquoted, dates: Dates): Typed | Refusal {
  if (/\s{2}/.test(rest)) return { refused: `“${clip(said.plain(rest))}” is not understood here.` }
  if (verb === 'port') {
    const name = said.plain(rest)
    return name.trim() === ''
      ? { refused: 'A name is missing.' }
      : (tooLongName(name) ?? typed('component-port', name, {}, dates))
  }
  const target = refIn(rest, said)
  if (target.name.trim() === '') return { refused: `After “${verb}” a name is missing.` }
  return tooLongName(target.name) ?? typed(verb === 'uses' ? 'dependency' : verb, '', {}, { target, ...dates })
}

/** `Booking  (component)  system: Booking service`, `Server  (node)  device: srv-1`. */
function readHolder(text: string, said: Unquoted, within: Within, dates: Dates): Typed | Refusal {
  const [first = '', ...parts] = text.split(/\s{2,}|\t+/).filter(Boolean)
  const [, head = first, inner] = /^(.*?)\s*\(([^()]*)\)$/.exec(first) ?? []
  if (inner !== undefined) parts.unshift(`(${inner})`)
  const name = said.plain(head.trim())
  if (name.trim() === '') return { refused: 'A name is missing.' }
  const fields: Record<string, FieldValue> = {}
  let is: 'component' | 'deployment-node' = within === 'deployment-node' ? 'deployment-node' : 'component'
  for (const part of parts) {
    const [, word] = /^\((.*)\)$/.exec(part) ?? []
    const meant = word?.trim().toLowerCase()
    if (meant === 'node' || meant === 'component') {
      if (meant === 'component' && within === 'deployment-node')
        return { refused: 'Beneath a node write what it deploys: deploys Booking.' }
      is = meant === 'node' ? 'deployment-node' : 'component'
      continue
    }
    const [, label = '', value] = /^([^:]+):\s*(.+)$/.exec(part) ?? []
    const field = is === 'component' ? 'system' : 'device'
    if (value === undefined || label.trim().toLowerCase() !== field)
      return {
        refused: `“${clip(said.plain(part))}” is not understood here: write (component) or (node), and ${field}: … after two spaces.`,
      }
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

function textFor({ is, name, fields, target, ...dates }: Typed, quote: (text: string) => string): string {
  const parts: string[] = []
  if (target) parts.push(`${is === 'dependency' ? 'uses' : is} ${refText(target, quote)}`)
  else if (is === 'component-port') parts.push(`port ${quote(name)}`)
  else {
    parts.push(quote(name), is === 'component' ? '(component)' : '(node)')
    for (const field of ['system', 'device']) {
      const text = fields[field]
      if (typeof text === 'string') parts.push(`${field}: ${quote(text)}`)
    }
  }
  return [...parts, ...datesText(dates)].join('  ')
}
