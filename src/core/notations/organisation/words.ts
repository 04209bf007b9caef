import type { Day, Id, Model } from '../../model'
import { UNTITLED } from './kinds'
import { structureOn, type Post } from './structure'

/** A line of an outline, read. */
export interface TypedLine {
  /** Undefined: vacant. */
  readonly holder: string | undefined
  readonly title: string
  readonly assistant: boolean
  readonly acting: boolean
}

const VACANT = /^(vacant|vacancy|open|n\.?\s?n\.?|tbd|tba|\?+|-+)?$/i
const SEPARATOR = /\s+(?:[—–]|--?)(?:\s+|$)|\t+/

/** `Name — Title (assistant)`; a line without a dash is a name. */
export function readLine(text: string): TypedLine {
  let rest = text.trim()
  let assistant = false
  let acting = false
  for (let mark = /\s*\((assistant|acting)\)$/i.exec(rest); mark; mark = /\s*\((assistant|acting)\)$/i.exec(rest)) {
    if (mark[1]?.toLowerCase() === 'assistant') assistant = true
    else acting = true
    rest = rest.slice(0, mark.index)
  }
  const separator = SEPARATOR.exec(rest)
  const leading = /^[—–-]\s+/.exec(rest)
  const name = leading ? '' : separator ? rest.slice(0, separator.index) : rest
  const title = leading
    ? rest.slice(leading[0].length)
    : separator
      ? rest.slice(separator.index + separator[0].length)
      : ''
  return {
    holder: VACANT.test(name.trim()) ? undefined : name.trim(),
    title: title.replace(/\s+/g, ' ').trim() || UNTITLED,
    assistant,
    acting,
  }
}

/** The outline's line of a post. Empty for a position that has neither holder nor title. */
export function lineOf(post: Post): string {
  const known = lines.get(post)
  if (known !== undefined) return known
  const line = lineOfPost(post)
  lines.set(post, line)
  return line
}

const lines = new WeakMap<Post, string>()

function lineOfPost(post: Post): string {
  const { position, holders } = post
  const names = holders.map(({ person }) => person.name).join(' & ')
  const titled = position.name !== UNTITLED
  if (!names && !titled) return post.assists ? '(assistant)' : ''
  const acting = holders.some(({ holds }) => holds.fields['acting'] === true) ? ' (acting)' : ''
  const assistant = post.assists ? ' (assistant)' : ''
  return `${names || 'vacant'}${titled ? ` — ${position.name}` : ''}${acting}${assistant}`
}

/** A position's title, with its holder where several positions have that title. */
export function titleOf(model: Model, id: Id, day: Day): string {
  const post = structureOn(model, day).posts.get(id)
  const name = model.entities.get(id)?.name ?? id
  const names = titleCounts(model)
  if ((names.get(name.toLowerCase()) ?? 0) < 2) return name
  const holder = post?.holders[0]?.person.name
  return `${name} (${holder ?? (post ? 'vacant' : 'not in force')})`
}

/** The positions that a text names, by title or by title and holder. */
export function positionsNamed(model: Model, text: string, day: Day): Id[] {
  const wanted = text.trim().toLowerCase()
  const positions = model.ofKind('position')
  const byTitle = positions.filter(({ name }) => name.toLowerCase() === wanted)
  if (byTitle.length > 0) return byTitle.map(({ id }) => id)
  const byBoth = positions.filter(({ id }) => titleOf(model, id, day).toLowerCase() === wanted)
  if (byBoth.length > 0) return byBoth.map(({ id }) => id)
  return [...structureOn(model, day).posts.values()]
    .filter(({ holders }) => holders.some(({ person }) => person.name.toLowerCase() === wanted))
    .map(({ position }) => position.id)
}

const counted = new WeakMap<object, ReadonlyMap<string, number>>()

function titleCounts(model: Model): ReadonlyMap<string, number> {
  const positions = model.ofKind('position')
  const known = counted.get(positions)
  if (known) return known
  const counts = new Map<string, number>()
  for (const { name } of positions) counts.set(name.toLowerCase(), (counts.get(name.toLowerCase()) ?? 0) + 1)
  counted.set(positions, counts)
  return counts
}

/** “3 reports”, “1 report”, “no reports”. */
export const countOf = (count: number, one: string, many = `${one}s`): string =>
  count === 0 ? `no ${many}` : count === 1 ? `1 ${one}` : `${count.toLocaleString('en')} ${many}`
