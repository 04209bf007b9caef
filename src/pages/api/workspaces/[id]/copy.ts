import { copyWorkspace, endpoint, json, theStore } from '../../../../server'

export const POST = endpoint(async ({ params }) =>
  json({ id: await copyWorkspace(theStore(), params['id'] ?? '') }, 201),
)
