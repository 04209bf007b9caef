import { zipSync, zlibSync } from 'fflate'
import { PDFDocument } from 'pdf-lib'
import { describe, expect, it } from 'vitest'
import { carriedBy, carryingPng, CARRIED_FILE } from '../../src/core/file/carried'
import { asId, Model, MOST_DEEP, parseJson, type View } from '../../src/core/model'
import { likenesses, type Wish } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { tablesIn } from '../../src/core/notations/uml/formats/readDdl'
import { readTable, readXlsx } from '../../src/core/tabular'
import { marramSoundFerries } from '../../src/demo'
import { DAY } from '../facts'

/** A promise: whatever a file is made of, reading it ends soon, or says that it is too much. Quadratic readers take minutes for these. */
const SOON_MS = 4000
const N = 100_000
const many = (text: string, count = N) => text.repeat(count)

const XML = '<?xml version="1.0"?>'
const BAIT: readonly (readonly [string, string])[] = [
  ['open tags', XML + many('<a>')],
  ['deep tags', XML + many('<a>') + many('</a>')],
  ['wide tags', `${XML}<r>${many('<a/>')}</r>`],
  ['references', `${XML}<r>${many('&#x41;')}</r>`],
  ['signs of tags', many('<')],
  ['open comments', `<r>${many('<!--')}`],
  ['open data', `<r>${many('<![CDATA[')}`],
  ['quotes', many('"')],
  ['commas', many(',')],
  ['lines', many('\n')],
  ['spaces', many(' ')],
  ['lists in lists', many('[') + many(']')],
  ['objects', `[${many('{"a":1},')}{}]`],
  ['backslashes', many('\\')],
  ['brackets', many('(')],
  ['colons', many(':')],
  ['a long name', `dn: ${many('a=b,')}`],
  ['folded lines', `dn: a=b\n${many(' x\n')}`],
  ['records', many('dn: cn=a\ncn: a\n\n', N / 10)],
  [
    'entries',
    `BEGIN:VCALENDAR\n${many('BEGIN:VEVENT\nSUMMARY:a\nDTSTART:20260101\nEND:VEVENT\n', N / 20)}END:VCALENDAR\n`,
  ],
  ['entries in entries', many('BEGIN:VEVENT\n') + many('END:VEVENT\n')],
  ['folded entries', `BEGIN:VCALENDAR\nSUMMARY:a\n${many(' x\n')}END:VCALENDAR`],
  ['cells', many('a\tb\n')],
  ['open cells', `"${many('""')}`],
  ['one word', many('x')],
  ['dashes', many('-')],
  ['bars', `|${many('a|')}\n|${many('-|')}\n`],
]

describe('readers of files', () => {
  const demo = marramSoundFerries()
  const readers = registry.notations.flatMap((notation) => {
    const view = [...demo.views.values()].find((one) => one.notation === notation.id) as View
    const wish = (): Wish => {
      let count = 0
      return { model: Model.of({ views: [view] }), view, day: DAY, selection: [], newId: () => asId(`n${++count}`) }
    }
    return [
      ...notation.imports.flatMap(({ readers: own }) =>
        own.map((one) => ({
          name: `${notation.id}: ${one.id}`,
          read: (text: string) => Promise.resolve((one.recognises?.(text), one.read(text))),
        })),
      ),
      ...notation.files.map((file) => ({
        name: `${notation.id}: ${file.id}`,
        read: async (text: string) => (await file.load()).read(wish(), text),
      })),
    ]
  })
  it('are all those that there are', () => {
    expect(readers.length).toBeGreaterThan(9)
  })
  it.each([
    ...readers,
    { name: 'a table', read: (text: string) => Promise.resolve(readTable(text)) },
    { name: 'a list', read: (text: string) => Promise.resolve(likenesses(registry.notations, text)) },
  ])('$name: end soon, and fail in words', { timeout: 120_000 }, async ({ read }) => {
    for (const [what, text] of BAIT) {
      const began = performance.now()
      await read(text)
      expect(performance.now() - began, what).toBeLessThan(SOON_MS)
    }
  })
})

describe('a dump of a database', () => {
  const made = 'CREATE TABLE a (id INT PRIMARY KEY, b VARCHAR(10));\n'
  const other = made.replace('TABLE a', 'TABLE c')
  const soon = (text: string) => {
    const began = performance.now()
    const found = tablesIn(text)
    expect(performance.now() - began).toBeLessThan(SOON_MS)
    return 'refused' in found ? found.refused : found.tables.map(({ name }) => name)
  }
  it.each([
    [
      'rows of data',
      `INSERT INTO a VALUES ${Array.from({ length: 40_000 }, (_, i) => `(${i},'it''s; -- no')`).join()};\n`,
    ],
    ['lines of rows', many("INSERT INTO a VALUES (1,'x;y');\n", 40_000)],
    ['lines of comments', many('--\n', 200_000)],
    ['open comments', many('/* ', 200_000) + '*/'],
    ['doubled quotes', `INSERT INTO a VALUES ('${many("''", 500_000)}');`],
    ['signs', many(';', 400_000)],
    ['dashes', `${many('- ', 400_000)};`],
  ])('is read past %s in a time that grows with its length', (_, between) => {
    expect(soon(made + between + other)).toEqual(['a', 'c'])
  })
  it('says what is too deep or too long, and reads the rest', () => {
    const deep = `CREATE TABLE d (b INT, c INT DEFAULT ${many('(', 50_000)}1${many(')', 50_000)});\n`
    const long = `CREATE TABLE l (b INT, c ENUM(${Array.from({ length: 20_000 }, (_, i) => `'v${i}'`).join()}));\n`
    const found = tablesIn(deep + long + other)
    if ('refused' in found) throw new Error(found.refused)
    expect(found.tables.map(({ name, columns }) => [name, columns.length])).toEqual([
      ['d', 1],
      ['l', 1],
      ['c', 2],
    ])
    expect(found.left.join()).toMatch(/too long or too deep/)
    expect(soon(`CREATE TABLE e (${many(',', 400_000)});`)).toEqual(expect.anything())
  })
  it('keeps lines and texts as they were', () => {
    const sql =
      "-- a\n\n/* b\nc */ CREATE TABLE `x;y` (\n  a INT DEFAULT 1, # d\n  b VARCHAR(9) DEFAULT ';(''',\n  q Q\n);\n"
    const found = tablesIn(sql)
    if ('refused' in found) throw new Error(found.refused)
    expect(found.tables[0]).toMatchObject({
      name: 'x;y',
      columns: [{ name: 'a' }, { name: 'b', initial: "';('''" }],
    })
  })
})

describe('a workbook', () => {
  const sheet = (
    more: string,
    cells = '<row r="1"><c r="A1" t="inlineStr"><is><t>Name</t></is></c><c r="B1" t="inlineStr"><is><t>Title</t></is></c></row><row r="2"><c r="A2" t="inlineStr"><is><t>Ada</t></is></c><c r="B2" t="inlineStr"><is><t>Head</t></is></c></row>',
  ) =>
    `<?xml version="1.0"?><worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><cols><col min="1" max="16384" width="9"/></cols><sheetData>${cells}</sheetData>${more}</worksheet>`
  const NAMES = '<definedNames><definedName name="Print">Sheet1!$A$1:$XFD$1048576</definedName></definedNames>'
  const book = (content: string, names = '') => {
    const text = (xml: string) => new TextEncoder().encode(xml)
    const bytes = zipSync({
      '[Content_Types].xml': text(
        '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/></Types>',
      ),
      '_rels/.rels': text(
        '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>',
      ),
      'xl/workbook.xml': text(
        `<?xml version="1.0"?><workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="Sheet1" sheetId="1" r:id="rId1"/></sheets>${names}</workbook>`,
      ),
      'xl/_rels/workbook.xml.rels': text(
        '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
      ),
      'xl/worksheets/sheet1.xml': text(content),
    })
    return bytes.buffer as ArrayBuffer
  }
  const WHOLE = 'A1:XFD1048576'
  it.each([
    ['merged', `<mergeCells count="1"><mergeCell ref="${WHOLE}"/></mergeCells>`, ''],
    [
      'validated',
      `<dataValidations count="1"><dataValidation type="whole" sqref="${WHOLE}"><formula1>1</formula1></dataValidation></dataValidations>`,
      '',
    ],
    [
      'shaded',
      `<conditionalFormatting sqref="${WHOLE}"><cfRule type="expression" priority="1"><formula>1</formula></cfRule></conditionalFormatting>`,
      '',
    ],
    ['linked', `<hyperlinks><hyperlink ref="${WHOLE}" location="A1"/></hyperlinks>`, ''],
    ['named', '', NAMES],
  ])('that is %s over a whole sheet is read as the cells it has', async (_, more, names) => {
    const began = performance.now()
    expect(await readXlsx(book(sheet(more), names))).toMatchObject({
      heading: ['Name', 'Title'],
      rows: [['Ada', 'Head']],
    })
    expect(performance.now() - began).toBeLessThan(SOON_MS)
  })
  it('with one far cell does not make all before it', async () => {
    const far =
      '<row r="1"><c r="A1" t="inlineStr"><is><t>N</t></is></c></row><row r="1048576"><c r="XFD1048576" t="inlineStr"><is><t>Z</t></is></c></row>'
    expect(await readXlsx(book(sheet('', far)))).toMatchObject({ heading: ['N', ''], rows: [['', 'Z']] })
  })
})

describe('pictures that carry more than is taken', () => {
  const TOO_MUCH = 60_000_000
  const grown = async <T>(work: () => Promise<T> | T): Promise<number> => {
    const before = process.memoryUsage().rss
    await Promise.resolve()
      .then(work)
      .catch((error: unknown) => {
        if (!(error instanceof RangeError)) throw error
      })
    return (process.memoryUsage().rss - before) / 1e6
  }
  it('are refused before they are unpacked: PNG', async () => {
    const pixel = Uint8Array.from(
      atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='),
      (letter) => letter.charCodeAt(0),
    )
    const bomb = carryingPng(pixel, ' '.repeat(TOO_MUCH))
    expect(bomb.length).toBeLessThan(100_000)
    expect(() => carriedBy(bomb)).toThrow(RangeError)
    expect(await grown(() => carriedBy(bomb))).toBeLessThan(150)
    expect(carriedBy(carryingPng(pixel, '{"ä":1}'))).toBe('{"ä":1}')
  })
  it('are refused before they are unpacked: PDF, also where all else in it is a bomb', async () => {
    const document = await PDFDocument.create()
    document.addPage()
    await document.attach(new Uint8Array(TOO_MUCH), CARRIED_FILE)
    const bomb = await document.save()
    expect(() => carriedBy(bomb)).toThrow(RangeError)
    expect(await grown(() => carriedBy(bomb))).toBeLessThan(150)
    // Lists of objects that unpack to a gigabyte each, a hundred of them.
    const packed = Buffer.from(zlibSync(new Uint8Array(100_000_000), { level: 9 })).toString('latin1')
    const lists = Array.from(
      { length: 100 },
      (_, i) =>
        `${i + 1} 0 obj\n<</Type/ObjStm/N 1/First 4/Filter/FlateDecode/Length ${packed.length}>>\nstream\n${packed}\nendstream\nendobj\n`,
    )
    const text = `%PDF-1.7\n${lists.join('')}trailer\n<</Root 1 0 R>>\n%%EOF`
    const began = performance.now()
    expect(await grown(() => carriedBy(Buffer.from(text, 'latin1')))).toBeLessThan(300)
    // Each of them tried would take ten times as long, on a machine that has nothing else to do.
    expect(performance.now() - began).toBeLessThan(3 * SOON_MS)
    const names = `%PDF-1.7\n${`(${CARRIED_FILE}) /EF << /F 1 0 R >> `.repeat(20_000)}${'1 0 R '.repeat(200_000)}\n%%EOF`
    const again = performance.now()
    expect(carriedBy(Buffer.from(names))).toBeUndefined()
    expect(performance.now() - again).toBeLessThan(SOON_MS)
  })
  it('as another program saves them are read all the same', async () => {
    for (const useObjectStreams of [true, false]) {
      const document = await PDFDocument.create()
      document.addPage()
      await document.attach(new TextEncoder().encode('{"ä":1}'), CARRIED_FILE)
      expect(carriedBy(await document.save({ useObjectStreams }))).toBe('{"ä":1}')
    }
  })
})

describe('JSON from outside', () => {
  it('is as deep as is taken, and no deeper', () => {
    const deep = (count: number) => '['.repeat(count) + ']'.repeat(count)
    expect(parseJson(deep(MOST_DEEP))).toEqual(JSON.parse(deep(MOST_DEEP)))
    expect(() => parseJson(deep(MOST_DEEP + 1))).toThrow(SyntaxError)
    expect(() => parseJson('{"a":'.repeat(5_000_000))).toThrow(SyntaxError)
    expect(parseJson('{"a":"[[[[{{{{\\\\\\"","b":[1]}')).toEqual({ a: '[[[[{{{{\\"', b: [1] })
    expect(() => parseJson(`{${Array.from({ length: 100_002 }, (_, i) => `"k${i}":1`).join()}}`)).toThrow('keys')
  })
})
