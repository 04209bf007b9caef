import { assetOf, endpoint, theStore } from '../../../../../server'

/** An asset never changes: its identity is the digest of its bytes. */
export const GET = endpoint(async ({ params }) => {
  const { mediaType, content } = await assetOf(theStore(), params['id'] ?? '', params['asset'] ?? '')
  return new Response(new Uint8Array(content), {
    headers: { 'content-type': mediaType, 'cache-control': 'private, max-age=31536000, immutable' },
  })
})
