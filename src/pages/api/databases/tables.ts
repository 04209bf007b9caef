import { databaseBody, databaseTables, endpoint, json, readBody } from '../../../server'

const MOST_BYTES = 10_000

/** The tables of a MariaDB somewhere. What says where it is, and by whom it is asked, is used for that alone. */
export const POST = endpoint(async ({ request }) =>
  json(await databaseTables(await readBody(request, databaseBody, MOST_BYTES))),
)
