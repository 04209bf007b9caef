const LOCAL = 0x04034b50
const CENTRAL = 0x02014b50
const END = 0x06054b50
const DEFLATED = 8
/** Unpacked bytes, cells and entries that a workbook may have. */
const MOST_BYTES = 200_000_000
const MOST_CELLS = 1_000_000
const MOST_ENTRIES = 2000

/** An archive's entries by their paths, unpacked. */
export type Unpacked = ReadonlyMap<string, Uint8Array>

/**
 * Takes a workbook apart (ZIP, APPNOTE 6.3): what it unpacks to is counted on the way, whatever it says of itself, and of what is not wanted nothing is kept.
 * O(unpacked bytes, up to the bound). @returns a refusal in words for one that is larger, or damaged
 */
export async function unpackedArchive(
  bytes: Uint8Array,
  isWanted: (path: string) => boolean,
): Promise<Unpacked | { readonly refused: string }> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const end = endOf(view)
  if (end === undefined) return { refused: 'This is no XLSX workbook: it is no archive.' }
  const entries = view.getUint16(end + 10, true)
  if (entries > MOST_ENTRIES) return { refused: `This archive has more than ${MOST_ENTRIES} entries.` }
  let at = view.getUint32(end + 16, true)
  const left = { bytes: MOST_BYTES, cells: MOST_CELLS }
  const found = new Map<string, Uint8Array>()
  const damaged = { refused: 'This archive is damaged.' }
  for (let i = 0; i < entries; i++) {
    if (at + 46 > view.byteLength || view.getUint32(at, true) !== CENTRAL) return damaged
    const [method, packed] = [view.getUint16(at + 10, true), view.getUint32(at + 20, true)]
    const [name, extra, comment] = [28, 30, 32].map((offset) => view.getUint16(at + offset, true)) as [
      number,
      number,
      number,
    ]
    const local = view.getUint32(at + 42, true)
    const path = new TextDecoder().decode(bytes.subarray(at + 46, at + 46 + name))
    if (local + 30 > view.byteLength || view.getUint32(local, true) !== LOCAL) return damaged
    const from = local + 30 + view.getUint16(local + 26, true) + view.getUint16(local + 28, true)
    if (isWanted(path)) {
      const content = await unpackedEntry(bytes.subarray(from, from + packed), method, /worksheets\//.test(path), left)
      if ('refused' in content) return content
      found.set(path, content.bytes)
    }
    at += 46 + name + extra + comment
  }
  return found
}

function endOf(view: DataView): number | undefined {
  for (let at = view.byteLength - 22; at >= 0 && at > view.byteLength - 70_000; at--)
    if (view.getUint32(at, true) === END) return at
  return undefined
}

async function unpackedEntry(
  packed: Uint8Array,
  method: number,
  isSheet: boolean,
  left: { bytes: number; cells: number },
): Promise<{ readonly bytes: Uint8Array } | { readonly refused: string }> {
  const source = new Blob([packed as Uint8Array<ArrayBuffer>]).stream()
  const reader = (method === DEFLATED ? source.pipeThrough(new DecompressionStream('deflate-raw')) : source).getReader()
  const parts: Uint8Array<ArrayBuffer>[] = []
  try {
    let last = 0
    for (let part = await reader.read(); !part.done; part = await reader.read()) {
      left.bytes -= part.value.byteLength
      if (left.bytes < 0) return { refused: 'This workbook unpacks to more than 200 MB. Bring it in in parts.' }
      parts.push(part.value as Uint8Array<ArrayBuffer>)
      if (!isSheet) continue
      // “<c ” or “<c>” begins a cell.
      for (const byte of part.value) {
        if (last === 0x3c63 && (byte === 0x20 || byte === 0x3e)) left.cells--
        last = ((last & 0xff) << 8) | byte
      }
      if (left.cells < 0) return { refused: 'This workbook has more than a million cells. Bring it in in parts.' }
    }
    return { bytes: new Uint8Array(await new Blob(parts).arrayBuffer()) }
  } catch {
    // What cannot be inflated is told by each platform in its own words; all of it is about this entry.
    return { refused: 'This archive is damaged.' }
  } finally {
    await reader.cancel().catch(() => undefined)
  }
}
