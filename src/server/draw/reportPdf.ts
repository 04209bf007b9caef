import { kit, textWidth, themeOf, wrap, type Cut, type Mark, type Scene } from '../../core/scene'
import type { MissingLetter } from './fonts'
import { beside, Brush, destinationOf, newPdf, placeScene, type Pdf } from './pdf'
import { headingsOf, type Block, type Picture, type Report, type Table } from './report'

/** A4 upright, in points, and what stays free around a page’s text. */
const PAGE = { width: 595.28, height: 841.89, side: 56, top: 60, foot: 64 } as const
const TEXT = { size: 10, line: 14 } as const
const CELL = { size: 8, line: 10.5, pad: 3, gap: 8, least: 26, most: 30 } as const
const HEADS = {
  1: { size: 20, above: 0, below: 16 },
  2: { size: 14, above: 20, below: 9 },
  3: { size: 11, above: 14, below: 7 },
} as const
const CONTENTS = { line: 17, top: 60 } as const
const WIDE = PAGE.width - 2 * PAGE.side
const BOTTOM = PAGE.height - PAGE.foot

interface BookWish {
  readonly images?: ReadonlyMap<string, Buffer>
  readonly base?: string | undefined
  readonly onPage?: (pages: number) => void
}

/** A report as a PDF of A4 pages: title page, contents that lead on, headings as bookmarks, page numbers, a structure that is read in its order. O(blocks) */
export async function bookPdf(report: Report, wish: BookWish = {}): Promise<Pdf> {
  const { doc, written } = newPdf(report.title, report.lang, true)
  const flow = new Flow(doc, report, wish)
  if (report.isBook) flow.titlePage()
  else flow.head()
  report.blocks.forEach((block, at) => flow.put(block, report.blocks[at + 1]))
  const pages = flow.end()
  return { bytes: await written(), sheets: pages, missing: flow.missing }
}

const theme = themeOf('shoreline')

/** Sets blocks one under another, on page after page. */
class Flow {
  readonly #brush: Brush
  readonly #headings: readonly ReturnType<typeof headingsOf>[number][]
  /** The page, from 0, on which each heading stands. */
  readonly #pageOf = new Map<string, number>()
  readonly #document: PDFKit.PDFStructureElement
  readonly #inside: ReadonlySet<string>
  readonly #bookmarks: PDFKit.PDFOutline[] = []
  #y: number = PAGE.top
  #pages = 0

  constructor(
    private readonly doc: PDFKit.PDFDocument,
    private readonly report: Report,
    private readonly wish: BookWish,
  ) {
    this.#brush = new Brush(doc, wish)
    this.#headings = headingsOf(report).filter(({ level }) => level < 3)
    this.#inside = new Set(report.blocks.flatMap((block) => (block.sort === 'picture' ? [block.view.id] : [])))
    this.#document = doc.struct('Document', { title: report.title })
    doc.addStructure(this.#document)
  }

  get missing(): readonly MissingLetter[] {
    return this.#brush.missing.all
  }

  #page(): void {
    this.doc.addPage({ size: [PAGE.width, PAGE.height], margin: 0 })
    this.#pages++
    this.#y = PAGE.top
    this.wish.onPage?.(this.#pages)
  }

  /** Begins a page where so much has no room on this one. */
  #need(height: number): void {
    if (this.#pages === 0 || (this.#y + height > BOTTOM && this.#y > PAGE.top)) this.#page()
  }

  #paint(marks: readonly Mark[]): void {
    this.#brush.at(marks, 0, 0, theme)
  }

  #said(role: string, marks: readonly Mark[], under = this.#document): void {
    under.add(this.doc.struct(role, {}, [() => this.#paint(marks)]))
  }

  titlePage(): void {
    this.#page()
    const { title, subtitle } = this.report
    const lines = wrap(title, WIDE, 34, 'text700', 4)
    const top = PAGE.height * 0.36
    this.#said('H1', kit.lines(PAGE.side, top, 40, lines, { fill: 'ink', 'font-size': 34, 'font-weight': 700 }))
    const below = top + lines.length * 40
    this.#said('P', [kit.text(PAGE.side, below, subtitle, { fill: 'ink-quiet', 'font-size': 14 })])
    // The contents are set when it is known what stands where.
    for (let at = 0; at < this.#contentsPages; at++) this.#page()
    this.#y = BOTTOM
  }

  head(): void {
    const { title, subtitle } = this.report
    this.#page()
    const lines = wrap(title, WIDE, 20, 'text700', 3)
    this.#said(
      'H1',
      kit.lines(PAGE.side, this.#y + 16, 25, lines, { fill: 'ink', 'font-size': 20, 'font-weight': 700 }),
    )
    this.#y += lines.length * 25
    this.#said('P', [kit.text(PAGE.side, this.#y + 10, subtitle, { fill: 'ink-quiet', 'font-size': 10 })])
    this.#y += 26
  }

  get #perPage(): number {
    return Math.floor((BOTTOM - CONTENTS.top - 30) / CONTENTS.line)
  }
  get #contentsPages(): number {
    return Math.max(1, Math.ceil(this.#headings.length / this.#perPage))
  }

  /** Sets a block, and a heading where there is room for what follows it. */
  put(block: Block, next?: Block): void {
    switch (block.sort) {
      case 'heading':
        return this.#heading(block, next?.sort === 'picture' ? heightOf(next) : 40)
      case 'paragraph':
        return this.#lines([block.text], block.isQuiet === true)
      case 'list':
        return this.#lines(
          block.items.map((item, at) => `${block.isNumbered ? `${at + 1}` : '•'}  ${item}`),
          false,
        )
      case 'picture':
        return this.#picture(block)
      case 'table':
        return this.#table(block)
    }
  }

  #heading({ level, text, id }: Extract<Block, { sort: 'heading' }>, follows: number): void {
    const { size, above, below } = HEADS[level]
    const lines = wrap(text, WIDE, size, 'text700', 3)
    const height = above + lines.length * size * 1.25 + below
    if (level === 1 && this.report.isBook && this.#y > PAGE.top) this.#page()
    // A heading does not stand by itself at a foot.
    this.#need(height + follows)
    const top = this.#y + (this.#y > PAGE.top ? above : 0)
    this.#said(
      level === 1 ? 'H1' : level === 2 ? 'H2' : 'H3',
      kit.lines(PAGE.side, top + size, size * 1.25, lines, { fill: 'ink', 'font-size': size, 'font-weight': 700 }),
    )
    this.#y = top + lines.length * size * 1.25 + below
    this.#pageOf.set(id, this.#pages - 1)
    this.doc.addNamedDestination(id)
    const view = /^view-(.+)$/.exec(id)?.[1]
    if (view !== undefined) this.doc.addNamedDestination(destinationOf(view))
    if (level === 3) return
    const above1 = this.#bookmarks.at(-1)
    if (level === 2 && above1) above1.addItem(text)
    else this.#bookmarks.push(this.doc.outline.addItem(text))
  }

  #lines(texts: readonly string[], isQuiet: boolean): void {
    for (const text of texts) {
      const lines = wrap(text, WIDE, TEXT.size, 'text400', 200)
      for (const words of lines) {
        this.#need(TEXT.line)
        this.#said('P', [
          kit.text(PAGE.side, this.#y + TEXT.size, words, {
            fill: isQuiet ? 'ink-quiet' : 'ink',
            'font-size': TEXT.size,
          }),
        ])
        this.#y += TEXT.line
      }
    }
    this.#y += 6
  }

  /** As large as the page lets it, and no larger than life. */
  #picture({ scene, theme: own, alt, caption }: Picture): void {
    const { bounds } = scene
    const scale = scaleOf(scene)
    const [width, height] = [bounds.width * scale, bounds.height * scale]
    this.#need(height + (caption ? 22 : 8))
    const at = { x: PAGE.side, y: this.#y, width, height }
    const sheet = {
      title: '',
      width: PAGE.width,
      height: PAGE.height,
      scene: bare(scene),
      box: bounds,
      at,
      scale,
      marks: [],
    }
    const leads = { inside: this.#inside, base: this.wish.base }
    placeScene(this.doc, this.#brush, this.#document, { theme: own, alt }, sheet, leads, false)
    this.#y += height + 8
    if (!caption) return
    const [words = ''] = wrap(caption, WIDE, 9, 'text400', 1)
    this.#said('Caption', [kit.text(PAGE.side, this.#y + 8, words, { fill: 'ink-quiet', 'font-size': 9 })])
    this.#y += 22
  }

  #table({ heading, rows }: Table): void {
    if (heading.length === 0) return
    const widths = columnsOf([heading, ...rows])
    const table = this.doc.struct('Table')
    this.#document.add(table)
    const set = (cells: readonly string[], cut: Cut) =>
      cells.map((cell, at) => wrap(cell, (widths[at] ?? 40) - CELL.gap, CELL.size, cut, CELL.most))
    const rowHeight = (lines: readonly (readonly string[])[]) =>
      Math.max(1, ...lines.map(({ length }) => length)) * CELL.line + 2 * CELL.pad
    const draw = (cells: readonly string[], isHead: boolean, isAgain = false) => {
      const lines = set(cells, isHead ? 'text700' : 'text400')
      const height = rowHeight(lines)
      // What is said again at the head of a page is said once to those who listen.
      const row = isAgain ? undefined : this.doc.struct('TR')
      if (row) table.add(row)
      let left: number = PAGE.side
      lines.forEach((own, at) => {
        const marks = kit.lines(left, this.#y + CELL.pad + CELL.size, CELL.line, own, {
          fill: 'ink',
          'font-size': CELL.size,
          ...(isHead ? { 'font-weight': 700 } : {}),
        })
        if (row) this.#said(isHead ? 'TH' : 'TD', marks, row)
        else this.#artifact(marks)
        left += widths[at] ?? 40
      })
      const line = kit.path(`M${PAGE.side} ${this.#y + height}H${left}`, {
        fill: 'none',
        stroke: isHead ? 'ink-quiet' : 'line',
        'stroke-width': 0.5,
      })
      this.#artifact([line])
      row?.end()
      this.#y += height
    }
    // What is short stays together.
    const first = rows.length <= TOGETHER ? rows : rows.slice(0, 2)
    const together = first.reduce((sum, row) => sum + rowHeight(set(row, 'text400')), 0)
    this.#need(rowHeight(set(heading, 'text700')) + Math.min(together, BOTTOM - PAGE.top - 40))
    draw(heading, true)
    for (const row of rows) {
      const height = rowHeight(set(row, 'text400'))
      if (this.#y + height > BOTTOM) {
        this.#page()
        draw(heading, true, true)
      }
      draw(row, false)
    }
    table.end()
    this.#y += 12
  }

  #artifact(marks: readonly Mark[]): void {
    beside(this.doc, () => this.#paint(marks))
  }

  /** The contents, and the number of each page. Answers how many pages there are. */
  end(): number {
    const { doc } = this
    if (this.report.isBook) this.#contents()
    for (let page = this.report.isBook ? 1 : 0; page < this.#pages; page++) {
      doc.switchToPage(page)
      const paint = { fill: 'ink-quiet' as const, 'font-size': 8 }
      this.#artifact([
        kit.text(PAGE.side, PAGE.height - 34, this.report.title.slice(0, 80), paint),
        kit.text(PAGE.width - PAGE.side, PAGE.height - 34, `${page + 1} of ${this.#pages}`, {
          ...paint,
          'text-anchor': 'end',
        }),
      ])
    }
    this.#document.end()
    return this.#pages
  }

  #contents(): void {
    const { doc } = this
    const contents = doc.struct('TOC', { title: 'Contents' })
    this.#document.add(contents)
    this.#headings.forEach(({ text, level, id }, index) => {
      const place = index % this.#perPage
      doc.switchToPage(1 + Math.floor(index / this.#perPage))
      if (index === 0)
        this.#artifact([
          kit.text(PAGE.side, CONTENTS.top + 14, 'Contents', { fill: 'ink', 'font-size': 20, 'font-weight': 700 }),
        ])
      const y = CONTENTS.top + 30 + (place + 1) * CONTENTS.line
      const inset = level === 1 ? 0 : 16
      const page = (this.#pageOf.get(id) ?? 0) + 1
      const [words = ''] = wrap(text, WIDE - inset - 40, 10, level === 1 ? 'text700' : 'text400', 1)
      const weight = level === 1 ? { 'font-weight': 700 } : {}
      const item = doc.struct('TOCI')
      contents.add(item)
      this.#said(
        'Reference',
        [
          kit.text(PAGE.side + inset, y, words, { fill: 'ink', 'font-size': 10, ...weight }),
          kit.text(PAGE.width - PAGE.side, y, String(page), { fill: 'ink', 'font-size': 10, 'text-anchor': 'end' }),
        ],
        item,
      )
      const link = doc.struct('Link', { alt: text })
      item.add(link)
      const options = { structParent: link, Contents: new String(text) } as unknown as PDFKit.Mixins.AnnotationOption
      doc.goTo(PAGE.side, y - 11, WIDE, CONTENTS.line, id, options)
      link.end()
      item.end()
    })
    contents.end()
  }
}

/** Room that a heading and what is said of a picture have beside it on a page. */
const BESIDE = 110

const scaleOf = ({ bounds, paper }: Scene): number =>
  Math.min(0.75 * (paper?.scale ?? 1), WIDE / bounds.width, (BOTTOM - PAGE.top - BESIDE) / bounds.height)
const heightOf = ({ scene, caption }: Picture): number => scene.bounds.height * scaleOf(scene) + (caption ? 22 : 8)

const TOGETHER = 14

/** A scene without its pages: in a book all of it stands in one place. */
const bare = ({ pages: _pages, ...scene }: Scene): Scene => scene

/** How wide columns are: by what they say, as far as a page goes. */
function columnsOf(rows: readonly (readonly string[])[]): readonly number[] {
  const count = Math.max(...rows.map(({ length }) => length))
  const wanted = Array.from({ length: count }, (_, at) => {
    const widest = Math.max(
      ...rows.slice(0, 200).map((row) => textWidth((row[at] ?? '').slice(0, 90), CELL.size, 'text700')),
    )
    return Math.max(CELL.least, widest + CELL.gap)
  })
  const sum = wanted.reduce((total, one) => total + one, 0)
  if (sum <= WIDE) return wanted
  // The broad give way first: none becomes narrower than the fair share of a page.
  const share = WIDE / count
  const narrow = wanted.filter((one) => one <= share).reduce((total, one) => total + one, 0)
  const broad = sum - narrow
  return wanted.map((one) => (one <= share ? one : ((WIDE - narrow) * one) / broad))
}
