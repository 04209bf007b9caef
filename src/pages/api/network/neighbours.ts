import { endpoint, json, networkNeighbours } from '../../../server'

/** What the devices of the network say of their neighbours, as a table. */
export const GET = endpoint(async () => json(await networkNeighbours()))
