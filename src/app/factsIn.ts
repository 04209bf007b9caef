import { carriedBy, isPdf } from '../core/file/carried'
import { wordsOf } from '../core/model'

/** What is larger is read by nobody at once. */
const MOST_BYTES = 60_000_000

/** The facts that a picture carries, as the text of a workspace file; undefined where it carries none. @throws Error in words */
export async function factsIn(file: File): Promise<string | undefined> {
  if (file.size > MOST_BYTES) throw new Error(`“${file.name}” is larger than 60 MB.`)
  const bytes = new Uint8Array(await file.arrayBuffer())
  try {
    if (!isPdf(bytes)) return carriedBy(bytes)
    // Large, and seldom needed.
    const { carriedByPdf } = await import('../core/file/pdfFile')
    return await carriedByPdf(bytes)
  } catch (error) {
    throw new Error(`“${file.name}” cannot be read: ${wordsOf(error)}.`, { cause: error })
  }
}
