import { endpoint, json, theStore, withdrawReader } from '../../../../../server'

export const DELETE = endpoint(async ({ params }) => {
  await withdrawReader(theStore(), params['id'] ?? '', params['reader'] ?? '')
  return json({ withdrawn: true })
})
