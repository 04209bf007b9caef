import { PDFArray, PDFDocument, PDFDict, PDFName, PDFRawStream, PDFRef } from 'pdf-lib'
import { getDocument, type PDFDocumentProxy } from 'pdfjs-dist/legacy/build/pdf.mjs'
import { beforeAll, describe, expect, it } from 'vitest'
import { parseWorkspace } from '../../src/core/file'
import { carriedByPdf } from '../../src/core/file/pdfFile'
import '../../src/core/maps/withLand'
import { Model, type View } from '../../src/core/model'
import { drawn, iconsFor } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { captionRoom, layersOf, sheetsOf, themeFor, type Mark, type Scene } from '../../src/core/scene'
import '../../src/core/scene/withIcons'
import { marramSoundFerries } from '../../src/demo'
import { delivered } from '../../src/server/draw/deliver'
import { toPdf, type PdfPart } from '../../src/server/draw/pdf'
import { DAY, id } from '../facts'

// Read back with Mozilla's pdfjs-dist and with pdf-lib, neither of which has written it.
const read = (bytes: Uint8Array): Promise<PDFDocumentProxy> =>
  getDocument({ data: bytes.slice(), useSystemFonts: false, verbosity: 0 }).promise

const demo = marramSoundFerries()
const views = [...demo.views.values()]
const partOf = (model: Model, view: View): PdfPart => {
  const scene = drawn(registry, model, view, DAY)
  if (!scene) throw new Error(`no ${view.id}`)
  const { caption, alt } = view
  return { view: view.id, title: view.title, scene, theme: themeFor(model.settings, view.look), caption, alt }
}
const wordsIn = (marks: readonly Mark[]): readonly string[] =>
  marks.flatMap((mark) => (mark.tag === 'text' ? [mark.children[0]] : mark.tag === 'g' ? wordsIn(mark.children) : []))
const saidBy = (scene: Scene): string =>
  layersOf(scene)
    .flatMap(({ marks }) => wordsIn(marks))
    .join('')
    .replace(/\s/g, '')
async function textOf(document: PDFDocumentProxy, page: number): Promise<string> {
  const { items } = await (await document.getPage(page)).getTextContent()
  return items
    .map((item) => ('str' in item ? item.str : ''))
    .join('')
    .replace(/\s/g, '')
}

interface StructNode {
  readonly role?: string
  readonly alt?: string
  readonly children?: readonly StructNode[]
}

describe('the demo as one PDF', () => {
  let bytes: Uint8Array
  let document: PDFDocumentProxy
  const parts = views.map((view) => partOf(demo, view))
  beforeAll(async () => {
    await iconsFor(demo)
    const made = await toPdf(parts, {
      title: demo.name,
      base: 'https://facts.example/w/x',
      attached: { name: 'facts.skivel.json', text: '{"ä": "Щ"}', about: 'Facts' },
    })
    bytes = made.bytes
    document = await read(bytes)
    expect(made.missing).toEqual([])
  })

  it('says on each page what the scene says, letter by letter', async () => {
    const all = parts.flatMap(({ scene, caption, title }) =>
      sheetsOf(scene, title, {}, captionRoom(scene, caption)).map((sheet) => ({ sheet, caption })),
    )
    expect(document.numPages).toBe(all.length)
    for (const [at, { sheet, caption }] of all.entries()) {
      const said = await textOf(document, at + 1)
      expect(said.normalize('NFKC'), sheet.title).toBe(
        (saidBy(sheet.scene) + (caption ?? '')).replace(/\s/g, '').normalize('NFKC'),
      )
    }
  })
  it('has a bookmark for each view, which leads to its page', async () => {
    const outline = await document.getOutline()
    expect(outline.map(({ title }) => title)).toEqual(views.map(({ title }) => title))
    const places = await Promise.all(
      outline.map(async ({ dest }) => {
        const where = typeof dest === 'string' ? await document.getDestination(dest) : dest
        return document.getPageIndex((where as unknown[])[0] as Parameters<typeof document.getPageIndex>[0])
      }),
    )
    expect(places).toEqual([...places].sort((a, b) => a - b))
    expect(places[0]).toBe(0)
  })
  it('has its title, its language, and a figure with its words on each page', async () => {
    const { info } = await document.getMetadata()
    expect(info).toMatchObject({ Title: 'Marram Sound Ferries', Language: 'en' })
    expect(await document.getMarkInfo()).toMatchObject({ Marked: true })
    const tree = await (await document.getPage(1)).getStructTree()
    const [top, ...others] = (tree as StructNode).children ?? []
    // ISO 32000-1, 14.8.4.2: one element on top of all others, whatever the number of views.
    expect([top?.role, others.length]).toEqual(['Document', 0])
    const root = (await PDFDocument.load(bytes)).catalog.lookup(PDFName.of('StructTreeRoot'), PDFDict)
    const onTop = root.lookup(PDFName.of('K'))
    expect(onTop instanceof PDFArray ? onTop.size() : 1).toBe(1)
    const section = top?.children?.[0]
    expect(section?.role).toBe('Sect')
    expect(section?.children?.[0]).toMatchObject({ role: 'Figure', alt: parts[0]?.alt ?? parts[0]?.scene.summary })
  })
  it('tells what stands in a picture one by one, in its words, after the picture itself', async () => {
    for (const [at, { scene }] of parts.slice(0, 6).entries()) {
      const tree = (await (await document.getPage(at + 1)).getStructTree()) as StructNode
      const told =
        tree.children?.[0]?.children?.[0]?.children?.filter(({ role }) => role === 'Figure').map(({ alt }) => alt) ?? []
      const labels = scene.items
        .filter(({ label, marks }) => label !== '' && marks.length > 0)
        .map(({ label }) => label)
      expect(told.slice(1).sort(), parts[at]?.title).toEqual(labels.sort())
      expect(labels.length).toBeGreaterThan(5)
    }
  })
  it('brings a file along', async () => {
    const attachments = (await document.getAttachments()) as Record<string, { content: Uint8Array }>
    expect(new TextDecoder().decode(attachments['facts.skivel.json']?.content)).toBe('{"ä": "Щ"}')
    expect(carriedByPdf(bytes)).toBe('{"ä": "Щ"}')
    expect(() => carriedByPdf(bytes.subarray(0, 400))).toThrow('this PDF cannot be read')
  })
  it('embeds its fonts, of each only what is used', async () => {
    const read = await PDFDocument.load(bytes)
    const fonts = read.context
      .enumerateIndirectObjects()
      .flatMap(([, object]) => (object instanceof PDFDict && object.has(PDFName.of('FontFile2')) ? [object] : []))
    expect(fonts.length).toBeGreaterThan(2)
    for (const font of fonts) {
      const stream = read.context.lookup(font.get(PDFName.of('FontFile2')) as PDFRef)
      // The whole of the smallest of them is some 50 kB, that of the one that stands in 500 kB.
      expect(stream instanceof PDFRawStream && stream.contents.length).toBeLessThan(40_000)
      expect(String(font.get(PDFName.of('FontName')))).toMatch(/^\/[A-Z]{6}\+/)
    }
  })
})

describe('letters and links', () => {
  const NAMES = ['Ærø Øst', 'Λιμάνι της Χίου', 'Причал Щукин', 'Łódź — “Żuk” №5', '𝔘𝔫 漢字 → 항만', 'ᚠᚱ']
  const model = Model.of({
    name: 'Scripts',
    entities: NAMES.map((name, at) => {
      const link = ['https://example.org/a?b=1&c=(d)', '#view=other', '#view=gone'][at]
      return { id: id(`p${at}`), kind: 'position', name, fields: { ...(link === undefined ? {} : { link }) } }
    }),
    views: [
      { ...(views[0] as View), id: id('scripts'), title: 'Scripts', scope: {}, pins: {}, look: {} },
      { ...(views[0] as View), id: id('other'), title: 'Other', scope: {}, pins: {}, look: {}, order: 2 },
    ],
  })
  const parts = [...model.views.values()].map((view) => partOf(model, view))
  it('are read back in any script; what no font has is told', async () => {
    const { bytes, missing } = await toPdf(parts.slice(0, 1), { title: 'x' })
    expect(missing.map(({ letter }) => letter)).toEqual(['ᚠ', 'ᚱ'])
    const said = await textOf(await read(bytes), 1)
    for (const name of NAMES.slice(0, 5)) expect(said).toContain(name.replace(/\s/g, ''))
  })
  it('lead to addresses, to pages of the document, and to the workspace', async () => {
    const links = async (some: readonly PdfPart[], base?: string) => {
      const page = await (await read((await toPdf(some, { title: 'x', base })).bytes)).getPage(1)
      const annotations = (await page.getAnnotations()) as { url?: string; dest?: unknown; rect: number[] }[]
      return annotations.map(({ url, dest }) => url ?? dest)
    }
    expect(await links(parts, 'https://facts.example/w/x')).toEqual(['https://example.org/a?b=1&c=(d)', 'view other'])
    expect(await links(parts.slice(0, 1), 'https://facts.example/w/x')).toEqual([
      'https://example.org/a?b=1&c=(d)',
      'https://facts.example/w/x#view=other',
    ])
    expect(await links(parts.slice(0, 1))).toEqual(['https://example.org/a?b=1&c=(d)'])
  })
})

describe('paper', () => {
  const sizes = async (bytes: Uint8Array) => {
    const document = await PDFDocument.load(bytes)
    return document.getPages().map((page) => page.getSize())
  }
  const view = demo.views.get(id('whole-company')) as View
  const pdf = async (wish: object, some = [view]) => {
    const { content } = await delivered(demo, some, { format: 'pdf', day: DAY, ...wish })
    return content as Uint8Array
  }
  // ISO 216: A4 is 210 × 297 mm, 595.28 × 841.89 points of 1/72 inch.
  it.each([
    [{ paper: 'A4' }, 595.28, 841.89],
    [{ paper: 'A4', across: true }, 841.89, 595.28],
    [{ paper: 'A3', border: 20 }, 841.89, 1190.55],
    [{ paper: 'Letter' }, 612, 792],
    [{ paper: '100 × 50 mm' }, 283.46, 141.73],
  ])('%j is %f × %f points', async (wish, width, height) => {
    const [size] = await sizes(await pdf(wish))
    expect(size?.width).toBeCloseTo(width, 1)
    expect(size?.height).toBeCloseTo(height, 1)
  })
  it('is as large as its picture where none is named, and no longer than the format lets it', async () => {
    const scene = drawn(registry, demo, view, DAY)
    const [size] = await sizes(await pdf({}))
    expect(size?.width).toBeCloseTo((scene?.bounds.width ?? 0) * 0.75, 1)
    const long = sheetsOf(
      {
        bounds: { x: 0, y: 0, width: 40_000, height: 100 },
        backdrop: [],
        items: [],
        links: [],
        headline: '',
        summary: '',
      },
      'Long',
      {},
    )
    expect(long[0]).toMatchObject({ width: 14_400, height: 36 })
    expect(long[0]?.at.width).toBeCloseTo(14_400)
  })
  it('holds on sheets all that there is, each strip on both neighbours, every sheet saying where it is', async () => {
    const lanes = demo.views.get(id('cancelled')) as View
    const bytes = await pdf({ paper: 'A4', scale: 1, overlap: 15 }, [lanes])
    const document = await read(bytes)
    const scene = drawn(registry, demo, { ...lanes, look: {} }, DAY) as Scene
    const sheets = sheetsOf(scene, lanes.title, {
      paper: { title: 'A4', width: (210 / 25.4) * 96, height: (297 / 25.4) * 96 },
      tiled: { scale: 1, overlap: 15 },
    })
    expect(document.numPages).toBe(sheets.length)
    expect(sheets.length).toBeGreaterThan(2)
    const pages = await Promise.all(sheets.map((_, at) => textOf(document, at + 1)))
    pages.forEach((said, at) =>
      expect(said).toContain(`row1of1,column${at + 1}of${sheets.length}${at + 1}of${sheets.length}`),
    )
    for (const { box, label, marks } of scene.items) {
      const words = wordsIn(marks).join('').replace(/\s/g, '')
      if (words === '' || words.length > 60) continue
      const on = sheets.flatMap((sheet, at) =>
        box.x >= sheet.box.x && box.x + box.width <= sheet.box.x + sheet.box.width ? [pages[at] ?? ''] : [],
      )
      for (const page of on) expect(page, label).toContain(words)
    }
    // 15 mm of what is printed is on two sheets.
    const [one, two] = sheets
    const shared = ((one?.box.x ?? 0) + (one?.box.width ?? 0) - (two?.box.x ?? 0)) * (one?.scale ?? 0)
    expect(shared).toBeCloseTo((15 / 25.4) * 72, 3)
  })
  it('is not wasted: more than 400 sheets are refused in words', async () => {
    const wide = demo.views.get(id('dry-dock')) as View
    await expect(pdf({ paper: 'A5', scale: 4, overlap: 60 }, [wide])).rejects.toThrow(
      /^At this size it takes [\d,]+ sheets of A5 upright; 400 is the most\. Choose a larger paper or a smaller scale\.$/,
    )
    await expect(pdf({ paper: 'A99' })).rejects.toThrow('“A99” is no paper.')
  })
  it('has room for a border, on one sheet and on many, and refuses one that leaves none', async () => {
    const [wide] = sheetsOf(drawn(registry, demo, view, DAY) as Scene, 'x', { border: 30 })
    expect(wide?.at.x).toBeCloseTo((30 / 25.4) * 72)
    const paper = { title: 'A5', width: (148 / 25.4) * 96, height: (210 / 25.4) * 96 }
    const cut = (border: number) =>
      sheetsOf(drawn(registry, demo, view, DAY) as Scene, 'x', { paper, border, tiled: { scale: 1, overlap: 10 } })
    expect(cut(0)[0]?.at.x).toBeCloseTo((10 / 25.4) * 72)
    expect(cut(25)[0]?.at.x).toBeCloseTo((25 / 25.4) * 72)
    expect(cut(25).length).toBeGreaterThan(cut(0).length)
    expect(() => cut(70)).toThrow('A border of 70 leaves no room for the picture. Choose a smaller one.')
    // A caption is on the sheets, too.
    const foot = (more: number) => sheetsOf(drawn(registry, demo, view, DAY) as Scene, 'x', {}, more)[0]?.height ?? 0
    expect(foot(28) - foot(0)).toBeCloseTo(21)
  })
  it('carries the facts of all that it shows', async () => {
    const two = ['whole-company', 'cancelled'].map((one) => demo.views.get(id(one)) as View)
    const text = carriedByPdf(await pdf({ facts: true }, two))
    const { model } = parseWorkspace(text ?? '', registry)
    expect([...model.views.keys()].sort()).toEqual(['cancelled', 'whole-company'])
    expect(drawn(registry, model, model.views.get(id('cancelled')) as View, DAY)?.items.length).toBe(
      drawn(registry, demo, demo.views.get(id('cancelled')) as View, DAY)?.items.length,
    )
  })
})
