import { deflateRawSync } from 'node:zlib'
import exceljs from 'exceljs'
import { describe, expect, it } from 'vitest'
import { asId, Model } from '../../../src/core/model'
import { registry } from '../../../src/core/notations'
import { decodeText, readTable, readXlsx } from '../../../src/core/tabular'
import { makeEngine } from '../../../src/worker/engine'
import { writeWorkspace } from '../../../src/core/file'
import { DAY } from '../../facts'

/** An archive with one deflated entry, which says of itself what it is told to (ZIP, APPNOTE 6.3). */
function archive(path: string, content: Buffer, saysUnpacked = content.length): ArrayBuffer {
  const name = Buffer.from(path)
  const packed = deflateRawSync(content)
  const fields = (signature: number, more: [number, number][], length: number) => {
    const head = Buffer.alloc(length)
    head.writeUInt32LE(signature, 0)
    for (const [at, value] of more) head.writeUInt16LE(value & 0xffff, at)
    return head
  }
  const local = fields(
    0x04034b50,
    [
      [4, 20],
      [8, 8],
      [26, name.length],
    ],
    30,
  )
  local.writeUInt32LE(packed.length, 18)
  local.writeUInt32LE(saysUnpacked, 22)
  const central = fields(
    0x02014b50,
    [
      [4, 20],
      [6, 20],
      [10, 8],
      [28, name.length],
    ],
    46,
  )
  central.writeUInt32LE(packed.length, 20)
  central.writeUInt32LE(saysUnpacked, 24)
  const end = fields(
    0x06054b50,
    [
      [8, 1],
      [10, 1],
    ],
    22,
  )
  end.writeUInt32LE(central.length + name.length, 12)
  end.writeUInt32LE(local.length + name.length + packed.length, 16)
  const all = Buffer.concat([local, name, packed, central, name, end])
  return all.buffer.slice(all.byteOffset, all.byteOffset + all.byteLength) as ArrayBuffer
}

describe('a workbook that would take too much', () => {
  it('is not unpacked beyond its bound, whatever it says of itself', async () => {
    const bomb = archive('xl/styles.xml', Buffer.alloc(260_000_000), 10)
    expect(bomb.byteLength).toBeLessThan(1_000_000)
    expect(await readXlsx(bomb)).toEqual({ refused: expect.stringContaining('more than 200 MB') as string })
    // What holds no cells is not unpacked at all.
    const beside = await readXlsx(archive('xl/media/x.bin', Buffer.alloc(260_000_000), 10))
    expect(beside).toEqual({ refused: expect.not.stringContaining('MB') as string })
  })
  it('has a million cells at most', async () => {
    const cells = Buffer.from(`<sheetData>${'<c r="A1"/>'.repeat(1_000_001)}</sheetData>`)
    expect(await readXlsx(archive('xl/worksheets/sheet1.xml', cells))).toEqual({
      refused: expect.stringContaining('more than a million cells') as string,
    })
  })
  it('is read as the cells that are there, however far one of them lies', async () => {
    const book = new exceljs.Workbook()
    const sheet = book.addWorksheet('x')
    sheet.getCell('A1').value = 'Name'
    sheet.getCell('B1').value = 'Title'
    sheet.getCell('A2').value = 'Ada'
    sheet.getCell('XFD1048576').value = 'far'
    const began = performance.now()
    const read = await readXlsx((await book.xlsx.writeBuffer()) as unknown as ArrayBuffer)
    expect(read).toMatchObject({
      heading: ['Name', 'Title', ''],
      rows: [
        ['Ada', '', ''],
        ['', '', 'far'],
      ],
    })
    expect(performance.now() - began).toBeLessThan(5000)
  })
  it('that is damaged is refused in words', async () => {
    const good = new Uint8Array(archive('xl/worksheets/sheet1.xml', Buffer.from('<a/>'.repeat(500))))
    for (const at of [0, 35, 60, good.length - 60]) {
      const bad = good.slice()
      bad.fill(0xff, at, at + 6)
      const read = await readXlsx(bad.buffer)
      expect('refused' in read && read.refused.length > 0).toBe(true)
    }
  })
})

describe('texts from elsewhere', () => {
  const WORDS = 'Name;Größe — “Überfahrt”'
  it.each([
    ['UTF-8', Buffer.from(WORDS, 'utf8'), undefined],
    ['UTF-8 with a mark', Buffer.from(`\ufeff${WORDS}`, 'utf8'), undefined],
    ['UTF-16, little end first', Buffer.from(`\ufeff${WORDS}`, 'utf16le'), 'utf-16le'],
    ['UTF-16, big end first', Buffer.from(`\ufeff${WORDS}`, 'utf16le').swap16(), 'utf-16be'],
  ])('are read by their encoding: %s', (_, bytes, encoding) =>
    expect(decodeText(bytes)).toEqual({ text: WORDS, ...(encoding ? { encoding } : {}) }),
  )
  it('of older programs are no rows of question marks', () => {
    expect(decodeText(Buffer.from('Größe; Çedilla', 'latin1'))).toEqual({
      text: 'Größe; Çedilla',
      encoding: 'windows-1252',
      note: 'The file is not written in UTF-8; it is read as windows-1252.',
    })
    const xml = '<?xml version="1.0" encoding="ISO-8859-1"?><a>Größe</a>'
    expect(decodeText(Buffer.from(xml, 'latin1'))).toMatchObject({ text: xml })
    expect(decodeText(Buffer.from('<?xml version="1.0" encoding="martian"?><a/>'))).toEqual({
      refused: expect.stringContaining('“martian”') as string,
    })
  })
  it('lose the mark that keeps a spreadsheet from taking them for a formula', () => {
    expect(readTable("Task,Lag\nBuild,'-2d\nPaint,'=x\nSay,'hello")).toMatchObject({
      rows: [
        ['Build', '-2d'],
        ['Paint', '=x'],
        ['Say', "'hello"],
      ],
    })
  })
})

describe('files that are read as a whole', () => {
  const engine = makeEngine()
  const process = registry.notations.find(({ id }) => id === 'process')
  const view = process?.view(() => asId('v'), 'V')
  if (!view) throw new Error('no process notation')
  engine.load(writeWorkspace(Model.of({ name: 'T', views: [view] })))
  const read = (text: string | Buffer) => {
    const bytes = Buffer.from(text as string)
    const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer
    return engine.readFile(asId('v'), DAY, 'bpmn', { name: 'x.bpmn', bytes: buffer })
  }
  const bpmn = (inside: string, head = '') =>
    `<?xml version="1.0"?>${head}<definitions xmlns="http://www.omg.org/spec/BPMN/20100524/MODEL"><process id="p">${inside}</process></definitions>`
  it.each([
    [
      'an external entity',
      bpmn('<task id="a" name="&x;"/>', '<!DOCTYPE a [<!ENTITY x SYSTEM "file:///etc/hostname">]>'),
    ],
    [
      'entities that grow',
      bpmn(
        '<task id="a" name="&c;"/>',
        `<!DOCTYPE a [<!ENTITY a "${'x'.repeat(20_000)}"><!ENTITY b "${'&a;'.repeat(1000)}"><!ENTITY c "${'&b;'.repeat(1000)}">]>`,
      ),
    ],
    ['elements a thousand deep', bpmn(`${'<a>'.repeat(5000)}${'</a>'.repeat(5000)}`)],
    ['what is no XML', '<definitions'],
    ['no text at all', Buffer.from([0, 1, 2, 3, 255])],
  ])('are refused in words where they hold %s', async (_, text) => {
    const found = await read(text)
    const said = 'refused' in found ? found.refused : JSON.stringify(found.facts)
    expect(said.length).toBeGreaterThan(10)
    // What is read all the same holds nothing of other files, and nothing that has grown.
    expect(JSON.stringify(found).length).toBeLessThan(100_000)
  })
  it.each(['__proto__', 'constructor', 'toString'])(
    'with an element or attribute called %s stop nothing',
    async (name) => {
      const found = await read(bpmn(`<task id="a" name="A" ${name}="1"/><${name} id="b"/>`))
      expect('refused' in found ? found.refused.length : found.facts.length).toBeGreaterThan(0)
    },
  )
  it('keep what is written by number', async () => {
    const found = await read(bpmn('<task id="a" name="Gr&#246;&#xDF;e &amp; mehr"/>'))
    if ('refused' in found) throw new Error(found.refused)
    expect(JSON.stringify(found.change)).toContain('Größe & mehr')
  })
})
