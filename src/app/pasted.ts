import { LIMITS } from '../core/notation/limits'
import { listText, type ListLine } from '../core/notation/lines'

/** What was copied, as lines: lists of documents, mails and chats with their levels, anything else as plain text. */
export const pastedText = (data: DataTransfer): string => {
  const plain = data.getData('text/plain')
  return listIn(data.getData('text/html')) ?? plain
}

/** The same of the clipboard itself. @throws where the browser does not let it be read */
export async function clipboardText(): Promise<string> {
  // Not every browser tells the markup.
  if (!('read' in navigator.clipboard)) return (navigator as Navigator).clipboard.readText()
  for (const item of await navigator.clipboard.read()) {
    const get = async (type: string) => (item.types.includes(type) ? (await item.getType(type)).text() : undefined)
    const text = listIn((await get('text/html')) ?? '') ?? (await get('text/plain'))
    if (text !== undefined) return text
  }
  return ''
}

/** The lines of what was copied from a page or a document; undefined where it has no list, or a table: cells are plain text. O(markup) */
function listIn(html: string): string | undefined {
  if (!/<li\b|mso-list/i.test(html) || html.length > LIMITS.paste) return undefined
  const { body } = new DOMParser().parseFromString(html, 'text/html')
  if (body.querySelector('table')) return undefined
  const lines: ListLine[] = []
  walk(body, lines)
  return lines.length === 0 ? undefined : listText(lines)
}

const BLOCK = new Set(['P', 'DIV', 'H1', 'H2', 'H3', 'H4', 'H5', 'H6', 'LI', 'BR', 'SECTION', 'BLOCKQUOTE', 'DD', 'DT'])
const SILENT = new Set(['STYLE', 'SCRIPT', 'TITLE', 'HEAD', 'TEMPLATE'])
/** Deeper than this nobody lists: what is beneath is read at this depth. */
const MOST_DEPTH = 60

/** Goes through the nodes in their order, without a call for each level of them. */
function walk(root: Element, lines: ListLine[]): void {
  let words = ''
  let depth = 0
  const say = () => {
    const text = words.replace(/[\s\u00a0]+/g, ' ').trim()
    if (text !== '') lines.push({ depth: Math.min(depth, (lines.at(-1)?.depth ?? -1) + 1), text })
    words = ''
  }
  const enter = (node: Node): boolean => {
    if (node.nodeType === Node.TEXT_NODE) words += node.textContent ?? ''
    if (!(node instanceof HTMLElement)) return false
    const style = node.getAttribute('style') ?? ''
    if (SILENT.has(node.tagName) || /mso-list:\s*ignore/i.test(style)) return false
    if (isList(node) || BLOCK.has(node.tagName)) say()
    const level = /mso-list:[^;]*\blevel(\d)/i.exec(style)?.[1]
    if (level !== undefined) depth = Number(level) - 1
    else if (BLOCK.has(node.tagName)) depth = levelOf(node, root)
    return true
  }
  const leave = (node: Node) => {
    if (node instanceof HTMLElement && (isList(node) || BLOCK.has(node.tagName))) say()
  }
  let at: Node | null = root.firstChild
  while (at) {
    if (enter(at) && at.firstChild) {
      at = at.firstChild
      continue
    }
    leave(at)
    while (at && !at.nextSibling && at.parentNode !== root) {
      at = at.parentNode
      if (at) leave(at)
    }
    at = at?.nextSibling ?? null
  }
  say()
}

const isList = (node: Node): boolean => node instanceof HTMLElement && (node.tagName === 'UL' || node.tagName === 'OL')

/** How many lists an element is within, less the outermost; a list beside the item that it belongs to counts as one within it. */
function levelOf(node: Element, root: Element): number {
  let lists = 0
  for (let one: Element | null = node; one && one !== root && lists <= MOST_DEPTH; one = one.parentElement)
    if (isList(one)) lists += 1
  return Math.max(0, lists - 1)
}
