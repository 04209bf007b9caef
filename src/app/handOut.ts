import { viewsInOrder } from '../core/file'
import { carryingPng, CARRIED } from '../core/file/carried'
import { withDensity } from '../core/file/raster'
import type { View } from '../core/model'
import {
  captionRoom,
  escape,
  limited,
  limitsOf,
  NoRoomError,
  pageOf,
  paperOf,
  pixelsOf,
  sheetsOf,
  themeFor,
  toSvg,
  type Extent,
  type LIMITS,
  type PixelSize,
  type PrintWish,
  type Scene,
  type Sheet,
} from '../core/scene'
import { addressesOf, dataUrl, imagesOf, missingIn, pixelBlob, save, slug, styleFor } from './picture'
import { carriedOf } from './store/asking'
import { useWorkspace } from './store/state'
import { chaptersOf } from './views'
import { ApiError, fetchFile } from './sync/api'

export const FORMATS = ['png', 'jpg', 'webp', 'svg', 'pdf', 'html', 'docx', 'odt'] as const
export type Format = (typeof FORMATS)[number]
export const FORMAT_WORDS: Readonly<Record<Format, readonly [name: string, good: string]>> = {
  png: ['PNG', 'Pixels, sharp edges: for slides, pages and documents'],
  jpg: ['JPEG', 'Pixels, small files: for photos behind a picture, and where nothing else is taken'],
  webp: ['WebP', 'Pixels, the smallest files: for web pages'],
  svg: ['SVG', 'Lines, sharp at any size: for web pages and drawing programs'],
  pdf: ['PDF', 'For paper and reading: searched by word, links lead on'],
  html: ['HTML', 'A page that stands alone: the picture, its words, its registers'],
  docx: ['DOCX', 'For text programs: the picture, its caption, its registers'],
  odt: ['ODT', 'For text programs, in the open format: the same'],
}

/** How somebody wants a picture, as it is typed and ticked. */
export interface Choices {
  readonly format: Format
  readonly sized: 'width' | 'megapixels' | 'paper'
  readonly width: string
  readonly megapixels: string
  /** `none`: as the view is. */
  readonly paper: string
  readonly across: boolean
  readonly dpi: string
  readonly border: string
  readonly quality: string
  readonly transparent: boolean
  readonly letters: 'named' | 'inside' | 'outlines'
  readonly cut: boolean
  readonly scale: string
  readonly overlap: string
  /** Of the picture in a text, in mm. */
  readonly wide: string
  readonly tables: boolean
  readonly facts: boolean
  readonly apart: boolean
  readonly views: 'this' | 'chapter' | 'all'
}

const USUAL: Choices = {
  format: 'png',
  sized: 'width',
  width: '1600',
  megapixels: '1',
  paper: 'none',
  across: true,
  dpi: '300',
  border: '0',
  quality: '85',
  transparent: false,
  letters: 'named',
  cut: false,
  scale: '100',
  overlap: '10',
  wide: '160',
  tables: true,
  facts: false,
  apart: true,
  views: 'this',
}
const KEY = 'skivel:hand-out'

/** What was chosen last, as far as it is a choice still. */
export function remembered(): Choices {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}')
    if (typeof kept !== 'object' || kept === null) return USUAL
    const own = Object.entries(kept).filter(([name, value]) => typeof value === typeof USUAL[name as keyof Choices])
    const all = { ...USUAL, ...Object.fromEntries(own) } as Choices
    const isOne = <T>(list: readonly T[], value: unknown) => list.some((one) => one === value)
    const isKnown =
      isOne(FORMATS, all.format) &&
      isOne(['width', 'megapixels', 'paper'], all.sized) &&
      isOne(['named', 'inside', 'outlines'], all.letters) &&
      isOne(['this', 'chapter', 'all'], all.views)
    return isKnown && (all.paper === 'none' || paperOf({ paper: all.paper })) ? all : USUAL
  } catch {
    return USUAL
  }
}
export const remember = (choices: Choices): void => localStorage.setItem(KEY, JSON.stringify(choices))

export const isPixels = ({ format }: Choices): boolean => format === 'png' || format === 'jpg' || format === 'webp'
/** A picture within a text. */
export const isText = ({ format }: Choices): boolean => format === 'html' || format === 'docx' || format === 'odt'
/** Whether a paper is chosen for it: of pixels as a size, of a document as its sheets. */
export const isOnPaper = (choices: Choices): boolean =>
  (isPixels(choices) && choices.sized === 'paper') || (choices.format === 'pdf' && choices.paper !== 'none')

/** The numbers that count for a choice. */
function asked(choices: Choices): readonly (keyof typeof LIMITS)[] {
  const { format, sized, cut } = choices
  if (format === 'pdf') return ['border', ...(cut ? (['scale', 'overlap'] as const) : [])]
  if (format === 'svg') return ['width', 'border']
  if (isText(choices)) return format === 'html' ? [] : ['wide']
  const size = sized === 'paper' ? 'dpi' : sized
  return [size, 'border', ...(format === 'png' ? [] : (['quality'] as const))]
}

/** The first number that is none, in words. */
export function faultIn(choices: Choices): { readonly of: keyof typeof LIMITS; readonly words: string } | undefined {
  const of = asked(choices).find((name) => limited(name, choices[name]) === undefined)
  return of && { of, words: `${WORDS[of]} ${limitsOf(of)}.` }
}

const WORDS: Readonly<Record<keyof typeof LIMITS, string>> = {
  width: 'A width is',
  megapixels: 'A size is',
  dpi: 'A print has',
  border: 'A border is',
  quality: 'A quality is',
  scale: 'A scale is',
  overlap: 'Sheets have in common',
  wide: 'A picture in a text is',
}

const numberOf = (choices: Choices, name: keyof typeof LIMITS): number => limited(name, choices[name]) ?? 0

/** The look that the view is drawn in: on the paper that is chosen, or without one. */
export function lookFor({ look }: View, choices: Choices): View['look'] {
  const { paper: _paper, across: _across, ...bare } = look
  if (choices.format === 'pdf' && choices.cut) return bare
  if (!isOnPaper(choices)) return look
  return { ...bare, paper: paperNamed(choices), ...(choices.across ? { across: true } : {}) }
}

/** Pixels on a paper have one. */
const paperNamed = ({ paper }: Choices): string => (paper === 'none' ? 'A4' : paper)

function extentFor(choices: Choices): Extent {
  if (isText(choices)) return {}
  const border = numberOf(choices, 'border')
  if (choices.format === 'svg' || choices.sized === 'width') return { width: numberOf(choices, 'width'), border }
  if (choices.sized === 'megapixels') return { megapixels: numberOf(choices, 'megapixels'), border }
  const paper = paperOf({ paper: paperNamed(choices), across: choices.across })
  return { ...(paper ? { paper } : {}), dpi: numberOf(choices, 'dpi'), border }
}

function printFor(choices: Choices): PrintWish {
  const paper =
    choices.paper === 'none' && !choices.cut ? undefined : { paper: paperNamed(choices), across: choices.across }
  const read = paper && paperOf(paper)
  return {
    ...(read ? { paper: read } : {}),
    ...(choices.cut
      ? { tiled: { scale: numberOf(choices, 'scale') / 100, overlap: numberOf(choices, 'overlap') } }
      : {}),
    border: numberOf(choices, 'border'),
  }
}

/** How large what is chosen becomes: in pixels, or on sheets. */
export type Measured = { readonly pixels: PixelSize } | { readonly sheets: readonly Sheet[] }

/** How large what is chosen becomes of the scene, or why it has no room. O(sheets) */
export function measured(scene: Scene, view: View, choices: Choices): Measured | string {
  try {
    return choices.format === 'pdf'
      ? { sheets: sheetsOf(scene, view.title, printFor(choices), captionRoom(scene, view.caption)) }
      : { pixels: pixelsOf(scene, extentFor(choices), view.caption) }
  } catch (error) {
    if (error instanceof NoRoomError) return error.message
    throw error
  }
}

/** The views that a document holds. */
export function viewsOf(view: View, choices: Pick<Choices, 'format' | 'views'>): readonly View[] {
  const all = viewsInOrder(useWorkspace.getState().model)
  if (choices.format !== 'pdf' || choices.views === 'this') return [view]
  if (choices.views === 'all') return all
  return chaptersOf(all).find(({ views }) => views.some(({ id }) => id === view.id))?.views ?? [view]
}

/** The address at which the server draws the same. */
export function addressOf(view: View, choices: Choices): string {
  const { id, day, compared } = useWorkspace.getState()
  const query = new URLSearchParams({ day })
  const put = (name: string, value: string | undefined) => {
    if (value !== undefined) query.set(name, value)
  }
  put('compare', compared)
  const names = asked(choices).filter((name) => name !== 'border' || choices.border.trim() !== '0')
  for (const name of names) if (!faultIn(choices)) put(name, choices[name].trim())
  if (isOnPaper(choices) || (choices.format === 'pdf' && choices.cut)) {
    put('paper', paperNamed(choices))
    put('across', choices.across ? 'yes' : 'no')
  }
  if (isText(choices)) put('tables', choices.tables ? 'yes' : 'no')
  if (choices.transparent && choices.format !== 'jpg' && choices.format !== 'pdf' && !isText(choices))
    put('transparent', 'yes')
  if (choices.format === 'svg' && choices.letters !== 'named') put('letters', choices.letters)
  if (choices.facts && carries(choices)) put('facts', 'yes')
  const others = viewsOf(view, choices)
  const [first = view, ...rest] = others
  if (choices.views === 'all' && choices.format === 'pdf') put('with', 'all')
  else if (rest.length > 0) put('with', rest.map((one) => one.id).join(','))
  return `/api/workspaces/${id}/views/${encodeURIComponent(first.id)}.${choices.format}?${query.toString()}`
}

/** Formats that facts can travel in. */
export const carries = ({ format }: Choices): boolean => format === 'png' || format === 'svg' || format === 'pdf'

/** What is drawn where the page's own fonts are not enough. */
const isServers = (choices: Choices): boolean => {
  const { format, letters } = choices
  return format === 'pdf' || isText(choices) || (format === 'svg' && letters === 'outlines')
}

const SAVED_MS = 15_000

/** Waits until all that was done here is kept, since the server draws what it knows. @throws Error in words */
async function untilSaved(): Promise<void> {
  const until = Date.now() + SAVED_MS
  while (useWorkspace.getState().standing !== 'saved') {
    if (Date.now() > until)
      throw new Error('What you did last is not saved yet, and the server draws what it knows. Try again.')
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
}

/** Makes what is chosen and hands it to the browser's downloads. Answers in words what was saved. @throws Error in words */
export async function handOut(view: View, scene: Scene, choices: Choices): Promise<string> {
  const { day, against } = useWorkspace.getState()
  const nameOf = (more = '') =>
    `${slug(viewsOf(view, choices).length > 1 ? useWorkspace.getState().model.name : view.title)}${more}-${day}.${choices.format}`
  if (isServers(choices)) {
    if (against)
      throw new Error('A comparison with an earlier state is handed out as PNG, JPEG, WebP or SVG with named letters.')
    await untilSaved()
    try {
      const { file, missing } = await fetchFile(addressOf(view, choices))
      save(file, nameOf())
      return savedAs(nameOf(), missing)
    } catch (error) {
      throw error instanceof ApiError && error.status === 0
        ? new Error(
            'The server does not answer, and this is drawn there. PNG and SVG with named letters are drawn here.',
          )
        : error
    }
  }
  const pages = choices.apart && scene.pages ? scene.pages.map((page) => pageOf(scene, page)) : [scene]
  const names: string[] = []
  const missing = new Set<string>()
  for (const [index, page] of pages.entries()) {
    const name = nameOf(pages.length > 1 ? `-${index + 1}` : '')
    save(await pictureOf(view, page, choices), name)
    for (const letter of await missingIn(page, view.caption)) missing.add(letter)
    names.push(name)
  }
  const [name = ''] = names
  return `${names.length > 1 ? `${names.length} pages are` : `${name} is`} saved.${elsewhere([...missing], choices)}`
}

const MOST_LETTERS = 12

/** Of a picture that this browser has drawn: whose fonts have the letters that ours lack. */
function elsewhere(missing: readonly string[], { format, letters }: Choices): string {
  if (missing.length === 0) return ''
  const some = `${missing.slice(0, MOST_LETTERS).join(' ')}${missing.length > MOST_LETTERS ? ' …' : ''}`
  return format !== 'svg'
    ? ` The fonts have no ${some}: this machine’s own stand there, if it has one.`
    : letters === 'inside'
      ? ` The fonts have no ${some}: this is seen where others have it.`
      : ''
}

/** That a file is saved, and which of its letters no font has. */
const savedAs = (name: string, missing: string): string =>
  `${name} is saved.${missing === '' ? '' : ` The fonts have no ${missing}: this cannot be seen there.`}`

/** A picture of a scene, drawn by the page. @throws Error in words */
export async function pictureOf(view: View, scene: Scene, choices: Choices): Promise<Blob> {
  const { id, model } = useWorkspace.getState()
  const size = pixelsOf(scene, extentFor(choices), view.caption)
  const facts = choices.facts && carries(choices) ? await factsOf(view) : undefined
  const options = {
    theme: themeFor(model.settings, view.look),
    title: view.title,
    base: `${window.location.origin}/w/${id}`,
    ...size,
    transparent: choices.transparent && choices.format !== 'jpg',
    ...(view.caption === undefined ? {} : { caption: view.caption }),
    ...(view.alt === undefined ? {} : { alt: view.alt }),
  }
  if (choices.format === 'svg') {
    const style = choices.letters === 'inside' ? { style: await styleFor(scene, view.caption) } : {}
    const carried = facts === undefined ? {} : { carried: { name: CARRIED, text: facts } }
    const svg = toSvg(scene, { ...options, ...style, ...carried, images: await imagesOf(id, scene) })
    return new Blob([svg], { type: 'image/svg+xml' })
  }
  const { format } = choices
  if (format !== 'png' && format !== 'jpg' && format !== 'webp') throw new Error('A document is drawn by the server.')
  const quality = choices.format === 'png' ? undefined : numberOf(choices, 'quality') / 100
  const blob = await pixelBlob(id, scene, options, format, quality)
  const isPlain = size.dpi === undefined && facts === undefined
  if (isPlain || choices.format === 'webp') return blob
  const bytes = new Uint8Array(await blob.arrayBuffer())
  const dense = size.dpi === undefined ? bytes : withDensity(bytes, size.dpi)
  const whole = facts === undefined ? dense : carryingPng(dense, facts)
  return new Blob([new Uint8Array(whole)], { type: blob.type })
}

/**
 * Puts a picture on the clipboard as PNG, as SVG where the browser takes it, and as HTML with its words and its caption: what is pasted into takes what it
 * can. @throws Error in words
 */
export async function copyPicture(view: View, scene: Scene, choices: Choices): Promise<void> {
  const plain: Choices = { ...choices, facts: false }
  const png = await pictureOf(view, scene, { ...plain, format: 'png' })
  const svg = await pictureOf(view, scene, { ...plain, format: 'svg', letters: 'named' })
  const words = [view.alt ?? scene.summary, view.caption ?? ''].map(escape)
  const figure = `<figure><img src="${await dataUrl(png)}" alt="${words[0]}">${words[1] === '' ? '' : `<figcaption>${words[1]}</figcaption>`}</figure>`
  const parts: Record<string, Blob> = { 'image/png': png, 'text/html': new Blob([figure], { type: 'text/html' }) }
  if (ClipboardItem.supports('image/svg+xml')) parts['image/svg+xml'] = svg
  try {
    await navigator.clipboard.write([new ClipboardItem(parts)])
  } catch (error) {
    throw new Error('The browser does not let pictures be copied here. Save it as a file.', { cause: error })
  }
}

/** The facts that a picture of a view carries, with their pictures. @throws Error in words */
async function factsOf(view: View): Promise<string> {
  const bare = await carriedOf([view.id])
  if (!bare) throw new Error('It is not ready yet. Try again.')
  if (bare.pictures.length === 0) return bare.text
  const { id } = useWorkspace.getState()
  const whole = await carriedOf([view.id], Object.fromEntries(await addressesOf(id, bare.pictures)))
  return whole?.text ?? bare.text
}

/** The workspace as a book. Answers in words what was saved. @throws Error in words */
export async function makeBook(format: 'pdf' | 'html', since: string): Promise<string> {
  const { id, day, model } = useWorkspace.getState()
  await untilSaved()
  const query = new URLSearchParams({ day, ...(since === '' ? {} : { since }) })
  const name = `${slug(model.name)}-${day}.${format}`
  const { file, missing } = await fetchFile(`/api/workspaces/${id}/book.${format}?${query.toString()}`)
  save(file, name)
  return savedAs(name, missing)
}
