import {
  decodePDFRawStream,
  PDFArray,
  PDFDict,
  PDFDocument,
  PDFHexString,
  PDFName,
  PDFRawStream,
  PDFString,
} from 'pdf-lib'
import { CARRIED_FILE } from './carried'

const MOST_NODES = 2000

/** The text of the workspace file that a PDF carries as an attached file; undefined where it carries none. @throws RangeError for what is no PDF. O(bytes) */
export async function carriedByPdf(bytes: Uint8Array): Promise<string | undefined> {
  let document
  try {
    document = await PDFDocument.load(bytes, { updateMetadata: false, ignoreEncryption: true })
  } catch (error) {
    throw new RangeError('this PDF cannot be read', { cause: error })
  }
  const names = document.catalog.lookupMaybe(PDFName.of('Names'), PDFDict)
  const open = [names?.lookupMaybe(PDFName.of('EmbeddedFiles'), PDFDict)]
  let asked = 0
  // A tree of names (ISO 32000-1, 7.9.6), which may be one that leads back to itself.
  for (let node = open.pop(); node !== undefined || open.length > 0; node = open.pop()) {
    if (!node || ++asked > MOST_NODES) continue
    const kids = node.lookupMaybe(PDFName.of('Kids'), PDFArray)
    for (let at = 0; kids && at < Math.min(kids.size(), MOST_NODES); at++) open.push(kids.lookupMaybe(at, PDFDict))
    const list = node.lookupMaybe(PDFName.of('Names'), PDFArray)
    for (let at = 0; list && at + 1 < Math.min(list.size(), MOST_NODES); at += 2) {
      const name = list.lookup(at)
      const isName = name instanceof PDFString || name instanceof PDFHexString
      if (!isName || name.decodeText() !== CARRIED_FILE) continue
      const file = list
        .lookupMaybe(at + 1, PDFDict)
        ?.lookupMaybe(PDFName.of('EF'), PDFDict)
        ?.lookup(PDFName.of('F'))
      if (!(file instanceof PDFRawStream)) continue
      return new TextDecoder().decode(decodePDFRawStream(file).decode())
    }
  }
  return undefined
}
