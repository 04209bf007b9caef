import {
  changeBody,
  changesSince,
  checked,
  commitChange,
  endpoint,
  json,
  loadWorkspace,
  readBody,
  refuseAstray,
  sinceQuery,
  theStore,
} from '../../../../server'

const MOST_BYTES = 64_000_000
const MOST_CHANGES = 1000
/** What a page alone knows of itself. */
const WRITER = 'x-skivel-writer'

export const GET = endpoint(async ({ params, url }) => {
  const { since, on } = checked(Object.fromEntries(url.searchParams), sinceQuery)
  const { id, revision } = await loadWorkspace(theStore(), params['id'] ?? '')
  await refuseAstray(theStore(), id, Number(since ?? 0), on)
  return json({ revision, changes: await changesSince(theStore(), id, Number(since ?? 0), MOST_CHANGES) })
})

export const POST = endpoint(async ({ params, request }) => {
  const sent = await readBody(request, changeBody, MOST_BYTES)
  const writer = request.headers.get(WRITER) ?? undefined
  return json(await commitChange(theStore(), params['id'] ?? '', sent, writer))
})
