import type { Fields, Relation } from '../../model'
import { lineFor, unquoted, type Unquoted } from '../../notation'
import { BESIDES } from './besides'
import { readLabel } from './edits'
import { UNNAMED } from './kinds'
import type { FlowNode } from './structure'

/** A line of the outline, read as an element. */
export interface TypedNode {
  readonly kind: 'step' | 'event' | 'gateway'
  readonly type: string
  readonly name: string
  /** Of which lane; null for none, undefined where the line says nothing about it. */
  readonly lane: string | null | undefined
  /** What comes before it on the lines above does not lead to it. */
  readonly isApart: boolean
  /** The step during which it happens. */
  readonly during: During | undefined
}

interface During {
  readonly step: Named
  readonly goesOn: boolean
}

/** What is named in a line: by its name, or by the number of its own line. */
export type Named = { readonly name: string } | { readonly line: number }

/** Words at the beginning of a line that say what it is. */
const WORDS: readonly (readonly [pattern: RegExp, kind: TypedNode['kind'], type: string, word: string])[] = [
  [/^start(?:\s*:\s*(.*))?$/i, 'event', 'start', 'start'],
  [/^end(?:\s*:\s*(.*))?$/i, 'event', 'end', 'end'],
  [/^wait(?:\s+for)?\s*:\s*(.*)$/i, 'event', 'intermediate', 'wait for'],
  [/^(?:at once|in parallel)(?:\s*:\s*(.*))?$/i, 'gateway', 'parallel', 'at once'],
  [/^any of(?:\s*:\s*(.*))?$/i, 'gateway', 'inclusive', 'any of'],
  [/^whichever comes first(?:\s*:\s*(.*))?$/i, 'gateway', 'event-based', 'whichever comes first'],
  [/^join all(?:\s*:\s*(.*))?$/i, 'gateway', 'parallel', 'join all'],
  [/^join any(?:\s*:\s*(.*))?$/i, 'gateway', 'inclusive', 'join any'],
  [/^join(?:\s*:\s*(.*))?$/i, 'gateway', 'exclusive', 'join'],
  [/^decide(?:\s*:\s*(.*))?$/i, 'gateway', 'exclusive', 'decide'],
  [/^step(?:\s*:\s*(.*))?$/i, 'step', 'task', 'step'],
  [/^by hand\s*:\s*(.*)$/i, 'step', 'manual task', 'by hand'],
  [/^system\s*:\s*(.*)$/i, 'step', 'service task', 'system'],
  [/^user\s*:\s*(.*)$/i, 'step', 'user task', 'user'],
  [/^subprocess\s*:\s*(.*)$/i, 'step', 'subprocess', 'subprocess'],
]

/** Words that need a name or its colon to be one. */
const NEEDS_COLON = new Set(['wait for', 'by hand', 'system', 'user', 'subprocess'])
/** Words that say what a line is, where a colon stands behind them. */
const WORD =
  /^(?:start|end|wait(?:\s+for)?|at once|in parallel|any of|whichever comes first|join(?: all| any)?|decide|step|by hand|system|user|subprocess|apart|during .*)$/i
const LANE = /\s+@\s+(.+)$/
const NO_LANE = '–'
const APART = /^apart\s*:\s*(.*)$/i
const DURING = /^during\s+(.+?)(\s+\(goes on\))?\s*:\s*(.*)$/i

/** `Draft notice @ Passenger desk`, `Seats left?`, `at once`, `end: Case closed`, `during Sailing: wait for: Fog` and the like. */
export function readNode(line: string): TypedNode {
  const { text, plain } = unquoted(line)
  const typed = text.trim()
  const at = LANE.exec(typed)
  const lane = at?.[1]?.trim()
  const placed = {
    lane: lane === NO_LANE ? null : lane === undefined ? undefined : plain(lane),
    isApart: false,
    during: undefined,
  }
  let rest = at ? typed.slice(0, at.index).trim() : typed
  const [, apart] = APART.exec(rest) ?? []
  const [, step, goesOn, happens] = DURING.exec(apart ?? rest) ?? []
  rest = happens ?? apart ?? rest
  const where = {
    ...placed,
    isApart: apart !== undefined,
    during: step === undefined ? undefined : { step: namedIn({ text: step, plain }), goesOn: goesOn !== undefined },
  }
  for (const [pattern, kind, type] of WORDS) {
    const match = pattern.exec(rest)
    if (match) return { kind, type, name: plain((match[1] ?? '').trim()) || UNNAMED, ...where }
  }
  const name = plain(rest) || UNNAMED
  return rest.endsWith('?')
    ? { kind: 'gateway', type: 'exclusive', name, ...where }
    : { kind: 'step', type: 'task', name, ...where }
}

const namedIn = ({ text, plain }: Unquoted): Named => {
  const [, line] = /^line\s+(\d{1,6})$/i.exec(text.trim()) ?? []
  return line === undefined ? { name: plain(text.trim()) } : { line: Number(line) }
}

/** How one element is named in the line of another: by its name where nothing else is called so, else by its line. */
export const namedAs = (node: FlowNode, line: number, isUnique: boolean): string =>
  !isUnique || node.entity.name === UNNAMED
    ? `line ${line}`
    : lineFor(
        (name) => name(node.entity.name),
        (text) => {
          const read = goTo(`go to ${text}`)
          const during = readNode(`during ${text}: x`).during?.step
          return [read, during].every((one) => one && 'name' in one && one.name === node.entity.name)
        },
      )

export const isJoin = (line: string): boolean => /^(?:apart\s*:\s*)?join\b/i.test(unquoted(line).text.trim())

/** `go to Check the seats`, `go to line 12`. */
export function goTo(line: string): Named | undefined {
  const { text, plain } = unquoted(line)
  const [, to] = /^go to\s+(.+)$/i.exec(text.trim()) ?? []
  return to === undefined ? undefined : namedIn({ text: to, plain })
}

/** What is to be said of an element beside its name. */
export interface Said {
  /** The lane’s name, where it differs from that of the line before; null for none. */
  readonly lane: string | null | undefined
  readonly isApart: boolean
  readonly during: string | undefined
}

/** An element’s line. */
export function lineOf(node: FlowNode, { lane, isApart, during }: Said): string {
  const { entity, kind, type } = node
  return lineFor(
    (name) => {
      const said = bodyOf(node, entity.name === UNNAMED ? '' : name(entity.name))
      const body = said || (lane !== undefined || isApart || during !== undefined ? 'step' : '')
      const where = lane === undefined ? '' : ` @ ${lane === null ? NO_LANE : name(lane)}`
      return `${isApart ? 'apart: ' : ''}${during === undefined ? '' : `during ${during}: `}${body}${where}`
    },
    (text) => {
      const read = readNode(text)
      return (
        read.kind === kind &&
        read.type === type &&
        read.name === entity.name &&
        read.lane === lane &&
        read.isApart === isApart &&
        (read.during === undefined) === (during === undefined) &&
        (isApart || goTo(text) === undefined) &&
        text !== BESIDES
      )
    },
  )
}

/** Whether an element is written as a place where ways meet. */
export const isWrittenAsJoin = ({ kind, type, into, out }: FlowNode): boolean =>
  kind === 'gateway' && type !== 'event-based' && into.length > 1 && out.length < 2

function bodyOf(node: FlowNode, name: string): string {
  const { kind, type } = node
  if (kind === 'step' && type === 'task') return name
  const join = isWrittenAsJoin(node)
  if (kind === 'gateway' && type === 'exclusive' && !join && name.endsWith('?')) return name
  const word =
    WORDS.find(
      ([, k, t, w]) => k === kind && t === type && (kind !== 'gateway' || w.startsWith('join') === join),
    )?.[3] ?? ''
  return name ? `${word}: ${name}` : NEEDS_COLON.has(word) ? `${word}:` : word
}

/** A branch as its line says: its fields, and where it goes on if it says so. */
interface TypedBranch {
  readonly fields: Fields
  readonly to: Named | undefined
  /** The line of its first step, where that stands behind its label. */
  readonly first: string | undefined
}

const WAY = /^way\s*:\s*/i
const OTHERWISE = /^(otherwise|else)$/i

/** Whether the line below an element that is no gateway begins a way out of it. */
export const isWay = (line: string): boolean => WAY.test(line.trim())

/** `yes 70 %`, `no: go to Check the seats`, `yes: Approve it @ Lead`, `rest (otherwise)`; below what is no gateway with `way:` before it. */
export function readBranch(line: string, ofGateway: boolean): TypedBranch | { readonly refused: string } {
  const { text, plain } = unquoted(ofGateway ? line : line.trim().replace(WAY, ''))
  const [, away, to] = /^(.*?):\s*go to\s+(.+)$/i.exec(text.trim()) ?? []
  const [, label, step] = to === undefined ? (/^([^:]*?):\s+(\S.*)$/.exec(text.trim()) ?? []) : []
  // `end: Refused` is a step of its own, on a branch without a label.
  const [head, first] = label !== undefined && WORD.test(label) ? ['', text.trim()] : [label, step]
  const before = away ?? head ?? text
  const [, rest = before.trim(), mark] = /^(.*?)\s*(\(otherwise\))$/i.exec(before.trim()) ?? []
  const read = readLabel(rest.replace(/:$/, '').replace(/^[–-]$/, ''))
  if ('refused' in read) return read
  const fields = {
    ...(read.label === '' ? {} : { label: plain(read.label) }),
    ...(read.share === undefined ? {} : { share: read.share }),
    ...(mark !== undefined || OTHERWISE.test(read.label) ? { default: true } : {}),
  }
  return {
    fields,
    to: to === undefined ? undefined : namedIn({ text: to, plain }),
    first: first === undefined ? undefined : requoted(first.trim(), plain),
  }
}

/** A part of a line as a line of its own: what stands in quotation marks keeps them. */
const requoted = (part: string, plain: Unquoted['plain']): string =>
  part.length === 1 && plain(part) !== part ? `"${plain(part).replaceAll('"', '""')}"` : plain(part)

/** A branch’s line: its label and share, and where it goes on. */
export function branchOf({ fields }: Relation, ofGateway: boolean, to: string | undefined): string {
  const { label = '', share, default: otherwise = false } = fields
  const way = ofGateway ? '' : 'way: '
  const parts = (name: (text: string) => string) => [
    label === '' ? '' : name(String(label)),
    typeof share === 'number' ? `${Number((share * 100).toFixed(4))} %` : '',
    otherwise === true && !OTHERWISE.test(String(label)) ? '(otherwise)' : '',
  ]
  const more = to === undefined ? '' : `: go to ${to}`
  return lineFor(
    (name) => `${way}${parts(name).filter(Boolean).join(' ') || '–'}${more}`,
    (text) => {
      const read = readBranch(text, ofGateway)
      return (
        !('refused' in read) &&
        (read.fields['label'] ?? '') === label &&
        (read.fields['share'] === undefined) === (share === undefined) &&
        (read.fields['default'] === true) === (otherwise === true) &&
        (read.to === undefined) === (to === undefined) &&
        read.first === undefined
      )
    },
  )
}
