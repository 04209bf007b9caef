import type Joi from 'joi'
import { cut, parseJson } from '../../core/model'
import { BadRequest } from '../services/errors'
import { TooLarge } from './endpoint'

/** Reads a JSON body of at most `most` bytes and checks it. @throws TooLarge, BadRequest with the path of each fault. */
export async function readBody<T>(request: Request, schema: Joi.ObjectSchema<T>, most: number): Promise<T> {
  const type = request.headers.get('content-type') ?? ''
  if (!/^application\/json\b/i.test(type))
    throw new BadRequest('The body must be JSON.', [{ path: 'content-type', message: `is “${type.slice(0, 60)}”` }])
  const text = await readText(request, most)
  let body: unknown
  try {
    body = parseJson(text)
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

/** What a short form says. @throws TooLarge, BadRequest */
export const readForm = async (request: Request): Promise<URLSearchParams> =>
  new URLSearchParams(await readText(request, MOST_FORM))

const MOST_FORM = 1000

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
