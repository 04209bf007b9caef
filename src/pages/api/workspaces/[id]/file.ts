import { writeWorkspace } from '../../../../core/file'
import { assetAddresses, endpoint, loadWorkspace, theStore } from '../../../../server'

export const GET = endpoint(async ({ params }) => {
  const { id, model } = await loadWorkspace(theStore(), params['id'] ?? '')
  const pictures = await assetAddresses(theStore(), id)
  const name =
    model.name
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase() || 'workspace'
  return new Response(`${JSON.stringify(writeWorkspace(model, pictures), null, 1)}\n`, {
    headers: {
      'content-type': 'application/json; charset=utf-8',
      'content-disposition': `attachment; filename="workspace.skivel.json"; filename*=UTF-8''${encodeURIComponent(name)}.skivel.json`,
    },
  })
})
