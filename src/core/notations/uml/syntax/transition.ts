import { parted, Scanner, type Fault } from './scan'

/** What is written at a transition: when it is taken, under which condition, and what is done then. */
export interface TransitionText {
  /** Events, each in its own words; none for a transition that is taken when what its source does is done. */
  readonly triggers: readonly string[]
  readonly guard?: string
  readonly effect?: string
}

/**
 * Reads `[<trigger> [',' <trigger>]* [<guard>] ['/' <effect>]]` (UML 2.5.1, 14.2.4.8), where a guard stands in square brackets and a trigger is a
 * name with or without arguments, `after <duration>`, `at <time>`, `when <condition>` or `all` (13.3.4).
 */
export function readTransition(text: string): TransitionText | Fault {
  const scanner = new Scanner(text)
  const from = scanner.at
  const events = scanner.until('[/')
  const triggers = parted(events)
  for (const one of triggers) {
    if (one === '') return { refused: 'Between two commas an event is missing.', at: Math.max(from, text.indexOf(',')) }
    const [, time, rest = ''] = /^(after|at|when)\b\s*(.*)$/i.exec(one) ?? []
    if (time !== undefined && rest.trim() === '')
      return {
        refused: `After “${time}” ${WANTED[time.toLowerCase()] ?? ''} is missing.`,
        at: text.indexOf(one) + one.length,
      }
  }
  const at = scanner.at
  const guard = scanner.bracketed('[')
  if (typeof guard === 'object') return guard
  if (guard === '') return { refused: 'The condition between [ and ] is missing.', at: at + 1 }
  scanner.skip()
  if (scanner.isDone) return made(triggers, guard, undefined)
  if (!scanner.take('/'))
    return {
      refused:
        guard === undefined
          ? `“${scanner.peek()}” is not understood here.`
          : 'After the condition comes / and what is done, or nothing.',
      at: scanner.at,
    }
  const effect = text.slice(scanner.at).trim()
  if (effect === '') return { refused: 'After / what is done is missing.', at: scanner.at }
  return made(triggers, guard, effect)
}

const WANTED: Readonly<Record<string, string>> = { after: 'a duration', at: 'a time', when: 'a condition' }

const made = (triggers: readonly string[], guard: string | undefined, effect: string | undefined): TransitionText => ({
  triggers,
  ...(guard === undefined ? {} : { guard }),
  ...(effect === undefined ? {} : { effect }),
})

export const transitionText = ({ triggers, guard, effect }: TransitionText): string =>
  [triggers.join(', '), guard === undefined ? '' : `[${guard}]`, effect === undefined ? '' : `/ ${effect}`]
    .filter(Boolean)
    .join(' ')

/** Events as they are kept in one text; what cannot be taken apart is one. */
export function triggersIn(text: string | undefined): readonly string[] {
  if (text === undefined) return []
  const parts = parted(text)
  return parts.includes('') ? [text] : parts
}

/** The name of what is called or sent: `book` of `book(seats)`. Two events are the same when they have one name, whatever the case. */
export const eventName = (trigger: string): string =>
  (/^([^()]*)\(.*\)$/.exec(trigger.trim())?.[1] ?? trigger).trim().toLowerCase()
