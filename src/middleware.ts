import { defineMiddleware } from 'astro:middleware'

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS'])

/**
 * Refuses what another site's page sends, JSON bodies included. By which names the server may be asked, and the headers that keep its answers to
 * itself, are the business of `scripts/serve.mjs`, which serves files too.
 * A request without an Origin does not come from a browser's page.
 */
export const onRequest = defineMiddleware(({ request, url }, next) => {
  const origin = request.headers.get('origin')
  const host = request.headers.get('host') ?? url.host
  if (!SAFE.has(request.method) && origin !== null && !sameHost(origin, host))
    return new Response(
      JSON.stringify({ error: { code: 'forbidden', message: 'This request comes from another site.' } }),
      { status: 403, headers: { 'content-type': 'application/json; charset=utf-8' } },
    )
  return next()
})

function sameHost(origin: string, host: string): boolean {
  try {
    return new URL(origin).host === host
  } catch {
    // "null" and other texts that are no address: not this site.
    return false
  }
}
