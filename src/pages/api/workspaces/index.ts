import { asDay } from '../../../core/model'
import {
  begin,
  checked,
  createWorkspace,
  endpoint,
  json,
  listQuery,
  newWorkspaceBody,
  readBody,
  theStore,
  workspaceList,
} from '../../../server'

const MOST_BYTES = 64_000_000

const dayOr = (day: string | undefined) => asDay(day ?? new Date().toISOString().slice(0, 10))

export const GET = endpoint(async ({ url }) => {
  const { named } = checked(Object.fromEntries(url.searchParams), listQuery)
  return json({ workspaces: await workspaceList(theStore(), named) })
})

export const POST = endpoint(async ({ request }) => {
  const body = await readBody(request, newWorkspaceBody, MOST_BYTES)
  const { model, pictures } = await begin(body, dayOr(body.day))
  const id = await createWorkspace(theStore(), model, pictures)
  return json({ id }, 201)
})
