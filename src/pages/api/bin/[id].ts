import { destroyWorkspace, endpoint, json, restoreWorkspace, theStore } from '../../../server'

/** Takes a workspace out of the bin. */
export const POST = endpoint(async ({ params }) => {
  await restoreWorkspace(theStore(), params['id'] ?? '')
  return json({ restored: true })
})

export const DELETE = endpoint(async ({ params }) => {
  await destroyWorkspace(theStore(), params['id'] ?? '')
  return json({ removed: true })
})
