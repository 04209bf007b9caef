import { asDay } from '../../../core/model'
import { checked, endpoint, json, listQuery, standinDatabase, theStore } from '../../../server'
import { bookingStatements } from '../../../standins/bookingDatabase'

/** Where the made-up database is, laid as it stands today or on `day`. */
export const GET = endpoint(async ({ url }) => {
  const { day } = checked(Object.fromEntries(url.searchParams), listQuery)
  return json(await standinDatabase(theStore(), asDay(day ?? new Date().toISOString().slice(0, 10)), bookingStatements))
})
