import { endpoint, NotFound, samples } from '../../../../server'

/** `NOTATION/STARTER.svg`: a starter as it is drawn today, for the first page. */
export const GET = endpoint(async ({ params }) => {
  const [, starter] = /^(.+)\.svg$/.exec(params['starter'] ?? '') ?? []
  const { starters } = await samples()
  const found = starters.find(({ path }) => path === `${params['notation'] ?? ''}/${starter ?? ''}`)
  if (!found) throw new NotFound('There is no such starter.')
  return new Response(found.svg, {
    headers: { 'content-type': 'image/svg+xml; charset=utf-8', 'cache-control': 'max-age=3600' },
  })
})
