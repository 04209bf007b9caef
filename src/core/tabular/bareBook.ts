import { zipSync } from 'fflate'
import { unpackedArchive } from './archive'

/** What says which cells there are, and what stands in them; all else of a workbook is beside the point, or spans more than there is. */
const WANTED =
  /^(?:\[Content_Types\]\.xml|_rels\/\.rels|xl\/(?:workbook\.xml|_rels\/workbook\.xml\.rels|sharedStrings\.xml|styles\.xml|worksheets\/[^/]+\.xml))$/i

/** Elements whose ranges a reader would walk cell by cell, whatever they span. */
const SPANNING = [
  'mergeCells',
  'dataValidations',
  'conditionalFormatting',
  'hyperlinks',
  'cols',
  'definedNames',
  'extLst',
  'autoFilter',
  'tableParts',
]

/**
 * A workbook with nothing but its cells (ISO/IEC 29500): what merges, validates or names ranges is left out before anything reads it. O(unpacked bytes)
 * @returns a refusal in words for what is no workbook, or too large
 */
export async function bareBook(bytes: Uint8Array): Promise<Uint8Array | { readonly refused: string }> {
  const found = await unpackedArchive(bytes, (path) => WANTED.test(path))
  if ('refused' in found) return found
  const bare: Record<string, Uint8Array> = {}
  for (const [path, content] of found as ReadonlyMap<string, Uint8Array>)
    bare[path] = /\/(?:workbook|worksheets\/.*)\.xml$/i.test(path) ? withoutSpanning(content) : content
  return zipSync(bare, { level: 0 })
}

function withoutSpanning(content: Uint8Array): Uint8Array {
  const text = new TextDecoder().decode(content)
  return new TextEncoder().encode(SPANNING.reduce(without, text))
}

/** A text without the elements of a name, each from where it opens to where it closes. O(text) */
function without(text: string, name: string): string {
  const kept: string[] = []
  let from = 0
  for (let at = opening(text, name, 0); at >= 0; at = opening(text, name, from)) {
    kept.push(text.slice(from, at))
    const head = text.indexOf('>', at)
    const close = head < 0 || text[head - 1] === '/' ? head : text.indexOf(`</${name}>`, head)
    if (close < 0) return kept.join('')
    from = text[head - 1] === '/' ? head + 1 : close + name.length + 3
  }
  return from === 0 ? text : [...kept, text.slice(from)].join('')
}

/** Where an element of that name opens: `<cols>` and `<cols `, not `<colsOf>`. */
function opening(text: string, name: string, from: number): number {
  for (let at = text.indexOf(`<${name}`, from); at >= 0; at = text.indexOf(`<${name}`, at + 1))
    if (/[\s/>]/.test(text[at + name.length + 1] ?? '')) return at
  return -1
}
