import type { Day, Model, View } from '../../../model'
import {
  LIMITS,
  tooLongLine,
  type FileExport,
  type ImportedFile,
  type ListLine,
  type Refusal,
  type Wish,
} from '../../../notation'
import { linesOn } from '../structure'
import { lineOf, readLine, saidOf } from '../words'
import { figureFrom } from './bring'

/** Lines as a Markdown list under the title (CommonMark 0.31, task items as many programs write them). */
export const markdownExport = {
  id: 'markdown',
  title: 'Markdown list',
  extension: '.md',
  mediaType: 'text/markdown',
  write: writeMarkdown,
} satisfies FileExport

/** Signs that mean something within a line of Markdown. */
const SIGNS = /[\\`*_[\]<>#|~]/g
const escaped = (text: string): string => text.replace(SIGNS, (sign) => `\\${sign}`)
const unescaped = (text: string): string => text.replace(/\\([\\`*_[\]<>#|~])/g, '$1')

function writeMarkdown(model: Model, view: View, day: Day): string {
  const { figure, all } = linesOn(model, view, day)
  const lines = all.map(({ entity, depth }) => {
    const { name, fields } = saidOf(entity)
    const { done, emphasis, link, ...rest } = fields
    // What Markdown has a sign for stands as that sign.
    const isSigned = emphasis === undefined || emphasis === 'strong' || emphasis === 'quiet'
    const told = lineOf({ name, fields: isSigned ? rest : { ...rest, emphasis } }, '')
    const task = done === true ? '[x] ' : done === false ? '[ ] ' : ''
    const words =
      emphasis === 'strong' ? `**${escaped(told)}**` : emphasis === 'quiet' ? `*${escaped(told)}*` : escaped(told)
    return `${'  '.repeat(depth)}- ${task}${words}${link === undefined ? '' : ` <${String(link)}>`}`
  })
  return `# ${escaped(figure?.name ?? view.title)}\n\n${lines.join('\n')}\n`
}

const ITEM = /^(\s*)(?:[-*+•]|\d{1,9}[.)])\s+(?:\[([ xX])\]\s+)?(.*)$/
const HEADING = /^(#{1,6})\s+(.*?)\s*#*$/

/** A list, headings and paragraphs of Markdown as lines: headings hold what follows them, paragraphs stand under the item before. O(text) */
export function readMarkdown(wish: Wish, text: string): ImportedFile | Refusal {
  const lines: ListLine[] = []
  const headings: number[] = []
  const open: number[] = []
  let title: string | undefined
  for (const raw of text.split(/\r\n|\r|\n/)) {
    if (raw.trim() === '') continue
    const tooLong = tooLongLine(raw)
    if (tooLong) return tooLong
    if (lines.length === LIMITS.lines)
      return { refused: `This list has more than ${LIMITS.lines.toLocaleString('en')} lines.` }
    const [, marks, heading] = HEADING.exec(raw) ?? []
    if (marks !== undefined && heading !== undefined) {
      open.length = 0
      if (title === undefined && lines.length === 0) {
        title = unescaped(heading)
        continue
      }
      while (headings.length > 0 && (headings.at(-1) ?? 0) >= marks.length) headings.pop()
      lines.push({ depth: headings.length, text: said(heading, undefined) })
      headings.push(marks.length)
      continue
    }
    const [, indent = '', task, item] = ITEM.exec(raw) ?? []
    if (item !== undefined) {
      const column = [...indent].reduce((sum, letter) => sum + (letter === '\t' ? 4 : 1), 0)
      while (open.length > 0 && (open.at(-1) ?? 0) >= column) open.pop()
      lines.push({ depth: headings.length + open.length, text: said(item, task) })
      open.push(column)
    } else lines.push({ depth: headings.length + open.length, text: said(raw.trim(), undefined) })
  }
  return figureFrom(wish, title, lines)
}

/** A line of Markdown as a line of a figure. */
function said(text: string, task: string | undefined): string {
  let rest = text.trim()
  let link: string | undefined
  const auto = /^(.*?)\s*(?<!\\)<((?:https?:\/\/|mailto:|#)[^\s<>]+)>$/s.exec(rest)
  const named = /^(.*?)(?<!\\)\[([^\]]+)\]\(((?:https?:\/\/|mailto:|#)[^\s()]+)\)(.*)$/s.exec(rest)
  if (auto) [rest, link] = [auto[1] ?? '', auto[2]]
  else if (named) [rest, link] = [`${named[1] ?? ''}${named[2] ?? ''}${named[4] ?? ''}`, named[3]]
  const strong = /^(\*\*|__)(.+)\1$/s.exec(rest)
  const quiet = strong ? null : /^([*_])(.+)\1$/s.exec(rest)
  const line = unescaped(strong?.[2] ?? quiet?.[2] ?? rest)
  const words = [
    ...(strong ? ['strong'] : quiet ? ['quiet'] : []),
    ...(task === undefined ? [] : [task === ' ' ? 'open' : 'done']),
  ]
  return withWords(line, words, link)
}

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
