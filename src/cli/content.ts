import { readFileSync, writeFileSync } from 'node:fs'
import { carriedBy } from '../core/file/carried'
import { parseWorkspace, type Photos } from '../core/file'
import { wordsOf, type Model } from '../core/model'
import { prepared } from '../core/notation'
import { registry } from '../core/notations'
import { decodeText, type Decoded } from '../core/tabular'
import { UsageError } from './wishes'

/** The facts of a workspace file, or of a picture that carries them. */
export async function contentOf(file: string): Promise<{ model: Model; pictures: Photos }> {
  const bytes = bytesOf(file)
  return loaded(parseWorkspace(carriedIn(file, bytes) ?? decoded(bytes).text, registry))
}

/** With what is large and loaded when facts ask for it: holidays, coasts. */
export async function loaded<T extends { readonly model: Model }>(content: T): Promise<T> {
  await prepared(registry.notations, content.model)
  return content
}
export const modelIn = async (file: string): Promise<Model> => (await contentOf(file)).model

/** The facts that a picture carries; undefined for what is no picture. @throws UsageError for one that carries none */
function carriedIn(file: string, bytes: Uint8Array): string | undefined {
  if (!/\.(svg|png|pdf|jpe?g|webp)$/i.test(file)) return undefined
  try {
    const text = carriedBy(bytes)
    if (text !== undefined) return text
  } catch (error) {
    throw new UsageError(`“${file}” cannot be read: ${wordsOf(error)}.`)
  }
  throw new UsageError(`“${file}” carries no facts. Pictures carry them when they are handed out with their facts.`)
}

export function bytesOf(file: string): Uint8Array {
  try {
    return readFileSync(file)
  } catch (error) {
    throw new UsageError(`“${file}” cannot be read: ${error instanceof Error ? error.message : String(error)}`)
  }
}

export const decodedOf = (file: string): Decoded => decoded(bytesOf(file))

function decoded(bytes: Uint8Array): Decoded {
  const decoded = decodeText(bytes)
  if ('refused' in decoded) throw new UsageError(decoded.refused)
  return decoded
}

export function write(file: string, content: string | Uint8Array): void {
  try {
    writeFileSync(file, content)
  } catch (error) {
    throw new UsageError(`“${file}” cannot be written: ${error instanceof Error ? error.message : String(error)}`)
  }
}

export const endingOf = (name: string): string => /\.[^./\\]+$/.exec(name.toLowerCase())?.[0] ?? ''

export const baseOf = (file: string): string => /([^/\\]+?)(?:\.[^./\\]+)?$/.exec(file)?.[1] ?? 'Workspace'
