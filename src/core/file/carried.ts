import { CARRIED_FILE, carriedByPdf } from './pdfFile'
import { isPng, pngText, withPngText } from './raster'
import { MOST_CARRIED } from './unpacked'

export { CARRIED_FILE }

/** The keyword of a PNG and the namespace of an SVG under which a picture carries its facts, as a workspace file. */
export const CARRIED = 'urn:skivel:facts'

/** A PNG that carries the text of a workspace file. @throws RangeError for what is no PNG */
export const carryingPng = (bytes: Uint8Array, facts: string): Uint8Array => withPngText(bytes, CARRIED, facts)

const OPENS = `<facts xmlns="${CARRIED}">`

const ENTITIES: Readonly<Record<string, string>> = { lt: '<', gt: '>', quot: '"', apos: "'", amp: '&' }

/** The text of the workspace file that an SVG carries; undefined where it carries none. O(text) */
function carriedBySvg(text: string): string | undefined {
  const from = text.indexOf(OPENS)
  const to = text.indexOf('</facts>', from)
  if (from < 0 || to < 0) return undefined
  if (to - from > MOST_CARRIED) throw new RangeError('it is too large')
  return text
    .slice(from + OPENS.length, to)
    .replace(/&(?:#(\d{1,7})|#x([0-9a-f]{1,6})|(lt|gt|quot|apos|amp));/gi, (all, decimal, hexadecimal, name) => {
      const code = decimal ? Number(decimal) : hexadecimal ? parseInt(String(hexadecimal), 16) : undefined
      return code === undefined ? (ENTITIES[String(name)] ?? all) : code <= 0x10ffff ? String.fromCodePoint(code) : all
    })
}

/** The text of the workspace file that a PNG, an SVG or a PDF carries; undefined where it carries none. @throws RangeError for one that is broken, or carries more than is taken. O(bytes) */
export function carriedBy(bytes: Uint8Array): string | undefined {
  if (isPng(bytes)) return pngText(bytes, CARRIED)
  if (isPdf(bytes)) return carriedByPdf(bytes)
  // An SVG begins with a tag, after a mark of byte order at most.
  const letters = new TextDecoder(lettersOf(bytes))
  const head = letters.decode(bytes.subarray(0, 400)).trimStart()
  return head.startsWith('<') ? carriedBySvg(letters.decode(bytes)) : undefined
}

/** How an XML text is written (XML 1.0, appendix F): UTF-16 has a mark at its front, or a zero beside its first sign. */
function lettersOf([first, second]: Uint8Array): string {
  if ((first === 0xff && second === 0xfe) || (first === 0x3c && second === 0)) return 'utf-16le'
  if ((first === 0xfe && second === 0xff) || (first === 0 && second === 0x3c)) return 'utf-16be'
  return 'utf-8'
}

const isPdf = (bytes: Uint8Array): boolean => String.fromCharCode(...bytes.subarray(0, 5)) === '%PDF-'
