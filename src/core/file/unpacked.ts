import { Unzlib } from 'fflate'

/** Bytes of facts that a picture carries at most. */
export const MOST_CARRIED = 20_000_000
/** Packed bytes that are unpacked at once: they come out as some thousand times as many at most. */
const STEP = 4096

/** Bytes that are as many as are taken. @throws RangeError for more */
export function within(bytes: Uint8Array, most = MOST_CARRIED): Uint8Array {
  if (bytes.length > most) throw new RangeError('it is too large')
  return bytes
}

/** What was packed (zlib, RFC 1950), as far as it has no more than `most` bytes: no more than that is ever held. O(bytes) @throws RangeError for more, or what is no such thing */
export function unpacked(packed: Uint8Array, most: number): Uint8Array {
  const parts: Uint8Array[] = []
  let size = 0
  const reader = new Unzlib((part) => {
    size += part.length
    if (size <= most) parts.push(part)
  })
  for (let at = 0; at < packed.length && size <= most; at += STEP)
    try {
      reader.push(packed.subarray(at, at + STEP), at + STEP >= packed.length)
    } catch (error) {
      throw new RangeError('it is damaged', { cause: error })
    }
  if (size > most) throw new RangeError('it is too large')
  const out = new Uint8Array(size)
  let to = 0
  for (const part of parts) {
    out.set(part, to)
    to += part.length
  }
  return out
}
