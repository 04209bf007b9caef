import { unzipSync, strFromU8 } from 'fflate'
import { XMLParser, XMLValidator } from 'fast-xml-parser'
import mammoth from 'mammoth'
import officeparser from 'officeparser'
import { getDocument, type PDFDocumentProxy } from 'pdfjs-dist/legacy/build/pdf.mjs'
import sharp from 'sharp'
import { beforeAll, describe, expect, it, vi } from 'vitest'
import '../../src/core/maps/withLand'
import { findingsOf } from '../../src/core/findings'
import type { Model, View } from '../../src/core/model'
import { iconsFor } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import '../../src/core/scene/withIcons'
import { registerHtml, registerMarkdown } from '../../src/core/tabular'
import { marramSoundFerries } from '../../src/demo'
import { book, delivered, type Delivery } from '../../src/server/draw/deliver'
import { DAY, day, id } from '../facts'

// Read back with npm mammoth (DOCX), npm officeparser (ODT), npm pdfjs-dist, none of which has written them.
const plain = marramSoundFerries()
const own = plain.views.get(id('port-services')) as View
const view: View = {
  ...own,
  caption: 'Ports & halls <in winter>',
  alt: 'All who work at the ports "now"',
  look: { ...own.look, 'note a': ['1', 'Skerry Point is being rebuilt.', ''] },
}
const demo: Model = plain.with({ views: new Map([...plain.views, [view.id, view]]) })
const made = async (wish: Partial<Delivery>) => {
  const { content } = await delivered(demo, [view], { format: 'html', day: DAY, ...wish })
  return typeof content === 'string' ? new TextEncoder().encode(content) : content
}
const SAID = [
  'Port services',
  'Skerry Point is being rebuilt.',
  'Ports & halls <in winter>',
  'Osei Brandt',
  'Positions',
]
const NOT_SHOWN = 'Hedda Lauring'

describe('a view in a document', () => {
  beforeAll(() => iconsFor(demo))
  it('as DOCX has its picture with its words, its caption, notes and registers', async () => {
    const bytes = await made({ format: 'docx', wide: 120 })
    const buffer = Buffer.from(bytes)
    const { value: text } = await mammoth.extractRawText({ buffer })
    for (const words of SAID) expect(text).toContain(words)
    const images: { type: string; alt: string }[] = []
    const { value: html } = await mammoth.convertToHtml(
      { buffer },
      {
        convertImage: mammoth.images.imgElement(async (image) => {
          const data = await image.readAsBuffer()
          const { width, height, format } = await sharp(data).metadata()
          images.push({ type: format, alt: `${width} × ${height}` })
          return { src: 'x' }
        }),
      },
    )
    expect(images).toHaveLength(1)
    expect(html).toContain('alt="All who work at the ports &quot;now&quot;"')
    expect(html).toMatch(/<table>.*Berth supervisor, north/s)
    // 120 mm wide, in EMU of 1/914 400 inch.
    const xml = strFromU8(unzipSync(bytes)['word/document.xml'] ?? new Uint8Array())
    const wide = Number(/<wp:extent cx="(\d+)"/.exec(xml)?.[1])
    expect(wide / 914_400).toBeCloseTo(120 / 25.4, 1)
  })
  it('as ODT has the same, its parts named by its manifest, and what it is first', async () => {
    const bytes = await made({ format: 'odt', wide: 120 })
    const text = await officeparser.parseOfficeAsync(Buffer.from(bytes))
    for (const words of SAID) expect(text).toContain(words)
    const parts = unzipSync(bytes)
    // ISO/IEC 26300-2 (OpenDocument 1.3, part 2, 3.3): `mimetype` is the first, not packed, without anything before its name’s place.
    expect(strFromU8(bytes.subarray(30, 38))).toBe('mimetype')
    expect(strFromU8(bytes.subarray(38, 38 + 39))).toBe('application/vnd.oasis.opendocument.text')
    for (const [name, part] of Object.entries(parts))
      if (name.endsWith('.xml')) expect(XMLValidator.validate(strFromU8(part)), name).toBe(true)
    const manifest = strFromU8(parts['META-INF/manifest.xml'] ?? new Uint8Array())
    for (const name of Object.keys(parts))
      if (!['mimetype', 'META-INF/manifest.xml'].includes(name)) expect(manifest).toContain(`full-path="${name}"`)
    const content = strFromU8(parts['content.xml'] ?? new Uint8Array())
    expect(content).toContain('svg:width="12.0')
    expect(content).toContain('<svg:desc>All who work at the ports &quot;now&quot;</svg:desc>')
    const png = Object.entries(parts).find(([name]) => name.endsWith('.png'))?.[1]
    expect((await sharp(png).metadata()).format).toBe('png')
  })
  it('as HTML stands alone, and has no facts beyond what is shown', async () => {
    const html = new TextDecoder().decode(await made({}))
    expect(html).toContain('<figcaption>Ports &amp; halls &lt;in winter&gt;</figcaption>')
    expect(html).toContain('<desc>All who work at the ports &quot;now&quot;</desc>')
    expect(html).not.toMatch(/<script|src="http|href="http/)
    for (const bytes of [await made({ format: 'docx' }), await made({ format: 'odt' })]) {
      const all = Object.values(unzipSync(bytes))
        .map((part) => strFromU8(part, true))
        .join('')
      expect(all).not.toContain('Wren Adair')
    }
    expect(html).not.toContain('Wren Adair')
    // Registers name whom the head reports to, as the picture’s facts do; but they have no row of theirs.
    expect(html).not.toContain(`<tr><td>${NOT_SHOWN}`)
    const bare = new TextDecoder().decode(await made({ tables: false }))
    expect(bare).not.toContain('Berth supervisor, north</td>')
  })
})

describe('a comparison in a document', () => {
  it('shows what differs, and says from when', async () => {
    const html = new TextDecoder().decode(await made({ compare: day('2027-02-01') }))
    expect(html).toContain('compared with 1 Feb 2027')
    expect(html).toContain('No longer there')
  })
})

describe('a register in a document', () => {
  const cells = [
    ['Id', 'Na|me', 'Fte'],
    ['a', '*x* <b>\nnext', 1],
    ['b', 'c`d\\', 0.5],
  ]
  it('as Markdown is a table (GFM 4.10), with what would be a sign escaped', () =>
    expect(registerMarkdown(cells)).toBe(
      '| Id | Na\\|me | Fte |\n| --- | --- | ---: |\n| a | \\*x\\* \\<b\\> next | 1 |\n| b | c\\`d\\\\ | 0.5 |\n',
    ))
  it('as HTML is a table with its heading', () => {
    const html = registerHtml('R & S', cells)
    expect(html).toContain('<caption>R &amp; S</caption>')
    expect(html).toContain('<th scope="col">Na|me</th>')
    expect(html).toContain('<td>*x* &lt;b&gt;\nnext</td>')
  })
})

describe('the book', () => {
  let document: PDFDocumentProxy
  let pages: string[]
  const since = day('2026-01-01')
  beforeAll(async () => {
    const { content } = await book(demo, { format: 'pdf', day: DAY, since })
    document = await getDocument({ data: (content as Uint8Array).slice(), verbosity: 0 }).promise
    pages = await Promise.all(
      Array.from({ length: document.numPages }, async (_, at) => {
        const { items } = await (await document.getPage(at + 1)).getTextContent()
        return items.map((item) => ('str' in item ? item.str : '')).join(' ')
      }),
    )
  }, 60_000)
  it('has a title page, contents whose numbers and links lead where they say, and a number on each page', async () => {
    expect(pages[0]).toContain('Marram Sound Ferries')
    expect(pages[1]).toContain('Contents')
    pages.slice(1).forEach((said, at) => expect(said).toContain(`${at + 2} of ${document.numPages}`))
    let looked = 0
    for (const at of [1, 2]) {
      const page = await document.getPage(at + 1)
      const links = ((await page.getAnnotations()) as { dest?: unknown; contentsObj?: { str: string } }[]).filter(
        ({ dest }) => dest !== undefined,
      )
      for (const { dest, contentsObj } of links) {
        const place = (await document.getDestination(String(dest))) as [Parameters<typeof document.getPageIndex>[0]]
        const led = await document.getPageIndex(place[0])
        const words = contentsObj?.str ?? ''
        expect(pages[led], words).toContain(words)
        expect(pages[at]?.replace(/\s+/g, ' '), words).toContain(`${words} ${led + 1}`)
        looked++
      }
    }
    expect(looked).toBeGreaterThan(demo.views.size)
    // What is told begins on a page of its own, after the contents.
    const [first] = await document.getOutline()
    const place = first?.dest as [Parameters<typeof document.getPageIndex>[0]]
    const begins = pages[await document.getPageIndex(place[0])]
    expect(begins).toContain('1 People')
    expect(begins).not.toContain('Changed since')
  })
  it('shows each view with its caption and notes, then registers, findings and what has changed', () => {
    const all = pages.join('\n')
    for (const { title } of demo.views.values()) expect(all, title).toContain(title)
    expect(all).toContain('Ports & halls <in winter>')
    expect(all).toContain('Skerry Point is being rebuilt.')
    const squeezed = all.replace(/\s/g, '')
    for (const { message } of findingsOf(registry, demo, DAY).slice(0, 5))
      expect(squeezed).toContain(message.slice(0, 30).replace(/\s/g, ''))
    expect(all).toContain('Changed since 1 Jan 2026')
  })
  it('has bookmarks, and a structure that is read in its order', async () => {
    const outline = await document.getOutline()
    expect(outline.map(({ title }) => title)).toEqual([
      '1 People',
      '2 Work',
      '3 Time',
      '4 Networks',
      '5 Software',
      '6 Figures',
      'Registers',
      'Findings',
      'Changed since 1 Jan 2026',
    ])
    expect(outline[0]?.items.length).toBe(6)
    const roles = new Set<string>()
    type Node = { role?: string; alt?: string; children?: Node[] }
    const walk = (node: Node) => {
      if (node.role) roles.add(node.role)
      if (node.role === 'Figure') expect(node.alt).toBeTruthy()
      node.children?.forEach(walk)
    }
    for (let at = 1; at <= document.numPages; at++) walk((await (await document.getPage(at)).getStructTree()) as Node)
    for (const role of ['H1', 'H2', 'P', 'Figure', 'Table', 'TR', 'TH', 'TD', 'TOC', 'TOCI', 'Link'])
      expect(roles, role).toContain(role)
  })
  it('is a page of HTML as well, whose contents lead to what is there', async () => {
    const { content } = await book(demo, { format: 'html', day: DAY, since })
    const html = String(content)
    const ids = [...html.matchAll(/ id="([^"]+)"/g)].map(([, one]) => one)
    expect(ids.length).toBeGreaterThan(demo.views.size)
    expect(new Set(ids).size).toBe(ids.length)
    for (const [, target] of html.matchAll(/<a href="#([^"]+)"/g))
      if (!target?.startsWith('view=')) expect(html).toContain(`id="${target}"`)
    const parsed = new XMLParser({ ignoreAttributes: false }).parse(html.slice(html.indexOf('<body>'))) as {
      body: { figure: unknown[] }
    }
    expect(parsed.body.figure).toHaveLength(demo.views.size)
  })
  it('says of a view that cannot be drawn why, and shows the others', async () => {
    const broken: View = { ...view, id: id('broken'), title: 'Broken', picture: 'nothing' }
    const with_ = demo.with({
      views: new Map([
        [broken.id, broken],
        [view.id, view],
      ]),
    })
    const { content } = await book(with_, { format: 'html', day: DAY })
    expect(String(content)).toContain('There is no picture “organisation/nothing”.')
    expect(String(content)).toContain('Osei Brandt')
  })
  it('says of numbers and registers that fail why, and goes on', async () => {
    const organisation = registry.notations.find(({ id: one }) => one === 'organisation')
    const [register] = organisation?.registers ?? []
    if (!organisation || !register) throw new Error('gone')
    const fails = (): never => {
      throw new Error('nothing adds up')
    }
    const spies = [
      vi.spyOn(organisation, 'measures').mockImplementation(fails),
      vi.spyOn(register, 'rows').mockImplementation(fails),
    ]
    const { content } = await book(demo, { format: 'html', day: DAY })
    for (const spy of spies) spy.mockRestore()
    expect(String(content)).toContain('Its numbers could not be computed: nothing adds up.')
    expect(String(content)).toContain('It could not be read: nothing adds up.')
    expect(String(content)).toContain('id="findings"')
  })
})
