import {
  AlignmentType,
  Document,
  HeadingLevel,
  ImageRun,
  LevelFormat,
  Packer,
  Paragraph,
  Table,
  TableCell,
  TableRow,
  TextRun,
  WidthType,
} from 'docx'
import { isWritable } from '../../core/model'
import type { Block, Report } from './report'
import { pixelsOfPicture } from './reportPictures'

const LEVELS = { 1: HeadingLevel.HEADING_1, 2: HeadingLevel.HEADING_2, 3: HeadingLevel.HEADING_3 } as const
const NUMBERS = 'notes'
/** What XML takes no letter of. */
const plain = (text: string): string => (isWritable(text) ? text : text.replace(/[^\P{C}\t\n]/gu, '\ufffd'))

/** A report as DOCX (ISO/IEC 29500): its pictures as pixels at a width in mm, with alternative text. O(blocks) */
export async function docxOf(
  report: Report,
  wide: number,
  images: ReadonlyMap<string, string> = new Map(),
): Promise<Uint8Array> {
  const children = (await Promise.all(report.blocks.map((block) => blockIn(block, wide, images)))).flat()
  const document = new Document({
    title: plain(report.title),
    creator: 'Skivel',
    numbering: {
      config: [
        {
          reference: NUMBERS,
          levels: [{ level: 0, format: LevelFormat.DECIMAL, text: '%1.', alignment: AlignmentType.START }],
        },
      ],
    },
    sections: [
      {
        children: [
          new Paragraph({ text: plain(report.title), heading: HeadingLevel.TITLE }),
          new Paragraph({ text: plain(report.subtitle) }),
          ...children,
        ],
      },
    ],
  })
  return new Uint8Array(await Packer.toBuffer(document))
}

async function blockIn(
  block: Block,
  wide: number,
  images: ReadonlyMap<string, string>,
): Promise<readonly (Paragraph | Table)[]> {
  switch (block.sort) {
    case 'heading':
      return [new Paragraph({ text: plain(block.text), heading: LEVELS[block.level] })]
    case 'paragraph':
      return [new Paragraph({ text: plain(block.text) })]
    case 'list':
      return block.items.map(
        (item) =>
          new Paragraph({
            text: plain(item),
            ...(block.isNumbered ? { numbering: { reference: NUMBERS, level: 0 } } : { bullet: { level: 0 } }),
          }),
      )
    case 'picture': {
      const { png, width, height } = await pixelsOfPicture(block, wide, images)
      const words = { title: plain(block.view.title), name: plain(block.view.title), description: plain(block.alt) }
      return [
        new Paragraph({
          keepNext: block.caption !== undefined,
          children: [
            new ImageRun({
              type: 'png',
              data: Buffer.from(png),
              transformation: { width, height },
              altText: words,
            }),
          ],
        }),
        ...(block.caption
          ? [new Paragraph({ children: [new TextRun({ text: plain(block.caption), italics: true })] })]
          : []),
      ]
    }
    case 'table': {
      const cell = (text: string, bold = false) =>
        new TableCell({ children: [new Paragraph({ children: [new TextRun({ text: plain(text), bold, size: 18 })] })] })
      return [
        new Table({
          width: { size: 100, type: WidthType.PERCENTAGE },
          rows: [
            new TableRow({ tableHeader: true, children: block.heading.map((text) => cell(text, true)) }),
            ...block.rows.map((row) => new TableRow({ children: row.map((text) => cell(text)) })),
          ],
        }),
        new Paragraph({ text: '' }),
      ]
    }
  }
}
