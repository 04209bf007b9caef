import { asDay, isDay } from '../../../../../core/model'
import { usersPage } from '../../../../../standins/staffDirectory'

const DEFAULT_COUNT = 50
const MOST_COUNT = 200

/** The simulated staff directory: SCIM 2.0 users in pages (RFC 7644, section 3.4.2.4), as of today or of `day`. */
export const GET = ({ url }: { url: URL }): Response => {
  const number = (name: string, otherwise: number) => {
    const text = url.searchParams.get(name)
    return text !== null && /^\d{1,6}$/.test(text) ? Number(text) : otherwise
  }
  const asked = url.searchParams.get('day')
  const day = isDay(asked) ? asked : asDay(new Date().toISOString().slice(0, 10))
  const count = Math.min(MOST_COUNT, number('count', DEFAULT_COUNT))
  const body = usersPage(day, Math.max(1, number('startIndex', 1)), count)
  return new Response(JSON.stringify(body), { headers: { 'content-type': 'application/scim+json; charset=utf-8' } })
}
