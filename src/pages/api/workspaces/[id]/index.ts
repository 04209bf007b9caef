import { writeWorkspace } from '../../../../core/file'
import { endpoint, json, loadWorkspace, removeWorkspace, theStore } from '../../../../server'

export const GET = endpoint(async ({ params }) => {
  const { id, revision, lineage, model } = await loadWorkspace(theStore(), params['id'] ?? '')
  return json({ id, revision, lineage, workspace: writeWorkspace(model) })
})

export const DELETE = endpoint(async ({ params }) => {
  await removeWorkspace(theStore(), params['id'] ?? '')
  return json({ removed: true })
})
