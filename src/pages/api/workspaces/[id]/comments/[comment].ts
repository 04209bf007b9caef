import {
  commentsOf,
  commentTurnBody,
  endpoint,
  hideSaid,
  json,
  proposalOf,
  readBody,
  settleThread,
  theStore,
} from '../../../../../server'

/** The change that a thread proposes. */
export const GET = endpoint(async ({ params }) =>
  json({ proposal: await proposalOf(theStore(), params['id'] ?? '', params['comment'] ?? '') }),
)

/** Resolves a thread or opens it, takes something away or brings it back; answers all that was said then. */
export const PATCH = endpoint(async ({ params, request }) => {
  const { author, resolved, hidden } = await readBody(request, commentTurnBody, 10_000)
  const [workspace, comment] = [params['id'] ?? '', params['comment'] ?? '']
  if (resolved !== undefined) await settleThread(theStore(), workspace, comment, { resolved, author })
  else await hideSaid(theStore(), workspace, comment, hidden === true)
  return json(await commentsOf(theStore(), workspace))
})
