import { endpoint, json, theStore } from '../../server'

export const GET = endpoint(async () => {
  await theStore().database.rows('SELECT 1')
  return json({ well: true })
})
