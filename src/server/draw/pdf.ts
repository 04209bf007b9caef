import PDFDocument from 'pdfkit'
import {
  captionMark,
  captionRoom,
  colourOf,
  dressed,
  layersOf,
  sheetsOf,
  wholeOf,
  type Box,
  type Layer,
  type Mark,
  type PrintWish,
  type Scene,
  type Sheet,
  type Theme,
} from '../../core/scene'
import { featuresFor, FONT_FILES, MissingLetters, runsOf, type MissingLetter } from './fonts'

/** A view as a part of a document. */
export interface PdfPart {
  readonly view: string
  readonly title: string
  readonly scene: Scene
  readonly theme: Theme
  readonly caption?: string | undefined
  /** What it shows, for those who cannot see it. */
  readonly alt?: string | undefined
}

export interface PdfWish extends PrintWish {
  readonly title: string
  readonly lang?: string
  /** The address of the workspace, for links to views that are not in the document. */
  readonly base?: string | undefined
  /** Assets as JPEG or PNG, by name. */
  readonly images?: ReadonlyMap<string, Buffer>
  /** A file within the document. */
  readonly attached?: { readonly name: string; readonly text: string; readonly about: string } | undefined
  readonly onSheet?: (done: number, all: number) => void
}

export interface Pdf {
  readonly bytes: Uint8Array
  readonly sheets: number
  /** Letters that no shipped font has: they are not to be seen. */
  readonly missing: readonly MissingLetter[]
}

/**
 * Views as one PDF 1.7: vectors, fonts embedded as far as they are used, a bookmark for each sheet, links live, and a structure (ISO 32000-1, 14.8) of one document in which each sheet is a figure
 * with its alternative text, followed by what stands in it, each in its own words, and by its links. O(marks of all sheets)
 * @throws RangeError in words for more sheets than are printed
 */
export async function toPdf(parts: readonly PdfPart[], wish: PdfWish): Promise<Pdf> {
  const sheets = parts.flatMap((part) =>
    sheetsOf(part.scene, part.title, wish, captionRoom(part.scene, part.caption)).map((sheet) => ({ part, sheet })),
  )
  const { doc, written } = newPdf(wish.title, wish.lang)
  const inside = new Set(parts.map(({ view }) => view))
  const brush = new Brush(doc, wish)
  const entries = new Map<PdfPart, PDFKit.PDFOutline>()
  const document = doc.struct('Document', { title: wish.title })
  doc.addStructure(document)
  for (const [index, { part, sheet }] of sheets.entries()) {
    doc.addPage({ size: [sheet.width, sheet.height], margin: 0 })
    const isFirst = sheets[index - 1]?.part !== part
    if (isFirst) doc.addNamedDestination(destinationOf(part.view))
    const above = entries.get(part)
    if (above) above.addItem(sheet.title)
    else entries.set(part, doc.outline.addItem(part.title))
    const section = doc.struct('Sect', { title: sheet.title })
    document.add(section)
    placeScene(doc, brush, section, part, sheet, { inside, base: wish.base }, true)
    section.end()
    wish.onSheet?.(index + 1, sheets.length)
  }
  document.end()
  if (wish.attached) {
    const { name, text, about } = wish.attached
    doc.file(Buffer.from(text), {
      name,
      type: 'application/json',
      description: about,
      relationship: 'Data',
    } as PDFKit.Mixins.PDFAttachmentOptions)
  }
  return { bytes: await written(), sheets: sheets.length, missing: brush.missing.all }
}

/** A document that is begun; `written` ends it and answers its bytes. */
export function newPdf(title: string, lang = 'en', bufferPages = false) {
  const doc = new PDFDocument({
    autoFirstPage: false,
    bufferPages,
    pdfVersion: '1.7',
    tagged: true,
    displayTitle: true,
    lang,
    info: { Title: title, Creator: 'Skivel', Producer: 'Skivel' },
  })
  const chunks: Buffer[] = []
  const ended = new Promise<void>((resolve, reject) => doc.on('end', resolve).on('error', reject))
  doc.on('data', (chunk: Buffer) => chunks.push(chunk))
  const written = async (): Promise<Uint8Array> => {
    doc.end()
    await ended
    return new Uint8Array(Buffer.concat(chunks))
  }
  return { doc, written }
}

export const destinationOf = (view: string): string => `view ${view}`

export interface Leads {
  readonly inside: ReadonlySet<string>
  readonly base: string | undefined
}

/** A part of a scene as a figure of a section, with its links; on a ground of its own where the sheet is all its own. */
export function placeScene(
  doc: PDFKit.PDFDocument,
  brush: Brush,
  section: PDFKit.PDFStructureElement,
  part: Pick<PdfPart, 'theme' | 'alt' | 'caption'>,
  sheet: Sheet,
  leads: Leads,
  isWhole: boolean,
): void {
  const { scene, box, at, scale } = sheet
  const { theme } = part
  const alt = part.alt ?? scene.summary
  const where = { alt, bbox: cornersOf(at) }
  const layers = layersOf(scene, undefined, box)
  const grounds = layers.findIndex(({ item }) => item !== undefined)
  const paint = ({ marks, x, y }: Layer) => brush.at(marks, x, y, theme)
  section.add(
    doc.struct('Figure', where, () => {
      if (isWhole) doc.rect(0, 0, sheet.width, sheet.height).fill(colourOf(theme, 'sheet'))
      else doc.rect(at.x, at.y, at.width, at.height).fill(colourOf(theme, 'sheet'))
      doc.save()
      doc.rect(at.x, at.y, at.width, at.height).clip()
      doc.translate(at.x - box.x * scale, at.y - box.y * scale).scale(scale)
      for (const layer of grounds < 0 ? layers : layers.slice(0, grounds)) paint(layer)
    }),
  )
  // Then what stands in it, one by one, in the words in which it is told on the page.
  for (const layer of grounds < 0 ? [] : layers.slice(grounds)) {
    const place = layer.item && clipped(layer.item.box, sheet)
    const label = layer.item?.label ?? ''
    if (place && label !== '') {
      const told = { alt: label, bbox: cornersOf(place) }
      section.add(doc.struct('Figure', told, () => paint(layer)))
    } else beside(doc, () => paint(layer))
  }
  if (part.caption) {
    const marks = [captionMark(scene, part.caption)]
    section.add(doc.struct('P', {}, () => brush.at(marks, 0, 0, theme)))
  }
  doc.restore()
  if (sheet.marks.length > 0) beside(doc, () => brush.at(sheet.marks, 0, 0, theme))
  for (const { item } of layersOf(scene, undefined, box)) {
    if (item?.link === undefined) continue
    const place = clipped(item.box, sheet)
    if (place) leadTo(doc, section, item.link, item.label, place, leads)
  }
}

/** Paints what nobody needs to hear of. */
export function beside(doc: PDFKit.PDFDocument, paint: () => void): void {
  doc.markContent('Artifact', { type: 'Layout' })
  paint()
  doc.endMarkedContent()
}

const cornersOf = ({ x, y, width, height }: Box): number[] => [x, y, x + width, y + height]

/** Where a box of the scene lies on a sheet, in points; nothing where it does not. */
function clipped({ x, y, width, height }: Box, { at, box, scale }: Sheet): Box | undefined {
  const left = Math.max(at.x, at.x + (x - box.x) * scale)
  const top = Math.max(at.y, at.y + (y - box.y) * scale)
  const right = Math.min(at.x + at.width, at.x + (x + width - box.x) * scale)
  const bottom = Math.min(at.y + at.height, at.y + (y + height - box.y) * scale)
  return right > left && bottom > top ? { x: left, y: top, width: right - left, height: bottom - top } : undefined
}

/** A link to an address, or to a view: within the document where it is there, else where the workspace is. */
function leadTo(
  doc: PDFKit.PDFDocument,
  section: PDFKit.PDFStructureElement,
  link: string,
  label: string,
  { x, y, width, height }: Box,
  { inside, base }: Leads,
): void {
  const view = /^#view=(.+)$/.exec(link)?.[1]
  const isInside = view !== undefined && inside.has(view)
  const address = link.startsWith('#') ? base && base + link : link
  if (!isInside && address === undefined) return
  const element = doc.struct('Link', { alt: label })
  section.add(element)
  const options = { structParent: element, Contents: new String(label) } as unknown as PDFKit.Mixins.AnnotationOption
  if (isInside) doc.goTo(x, y, width, height, destinationOf(view), options)
  else if (address !== undefined) doc.link(x, y, width, height, address, options)
  element.end()
}

/** Paints marks as they are told on a page: the same as every other painter. */
export class Brush {
  readonly missing = new MissingLetters()
  readonly #images = new Map<string, unknown>()

  constructor(
    private readonly doc: PDFKit.PDFDocument,
    private readonly wish: Pick<PdfWish, 'images'>,
  ) {
    for (const [name, path] of Object.entries(FONT_FILES)) doc.registerFont(name, path)
  }

  at(marks: readonly Mark[], x: number, y: number, theme: Theme): void {
    const { doc } = this
    const isMoved = x !== 0 || y !== 0
    if (isMoved) doc.save().translate(x, y)
    for (const mark of marks) this.#paint(mark, theme)
    if (isMoved) doc.restore()
  }

  #paint(mark: Mark, theme: Theme): void {
    switch (mark.tag) {
      case 'text':
        return this.#write(mark, theme)
      case 'image':
        return this.#place(mark)
      case 'g':
        return this.#group(mark, theme)
      default:
        return this.#shape(dressed(mark, theme), theme)
    }
  }

  #group({ attrs, children }: Extract<Mark, { tag: 'g' }>, theme: Theme): void {
    const { doc } = this
    const [sx = 1, sy = sx] = (attrs.transform?.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number)
    doc.save()
    if (sx !== 1 || sy !== 1) doc.scale(sx, sy)
    if (attrs.opacity !== undefined) doc.opacity(attrs.opacity)
    for (const child of children) this.#paint(child, theme)
    doc.restore()
  }

  #shape(mark: Mark, theme: Theme): void {
    if (mark.tag === 'text' || mark.tag === 'image' || mark.tag === 'g') return
    const { doc } = this
    const { fill, stroke = 'none', opacity = 1, 'fill-opacity': within = 1, 'stroke-width': width = 1 } = mark.attrs
    if (fill === 'none' && stroke === 'none') return
    const isPale = opacity < 1 || within < 1
    const dash = mark.attrs['stroke-dasharray']?.split(' ').filter(Boolean).map(Number)
    const isOwn = isPale || dash !== undefined || mark.attrs['stroke-linecap'] || mark.attrs['stroke-linejoin']
    if (isOwn) doc.save()
    if (isPale) doc.fillOpacity(opacity * within).strokeOpacity(opacity)
    if (dash) doc.dash(dash as unknown as number, {})
    if (mark.attrs['stroke-linecap']) doc.lineCap(mark.attrs['stroke-linecap'])
    if (mark.attrs['stroke-linejoin']) doc.lineJoin(mark.attrs['stroke-linejoin'])
    if (mark.tag === 'rect') {
      const { x, y, width: wide, height, rx = 0 } = mark.attrs
      const round = Math.min(rx, wide / 2, height / 2)
      if (round > 0) doc.roundedRect(x, y, wide, height, round)
      else doc.rect(x, y, wide, height)
    } else if (mark.tag === 'circle') doc.circle(mark.attrs.cx, mark.attrs.cy, mark.attrs.r)
    else doc.path(mark.attrs.d)
    if (stroke === 'none') doc.fill(colourOf(theme, fill))
    else {
      doc.lineWidth(width)
      if (fill === 'none') doc.stroke(colourOf(theme, stroke))
      else doc.fillAndStroke(colourOf(theme, fill), colourOf(theme, stroke))
    }
    if (isOwn) doc.restore()
  }

  #write(mark: Extract<Mark, { tag: 'text' }>, theme: Theme): void {
    const [words] = mark.children
    if (words.trim() === '') return
    const { doc } = this
    const { x, y, transform, opacity, 'font-size': size, 'text-anchor': anchor = 'start', fill } = mark.attrs
    // With features named, a run is set as a whole instead of word by word.
    const runs = runsOf(mark, (letter) => this.missing.add(letter, words)).map((run) => ({
      ...run,
      features: featuresFor(run) as unknown as PDFKit.Mixins.OpenTypeFeatures[] | undefined,
    }))
    const widths = runs.map(({ font, words: own, features }) =>
      doc
        .font(font)
        .fontSize(size)
        .widthOfString(own, features && { features }),
    )
    const whole = widths.reduce((sum, width) => sum + width, 0)
    const [degrees = 0, cx = 0, cy = 0] = (transform?.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number)
    const isOwn = degrees !== 0 || opacity !== undefined
    if (isOwn) doc.save()
    if (degrees !== 0) doc.rotate(degrees, { origin: [cx, cy] })
    if (opacity !== undefined) doc.fillOpacity(opacity)
    doc.fillColor(colourOf(theme, fill))
    let left = anchor === 'start' ? x : anchor === 'middle' ? x - whole / 2 : x - whole
    if (mark.attrs['text-decoration'] === 'line-through')
      doc.rect(left, y - size * 0.28, whole, Math.max(1, size / 14)).fill()
    runs.forEach(({ font, words: own, features }, at) => {
      doc
        .font(font)
        .fontSize(size)
        .text(own, left, y, { lineBreak: false, baseline: 'alphabetic', ...(features && { features }) })
      left += widths[at] ?? 0
    })
    if (isOwn) doc.restore()
  }

  #place({ attrs: { x, y, width, height, href, seen } }: Extract<Mark, { tag: 'image' }>): void {
    const { doc } = this
    const bytes = this.wish.images?.get(href)
    if (!bytes) return
    // Read once, however often it is shown.
    const image = this.#images.get(href) ?? (doc as unknown as { openImage(of: Buffer): unknown }).openImage(bytes)
    this.#images.set(href, image)
    const whole = seen ? wholeOf({ x, y, width, height }, seen) : { x, y, width, height }
    doc.save()
    doc.rect(x, y, width, height).clip()
    doc.image(image as Buffer, whole.x, whole.y, {
      cover: [whole.width, whole.height],
      align: 'center',
      valign: 'center',
    })
    doc.restore()
  }
}
