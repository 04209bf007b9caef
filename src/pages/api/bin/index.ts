import { binned, endpoint, json, theStore } from '../../../server'

export const GET = endpoint(async () => json({ workspaces: await binned(theStore()) }))
