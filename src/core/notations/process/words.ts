import type { Fields, Id, Relation } from '../../model'
import { readLabel } from './edits'
import { UNNAMED } from './kinds'
import type { FlowNode, Process } from './structure'

/** A line of the outline, read as an element. */
export interface TypedNode {
  readonly kind: 'step' | 'event' | 'gateway'
  readonly type: string
  readonly name: string
  readonly lane: string | undefined
}

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
  [/^by hand\s*:\s*(.*)$/i, 'step', 'manual task', 'by hand'],
  [/^system\s*:\s*(.*)$/i, 'step', 'service task', 'system'],
  [/^user\s*:\s*(.*)$/i, 'step', 'user task', 'user'],
  [/^subprocess\s*:\s*(.*)$/i, 'step', 'subprocess', 'subprocess'],
]

const LANE = /\s+@\s+(.+)$/

/** `Draft notice @ Passenger desk`, `Seats left?`, `at once`, `end: Case closed` and the like. */
export function readNode(text: string): TypedNode {
  const typed = text.trim()
  const at = LANE.exec(typed)
  const lane = at?.[1]?.trim()
  const rest = at ? typed.slice(0, at.index).trim() : typed
  for (const [pattern, kind, type] of WORDS) {
    const match = pattern.exec(rest)
    if (match) return { kind, type, name: (match[1] ?? '').trim() || UNNAMED, lane }
  }
  if (rest.endsWith('?')) return { kind: 'gateway', type: 'exclusive', name: rest, lane }
  return { kind: 'step', type: 'task', name: rest || UNNAMED, lane }
}

export const isJoin = (text: string): boolean => /^join\b/i.test(text.trim())
export const goTo = (text: string): string | undefined => /^go to\s+(.+)$/i.exec(text.trim())?.[1]?.trim()

/** An element’s line; the lane is written where it differs from that of the line before. */
export function lineOf(node: FlowNode, { lanes }: Process, before: Id | undefined): string {
  const { kind, type, entity } = node
  const name = entity.name === UNNAMED ? '' : entity.name
  const lane =
    node.lane !== undefined && node.lane !== before ? lanes.find(({ id }) => id === node.lane)?.name : undefined
  return `${bodyOf(node, kind, type, name)}${lane ? ` @ ${lane}` : ''}`
}

function bodyOf({ into, out }: FlowNode, kind: string, type: string, name: string): string {
  if (kind === 'step' && type === 'task') return name
  const joins = kind === 'gateway' && into.length > 1 && out.length < 2
  if (kind === 'gateway' && type === 'exclusive' && !joins)
    return name.endsWith('?') ? name : `decide${name ? `: ${name}` : ''}`
  const word =
    WORDS.find(
      ([, k, t, w]) => k === kind && t === type && (kind !== 'gateway' || w.startsWith('join') === joins),
    )?.[3] ?? ''
  if (kind === 'step') return `${word}: ${name}`
  return name ? `${word}: ${name}` : type === 'intermediate' ? `${word}: ` : word
}

/** A branch’s line: its label and share. */
export function branchOf({ fields }: Relation): string {
  const label = typeof fields['label'] === 'string' ? fields['label'] : ''
  const share = typeof fields['share'] === 'number' ? `${Number((fields['share'] * 100).toFixed(2))} %` : ''
  return [label, share].filter(Boolean).join(' ') || '–'
}

/** The fields of a branch from its line. */
export function readBranch(text: string): Fields | { readonly refused: string } {
  const read = readLabel(
    text
      .trim()
      .replace(/:$/, '')
      .replace(/^[–-]$/, ''),
  )
  if ('refused' in read) return read
  return {
    ...(read.label === '' ? {} : { label: read.label }),
    ...(read.share === undefined ? {} : { share: read.share }),
    ...(/^(otherwise|else)$/i.test(read.label) ? { default: true } : {}),
  }
}
