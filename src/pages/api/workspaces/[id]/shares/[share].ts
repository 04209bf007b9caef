import { endpoint, json, theStore, withdrawShare } from '../../../../../server'

export const DELETE = endpoint(async ({ params }) => {
  await withdrawShare(theStore(), params['id'] ?? '', params['share'] ?? '')
  return json({ withdrawn: true })
})
