import { asDay } from '../../core/model'
import { endpoint, readShare, theStore } from '../../server'

/** What a subscribed program reads: a view as its facts are now. One that has it already is told so without the whole. */
export const GET = endpoint(async ({ params, request }) => {
  const today = asDay(new Date().toISOString().slice(0, 10))
  const { tag, mediaType, write } = await readShare(theStore(), params['file'] ?? '', today)
  const headers = { etag: tag, 'cache-control': 'private, no-cache' }
  const known = (request.headers.get('if-none-match') ?? '').split(/\s*,\s*/)
  if (known.some((one) => one.replace(/^W\//, '') === tag)) return new Response(null, { status: 304, headers })
  return new Response(await write(), { headers: { ...headers, 'content-type': `${mediaType}; charset=utf-8` } })
})
