import { isReckonable, isReckoned, tidyDuration } from '../../calendar'
import { asDay, type Id, type Model, type Relation } from '../../model'
import { clip, lineFor, tidyMoment, tooFar, tooLong, unquoted, type Refusal } from '../../notation'
import { workerWords } from './edits'
import type { StatedPlan } from './frame'
import { sharesIn, type TypedShare } from './shares'
import { LINK_TYPES, type LinkType } from './terms'
import { textOf, typeOfLink, type StatedWork, type WorkKind } from './work'

/** A predecessor as typed: `4SS+2d` follows the start of 4 by two working days. */
export interface TypedLink {
  readonly ref: string
  readonly type: LinkType
  readonly lag: string | undefined
}

/** A line of a plan as typed: `Build slipway  5d  @ Lio Carrick  after 3, 4SS+2d  from 2027-01-18  by 2027-02-26`. */
export interface TypedWork {
  readonly name: string
  /** What it is said to be, in a word before its name. */
  readonly kind: WorkKind | undefined
  readonly duration: string | undefined
  readonly who: readonly TypedShare[] | undefined
  readonly after: readonly TypedLink[] | undefined
  readonly from: string | undefined
  readonly by: string | undefined
}

/** The number that a line of a plan may have before it. */
export const NUMBERED = /^([^\S\n]*)\d+(?:\.\d+)+[.)]?[^\S\n]+/m

const DURATION = /^\d+(?:[.,]\d+)?\s*(?:min(?:ute)?s?|h(?:ours?|rs?)?|d(?:ays?)?|w(?:eeks?)?)$/i
const NUMBER_REF = /^\d+(?:\.\d+)*\s*(?:FS|SS|FF|SF)?\s*(?:[+-]\s*\d+(?:[.,]\d+)?\s*(?:min|h|d|w))?$/i

function readLink(text: string): TypedLink {
  const [, ref = text, type, lag] =
    /^(.*?)\s*(FS|SS|FF|SF)?\s*([+-]\s*\d+(?:[.,]\d+)?\s*(?:min|h|d|w))?$/i.exec(text.trim()) ?? []
  const kind = LINK_TYPES.find((one) => one === type?.toUpperCase()) ?? 'FS'
  return { ref: ref.trim(), type: kind, lag: lag === undefined ? undefined : tidyDuration(lag.replace('+', '')) }
}

export const readLinks = (text: string): TypedLink[] =>
  text
    .split(/[,;]/)
    .map((one) => one.trim())
    .filter(Boolean)
    .map(readLink)

const WORD: Readonly<Record<string, WorkKind>> = {
  'milestone:': 'milestone',
  '◆': 'milestone',
  'group:': 'group',
  'task:': 'task',
}

/** Parts stand two spaces apart; with one space they are still found where they cannot be part of the name. */
export function readWork(line: string): TypedWork {
  const { text, plain } = unquoted(line)
  const [first = '', ...rest] = text.trim().split(/\s{2,}|\t+/)
  let [duration, from, by]: (string | undefined)[] = []
  let kind: WorkKind | undefined
  let who: readonly TypedShare[] | undefined
  let after: TypedLink[] | undefined
  const takes = (part: string): boolean => {
    if (DURATION.test(part)) duration = tidyDuration(part)
    else if (/^milestone$/i.test(part)) kind = 'milestone'
    else if (part.startsWith('@')) who = sharesIn({ text: part.slice(1).trim(), plain })
    else if (/^after\b/i.test(part)) after = readLinks(part.slice(5))
    else if (/^from\b/i.test(part) && tidyMoment(part.slice(4))) from = tidyMoment(part.slice(4))
    else if (/^by\b/i.test(part) && tidyMoment(part.slice(2))) by = tidyMoment(part.slice(2))
    else return false
    return true
  }
  let name = first
  for (const part of rest) if (!takes(part)) name = `${name} ${part}`
  // From the end of the name on, as long as something is found.
  for (;;) {
    const found =
      /^(.+?)\s+(after\s+(?:[^,\s]+\s*,\s*)*[^,\s]+)$/i.exec(name) ??
      /^(.+?)\s+((?:from|by)\s+\d{4}-\d{2}-\d{2}(?:[T ]\d{2}:\d{2})?)$/i.exec(name) ??
      /^(.+?)\s+(@\s*.+)$/.exec(name) ??
      /^(.+?)\s+(\d+(?:[.,]\d+)?\s?(?:min(?:ute)?s?|h(?:ours?)?|d(?:ays?)?|w(?:eeks?)?)|milestone)$/i.exec(name)
    const [, before, part] = found ?? []
    if (before === undefined || part === undefined) break
    if (/^after/i.test(part) && !readRefs(part.slice(5)).every((ref) => NUMBER_REF.test(ref))) break
    if (!takes(part)) break
    name = before
  }
  const [, word, named] = /^(milestone:|group:|task:|◆)\s*(.*)$/i.exec(name) ?? []
  kind ??= WORD[(word ?? '').toLowerCase()]
  name = named ?? name
  return { name: plain(name.trim()), kind, duration, who, after, from, by }
}

/** Why a line cannot be reckoned with, in words: a working time that is too long, or a day too far away. */
export function beyondReckoning({ name, duration, after = [], from, by }: TypedWork): Refusal | undefined {
  const lags = after.map(({ lag }) => lag)
  const long = [duration, ...lags].find((text) => text !== undefined && !isReckonable(text))
  if (long !== undefined) return { refused: tooLong(long === duration ? `“${clip(name)}”` : 'A lag', long) }
  const far = [from, by].find((text) => text !== undefined && !isReckoned(asDay(text.slice(0, 10))))
  return far === undefined ? undefined : { refused: tooFar(far) }
}

const readRefs = (text: string): string[] => text.split(/[,;]/).map((one) => one.trim())

/** A precedence as it is written at the work that follows: `4SS+2d`. */
export function linkWords(plan: StatedPlan, link: Relation): string {
  const type = typeOfLink(link)
  const lag = textOf(link, 'lag')
  const source = plan.byId.get(link.source)
  const signed = lag === undefined || lag === '0d' ? '' : lag.startsWith('-') ? lag : `+${lag}`
  return `${source?.number ?? link.source}${type === 'FS' ? '' : type}${signed}`
}

/** `3, 4SS+2d`. */
export const afterWords = (plan: StatedPlan, work: StatedWork): string =>
  work.into.map((link) => linkWords(plan, link)).join(', ')

/** A work as its line of the outline: what is stated of it, not what is reckoned. */
export function lineOf(model: Model, plan: StatedPlan, work: StatedWork): string {
  const { entity, kind, children } = work
  const who = workerWords(model, work.id)
  const after = afterWords(plan, work)
  const [on, deadline] = [textOf(entity, 'on'), textOf(entity, 'deadline')]
  const duration = kind === 'task' ? textOf(entity, 'duration') : undefined
  // A group is known by what it holds, and what takes no time is a milestone unless it says otherwise.
  const isPlain = kind === 'group' ? children.length > 0 : kind === 'task' && !duration?.startsWith('0')
  const word = isPlain ? '' : `${kind}: `
  const more = [
    duration ?? '',
    who === '' ? '' : `@ ${who}`,
    after === '' ? '' : `after ${after}`,
    on !== undefined && textOf(entity, 'constraint') === 'start no earlier' ? `from ${on}` : '',
    deadline === undefined ? '' : `by ${deadline}`,
  ].filter(Boolean)
  return lineFor(
    (name) => [`${word}${name(entity.name)}`, ...more].join('  '),
    (text) => {
      const read = readWork(text)
      return read.name === entity.name && (read.kind ?? '') === word.replace(': ', '') && !NUMBERED.test(text)
    },
  )
}

/** The work that a number, a name or an identity means. */
export function workNamed(plan: StatedPlan, ref: string): StatedWork | undefined {
  const wanted = ref.toLowerCase()
  return (
    plan.list.find(({ number }) => number === wanted) ??
    plan.byId.get(ref as Id) ??
    plan.list.find(({ entity }) => entity.name.toLowerCase() === wanted)
  )
}
