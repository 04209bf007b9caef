import { defineMiddleware } from 'astro:middleware'
import { asDay } from './core/model'
import { answerTo, askedBy, NotFound, sentPage, theStore } from './server'
import { hasStandins } from './standins/isOpen'

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS'])
/** What is simulated. */
const STANDINS = /^\/standins\//
/** What is open to those who may only read. */
const READS = /^\/(?:read|feeds)\//
const PAGE_TO_READ = /^\/read\/([\w-]{43})$/

/**
 * Refuses what another site's page sends, JSON bodies included. By which names the server may be asked, and the headers that keep its answers to
 * itself, are the business of `scripts/serve.mjs`, which serves files too.
 * A request without an Origin does not come from a browser's page.
 */
export const onRequest = defineMiddleware(async ({ request, url, locals }, next) => {
  const origin = request.headers.get('origin')
  const host = request.headers.get('host') ?? url.host
  if (!SAFE.has(request.method) && origin !== null && !sameHost(origin, host))
    return refused(403, 'forbidden', 'This request comes from another site.')
  if (STANDINS.test(url.pathname) && !hasStandins())
    return refused(404, 'not-found', 'This server does without stand-ins.')
  // Whatever is done for this request knows for whom: who may only read waits behind those who work, who has gone waits no more.
  const { address = '', left } = locals
  try {
    return await askedBy({ address, isReader: READS.test(url.pathname), signal: left }, () =>
      pageToRead(request, url, next),
    )
  } catch (error) {
    return answerTo(error)
  }
})

/** A page to read is written and packed once for all who read it; everything else is answered by itself. */
async function pageToRead(request: Request, url: URL, next: () => Promise<Response>): Promise<Response> {
  const [, secret] = PAGE_TO_READ.exec(url.pathname) ?? []
  const takesPacked = /\bgzip\b/.test(request.headers.get('accept-encoding') ?? '')
  if (secret === undefined || request.method !== 'GET' || !takesPacked) return next()
  const today = asDay(new Date().toISOString().slice(0, 10))
  const asked = url.searchParams.get('view') ?? undefined
  try {
    const page = await sentPage(theStore(), secret, asked, today, (who) => askedBy(who, next))
    return new Response(new Uint8Array(page.body), {
      status: page.status,
      headers: { ...page.headers, 'content-encoding': 'gzip', vary: 'accept-encoding' },
    })
  } catch (error) {
    // The page itself says that there is nothing.
    if (error instanceof NotFound) return next()
    throw error
  }
}

const refused = (status: number, code: string, message: string): Response =>
  new Response(JSON.stringify({ error: { code, message } }), {
    status,
    headers: { 'content-type': 'application/json; charset=utf-8' },
  })

function sameHost(origin: string, host: string): boolean {
  try {
    return new URL(origin).host === host
  } catch {
    // "null" and other texts that are no address: not this site.
    return false
  }
}
