import { commentBody, commentsOf, endpoint, json, readBody, say, theStore } from '../../../../../server'

const MOST_BYTES = 1_000_000

export const GET = endpoint(async ({ params }) => json(await commentsOf(theStore(), params['id'] ?? '')))

/** Says something; answers all that was said then. */
export const POST = endpoint(async ({ params, request }) => {
  const said = await readBody(request, commentBody, MOST_BYTES)
  const id = params['id'] ?? ''
  await say(theStore(), id, said)
  return json(await commentsOf(theStore(), id), 201)
})
