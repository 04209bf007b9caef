import { asDay, isDay } from '../../../core/model'
import { neighbourTables } from '../../../standins/neighbours'

/** The simulated neighbour tables (IEEE 802.1AB), as of today or of `day`. */
export const GET = ({ url }: { url: URL }): Response => {
  const asked = url.searchParams.get('day')
  const day = isDay(asked) ? asked : asDay(new Date().toISOString().slice(0, 10))
  return new Response(JSON.stringify(neighbourTables(day)), {
    headers: { 'content-type': 'application/json; charset=utf-8' },
  })
}
