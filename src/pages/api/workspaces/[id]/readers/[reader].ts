import {
  endpoint,
  json,
  letComment,
  readBody,
  readerCommentsBody,
  theStore,
  withdrawReader,
} from '../../../../../server'

/** Lets those who read at an address say something, or no longer. */
export const PATCH = endpoint(async ({ params, request }) => {
  const { comments } = await readBody(request, readerCommentsBody, 1000)
  await letComment(theStore(), params['id'] ?? '', params['reader'] ?? '', comments)
  return json({ comments })
})

export const DELETE = endpoint(async ({ params }) => {
  await withdrawReader(theStore(), params['id'] ?? '', params['reader'] ?? '')
  return json({ withdrawn: true })
})
