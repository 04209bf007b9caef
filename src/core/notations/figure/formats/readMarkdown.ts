import MarkdownIt from 'markdown-it'
import { LIMITS, tooLongLine, type ImportedFile, type ListLine, type Refusal, type Wish } from '../../../notation'
import { readLine } from '../words'
import { figureFrom } from './bring'

/** What other programs say of a text before it begins. */
const FRONT_MATTER = /^---[ \t]*\r?\n[^]*?\r?\n(?:---|\.\.\.)[ \t]*(?:\r?\n|$)/
/** Deeper than this no list is written. */
const MOST_NESTED = 200
// What is escaped stays apart, so that it is no sign when the words are put together.
const markdown = new MarkdownIt('commonmark').disable('text_join')
Object.assign(markdown.options, { maxNesting: MOST_NESTED })

/** A list, headings and paragraphs of Markdown as lines: headings hold what follows them, paragraphs stand under the item before. O(text) */
export function readMarkdown(wish: Wish, text: string): ImportedFile | Refusal {
  const tooLong = tooLongText(text)
  if (tooLong) return tooLong
  const lines: ListLine[] = []
  const headings: number[] = []
  let title: string | undefined
  /** Of the items that are open, whether they have a line already. */
  const items: boolean[] = []
  let heading: number | undefined
  const add = (line: string) => {
    if (line.trim() === '') return
    const hasLine = items.at(-1)
    if (hasLine === false) items[items.length - 1] = true
    const above = items.filter(Boolean).length
    lines.push({ depth: headings.length + above - (hasLine === false ? 1 : 0), text: line })
  }
  for (const token of markdown.parse(text.replace(FRONT_MATTER, ''), {})) {
    if (token.type === 'heading_open') heading = Number(token.tag.slice(1))
    else if (token.type === 'list_item_open') items.push(false)
    else if (token.type === 'list_item_close') items.pop()
    else if (token.type === 'inline' && heading !== undefined) {
      const rank = heading
      heading = undefined
      if (title === undefined && lines.length === 0) {
        title = wordsIn(token.children ?? [])
        continue
      }
      while (headings.length > 0 && (headings.at(-1) ?? 0) >= rank) headings.pop()
      lines.push({ depth: headings.length, text: said(token.children ?? []) })
      headings.push(rank)
    } else if (token.type === 'inline') add(said(token.children ?? []))
    else if (token.type === 'fence' || token.type === 'code_block')
      for (const line of token.content.split('\n')) add(line.trim())
    if (lines.length > LIMITS.lines)
      return { refused: `This list has more than ${LIMITS.lines.toLocaleString('en')} lines.` }
  }
  return figureFrom(wish, title, lines)
}

function tooLongText(text: string): Refusal | undefined {
  if (text.length > LIMITS.paste)
    return { refused: `${(text.length / 1e6).toFixed(1)} million characters are too many for one list.` }
  return text
    .split(/\r\n|\r|\n/)
    .map(tooLongLine)
    .find((one) => one !== undefined)
}

/** What is read within a line: words, and marks around them. */
type Inline = Pick<
  NonNullable<ReturnType<typeof markdown.parse>[number]['children']>[number],
  'type' | 'content' | 'attrGet' | 'info'
>

const TASK = /^\[([ xX])\]\s+/

/** A paragraph of Markdown as a line of a figure: its words, and what their marks mean where they are around all of it. */
function said(inline: readonly Inline[]): string {
  const { task, rest } = taskOf(inline)
  const { link, left } = linkOf(rest)
  const { emphasis, within } = emphasisOf(left)
  const words = [...(emphasis ? [emphasis] : []), ...(task === undefined ? [] : [task])]
  const name = wordsIn(within)
  return withWords(name === link ? `"${name}"` : name, words, link)
}

/** The box to tick at the front of an item (GFM 5.3). */
function taskOf([first, ...more]: readonly Inline[]): { task?: string; rest: readonly Inline[] } {
  const [box, sign] = (first?.type === 'text' && TASK.exec(first.content)) || []
  if (!first || box === undefined) return { rest: first ? [first, ...more] : [] }
  const rest = first.content.slice(box.length)
  return { task: sign === ' ' ? 'open' : 'done', rest: [...(rest ? [{ ...first, content: rest }] : []), ...more] }
}

/** The first address that a line leads to. One that stands for itself is none of its words. */
function linkOf(inline: readonly Inline[]): { link?: string; left: readonly Inline[] } {
  const from = inline.findIndex(({ type }) => type === 'link_open')
  const href = inline[from]?.attrGet('href') ?? ''
  if (from < 0 || !/^(?:https?:\/\/|mailto:|#)/i.test(href)) return { left: inline }
  const to = inline.findIndex(({ type }, at) => at > from && type === 'link_close')
  const isBlank = ({ content }: Inline) => content.trim() === ''
  // One that stands alone is what the line is called, too.
  const isItself =
    inline[from]?.info === 'auto' && !inline.slice(0, from).every(isBlank) && inline.slice(to + 1).every(isBlank)
  const link = isItself
    ? inline
        .slice(from + 1, to)
        .map(({ content }) => content)
        .join('')
    : href
  return {
    link,
    left: [...inline.slice(0, from), ...(isItself ? [] : inline.slice(from + 1, to)), ...inline.slice(to + 1)],
  }
}

const EMPHASES: Readonly<Record<string, string>> = { strong: 'strong', em: 'quiet' }

/** What is emphasised as a whole. */
function emphasisOf(inline: readonly Inline[]): { emphasis?: string; within: readonly Inline[] } {
  const all = inline.filter(({ type, content }) => type !== 'text' || content.trim() !== '')
  const [kind] = /^(?:strong|em)(?=_open$)/.exec(all[0]?.type ?? '') ?? []
  const emphasis = kind === undefined ? undefined : EMPHASES[kind]
  if (emphasis === undefined || closes(all, `${kind}_open`, `${kind}_close`) !== all.length - 1)
    return { within: inline }
  return { emphasis, within: all.slice(1, -1) }
}

/** Where what the first opens is closed. */
function closes(inline: readonly Inline[], open: string, close: string): number {
  let depth = 0
  return inline.findIndex(({ type }) => {
    if (type === open) depth += 1
    if (type === close) depth -= 1
    return depth === 0
  })
}

/** The words of a line, with the marks of what is emphasised within it. */
const wordsIn = (inline: readonly Inline[]): string =>
  inline
    .map(({ type, content }) => {
      if (type === 'softbreak' || type === 'hardbreak') return ' '
      if (type === 'em_open' || type === 'em_close') return '*'
      if (type === 'strong_open' || type === 'strong_close') return '**'
      return type === 'html_inline' ? '' : content
    })
    .join('')
    .trim()

/** A line with more of what stands in its brackets, and a link at its end. */
function withWords(line: string, words: readonly string[], link: string | undefined): string {
  const [, before, gathers] = /^(.*?)(\s+= .+)$/s.exec(line) ?? []
  const head = before ?? line
  const told = words.length > 0 ? ` (${words.join(', ')})` : ''
  const [, name, list] = /^(.*?)\s*\(([^()]*)\)$/s.exec(head) ?? []
  const both =
    words.length > 0 && name !== undefined && list !== undefined && isSaid(list)
      ? `${name} (${[...words, list].join(', ')})`
      : `${head}${told}`
  return `${both}${gathers ?? ''}${link === undefined ? '' : ` <${link}>`}`
}

/** Whether brackets say something of a line, and are none of its text. */
function isSaid(list: string): boolean {
  const read = readLine(`x (${list})`)
  return !('refused' in read) && read.name === 'x'
}
