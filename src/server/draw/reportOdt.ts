import { strToU8, zipSync, type Zippable } from 'fflate'
import { escape } from '../../core/scene'
import type { Block, Report } from './report'
import { pixelsOfPicture } from './reportPictures'

const TYPE = 'application/vnd.oasis.opendocument.text'
const SPACES = [
  ['office', 'office'],
  ['text', 'text'],
  ['table', 'table'],
  ['draw', 'drawing'],
  ['style', 'style'],
]
  .map(([short, name]) => `xmlns:${short}="urn:oasis:names:tc:opendocument:xmlns:${name}:1.0"`)
  .concat(
    'xmlns:fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0"',
    'xmlns:svg="urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0"',
    'xmlns:xlink="http://www.w3.org/1999/xlink"',
    'xmlns:dc="http://purl.org/dc/elements/1.1/"',
    'xmlns:meta="urn:oasis:names:tc:opendocument:xmlns:meta:1.0"',
    'xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"',
  )
  .join(' ')
const HEAD = '<?xml version="1.0" encoding="UTF-8"?>\n'

/** A report as ODT (ISO/IEC 26300, OpenDocument 1.3): its pictures as pixels at a width in mm, with alternative text. O(blocks) */
export async function odtOf(
  report: Report,
  wide: number,
  images: ReadonlyMap<string, string> = new Map(),
): Promise<Uint8Array> {
  const pictures = new Map<string, Uint8Array>()
  const body = (await Promise.all(report.blocks.map((block) => blockIn(block, wide, images, pictures)))).join('\n')
  const parts = [
    `<text:h text:style-name="Title" text:outline-level="1">${escape(report.title)}</text:h>`,
    `<text:p text:style-name="Quiet">${escape(report.subtitle)}</text:p>`,
    body,
  ]
  const files: Record<string, string> = {
    'content.xml': `${HEAD}<office:document-content ${SPACES} office:version="1.3"><office:automatic-styles>${STYLES}</office:automatic-styles><office:body><office:text>${parts.join('\n')}</office:text></office:body></office:document-content>`,
    'styles.xml': `${HEAD}<office:document-styles ${SPACES} office:version="1.3"><office:styles/></office:document-styles>`,
    'meta.xml': `${HEAD}<office:document-meta ${SPACES} office:version="1.3"><office:meta><dc:title>${escape(report.title)}</dc:title><dc:language>${escape(report.lang)}</dc:language><meta:generator>Skivel</meta:generator></office:meta></office:document-meta>`,
  }
  const entries = [
    ['/', TYPE],
    ...Object.keys(files).map((name) => [name, 'text/xml']),
    ...[...pictures.keys()].map((name) => [name, 'image/png']),
  ]
  files['META-INF/manifest.xml'] =
    `${HEAD}<manifest:manifest ${SPACES} manifest:version="1.3">${entries.map(([path, type]) => `<manifest:file-entry manifest:full-path="${path}" manifest:media-type="${type}"/>`).join('')}</manifest:manifest>`
  // What it is comes first, as it is: so one sees it without unpacking (part 2, 3.3).
  const all: Zippable = { mimetype: [strToU8(TYPE), { level: 0 }] }
  for (const [name, text] of Object.entries(files)) all[name] = strToU8(text)
  for (const [name, bytes] of pictures) all[name] = [bytes, { level: 0 }]
  return zipSync(all)
}

const cellStyle = '<style:table-cell-properties fo:padding="0.08cm" fo:border-bottom="0.5pt solid #d8d4c9"/>'
const STYLES = [
  ['Title', 'fo:font-size="22pt" fo:font-weight="bold"'],
  ['Heading1', 'fo:font-size="17pt" fo:font-weight="bold"'],
  ['Heading2', 'fo:font-size="14pt" fo:font-weight="bold"'],
  ['Heading3', 'fo:font-size="12pt" fo:font-weight="bold"'],
  ['Quiet', 'fo:color="#5a6471"'],
  ['Caption', 'fo:color="#5a6471" fo:font-style="italic"'],
  ['Small', 'fo:font-size="9pt"'],
  ['SmallHead', 'fo:font-size="9pt" fo:font-weight="bold"'],
]
  .map(
    ([name, paint]) =>
      `<style:style style:name="${name}" style:family="paragraph"><style:text-properties ${paint}/></style:style>`,
  )
  .concat(`<style:style style:name="Cell" style:family="table-cell">${cellStyle}</style:style>`)
  .join('')

async function blockIn(
  block: Block,
  wide: number,
  images: ReadonlyMap<string, string>,
  pictures: Map<string, Uint8Array>,
): Promise<string> {
  switch (block.sort) {
    case 'heading':
      return `<text:h text:style-name="Heading${block.level}" text:outline-level="${block.level}">${escape(block.text)}</text:h>`
    case 'paragraph':
      return `<text:p${block.isQuiet ? ' text:style-name="Quiet"' : ''}>${escape(block.text)}</text:p>`
    case 'list':
      return block.items
        .map((item, at) => `<text:p>${block.isNumbered ? `${at + 1}. ` : '• '}${escape(item)}</text:p>`)
        .join('')
    case 'picture': {
      const { png, width, height } = await pixelsOfPicture(block, wide, images)
      const name = `Pictures/${pictures.size + 1}.png`
      pictures.set(name, png)
      const cm = (px: number) => `${((px / 96) * 2.54).toFixed(2)}cm`
      const frame = [
        `<draw:frame draw:name="${escape(block.view.title)}" text:anchor-type="as-char" svg:width="${cm(width)}" svg:height="${cm(height)}">`,
        `<draw:image xlink:href="${name}" xlink:type="simple" xlink:show="embed" xlink:actuate="onLoad"/>`,
        `<svg:title>${escape(block.view.title)}</svg:title><svg:desc>${escape(block.alt)}</svg:desc></draw:frame>`,
      ].join('')
      const caption = block.caption ? `<text:p text:style-name="Caption">${escape(block.caption)}</text:p>` : ''
      return `<text:p>${frame}</text:p>${caption}`
    }
    case 'table': {
      const cell = (text: string, style: string) =>
        `<table:table-cell table:style-name="Cell" office:value-type="string"><text:p text:style-name="${style}">${escape(text)}</text:p></table:table-cell>`
      const row = (cells: readonly string[], style: string) =>
        `<table:table-row>${cells.map((text) => cell(text, style)).join('')}</table:table-row>`
      return [
        `<table:table><table:table-column table:number-columns-repeated="${block.heading.length}"/>`,
        `<table:table-header-rows>${row(block.heading, 'SmallHead')}</table:table-header-rows>`,
        ...block.rows.map((cells) => row(cells, 'Small')),
        '</table:table><text:p/>',
      ].join('')
    }
  }
}
