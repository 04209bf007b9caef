import { asDay } from '../../../../../core/model'
import {
  assetAddresses,
  BadRequest,
  checked,
  endpoint,
  fileHeaders,
  FORMATS,
  loadWorkspace,
  NotFound,
  pictureOf,
  pictureQuery,
  theStore,
} from '../../../../../server'

const DEFAULT_WIDTH = 1600
const MOST_VIEWS = 200

const numberOf = (text: string | undefined): number | undefined => (text === undefined ? undefined : Number(text))
const flagOf = (text: string | undefined): boolean | undefined => (text === undefined ? undefined : text === 'yes')

/** `VIEW.svg`, `VIEW.png?width=1600&day=2026-11-24`, `VIEW.pdf?paper=A3&across=yes&with=all`: a view, drawn from the facts as they are now. */
export const GET = endpoint(async ({ params, url }) => {
  const [, view, ending = ''] = /^(.+)\.(\w+)$/.exec(params['picture'] ?? '') ?? []
  const format = FORMATS.find((one) => one === ending.replace('jpeg', 'jpg'))
  if (view === undefined || !format) throw new NotFound(`A picture ends in .${FORMATS.join(', .')}.`)
  const query = checked(Object.fromEntries(url.searchParams), pictureQuery)
  const snapshot = await loadWorkspace(theStore(), params['id'] ?? '')
  const more = (query.with ?? '').split(',').filter(Boolean)
  if (more.length >= MOST_VIEWS) {
    const message = `A document holds ${MOST_VIEWS} views that are named one by one; ask for all of them with “with=all”.`
    throw new BadRequest(message, [{ path: 'with', message }])
  }
  const isSized = query.width ?? query.megapixels ?? query.paper ?? query.dpi
  const scale = numberOf(query.scale)
  const { content, missing } = await pictureOf(snapshot, {
    format,
    views: query.with === 'all' ? 'all' : [view, ...more],
    day: asDay(query.day ?? new Date().toISOString().slice(0, 10)),
    compare: query.compare === undefined ? undefined : asDay(query.compare),
    width: numberOf(query.width) ?? (isSized === undefined && format !== 'svg' ? DEFAULT_WIDTH : undefined),
    megapixels: numberOf(query.megapixels),
    paper: query.paper,
    across: flagOf(query.across),
    dpi: numberOf(query.dpi),
    border: numberOf(query.border),
    quality: numberOf(query.quality),
    transparent: flagOf(query.transparent),
    letters: query.letters,
    scale: scale === undefined ? undefined : scale / 100,
    overlap: numberOf(query.overlap),
    wide: numberOf(query.wide),
    tables: flagOf(query.tables),
    facts: flagOf(query.facts),
    images: await assetAddresses(theStore(), snapshot.id),
    base: new URL(`/w/${snapshot.id}`, url).href,
  })
  return new Response(typeof content === 'string' ? content : new Uint8Array(content), {
    headers: fileHeaders(format, missing),
  })
})
