import { asDay } from '../../../../core/model'
import {
  assetAddresses,
  bookOf,
  bookQuery,
  checked,
  endpoint,
  fileHeaders,
  loadWorkspace,
  NotFound,
  theStore,
} from '../../../../server'

/** `book.pdf?day=2026-11-24&since=2026-01-01`, `book.html`: the workspace as a book. */
export const GET = endpoint(async ({ params, url }) => {
  const format = (['pdf', 'html'] as const).find((one) => params['book'] === `book.${one}`)
  if (!format) throw new NotFound('There is no such page.')
  const { day, since } = checked(Object.fromEntries(url.searchParams), bookQuery)
  const snapshot = await loadWorkspace(theStore(), params['id'] ?? '')
  const { content, missing } = await bookOf(snapshot, {
    format,
    day: asDay(day ?? new Date().toISOString().slice(0, 10)),
    since: since === undefined ? undefined : asDay(since),
    images: await assetAddresses(theStore(), snapshot.id),
    base: new URL(`/w/${snapshot.id}`, url).href,
  })
  return new Response(typeof content === 'string' ? content : new Uint8Array(content), {
    headers: fileHeaders(format, missing),
  })
})
