import { asDay } from '../../../../../core/model'
import {
  assetAddresses,
  checked,
  endpoint,
  loadWorkspace,
  NotFound,
  pictureQuery,
  pngOf,
  svgOf,
  theStore,
} from '../../../../../server'

const DEFAULT_WIDTH = 1600

/** `VIEW.svg` and `VIEW.png?width=1600&day=2026-11-24`: a view, drawn from the facts as they are now. */
export const GET = endpoint(async ({ params, url }) => {
  const [, view, format] = /^(.+)\.(svg|png)$/.exec(params['picture'] ?? '') ?? []
  if (view === undefined) throw new NotFound('A picture ends in .svg or .png.')
  const { day, width, transparent } = checked(Object.fromEntries(url.searchParams), pictureQuery)
  const snapshot = await loadWorkspace(theStore(), params['id'] ?? '')
  const images = await assetAddresses(theStore(), snapshot.id)
  const wish = {
    view,
    day: asDay(day ?? new Date().toISOString().slice(0, 10)),
    images,
    base: new URL(`/w/${snapshot.id}`, url).href,
    ...(transparent === 'yes' ? { transparent: true } : {}),
  }
  if (format === 'svg') {
    const svg = await svgOf(snapshot, { ...wish, width: width === undefined ? undefined : Number(width) })
    return new Response(svg, {
      headers: { 'content-type': 'image/svg+xml; charset=utf-8', 'cache-control': 'no-store' },
    })
  }
  const png = await pngOf(snapshot, { ...wish, width: Number(width ?? DEFAULT_WIDTH) })
  return new Response(new Uint8Array(png), { headers: { 'content-type': 'image/png', 'cache-control': 'no-store' } })
})
