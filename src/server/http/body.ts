import type Joi from 'joi'
import { cut } from '../../core/model'
import { BadRequest } from '../services/errors'
import { TooLarge } from './endpoint'

/** Reads a JSON body of at most `most` bytes and checks it. @throws TooLarge, BadRequest with the path of each fault. */
export async function readBody<T>(request: Request, schema: Joi.ObjectSchema<T>, most: number): Promise<T> {
  const type = request.headers.get('content-type') ?? ''
  if (!/^application\/json\b/i.test(type))
    throw new BadRequest('The body must be JSON.', [{ path: 'content-type', message: `is “${type.slice(0, 60)}”` }])
  const text = await readText(request, most)
  if (hasCrowdedObject(text, MOST_IN_ONE))
    throw new BadRequest('The request is not understood: one of its parts has too many keys.', [
      { path: 'body', message: `has an object with more than ${MOST_IN_ONE} keys` },
    ])
  let body: unknown
  try {
    body = JSON.parse(text)
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error)
    throw new BadRequest('The body is not JSON.', [{ path: 'body', message }])
  }
  // A schema looks at every key there is: more than any request has are not worth a look.
  if (typeof body === 'object' && body !== null && Object.keys(body).length > MOST_KEYS)
    throw new BadRequest('The request is not understood: it has too many parts.', [
      { path: 'body', message: `has more than ${MOST_KEYS} keys` },
    ])
  return checked(body, schema)
}

const MOST_KEYS = 50
/** Each fact of a workspace may be pinned in a view, and nothing has more parts than that. */
const MOST_IN_ONE = 100_000

/** Whether a JSON text has an object of more than `most` keys, told before it is read: making the objects is what takes long. O(text) */
function hasCrowdedObject(text: string, most: number): boolean {
  // What is open, as the number of keys so far; a list is counted as less than nothing.
  const open: number[] = []
  let keys = -Infinity
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code === QUOTE) at = endOfString(text, at)
    else if (code === COMMA && ++keys > most) return true
    else if (code === OBJECT || code === LIST) {
      open.push(keys)
      keys = code === OBJECT ? 1 : -Infinity
    } else if (code === OBJECT_END || code === LIST_END) keys = open.pop() ?? -Infinity
  }
  return false
}

const [QUOTE, COMMA, OBJECT, OBJECT_END, LIST, LIST_END] = [0x22, 0x2c, 0x7b, 0x7d, 0x5b, 0x5d]
const BACKSLASH = 0x5c

/** Where the string that begins at `start` ends; the end of the text where it does not. */
function endOfString(text: string, start: number): number {
  for (let end = text.indexOf('"', start + 1); end !== -1; end = text.indexOf('"', end + 1)) {
    let slashes = 0
    while (text.charCodeAt(end - 1 - slashes) === BACKSLASH) slashes++
    if (slashes % 2 === 0) return end
  }
  return text.length
}

/** Checks a value against a schema. @throws BadRequest with the path of each fault. */
export function checked<T>(value: unknown, schema: Joi.ObjectSchema<T>): T {
  const { error, value: read } = schema.validate(value, {
    abortEarly: false,
    convert: false,
    errors: { wrap: { label: false } },
  })
  if (!error) return read
  const faults = error.details
    .slice(0, 50)
    .map(({ path, message }) => ({ path: cut(path.join('.'), 200) || 'body', message: cut(message, 300) }))
  throw new BadRequest(`The request is not understood: ${faults[0]?.message ?? ''}.`, faults)
}

async function readText(request: Request, most: number): Promise<string> {
  const bytes = await readBytes(request, most)
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch (error) {
    if (!(error instanceof TypeError)) throw error
    throw new BadRequest('The body is not UTF-8 text.', [{ path: 'body', message: 'is not UTF-8' }])
  }
}

/** Reads a body of at most `most` bytes, and no further than that. @throws TooLarge */
export async function readBytes(request: Request | Response, most: number): Promise<Uint8Array> {
  const tooLarge = () =>
    new TooLarge(`This is larger than ${Math.round(most / 1e6)} MB, the most that is taken at once.`)
  if (Number(request.headers.get('content-length') ?? 0) > most) throw tooLarge()
  const parts: Uint8Array[] = []
  let size = 0
  const reader = request.body?.getReader()
  for (let part = await reader?.read(); part && !part.done; part = await reader?.read()) {
    size += part.value.byteLength
    if (size > most) throw tooLarge()
    parts.push(part.value)
  }
  return Buffer.concat(parts)
}
