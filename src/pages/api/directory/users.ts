import { directoryUsers, endpoint, json } from '../../../server'

/** Everyone in the staff directory, as a table. */
export const GET = endpoint(async () => json(await directoryUsers()))
