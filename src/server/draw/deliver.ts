import { createRequire } from 'node:module'
import { readFileSync } from 'node:fs'
import sharp from 'sharp'
import { photosOf, writeWorkspace } from '../../core/file'
import { CARRIED, CARRIED_FILE, carryingPng } from '../../core/file/carried'
import { withDensity } from '../../core/file/raster'
import type { Day, Model, View } from '../../core/model'
import { drawn, goesAlong, shownPortions, type Against, type Along } from '../../core/notation'
import { registry } from '../../core/notations'
import {
  NoRoomError,
  isSquare,
  paperOf,
  pixelsOf,
  svgSize,
  themeFor,
  toSvg,
  type PrintWish,
  type Scene,
} from '../../core/scene'
import { faceRule, facesIn, lettersIn, squareFaces, type WebFace } from '../../core/scene/faces'
import { missingIn, type MissingLetter } from './fonts'
import { DeliveryError, TEXTS, type Format } from './formats'
import { foreignOutlined, outlined } from './outlines'
import { toPdf } from './pdf'
import { toPng } from './png'
import { bookReport, viewReport, type Report } from './report'
import { docxOf } from './reportDocx'
import { htmlOf } from './reportHtml'
import { odtOf } from './reportOdt'
import { bookPdf } from './reportPdf'

/** How views are handed out as a file. */
export interface Delivery {
  readonly format: Format
  readonly day: Day
  /** The day that it is compared with, or other facts on a day. */
  readonly compare?: Day | undefined
  readonly against?: Against | undefined
  readonly width?: number | undefined
  readonly megapixels?: number | undefined
  /** As a look names it; `none` takes the view's own away. */
  readonly paper?: string | undefined
  readonly across?: boolean | undefined
  readonly dpi?: number | undefined
  /** In mm on a paper and in PDF, else in px. */
  readonly border?: number | undefined
  /** 1 to 100. */
  readonly quality?: number | undefined
  readonly transparent?: boolean | undefined
  /** What becomes of the letters of an SVG. */
  readonly letters?: 'named' | 'inside' | 'outlines' | undefined
  /** PDF in sheets, at this share of its size; strips of so many mm are on both neighbours. */
  readonly scale?: number | undefined
  readonly overlap?: number | undefined
  /** How wide the picture is in a text, in mm; and whether the registers of what it shows stand beneath. */
  readonly wide?: number | undefined
  readonly tables?: boolean | undefined
  /** Whether the facts that are shown go along. */
  readonly facts?: boolean | undefined
  /** The address of the workspace. */
  readonly base?: string | undefined
  /** Pictures of the workspace, as addresses that hold them. */
  readonly images?: ReadonlyMap<string, string> | undefined
  readonly onSheet?: (done: number, all: number) => void
  /** Told what goes along, before anything is written. */
  readonly onFacts?: (along: readonly Along[]) => void
}

export interface Delivered {
  readonly content: string | Uint8Array
  /** What it is, in words: `2480 × 3508 px`, `4 sheets of 595 × 842 pt`. */
  readonly size: string
  readonly items: number
  /** Letters that are not to be seen in it. */
  readonly missing: readonly MissingLetter[]
}

const USUAL = { quality: 85, overlap: 10, wide: 160 } as const

/**
 * Views as a file. Only PDF holds several. Everything else is one picture, of the first.
 * @throws DeliveryError, PngSizeError in words for what cannot be drawn so
 */
export async function delivered(model: Model, views: readonly View[], wish: Delivery): Promise<Delivered> {
  try {
    return await made(model, views, wish)
  } catch (error) {
    if (error instanceof NoRoomError) throw new DeliveryError(error.message)
    throw error
  }
}

async function made(model: Model, views: readonly View[], wish: Delivery): Promise<Delivered> {
  const [view] = views
  if (view && TEXTS.has(wish.format)) return textOf(model, view, wish)
  const parts = views.map((one) => partOf(model, one, wish))
  const [first] = parts
  if (!first) throw new DeliveryError('There is no view to hand out.')
  if (wish.format === 'pdf') return pdfOf(model, parts, wish)
  const { scene, options, view: shown } = first
  const facts = wish.facts ? factsOf(model, [shown], wish) : undefined
  const paper = paperIn(shown)
  if (wish.dpi !== undefined && !paper) throw new DeliveryError('Dots per inch are those of a paper: say which.')
  const extent = {
    ...(paper && (wish.paper !== undefined || wish.dpi !== undefined) ? { paper } : {}),
    ...(wish.dpi === undefined ? {} : { dpi: wish.dpi }),
    ...(wish.megapixels === undefined ? {} : { megapixels: wish.megapixels }),
    ...(wish.width === undefined ? {} : { width: wish.width }),
    ...(wish.border === undefined ? {} : { border: wish.border }),
  }
  if (wish.format === 'svg') {
    const isSized = Object.keys(extent).some((key) => key !== 'border')
    const size = isSized ? pixelsOf(scene, extent, shown.caption) : { border: wish.border ?? 0 }
    const isOutlined = wish.letters === 'outlines'
    const painted = isOutlined ? outlined(scene, shown.caption) : scene
    const style = wish.letters === 'inside' ? styleFor(scene, shown.caption) : undefined
    const { caption, ...others } = options
    const all = {
      ...others,
      ...(isOutlined || caption === undefined ? {} : { caption }),
      ...size,
      ...(style === undefined ? {} : { style }),
      ...(facts === undefined ? {} : { carried: { name: CARRIED, text: facts } }),
    }
    const { width, height } = svgSize(painted, all)
    // Letters that are named are looked for where it is opened.
    const missing = isOutlined || style !== undefined ? missingIn([{ scene, caption: shown.caption }]) : []
    return { content: toSvg(painted, all), size: `${width} × ${height} px`, items: scene.items.length, missing }
  }
  const own = { width: Math.round(scene.bounds.width + 2 * (wish.border ?? 0)), ...extent }
  const size = pixelsOf(scene, own, shown.caption)
  const isOpaque = wish.format === 'jpg' || !wish.transparent
  const { caption: _said, ...bare } = options
  const drawn = foreignOutlined(scene, shown.caption)
  const svg = toSvg(drawn, { ...bare, ...size, ...(isOpaque ? {} : { transparent: true }) })
  const plain = toPng(svg, size.width, size.height)
  const words = `${size.width} × ${size.height} px`
  const told = { size: words, items: scene.items.length, missing: missingIn([{ scene, caption: shown.caption }]) }
  if (wish.format === 'png') {
    const dense = size.dpi === undefined ? plain : withDensity(plain, size.dpi)
    return { content: facts === undefined ? dense : carryingPng(dense, facts), ...told }
  }
  const quality = wish.quality ?? USUAL.quality
  const picture = sharp(plain, { limitInputPixels: false })
  if (wish.format === 'webp') return { content: new Uint8Array(await picture.webp({ quality }).toBuffer()), ...told }
  const jpeg = new Uint8Array(await picture.flatten({ background: '#ffffff' }).jpeg({ quality }).toBuffer())
  return { content: size.dpi === undefined ? jpeg : withDensity(jpeg, size.dpi), ...told }
}

/** A view with its words and its registers as a text. */
async function textOf(model: Model, view: View, wish: Delivery): Promise<Delivered> {
  const report = viewReport(model, view, wish.day, { tables: wish.tables !== false, against: againstOf(model, wish) })
  const { wide = USUAL.wide, images } = wish
  const content =
    wish.format === 'html'
      ? htmlOf(report, images)
      : wish.format === 'docx'
        ? await docxOf(report, wide, images)
        : await odtOf(report, wide, images)
  // A page draws its letters where it is opened; the pictures of a document are drawn here.
  const pictures = report.blocks.flatMap((block) => (block.sort === 'picture' ? [block] : []))
  return { content, size: toldOf(report), items: 1, missing: wish.format === 'html' ? [] : missingIn(pictures) }
}

const toldOf = ({ blocks }: Report): string => {
  const count = (sort: string) => blocks.filter((block) => block.sort === sort).length
  return `${count('picture')} pictures, ${count('table')} tables`
}

export interface BookWish extends Pick<Delivery, 'day' | 'images' | 'base'> {
  readonly format: 'pdf' | 'html'
  readonly since?: Day | undefined
  readonly onPage?: (pages: number) => void
}

/** All views of a workspace with what is said of them, its registers, what is found, and what has changed since a day. */
export async function book(model: Model, { format, day, since, images, base, onPage }: BookWish): Promise<Delivered> {
  const report = bookReport(model, day, since)
  if (format === 'html') return { content: htmlOf(report, images), size: toldOf(report), items: 1, missing: [] }
  const pictures = await imagesFor(images)
  const { bytes, sheets, missing } = await bookPdf(report, { images: pictures, base, ...(onPage ? { onPage } : {}) })
  return { content: bytes, size: `${sheets} pages, ${toldOf(report)}`, items: 1, missing }
}

interface Part {
  readonly view: View
  readonly scene: Scene
  readonly options: {
    readonly theme: ReturnType<typeof themeFor>
    readonly title: string
    readonly images: ReadonlyMap<string, string>
    readonly caption?: string
    readonly alt?: string
    readonly base?: string
  }
}

/** What it is compared with. */
const againstOf = (model: Model, { against, compare }: Delivery): Against | undefined =>
  against ?? (compare === undefined ? undefined : { model, day: compare })

const paperIn = ({ look }: View) => paperOf(look)

/** The view on the paper that is wished for, drawn. @throws DeliveryError */
function partOf(model: Model, own: View, wish: Delivery): Part {
  const { paper, across, day, images, base, scale } = wish
  const { paper: _paper, across: _across, ...bare } = own.look
  const isTurned = across ?? own.look['across'] === true
  const named = paper ?? own.look['paper']
  // What is cut into sheets has a paper of its own.
  if (across && scale === undefined && (named === undefined || named === 'none'))
    throw new DeliveryError('A paper lies across: say which one.')
  // What is cut into sheets is drawn without a paper first.
  const look =
    paper === 'none' || scale !== undefined
      ? bare
      : paper === undefined && across === undefined
        ? own.look
        : { ...bare, ...(named === undefined ? {} : { paper: named }), ...(isTurned ? { across: true } : {}) }
  if (paper !== undefined && paper !== 'none' && !paperOf({ paper, across: isTurned }))
    throw new DeliveryError(`“${paper}” is no paper. Write A4, Letter or a size such as 210 × 297 mm.`)
  const view = { ...own, look }
  const scene = drawn(registry, model, view, day, againstOf(model, wish))
  if (!scene) throw new DeliveryError(`There is no picture “${view.notation}/${view.picture}”.`)
  const { title, caption, alt } = view
  const options = {
    theme: themeFor(model.settings, look),
    title,
    images: images ?? new Map<string, string>(),
    ...(caption === undefined ? {} : { caption }),
    ...(alt === undefined ? {} : { alt }),
    ...(base === undefined ? {} : { base }),
  }
  return { view, scene, options }
}

/** The facts of some views as the text of a workspace file, with the pictures that they name. */
function factsOf(model: Model, views: readonly View[], { day, images, onFacts }: Delivery): string {
  const stated = views.map((view) => model.views.get(view.id) ?? view)
  const all = shownPortions(registry, model, stated, day)
  onFacts?.(goesAlong(registry, all))
  return `${JSON.stringify(writeWorkspace(all, photosOf(all, images ?? new Map())))}\n`
}

async function pdfOf(model: Model, parts: readonly Part[], wish: Delivery): Promise<Delivered> {
  const { paper, across, scale, overlap = USUAL.overlap, border, base } = wish
  const own = parts.length === 1 ? parts[0]?.view.look['paper'] : undefined
  const named = paper === 'none' ? undefined : (paper ?? (scale === undefined ? undefined : (own ?? 'A4')))
  const sheet =
    named === undefined
      ? undefined
      : paperOf({ paper: named, across: across ?? parts[0]?.view.look['across'] === true })
  const print: PrintWish = {
    ...(sheet ? { paper: sheet } : {}),
    ...(scale === undefined ? {} : { tiled: { scale, overlap } }),
    ...(border === undefined ? {} : { border }),
  }
  const [first] = parts
  const title = parts.length === 1 && first ? first.view.title : model.name
  const facts = wish.facts
    ? factsOf(
        model,
        parts.map(({ view }) => view),
        wish,
      )
    : undefined
  const images = await imagesFor(wish.images)
  const pdf = await toPdf(
    parts.map(({ view, scene, options: { theme } }) => ({
      view: view.id,
      title: view.title,
      scene,
      theme,
      caption: view.caption,
      alt: view.alt,
    })),
    {
      ...print,
      title,
      base,
      images,
      attached:
        facts === undefined ? undefined : { name: CARRIED_FILE, text: facts, about: 'The facts that are shown' },
      ...(wish.onSheet ? { onSheet: wish.onSheet } : {}),
    },
  )
  const items = parts.reduce((sum, { scene }) => sum + scene.items.length, 0)
  const size = `${pdf.sheets} ${pdf.sheets === 1 ? 'sheet' : 'sheets'}${sheet ? ` of ${sheet.title}` : ''}`
  return { content: pdf.bytes, size, items, missing: pdf.missing }
}

/** Pictures as a PDF takes them: JPEG and PNG as they are, anything else as PNG. */
async function imagesFor(images: ReadonlyMap<string, string> = new Map()): Promise<ReadonlyMap<string, Buffer>> {
  const read = await Promise.all(
    [...images].map(async ([id, address]) => {
      const [, type, data] = /^data:([^;,]+);base64,(.*)$/s.exec(address) ?? []
      if (data === undefined) return []
      const bytes = Buffer.from(data, 'base64')
      const isTaken = type === 'image/jpeg' || type === 'image/png'
      return [[id, isTaken ? bytes : await sharp(bytes).png().toBuffer()] as const]
    }),
  )
  return new Map(read.flat())
}

const require = createRequire(import.meta.url)
/** The packages of faces, by how the names of their files begin; the longest that fits. */
const PACKAGES: readonly (readonly [start: string, name: string])[] = [
  ...['math', 'symbols-2'].map((part) => [`noto-sans-${part}-`, `@fontsource/noto-sans-${part}`] as const),
  ...['hebrew', 'arabic', 'thai', 'symbols', 'sc', 'kr'].map(
    (part) => [`noto-sans-${part}-`, `@fontsource-variable/noto-sans-${part}`] as const,
  ),
  ...['noto-emoji', 'noto-sans', 'atkinson-hyperlegible-next', 'atkinson-hyperlegible-mono'].map(
    (name) => [`${name}-`, `@fontsource-variable/${name}`] as const,
  ),
]

const square = (): readonly WebFace[] =>
  ['noto-sans-sc', 'noto-sans-kr'].flatMap((name) =>
    squareFaces(name, require(`@fontsource-variable/${name}/unicode.json`) as Record<string, string>),
  )

/** The fonts of a scene within its file. */
function styleFor(scene: Scene, caption: string | undefined): string {
  const address = ({ file }: WebFace) => {
    const name = PACKAGES.find(([start]) => file.startsWith(start))?.[1] ?? ''
    const bytes = readFileSync(require.resolve(`${name}/files/${file}.woff2`))
    return `data:font/woff2;base64,${bytes.toString('base64')}`
  }
  const isWide = isSquare(lettersIn(scene) + (caption ?? ''))
  return facesIn(scene, caption, isWide ? square() : [])
    .faces.map((face) => faceRule(face, address(face)))
    .join('')
}
