import { wholeOf } from './pictures'
import { rect, text } from './kit'
import { layersOf } from './layers'
import type { Box, Face, Item, Mark, Scene } from './mark'
import type { Role } from './roles'
import { wrap } from './text'
import { colourOf, dressed, FONTS, type Theme } from './theme'

const ROLES = new Set(['fill', 'stroke'])

/** Attributes with roles turned into colours and font lists, as SVG names them. */
export function painted(mark: Mark, theme: Theme): Record<string, string | number> {
  const attrs: Record<string, string | number> = {}
  for (const [name, value] of Object.entries(dressed(mark, theme).attrs) as [string, string | number][]) {
    if (ROLES.has(name)) attrs[name] = colourOf(theme, value as Role)
    else if (name === 'font-family') attrs[name] = FONTS[value as Face]
    else attrs[name] = value
  }
  return attrs
}

export interface SvgOptions {
  readonly theme: Theme
  /** Width in px of the result; the height follows unless it is said. Absent: as large as the scene. */
  readonly width?: number
  readonly height?: number
  /** What stays free at each edge, in px of the result. */
  readonly border?: number
  readonly transparent?: boolean
  readonly title: string
  readonly caption?: string
  readonly alt?: string
  /** The address of the workspace, for links to its views. */
  readonly base?: string
  /** CSS put into the file, for example a font that travels with it. */
  readonly style?: string
  /** A text within the file, under a name, as metadata. */
  readonly carried?: { readonly name: string; readonly text: string }
  /** Addresses of the assets that the scene names. An image without one is left out: what stands beneath it shows. */
  readonly images?: ReadonlyMap<string, string>
  /** By which a part is known in the file, and how it is called there. */
  readonly markOf?: (item: Item) => { readonly part: string; readonly name: string } | undefined
}

/** The size of a caption’s text, and the room it takes, in px. */
const CAPTION = 12
const CAPTION_HEIGHT = 28

/** The pixel size an SVG of this scene has. */
export function svgSize(
  scene: Scene,
  { width, height, border = 0, caption }: Pick<SvgOptions, 'width' | 'height' | 'border' | 'caption'>,
): { width: number; height: number } {
  const box = withCaption(scene, caption)
  const wide = Math.round(width ?? box.width + 2 * border)
  const scale = Math.max(1, wide - 2 * border) / box.width
  return { width: wide, height: height ?? Math.max(1, Math.round(box.height * scale + 2 * border)) }
}

/** The part of the scene’s plane that a picture of a size shows: the scene in its middle, as large as its border lets it. */
function windowOf(box: Box, width: number, height: number, border: number): Box {
  const scale = Math.min(Math.max(1, width - 2 * border) / box.width, Math.max(1, height - 2 * border) / box.height)
  const [wide, high] = [width / scale, height / scale]
  return { x: box.x - (wide - box.width) / 2, y: box.y - (high - box.height) / 2, width: wide, height: high }
}

/** The scene as the text of an SVG 1.1 file. Text and attributes are escaped; nothing in the facts can become markup. O(marks). */
export function toSvg(scene: Scene, options: SvgOptions): string {
  const { width, height } = svgSize(scene, options)
  const whole = withCaption(scene, options.caption)
  const isPlain = options.height === undefined && !options.border
  const box = isPlain ? whole : windowOf(whole, width, height, options.border ?? 0)
  const out: string[] = [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="${round(box.x)} ${round(box.y)} ${round(box.width)} ${round(box.height)}" role="img">`,
    `<title>${escape(options.title)}</title>`,
    `<desc>${escape(options.alt || scene.summary)}</desc>`,
  ]
  if (options.carried) {
    const { name, text } = options.carried
    out.push(`<metadata><facts xmlns="${escape(name)}">${escape(text)}</facts></metadata>`)
  }
  if (options.style) out.push(`<style>${options.style}</style>`)
  if (!options.transparent) {
    out.push(element(rect(box, { fill: 'sheet' }), options))
  }
  for (const { marks, x, y, item } of layersOf(scene)) {
    const address = item?.link === undefined ? undefined : addressOf(item.link, options.base)
    if (address !== undefined) out.push(`<a href="${escape(address)}">`)
    const known = item && options.markOf?.(item)
    const named = known ? attributes({ 'data-part': known.part, 'data-name': known.name }) : ''
    if (item) out.push(`<g${named} transform="translate(${round(x)} ${round(y)})">`)
    for (const mark of marks) out.push(element(mark, options))
    if (item) out.push('</g>')
    if (address !== undefined) out.push('</a>')
  }
  if (options.caption) out.push(element(captionMark(scene, options.caption), options))
  out.push('</svg>')
  return out.join('\n') + '\n'
}

/** A link within the workspace leads there where it is known at which address that is. */
const addressOf = (link: string, base: string | undefined): string | undefined =>
  link.startsWith('#') ? base && base + link : link

/** A caption stands beneath the picture, and within its paper where it is on one. */
export const captionRoom = ({ paper }: Scene, caption: string | undefined): number =>
  caption && !paper ? CAPTION_HEIGHT : 0

const withCaption = (scene: Scene, caption: string | undefined): Box => ({
  ...scene.bounds,
  height: scene.bounds.height + captionRoom(scene, caption),
})

export function captionMark({ bounds: { x, y, width, height }, paper }: Scene, caption: string): Mark {
  const scale = paper?.scale ?? 1
  const [size, edge] = [CAPTION / scale, 16 / scale]
  const [words = ''] = wrap(caption, width - 2 * edge, size, 'text400', 1)
  return text(x + edge, y + height + (paper ? -edge * 0.75 : 10), words, {
    fill: 'ink-quiet',
    'font-size': size,
  })
}

type Painting = Pick<SvgOptions, 'theme' | 'images'>

function element(mark: Mark, painting: Painting): string {
  if (mark.tag === 'image') {
    const address = painting.images?.get(mark.attrs.href)
    return address === undefined ? '' : imageIn(mark.attrs, address)
  }
  const attrs = attributes(painted(mark, painting.theme))
  if (!('children' in mark)) return `<${mark.tag}${attrs}/>`
  const inner = mark.children.map((child) => (typeof child === 'string' ? escape(child) : element(child, painting)))
  return `<${mark.tag}${attrs}>${inner.join('')}</${mark.tag}>`
}

/** A picture in its box; one that is cropped in a drawing of its own, beyond which nothing is seen. */
function imageIn({ x, y, width, height, seen }: Extract<Mark, { tag: 'image' }>['attrs'], href: string): string {
  const box = { x, y, width, height }
  if (!seen) return `<image${attributes({ ...box, href })}/>`
  const inner = attributes({ ...wholeOf({ x: 0, y: 0, width, height }, seen), ...CROPPED, href })
  return `<svg${attributes(box)}><image${inner}/></svg>`
}
/** Whatever shape a picture turns out to have, it is not stretched. */
export const CROPPED = { preserveAspectRatio: 'xMidYMid slice' } as const

const attributes = (all: Readonly<Record<string, string | number>>): string =>
  Object.entries(all)
    .map(([name, value]) => ` ${name}="${typeof value === 'number' ? round(value) : escape(value)}"`)
    .join('')
const round = (value: number): number => Math.round(value * 100) / 100

// XML 1.0 allows no control characters but tab and line ends, and no lone surrogates, even escaped.
const FORBIDDEN =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g

export const escape = (text: string): string =>
  text
    .replace(FORBIDDEN, '\ufffd')
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;')
