import { asDay } from '../../../core/model'
import { commentsAt, endpoint, json, readBody, readerCommentBody, sayAt, theStore } from '../../../server'

const today = () => asDay(new Date().toISOString().slice(0, 10))

/** What was said at an address for readers. */
export const GET = endpoint(async ({ params }) =>
  json({ threads: await commentsAt(theStore(), params['secret'] ?? '', today()) }),
)

/** Says something there: all that somebody who may only read can do. */
export const POST = endpoint(async ({ params, request }) => {
  const secret = params['secret'] ?? ''
  const said = await readBody(request, readerCommentBody, 20_000)
  await sayAt(theStore(), secret, said, today())
  return json({ threads: await commentsAt(theStore(), secret, today()) }, 201)
})
