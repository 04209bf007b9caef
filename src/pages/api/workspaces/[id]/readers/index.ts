import { endpoint, json, makeReader, readBody, readerBody, readersOf, theStore } from '../../../../../server'

export const GET = endpoint(async ({ params }) => json({ readers: await readersOf(theStore(), params['id'] ?? '') }))

/** Makes an address; its secret part is in the answer and nowhere else. */
export const POST = endpoint(async ({ params, request }) => {
  const body = await readBody(request, readerBody, 10_000)
  return json(await makeReader(theStore(), params['id'] ?? '', body), 201)
})
