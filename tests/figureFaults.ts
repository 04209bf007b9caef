import { expect, it } from 'vitest'
import type { Picture } from '../src/core/notation'
import { MOST_SETS } from '../src/core/notations/figure/sets/regions'
import { boxOf, overlaps, type Box, type Item, type Mark, type Scene } from '../src/core/scene'
import { DAY } from './facts'
import { figureOf, figureView, type Line } from './figureShapes'

/** Made-up words of three scripts, and of all of them. */
const SCRIPTS: Readonly<Record<string, readonly string[]>> = {
  latin: ['Quay', 'berth', 'timetable', 'weather', 'of', 'a', 'passenger', 'cancelled', 'ÆØÅ-line'],
  greek: ['Λιμάνι', 'πλοίο', 'καιρός', 'και', 'το', 'δρομολόγιο', 'αποβάθρα'],
  cyrillic: ['Причал', 'паром', 'погода', 'и', 'отправление', 'пассажир'],
}

const WORDS: typeof SCRIPTS = { ...SCRIPTS, mixed: Object.values(SCRIPTS).flat() }
const LENGTHS = { short: 1, middling: 5, long: 26 } as const
const PAPERS = [
  { paper: 'A4', across: true },
  { paper: 'A5' },
  { paper: '16:9', across: true },
  { paper: '120 × 120 mm' },
] as const

/** Lines of a figure: so many parts, some with lines under them. */
function linesFor(count: number, script: string, words: number, seed: number): Line[] {
  let state = seed * 7919 + count
  const next = (most: number) => (state = (state * 1103515245 + 12345) % 2147483648) % most
  const list = WORDS[script] ?? []
  const text = (many: number) =>
    Array.from({ length: Math.max(1, many) }, () => list[next(list.length)] ?? '').join(' ')
  return Array.from({ length: count }, (_, at) => ({
    text: text(words === 26 ? 14 : words),
    fields: { value: next(900), unit: '%', across: next(11), up: next(11), ...(at % 2 === 0 ? { done: true } : {}) },
    under: Array.from({ length: next(4) }, () => ({ text: text(words) })),
  }))
}

/** What a figure must never show. */
export function faultsIn(scene: Scene, parts: ReadonlySet<string>): string[] {
  const faults: string[] = []
  const { bounds } = scene
  const within = (box: Box, outer: Box) =>
    box.x >= outer.x - 0.6 &&
    box.y >= outer.y - 0.6 &&
    box.x + box.width <= outer.x + outer.width + 0.6 &&
    box.y + box.height <= outer.y + outer.height + 0.6
  const texts: { item: Item; box: Box; mark: Extract<Mark, { tag: 'text' }> }[] = []
  for (const item of scene.items) {
    if (!within(item.box, bounds)) faults.push(`${item.label} off the paper`)
    for (const mark of item.marks) {
      const own = boxOf(mark)
      const box = { ...own, x: own.x + item.box.x, y: own.y + item.box.y }
      if (!within(box, bounds)) faults.push(`a ${mark.tag} of ${item.label} off the paper`)
      if (mark.tag !== 'text') continue
      texts.push({ item, box, mark })
      if (!within(box, item.box)) faults.push(`“${mark.children[0]}” outside ${item.label}`)
    }
  }
  for (const mark of scene.backdrop) if (!within(boxOf(mark), bounds)) faults.push(`a ${mark.tag} off the paper`)
  const tops = scene.items.filter(({ id }) => parts.has(id))
  tops.forEach((a, at) => {
    for (const b of tops.slice(at + 1))
      if (
        overlaps({ ...a.box, width: a.box.width - 0.5, height: a.box.height - 0.5 }, b.box) &&
        overlaps(a.box, { ...b.box, width: b.box.width - 0.5, height: b.box.height - 0.5 })
      )
        faults.push(`${a.label} over ${b.label}`)
  })
  texts.forEach((a, at) => {
    for (const b of texts.slice(at + 1)) {
      const [one, other] = [slim(a.box), slim(b.box)]
      if (overlaps(one, other)) faults.push(`“${a.mark.children[0]}” over “${b.mark.children[0]}”`)
    }
  })
  return faults
}

/** Letters rarely fill the room above and below their line; stretches of one line touch. */
const slim = ({ x, y, width, height }: Box): Box => ({
  x: x + 0.01,
  y: y + height * 0.2,
  width: width - 0.02,
  height: height * 0.6,
})

/** The sizes of what parts say, heads and details. */
function sizesIn(scene: Scene, parts: ReadonlySet<string>) {
  const bold = new Set<number>()
  const plain = new Set<number>()
  for (const { id, marks } of scene.items)
    for (const mark of marks) {
      if (mark.tag !== 'text' || mark.attrs.opacity !== undefined || mark.attrs['text-anchor'] === 'middle') continue
      if (mark.attrs['font-weight'] === 700) {
        if (parts.has(id)) bold.add(mark.attrs['font-size'])
      } else plain.add(mark.attrs['font-size'])
    }
  return { bold, plain }
}

/** Draws arrangements of 2 to 9 parts with short, middling and long texts in each script on each paper, and looks for what must never show. */
export function drawsSoundly(list: readonly Picture[]): void {
  it.each(list.map((one) => [one.id, one] as const))(
    'as %s keeps texts within their parts, parts apart, everything on the paper, and one size for a rank',
    (_, picture) => {
      let drawn = 0
      for (let count = 2; count <= 9; count++)
        for (const [length, words] of Object.entries(LENGTHS))
          for (const script of Object.keys(WORDS))
            for (const look of PAPERS) {
              const model = figureOf(linesFor(count, script, words, words))
              const scene = picture.draw(model, figureView(picture.id, look), DAY)
              const parts = new Set(
                [...model.entities.values()].flatMap(({ id, kind, fields }) =>
                  kind === 'part' && fields['under'] === undefined ? [id as string] : [],
                ),
              )
              const where = `${count} parts, ${length}, ${script}, ${look.paper}`
              expect(faultsIn(scene, parts).slice(0, 3), where).toEqual([])
              const { bold, plain } = sizesIn(scene, parts)
              expect(bold.size, where).toBeLessThanOrEqual(1)
              expect(plain.size, where).toBeLessThanOrEqual(1)
              // Whoever is drawn at all is drawn by name.
              const most = picture.id === 'overlap' ? MOST_SETS : Infinity
              expect(
                scene.items.filter(({ id }) => parts.has(id)),
                where,
              ).toHaveLength(Math.min(count, most))
              if (count > most) expect(scene.headline).toContain(`the first ${most} of ${count} sets`)
              drawn++
            }
      expect(drawn).toBe(384)
    },
  )
}
