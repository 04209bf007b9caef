import {
  changeBody,
  changesSince,
  checked,
  commitChange,
  endpoint,
  json,
  loadWorkspace,
  readBody,
  sinceQuery,
  theStore,
} from '../../../../server'

const MOST_BYTES = 64_000_000
const MOST_CHANGES = 1000

export const GET = endpoint(async ({ params, url }) => {
  const { since } = checked(Object.fromEntries(url.searchParams), sinceQuery)
  const { id, revision } = await loadWorkspace(theStore(), params['id'] ?? '')
  return json({ revision, changes: await changesSince(theStore(), id, Number(since ?? 0), MOST_CHANGES) })
})

export const POST = endpoint(async ({ params, request }) => {
  const sent = await readBody(request, changeBody, MOST_BYTES)
  return json(await commitChange(theStore(), params['id'] ?? '', sent))
})
