import { writeWorkspace } from '../../../../core/file'
import { endpoint, json, loadWorkspace, removeWorkspace, theStore } from '../../../../server'

export const GET = endpoint(async ({ params }) => {
  const { id, revision, model } = await loadWorkspace(theStore(), params['id'] ?? '')
  return json({ id, revision, workspace: writeWorkspace(model) })
})

export const DELETE = endpoint(async ({ params }) => {
  await removeWorkspace(theStore(), params['id'] ?? '')
  return json({ removed: true })
})
