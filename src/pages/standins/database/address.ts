import { asDay } from '../../../core/model'
import { dayQuery, endpoint, json, readBody, standinDatabase, theStore } from '../../../server'
import { bookingStatements } from '../../../standins/bookingDatabase'

const MOST_BYTES = 1000

/** Lays the made-up database as it stands today or on a day, and says where it is. */
export const POST = endpoint(async ({ request }) => {
  const { day } = await readBody(request, dayQuery, MOST_BYTES)
  return json(await standinDatabase(theStore(), asDay(day ?? new Date().toISOString().slice(0, 10)), bookingStatements))
})
