import type { Day, Id, Model, Relation } from '../../model'
import { lineFor, unquoted, type Unquoted } from '../../notation'
import { UNTITLED } from './kinds'
import { structureOn, type Post } from './structure'
import { mayBeTitled } from './titled'

/** A line of an outline, read. */
export interface TypedLine {
  /** Nobody: vacant. */
  readonly holders: readonly TypedHolder[]
  readonly title: string
  readonly assistant: boolean
}

export interface TypedHolder {
  readonly name: string
  readonly acting: boolean
}

const VACANT = /^(?:(?:vacant|vacancy|open|n\.?\s?n\.?|tbd|tba|\?+|-+)?|\((?:vacant|vacancy|open|tbd|tba)\))$/i
const SEPARATOR = /\s+(?:[—–]|--?)(?:\s+|$)|\t+/
const MARK = /\s*\((assistant|acting)\)$/i

/** `Name & Name — Title (acting) (assistant)`; a line without a dash is of names. Who is acting may be said of one of them: `Name (acting) & Name`. */
export function readLine(line: string): TypedLine {
  const { text, plain } = unquoted(line)
  const { rest, marks } = withoutMarks(text.trim())
  const separator = SEPARATOR.exec(rest)
  const leading = /^[—–-]\s+/.exec(rest)
  const names = leading ? '' : separator ? rest.slice(0, separator.index) : rest
  const title = leading
    ? rest.slice(leading[0].length)
    : separator
      ? rest.slice(separator.index + separator[0].length)
      : ''
  // Without a title, what stands behind the names belongs to the last of them.
  const isUntitled = !leading && !separator
  const holders = holdersIn({ text: names, plain }, marks.has('acting') && !isUntitled)
  return {
    holders:
      isUntitled && marks.has('acting') && holders.length > 0
        ? holders.with(-1, { name: holders.at(-1)?.name ?? '', acting: true })
        : holders,
    title: plain(title.replace(/\s+/g, ' ').trim()) || UNTITLED,
    assistant: marks.has('assistant'),
  }
}

/** `Name & Name`, of whom each or all are acting. */
export const readHolders = (names: string, acting: boolean): readonly TypedHolder[] =>
  holdersIn(unquoted(names), acting)

const holdersIn = ({ text, plain }: Unquoted, acting: boolean): readonly TypedHolder[] =>
  text.split(/\s+&\s+/).flatMap((name): TypedHolder[] => {
    const { rest, marks } = withoutMarks(name.trim())
    const meant = VACANT.test(rest) ? '' : plain(rest)
    return meant === '' ? [] : [{ name: meant, acting: acting || marks.has('acting') }]
  })

function withoutMarks(text: string): { rest: string; marks: ReadonlySet<string> } {
  const marks = new Set<string>()
  let rest = text
  for (let mark = MARK.exec(rest); mark; mark = MARK.exec(rest)) {
    marks.add((mark[1] ?? '').toLowerCase())
    rest = rest.slice(0, mark.index)
  }
  return { rest, marks }
}

/** The outline's line of a post. Empty for a position that has neither holder nor title. */
export function lineOf(post: Post): string {
  const known = lines.get(post) ?? lineOfPost(post)
  lines.set(post, known)
  return known
}

const lines = new WeakMap<Post, string>()

/** What the line of a post says. */
export const saidOf = ({ position, holders, assists }: Post): TypedLine => ({
  holders: holders.map(({ person, holds }) => ({ name: person.name, acting: isActing(holds) })),
  title: position.name,
  assistant: assists !== undefined,
})

export const isActing = ({ fields }: Relation): boolean => fields['acting'] === true

/** Words that nothing in a line can be mistaken for, as nearly all names are. */
const PLAIN = /^\p{L}[\p{L}\p{N}.’]*(?: [\p{L}\p{N}.’]+)*$/u

function lineOfPost(post: Post): string {
  const said = saidOf(post)
  if (PLAIN.test(said.title) && said.holders.every(({ name }) => PLAIN.test(name) && !VACANT.test(name)))
    return lineSaying(said, (name) => name)
  return lineFor(
    (name) => lineSaying(said, name),
    (text) => !mayBeTitled(text) && saysSame(readLine(text), said),
  )
}

function lineSaying({ holders, title, assistant }: TypedLine, name: (text: string) => string): string {
  const titled = title !== UNTITLED
  const mark = assistant ? ' (assistant)' : ''
  if (holders.length === 0 && !titled) return mark.trim()
  const all = titled && holders.length > 0 && holders.every(({ acting }) => acting)
  const names = holders.map((holder) => `${name(holder.name)}${holder.acting && !all ? ' (acting)' : ''}`)
  return `${names.join(' & ') || 'vacant'}${titled ? ` — ${name(title)}` : ''}${all ? ' (acting)' : ''}${mark}`
}

const saysSame = (a: TypedLine, b: TypedLine): boolean =>
  a.title === b.title &&
  a.assistant === b.assistant &&
  a.holders.length === b.holders.length &&
  a.holders.every(({ name, acting }, at) => name === b.holders[at]?.name && acting === b.holders[at].acting)

/** A position's title, with its holder where several positions have that title. */
export function titleOf(model: Model, id: Id, day: Day): string {
  const entity = model.entities.get(id)
  const name = entity?.name ?? id
  // Something else may be called like several positions, and is still told from them.
  if (entity?.kind !== 'position' || (titleCounts(model).get(name.toLowerCase()) ?? 0) < 2) return name
  const post = structureOn(model, day).posts.get(id)
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
