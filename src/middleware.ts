import { defineMiddleware } from 'astro:middleware'
import { answerTo, askedBy } from './server'
import { hasStandins } from './standins/isOpen'

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS'])

/**
 * Refuses what another site's page sends, JSON bodies included. By which names the server may be asked, and the headers that keep its answers to
 * itself, are the business of `scripts/serve.mjs`, which serves files too.
 * A request without an Origin does not come from a browser's page.
 */
export const onRequest = defineMiddleware(async ({ request, url, locals }, next) => {
  const origin = request.headers.get('origin')
  const host = request.headers.get('host') ?? url.host
  if (!SAFE.has(request.method) && origin !== null && !sameHost(origin, host))
    return new Response(
      JSON.stringify({ error: { code: 'forbidden', message: 'This request comes from another site.' } }),
      { status: 403, headers: { 'content-type': 'application/json; charset=utf-8' } },
    )
  if (STANDINS.test(url.pathname) && !hasStandins())
    return new Response(
      JSON.stringify({ error: { code: 'not-found', message: 'This server does without stand-ins.' } }),
      { status: 404, headers: { 'content-type': 'application/json; charset=utf-8' } },
    )
  // Whatever is done for this request knows for whom: who may only read waits behind those who work, who has gone waits no more.
  const { address = '', left } = locals
  try {
    return await askedBy({ address, isReader: READS.test(url.pathname), signal: left }, next)
  } catch (error) {
    return answerTo(error)
  }
})

/** What is simulated. */
const STANDINS = /^\/standins\//
/** What is open to those who may only read. */
const READS = /^\/(?:read|feeds)\//

function sameHost(origin: string, host: string): boolean {
  try {
    return new URL(origin).host === host
  } catch {
    // "null" and other texts that are no address: not this site.
    return false
  }
}
