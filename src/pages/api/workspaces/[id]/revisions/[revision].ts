import { writeWorkspace } from '../../../../../core/file'
import { endpoint, json, modelAt, NotFound, theStore } from '../../../../../server'

/** The facts as they were at a revision; 0 is the workspace as it began. */
export const GET = endpoint(async ({ params }) => {
  const { id = '', revision = '' } = params
  if (!/^\d{1,15}$/.test(revision)) throw new NotFound('A revision is a number.')
  return json({
    revision: Number(revision),
    workspace: writeWorkspace(await modelAt(theStore(), id, Number(revision))),
  })
})
