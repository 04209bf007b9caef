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

/** What a line of components and nodes states. */
export type LineKind =
  'component' | 'component-port' | 'deployment-node' | 'provides' | 'requires' | 'deploys' | 'dependency'

export interface Typed {
  readonly is: LineKind
  /** Its own name; empty for a tie. */
  readonly name: string
  readonly fields: Readonly<Record<string, FieldValue>>
  /** What a tie leads to. */
  readonly target?: Ref
  readonly from?: Day
  readonly to?: Day
}

/** Beneath what a line stands. */
export type Within = 'component' | 'component-port' | 'deployment-node' | 'elsewhere'

export interface More {
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
  ...(more.target ? { target: more.target } : {}),
  ...(more.from === undefined ? {} : { from: more.from }),
  ...(more.to === undefined ? {} : { to: more.to }),
})

const DATES = /\s{2,}(since|until)\s+((?:(?!\s{2}).)+?)\s*$/i
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
  const dates: { from?: Day; to?: Day } = {}
  let text = said.text.trim()
  for (let found = DATES.exec(text); found; found = DATES.exec(text)) {
    const day = readDay(found[2] ?? '')
    if (!day) break
    dates[found[1]?.toLowerCase() === 'since' ? 'from' : 'to'] = day
    text = text.slice(0, found.index)
  }
  const known = BENEATH[within]
  const verb = known.find((one) => new RegExp(`^${one}(?:\\s|$)`, 'i').test(text))
  if (verb) return readBeneath(verb, text.slice(verb.length).trim(), said, dates)
  // In a node stand nodes, too.
  if (within === 'deployment-node' || within === 'elsewhere') return readHolder(text, said, within, dates)
  return { refused: `“${clip(said.plain(text))}” is not understood there: write ${known.join(', ')}.` }
}

function readBeneath(verb: Verb, rest: string, said: Unquoted, dates: More): Typed | Refusal {
  if (/\s{2}/.test(rest)) return { refused: `“${clip(said.plain(rest))}” is not understood here.` }
  if (verb === 'port') {
    const name = said.plain(rest)
    return name.trim() === ''
      ? { refused: 'A name is missing.' }
      : (tooLongName(name) ?? typed('component-port', name, {}, dates))
  }
  const [, text = rest, nth] = /^(.+?) #([2-9]|[1-9]\d{1,3})$/.exec(rest) ?? []
  const name = said.plain(text.trim())
  if (name.trim() === '') return { refused: `After “${verb}” a name is missing.` }
  const target: Ref = { name, nth: nth === undefined ? 1 : Number(nth) }
  return tooLongName(name) ?? typed(verb === 'uses' ? 'dependency' : verb, '', {}, { target, ...dates })
}

/** `Booking  (component)  system: Booking service`, `Server  (node)  device: srv-1`. */
function readHolder(text: string, said: Unquoted, within: Within, dates: More): Typed | Refusal {
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
  lineFor(
    (quote) => textFor(one, quote),
    (text) => {
      const read = readLine(text, within)
      return !('refused' in read) && JSON.stringify(read) === JSON.stringify(one)
    },
  ),
)

function textFor({ is, name, fields, target, from, to }: Typed, quote: (text: string) => string): string {
  const parts: string[] = []
  if (target)
    parts.push(`${is === 'dependency' ? 'uses' : is} ${quote(target.name)}${target.nth > 1 ? ` #${target.nth}` : ''}`)
  else if (is === 'component-port') parts.push(`port ${quote(name)}`)
  else {
    parts.push(quote(name), is === 'component' ? '(component)' : '(node)')
    for (const field of ['system', 'device']) {
      const text = fields[field]
      if (typeof text === 'string') parts.push(`${field}: ${quote(text)}`)
    }
  }
  if (from) parts.push(`since ${from}`)
  if (to) parts.push(`until ${to}`)
  return parts.join('  ')
}
