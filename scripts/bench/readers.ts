/** Readers of files: time and memory over size 1, 10 and 100. Growth is that from 10 to 100: ten where a reader goes through its file once. */
import '../../src/core/calendar/withHolidays'
import { zipSync } from 'fflate'
import { parseWorkspace, writeWorkspace } from '../../src/core/file'
import { carriedBy, carryingPng } from '../../src/core/file/carried'
import { asDay, asId, Model, type View } from '../../src/core/model'
import { begunWith, type Wish } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { tablesIn } from '../../src/core/notations/uml/formats/readDdl'
import { readTable, readXlsx, writeXlsx } from '../../src/core/tabular'
import { marramSoundFerries } from '../../src/demo'
import { toPdf } from '../../src/server/draw/pdf'
import { madeUp } from './organisations'

const day = asDay('2026-11-24')
const demo = marramSoundFerries()
const SIZES = [1, 10, 100] as const
let count = 0
const newId = () => asId(`b${++count}`)
const many = (times: number, line: (at: number) => string) =>
  Array.from({ length: times }, (_, at) => line(at)).join('')
const wishFor = (view: View): Wish => ({ model: Model.of({ views: [view] }), view, day, selection: [], newId })

/** A file of a notation, written by it and read back. */
async function fileOf(notation: string, id: string): Promise<(text: string) => unknown> {
  const own = registry.notations.find((one) => one.id === notation)
  const view = [...demo.views.values()].find((one) => one.notation === notation)
  const file = await own?.files.find((one) => one.id === id)?.load()
  if (!view || !file) throw new Error(`${notation} reads no ${id}`)
  return (text) => file.read(wishFor(view), text)
}

const pixel = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='),
  (letter) => letter.charCodeAt(0),
)
const workspace = (size: number) => JSON.stringify(writeWorkspace(madeUp(100 * size)))
const readers: readonly (readonly [string, (size: number) => unknown, (content: never) => unknown])[] = [
  ['a workspace file', workspace, (text: string) => parseWorkspace(text, registry)],
  ['facts of a PNG', (size) => carryingPng(pixel, workspace(size)), carriedBy],
  [
    'facts of a PDF',
    async (size) =>
      (
        await toPdf([], {
          title: 'x',
          images: new Map(),
          base: undefined,
          attached: { name: 'facts.skivel.json', text: workspace(size), about: 'x' },
        })
      ).bytes,
    carriedBy,
  ],
  [
    'a list',
    (size) => `Ada — Head\n${many(100 * size, (at) => `  Ben ${at} — Clerk\n`)}`,
    (text: string) => begunWith(registry.notations, text, 'people', newId, day),
  ],
  ['CSV', (size) => `Name,Title\n${many(1000 * size, (at) => `Ada ${at},Clerk\n`)}`, readTable],
  [
    'XLSX',
    (size) =>
      writeXlsx('x', [['Name', 'Title'], ...Array.from({ length: 100 * size }, (_, at) => [`Ada ${at}`, 'Clerk'])]),
    readXlsx,
  ],
  [
    'SQL, tables',
    (size) => many(10 * size, (at) => `CREATE TABLE t${at} (id INT PRIMARY KEY, a VARCHAR(20) NOT NULL, b DATE);\n`),
    tablesIn,
  ],
  [
    'SQL, rows of data',
    (size) =>
      `CREATE TABLE t (id INT PRIMARY KEY);\n${many(2000 * size, (at) => `INSERT INTO t VALUES (${at}, 'it''s; one');\n`)}`,
    tablesIn,
  ],
  [
    'iCalendar',
    (size) =>
      `BEGIN:VCALENDAR\nVERSION:2.0\n${many(20 * size, (at) => `BEGIN:VEVENT\nUID:${at}\nSUMMARY:Event ${at}\nDTSTART;VALUE=DATE:20270101\nEND:VEVENT\n`)}END:VCALENDAR\n`,
    await fileOf('schedule', 'icalendar'),
  ],
]

const rows: object[] = []
for (const [title, make, read] of readers) {
  const took: number[] = []
  let [bytes, grown] = [0, 0]
  for (const size of SIZES) {
    const content = await make(size)
    bytes = typeof content === 'string' ? content.length : (content as ArrayBuffer).byteLength
    const before = process.memoryUsage().rss
    const began = performance.now()
    await read(content as never)
    took.push(performance.now() - began)
    grown = process.memoryUsage().rss - before
  }
  const [one = 0, ten = 0, hundred = 0] = took
  rows.push({
    file: title,
    'kB at 100': Math.round(bytes / 1000),
    'ms at 1': Number(one.toFixed(1)),
    'at 10': Number(ten.toFixed(1)),
    'at 100': Number(hundred.toFixed(1)),
    growth: Number((hundred / ten).toFixed(1)),
    'MB more at 100': Math.round(grown / 1e6),
  })
}
// What unpacks to far more than it is: refused before it does.
const bomb = zipSync({ 'xl/worksheets/sheet1.xml': new Uint8Array(300_000_000) }, { level: 9 })
const began = performance.now()
const refused = await readXlsx(bomb.buffer as ArrayBuffer)
rows.push({
  file: `a bomb: ${'refused' in refused ? 'refused' : 'read'}`,
  'kB at 100': Math.round(bomb.length / 1000),
  'at 100': Math.round(performance.now() - began),
})
console.table(rows)
