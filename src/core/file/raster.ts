import { zlibSync } from 'fflate'
import { MOST_CARRIED, unpacked, within } from './unpacked'

/** What is written into and read out of the bytes of pictures: chunks of PNG (ISO/IEC 15948), the density of JPEG (JFIF 1.02). */

const SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]
const INCH_M = 0.0254

const crcTable = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
  return c >>> 0
})

/** The check sum of a chunk (ISO/IEC 15948, annex D). O(bytes) */
function crcOf(bytes: Uint8Array): number {
  let crc = 0xffffffff
  for (const byte of bytes) crc = (crcTable[(crc ^ byte) & 0xff] ?? 0) ^ (crc >>> 8)
  return (crc ^ 0xffffffff) >>> 0
}

export const isPng = (bytes: Uint8Array): boolean => SIGNATURE.every((byte, at) => bytes[at] === byte)
const isJpeg = (bytes: Uint8Array): boolean => bytes[0] === 0xff && bytes[1] === 0xd8

interface Chunk {
  readonly type: string
  readonly data: Uint8Array
  readonly from: number
  readonly to: number
}

/** The chunks of a PNG, as far as they are whole. O(chunks) */
function chunksOf(bytes: Uint8Array): readonly Chunk[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const chunks: Chunk[] = []
  let at = SIGNATURE.length
  while (at + 12 <= bytes.length) {
    const length = view.getUint32(at)
    const to = at + 12 + length
    if (to > bytes.length) break
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8))
    chunks.push({ type, data: bytes.subarray(at + 8, at + 8 + length), from: at, to })
    at = to
  }
  return chunks
}

function chunk(type: string, data: Uint8Array): Uint8Array {
  const out = new Uint8Array(data.length + 12)
  const view = new DataView(out.buffer)
  view.setUint32(0, data.length)
  for (let i = 0; i < 4; i++) out[4 + i] = type.charCodeAt(i)
  out.set(data, 8)
  view.setUint32(data.length + 8, crcOf(out.subarray(4, data.length + 8)))
  return out
}

/** A PNG with more chunks before its picture. */
function withChunks(bytes: Uint8Array, added: readonly Uint8Array[]): Uint8Array {
  const first = chunksOf(bytes).find(({ type }) => type === 'IDAT')?.from
  if (!isPng(bytes) || first === undefined) throw new RangeError('this is no PNG')
  const parts = [bytes.subarray(0, first), ...added, bytes.subarray(first)]
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    out.set(part, at)
    at += part.length
  }
  return out
}

/** A PNG with a text under a keyword of Latin letters (iTXt, packed). @throws RangeError for what is no PNG. O(bytes) */
export function withPngText(bytes: Uint8Array, keyword: string, text: string): Uint8Array {
  const key = Uint8Array.from(keyword, (letter) => letter.charCodeAt(0))
  const packed = zlibSync(new TextEncoder().encode(text))
  const data = new Uint8Array(key.length + 5 + packed.length)
  data.set(key)
  // Ends the keyword; packed, by deflate; no language, no other keyword.
  data.set([0, 1, 0, 0, 0], key.length)
  data.set(packed, key.length + 5)
  return withChunks(bytes, [chunk('iTXt', data)])
}

/** The text under a keyword of a PNG; undefined where there is none. @throws RangeError for one that is broken or too large. O(bytes) */
export function pngText(bytes: Uint8Array, keyword: string): string | undefined {
  for (const { type, data } of chunksOf(bytes)) {
    if (type !== 'iTXt') continue
    const end = data.indexOf(0)
    if (String.fromCharCode(...data.subarray(0, end)) !== keyword) continue
    const isPacked = data[end + 1] === 1
    const language = data.indexOf(0, end + 3)
    const other = data.indexOf(0, language + 1)
    const body = data.subarray(other + 1)
    try {
      return new TextDecoder('utf-8', { fatal: true }).decode(isPacked ? unpacked(body, MOST_CARRIED) : within(body))
    } catch (error) {
      throw new RangeError('what stands in this picture cannot be read', { cause: error })
    }
  }
  return undefined
}

/** A JPEG with the segment of JFIF that it lacks: no density, no small picture. */
function withJfif(bytes: Uint8Array): Uint8Array {
  const segment = [0xff, 0xe0, 0, 16, 0x4a, 0x46, 0x49, 0x46, 0, 1, 2, 0, 0, 1, 0, 1, 0, 0]
  const out = new Uint8Array(bytes.length + segment.length)
  out.set(bytes.subarray(0, 2))
  out.set(segment, 2)
  out.set(bytes.subarray(2), 2 + segment.length)
  return out
}

/** A PNG or a JPEG that says how many dots an inch has; any other bytes as they are. O(bytes) */
export function withDensity(bytes: Uint8Array, dpi: number): Uint8Array {
  if (isPng(bytes)) {
    const data = new Uint8Array(9)
    const view = new DataView(data.buffer)
    const perMetre = Math.round(dpi / INCH_M)
    view.setUint32(0, perMetre)
    view.setUint32(4, perMetre)
    data[8] = 1
    return withChunks(bytes, [chunk('pHYs', data)])
  }
  // The first segment of JFIF says it: marker, length, “JFIF”, version, units, both densities.
  if (!isJpeg(bytes)) return bytes
  const out = bytes[3] === 0xe0 ? bytes.slice() : withJfif(bytes)
  out[13] = 1
  new DataView(out.buffer).setUint16(14, dpi)
  new DataView(out.buffer).setUint16(16, dpi)
  return out
}
