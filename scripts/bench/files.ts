/** Files for documents: time and memory by size. Reference for growth is the same chart of a tenth of the size. */
import '../../src/core/maps/withLand'
import '../../src/core/scene/withIcons'
import { asDay, type View } from '../../src/core/model'
import { handling } from '../../src/core/notations/organisation/handling'
import { asId } from '../../src/core/model'
import { marramSoundFerries } from '../../src/demo'
import { delivered, type Delivery } from '../../src/server/draw/deliver'
import { madeUp } from './organisations'

const day = asDay('2026-11-24')
const megabytes = (bytes: number) => Math.round(bytes / 1e6)

async function measured(title: string, count: number, wish: Partial<Delivery>): Promise<object> {
  const model = madeUp(count)
  const view: View = handling.view(() => asId('v'), 'All')
  const before = process.memoryUsage().rss
  const begun = performance.now()
  const { content, size } = await delivered(model, [view], { format: 'pdf', day, ...wish })
  const ms = Math.round(performance.now() - begun)
  return {
    file: title,
    positions: count,
    ms,
    'MB more': megabytes(process.memoryUsage().rss - before),
    'kB of file': Math.round(content.length / 1000),
    size,
  }
}

const demo = marramSoundFerries()
const begun = performance.now()
const book = await delivered(demo, [...demo.views.values()], { format: 'pdf', day, facts: true })
const bookMs = Math.round(performance.now() - begun)
console.table([
  {
    file: 'PDF of all views of the demo',
    ms: bookMs,
    'kB of file': Math.round(book.content.length / 1000),
    size: book.size,
  },
  await measured('PDF', 100, {}),
  await measured('PDF', 1000, {}),
  await measured('PDF', 10_000, {}),
  await measured('PDF on sheets of A3', 1000, { paper: 'A3', scale: 1 }),
  await measured('PDF on sheets of A3', 10_000, { paper: 'A3', scale: 0.5 }),
  await measured('PNG, A3 at 300 dpi', 1000, { format: 'png', paper: 'A3', dpi: 300 }),
  await measured('SVG with outlines', 1000, { format: 'svg', letters: 'outlines' }),
])
