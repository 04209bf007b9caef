import { isReckonable, isReckoned, tidyDuration } from '../../calendar'
import { asDay, type Id, type Model, type Relation } from '../../model'
import { clip, tidyMoment, tooFar, tooLong, type Refusal } from '../../notation'
import { LINK_TYPES, type LinkType } from './criticalPath'
import { workerWords } from './edits'
import { durationWords, textOf, typeOfLink, type Plan, type Work } from './plan'

/** A predecessor as typed: `4SS+2d` follows the start of 4 by two working days. */
export interface TypedLink {
  readonly ref: string
  readonly type: LinkType
  readonly lag: string | undefined
}

/** A line of a plan as typed: `Build slipway  5d  @ Lio Carrick  after 3, 4SS+2d  from 2027-01-18  by 2027-02-26`. */
export interface TypedWork {
  readonly name: string
  readonly milestone: boolean
  readonly duration: string | undefined
  readonly who: string | undefined
  readonly after: readonly TypedLink[] | undefined
  readonly from: string | undefined
  readonly by: string | undefined
}

const DURATION = /^\d+(?:[.,]\d+)?\s*(?:min(?:ute)?s?|h(?:ours?|rs?)?|d(?:ays?)?|w(?:eeks?)?)$/i
const NUMBER_REF = /^\d+(?:\.\d+)*\s*(?:FS|SS|FF|SF)?\s*(?:[+-]\s*\d+(?:[.,]\d+)?\s*(?:min|h|d|w))?$/i

export function readLink(text: string): TypedLink {
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

/** Parts stand two spaces apart; with one space they are still found where they cannot be part of the name. */
export function readWork(text: string): TypedWork {
  const [first = '', ...rest] = text.trim().split(/\s{2,}|\t+/)
  const parts = [...rest]
  let name = first
  // From the end of the name on, as long as something is found.
  for (;;) {
    const found =
      /^(.+?)\s+(after\s+(?:[^,\s]+\s*,\s*)*[^,\s]+)$/i.exec(name) ??
      /^(.+?)\s+((?:from|by)\s+\d{4}-\d{2}-\d{2}(?:[T ]\d{2}:\d{2})?)$/i.exec(name) ??
      /^(.+?)\s+(@\s*.+)$/.exec(name) ??
      /^(.+?)\s+(\d+(?:[.,]\d+)?\s?(?:min|h|d|w)|milestone)$/i.exec(name)
    const [, before, part] = found ?? []
    if (before === undefined || part === undefined) break
    if (/^after/i.test(part) && !readRefs(part.slice(5)).every((ref) => NUMBER_REF.test(ref))) break
    name = before
    parts.push(part)
  }
  const isMark = /^(?:milestone:|◆)\s*/i
  let milestone = isMark.test(name)
  let duration: string | undefined
  let [who, from, by]: (string | undefined)[] = []
  let after: TypedLink[] | undefined
  for (const part of parts) {
    if (DURATION.test(part)) duration = tidyDuration(part)
    else if (/^milestone$/i.test(part)) milestone = true
    else if (part.startsWith('@')) who = part.slice(1).trim()
    else if (/^after\b/i.test(part)) after = readLinks(part.slice(5))
    else if (/^from\b/i.test(part) && tidyMoment(part.slice(4))) from = tidyMoment(part.slice(4))
    else if (/^by\b/i.test(part) && tidyMoment(part.slice(2))) by = tidyMoment(part.slice(2))
    else name = `${name} ${part}`
  }
  return { name: name.replace(isMark, '').trim(), milestone, duration, who, after, from, by }
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
export function linkWords(plan: Plan, link: Relation): string {
  const type = typeOfLink(link)
  const lag = textOf(link, 'lag')
  const source = plan.byId.get(link.source)
  const signed = lag === undefined || lag === '0d' ? '' : lag.startsWith('-') ? lag : `+${lag}`
  return `${source?.number ?? link.source}${type === 'FS' ? '' : type}${signed}`
}

/** `3, 4SS+2d`. */
export const afterWords = (plan: Plan, work: Work): string => work.into.map((link) => linkWords(plan, link)).join(', ')

/** A work as its line of the outline. */
export function lineOf(model: Model, plan: Plan, work: Work): string {
  const { entity, kind } = work
  const who = workerWords(model, work.id)
  const after = afterWords(plan, work)
  const [on, deadline] = [textOf(entity, 'on'), textOf(entity, 'deadline')]
  return [
    kind === 'milestone' ? `milestone: ${entity.name}` : entity.name,
    kind === 'task' ? durationWords(work) : '',
    who === '' ? '' : `@ ${who}`,
    after === '' ? '' : `after ${after}`,
    on !== undefined && textOf(entity, 'constraint') === 'start no earlier' ? `from ${on}` : '',
    deadline === undefined ? '' : `by ${deadline}`,
  ]
    .filter(Boolean)
    .join('  ')
}

/** The work that a number, a name or an identity means. */
export function workNamed(plan: Plan, ref: string): Work | undefined {
  const wanted = ref.toLowerCase()
  return (
    plan.list.find(({ number }) => number === wanted) ??
    plan.byId.get(ref as Id) ??
    plan.list.find(({ entity }) => entity.name.toLowerCase() === wanted)
  )
}
