import { randomUUID } from 'node:crypto'
import type { APIContext } from 'astro'
import { FileError, StepsError, type Fault } from '../../core/file'
import { isFull, isUnavailable } from '../db/pool'
import { Astray, BadRequest, Clash, NotFound, Overload, TooLong, TooMany, Unreachable } from '../services/errors'

interface ErrorBody {
  readonly error: {
    readonly code:
      | 'bad-request'
      | 'not-found'
      | 'clash'
      | 'astray'
      | 'too-large'
      | 'too-long'
      | 'busy'
      | 'too-many'
      | 'unavailable'
      | 'no-room'
      | 'unreachable'
      | 'forbidden'
      | 'internal'
    readonly message: string
    readonly faults?: readonly Fault[]
    readonly sides?: Clash['sides']
  }
}

/** An API route around a service call: what it throws becomes an answer in words, with a status and a code. */
export const endpoint =
  (handle: (context: APIContext) => Promise<Response>) =>
  async (context: APIContext): Promise<Response> => {
    try {
      // Identities of workspaces, shares, comments and pictures are plain; anything else names nothing.
      for (const name of ['id', 'share', 'reader', 'asset', 'comment'])
        if (!/^[\w.:~-]{1,64}$/.test(context.params[name] ?? 'none')) throw new NotFound('There is nothing here.')
      return await handle(context)
    } catch (error) {
      return answerTo(error)
    }
  }

export const json = (body: unknown, status = 200): Response =>
  new Response(JSON.stringify(body), {
    status,
    headers: { 'content-type': 'application/json; charset=utf-8', 'cache-control': 'no-store' },
  })

export const failure = (status: number, error: ErrorBody['error']): Response =>
  json({ error } satisfies ErrorBody, status)

/** In seconds: by then what waits now is done. */
const AGAIN_S = 5

function busy(message: string): Response {
  const answer = failure(503, { code: 'busy', message })
  answer.headers.set('retry-after', String(AGAIN_S))
  return answer
}

/** A body that is larger than an endpoint takes. */
export class TooLarge extends Error {}

/** Any failure as an answer in words, with a status and a code. */
export function answerTo(error: unknown): Response {
  if (error instanceof FileError || error instanceof StepsError)
    return failure(400, { code: 'bad-request', message: error.message, faults: error.faults })
  if (error instanceof BadRequest)
    return failure(400, { code: 'bad-request', message: error.message, faults: error.faults })
  if (error instanceof NotFound) return failure(404, { code: 'not-found', message: error.message })
  if (error instanceof Unreachable) return failure(502, { code: 'unreachable', message: error.message })
  if (error instanceof Clash) return failure(409, { code: 'clash', message: error.message, sides: error.sides })
  if (error instanceof Astray) return failure(409, { code: 'astray', message: error.message })
  if (error instanceof Overload) return busy(error.message)
  if (error instanceof TooLong) return failure(503, { code: 'too-long', message: error.message })
  if (error instanceof TooMany) return failure(429, { code: 'too-many', message: error.message })
  if (error instanceof TooLarge) return failure(413, { code: 'too-large', message: error.message })
  if (isFull(error))
    return failure(507, {
      code: 'no-room',
      message:
        'The database has no room left to write anything. What was confirmed is kept; whoever keeps this server has to make room.',
    })
  if (isUnavailable(error))
    return failure(503, {
      code: 'unavailable',
      message: 'The database does not answer. Nothing that was confirmed is lost.',
    })
  const id = randomUUID().slice(0, 8)
  console.error(`Error ${id}:`, error)
  return failure(500, { code: 'internal', message: `Something went wrong in the server (${id}). Nothing was changed.` })
}
