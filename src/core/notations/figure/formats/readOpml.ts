import { LIMITS, tooLongLine, type ImportedFile, type ListLine, type Refusal, type Wish } from '../../../notation'
import { rootsOf, type Node } from '../../../tabular/xml'
import { lineOf } from '../words'
import { figureFrom } from './bring'

/** The outlines of an OPML file as lines of a figure. O(text) */
export function readOpml(wish: Wish, text: string): ImportedFile | Refusal {
  const roots = rootsOf(text)
  if ('refused' in roots) return roots
  const root = roots.find(({ name }) => name === 'opml')
  const body = root?.children.find(({ name }) => name === 'body')
  if (!root || !body) return { refused: 'This is no OPML: it has no body of outlines.' }
  const head = root.children.find(({ name }) => name === 'head')
  const lines: ListLine[] = []
  let refusal: Refusal | undefined
  const walk = (nodes: readonly Node[], depth: number): void => {
    for (const { name, attributes, children } of nodes) {
      if (name !== 'outline') continue
      const own = attributes['f:line'] ?? plain(attributes)
      refusal ??=
        tooLongLine(own) ??
        (lines.length >= LIMITS.lines
          ? { refused: `This outline has more than ${LIMITS.lines.toLocaleString('en')} lines.` }
          : undefined)
      if (refusal) return
      lines.push({ depth, text: own })
      walk(children, depth + 1)
    }
  }
  walk(body.children, 0)
  return refusal ?? figureFrom(wish, head?.children.find(({ name }) => name === 'title')?.text, lines)
}

/** What another program says of a line: its text, and where it leads. */
function plain(attributes: Readonly<Record<string, string>>): string {
  const text = lineOf({ name: attributes['text'] ?? attributes['title'] ?? '', fields: {} }, '')
  const url = attributes['url'] ?? attributes['htmlUrl']
  return url !== undefined && /^https?:\/\/[^\s<>]+$/.test(url) ? `${text} <${url}>` : text
}
