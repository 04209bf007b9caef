import { startStoppable } from './engine'

/** What is larger is read by nobody at once. */
const MOST_BYTES = 64_000_000
const READING_MS = 30_000

/**
 * The text of a workspace file: the file's own, or what a picture carries; undefined where it carries none. Read in a thread of its own, which is ended
 * when it takes too long. @throws Error in words
 */
export async function factsIn(file: File): Promise<string | undefined> {
  const told = (why: string) => new Error(`“${file.name}” cannot be read: ${why.replace(/\.$/, '')}.`)
  if (file.size > MOST_BYTES) throw new Error(`“${file.name}” is larger than 64 MB.`)
  const { engine, stop } = startStoppable()
  let timer: ReturnType<typeof setTimeout> | undefined
  const late = new Promise<{ readonly refused: string }>((resolve) => {
    timer = setTimeout(() => resolve({ refused: 'it takes longer than 30 seconds' }), READING_MS)
  })
  try {
    const found = await Promise.race([engine.factsIn({ name: file.name, bytes: await file.arrayBuffer() }), late])
    if (typeof found === 'object') throw told(found.refused)
    return found
  } finally {
    clearTimeout(timer)
    stop()
  }
}
