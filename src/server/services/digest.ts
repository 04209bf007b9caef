import { createHash } from 'node:crypto'

/** What a text is known by where it is not to be kept itself. */
export const digestOf = (text: string): string => createHash('sha256').update(text).digest('hex')
