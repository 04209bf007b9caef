/** Bytes of a text file as text, and how they were read where that is not a matter of course. */
export interface Decoded {
  readonly text: string
  /** `UTF-16`, `windows-1252`: absent for UTF-8. */
  readonly encoding?: string
  /** What to tell a person: the encoding is a guess. */
  readonly note?: string
}

/**
 * Reads bytes by their mark at the front (UTF-8, UTF-16), by what an XML declaration says, else as UTF-8; what is no UTF-8 is read as windows-1252,
 * which is what older programs write in the West. O(bytes). @returns a refusal in words for an encoding that is not known
 */
export function decodeText(bytes: Uint8Array): Decoded | { readonly refused: string } {
  const [a, b, c] = bytes
  if (a === 0xef && b === 0xbb && c === 0xbf) return decoded(bytes.subarray(3), 'utf-8')
  if (a === 0xff && b === 0xfe) return decoded(bytes.subarray(2), 'utf-16le')
  if (a === 0xfe && b === 0xff) return decoded(bytes.subarray(2), 'utf-16be')
  // “<” with a zero beside it: UTF-16 without a mark.
  if (a === 0x3c && b === 0) return decoded(bytes, 'utf-16le')
  if (a === 0 && b === 0x3c) return decoded(bytes, 'utf-16be')
  const head = String.fromCharCode(...bytes.subarray(0, 200))
  const stated = /^\s*<\?xml[^>]*\bencoding\s*=\s*["']([^"']+)["']/.exec(head)?.[1]
  return stated === undefined ? decoded(bytes, 'utf-8') : decoded(bytes, stated)
}

function decoded(bytes: Uint8Array, encoding: string): Decoded | { readonly refused: string } {
  let decoder
  try {
    decoder = new TextDecoder(encoding, { fatal: true })
  } catch (error) {
    if (!(error instanceof RangeError)) throw error
    return { refused: `The file says that it is written in “${encoding.slice(0, 40)}”, which is not known here.` }
  }
  try {
    const text = decoder.decode(bytes)
    return decoder.encoding === 'utf-8' ? { text } : { text, encoding: decoder.encoding }
  } catch (error) {
    if (!(error instanceof TypeError)) throw error
    return {
      text: new TextDecoder('windows-1252').decode(bytes),
      encoding: 'windows-1252',
      note: `The file is not written in ${decoder.encoding.toUpperCase()}; it is read as windows-1252.`,
    }
  }
}
