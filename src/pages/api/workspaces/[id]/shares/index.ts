import {
  checked,
  endpoint,
  json,
  makeShare,
  newShareBody,
  readBody,
  sharesOf,
  theStore,
  viewQuery,
} from '../../../../../server'

export const GET = endpoint(async ({ params, url }) => {
  const { view } = checked(Object.fromEntries(url.searchParams), viewQuery)
  return json({ shares: await sharesOf(theStore(), params['id'] ?? '', view) })
})

/** Makes an address; its secret part is in the answer and nowhere else. */
export const POST = endpoint(async ({ params, request }) => {
  const body = await readBody(request, newShareBody, 10_000)
  return json(await makeShare(theStore(), params['id'] ?? '', body), 201)
})
