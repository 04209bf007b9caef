import { describe, expect, it } from 'vitest'
import { asId, type View } from '../../../src/core/model'
import { drawn, notesIn, noteWords, readRegion } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import {
  boxOf,
  framed,
  grounded,
  layersOf,
  onPaper,
  PAPERS,
  themeIn,
  themes,
  toSvg,
  type Mark,
  type Scene,
} from '../../../src/core/scene'
import { marramSoundFerries } from '../../../src/demo'
import { demoViews } from '../../demoViews'
import { DAY } from '../../facts'

const demo = marramSoundFerries()
const AROUND: View['look'] = {
  heading: true,
  asOf: true,
  source: 'Staff list',
  'note a': ['1', 'A note about nothing in particular, long enough to be broken into a few lines.'],
}
const sceneOf = (view: View): Scene => {
  const scene = drawn(registry, demo, view, DAY)
  if (!scene) throw new Error('no scene')
  return scene
}
const words = (scene: Scene): readonly string[] => textMarks(scene.backdrop).map((mark) => mark.children[0])
type TextMark = Extract<Mark, { tag: 'text' }>
/** Texts where and as large as they are drawn. */
const textMarks = (marks: readonly Mark[], times = 1): readonly TextMark[] =>
  marks.flatMap((mark) => {
    if (mark.tag === 'g') {
      const [scale = 1] = (/scale\(([\d.]+)/.exec(mark.attrs.transform ?? '')?.slice(1) ?? []).map(Number)
      return textMarks(mark.children, times * scale)
    }
    if (mark.tag !== 'text') return []
    const { x, y, 'font-size': size } = mark.attrs
    return [{ ...mark, attrs: { ...mark.attrs, x: x * times, y: y * times, 'font-size': size * times } }]
  })
const lookOf = (look: View['look']): View => {
  const view = demo.views.get(asId('two-levels'))
  if (!view) throw new Error('gone')
  return { ...view, look }
}

describe.each(demoViews.map(({ view, picture }) => [`${view.title}, ${picture.title}`, view] as const))(
  '%s',
  (_, view) => {
    const plain = sceneOf({ ...view, look: {} })
    it.each([undefined, 'A4'])(
      'has what is wanted around it, outside the picture and within the bounds, paper: %s',
      (paper) => {
        const scene = sceneOf({ ...view, look: { ...AROUND, ...(paper ? { paper } : {}) } })
        expect(scene.items.map(({ box }) => box)).toEqual(
          (paper ? sceneOf({ ...view, look: { paper } }) : plain).items.map(({ box }) => box),
        )
        const { bounds, picture, pages } = scene
        if (pages) return
        const added = textMarks([...scene.backdrop, ...(scene.frozen?.corner ?? [])]).filter(({ children: [text] }) =>
          [view.title.slice(0, 8), 'Source: ', 'A note about', 'few lines'].some((begin) => text.includes(begin)),
        )
        expect(added.length).toBeGreaterThanOrEqual(2)
        for (const mark of added) {
          const box = boxOf(mark)
          expect(box.x).toBeGreaterThanOrEqual(bounds.x)
          expect(box.y).toBeGreaterThanOrEqual(bounds.y)
          expect(box.x + box.width).toBeLessThanOrEqual(bounds.x + bounds.width + 0.5)
          expect(box.y + box.height).toBeLessThanOrEqual(bounds.y + bounds.height + 0.5)
        }
        const inside = added.filter((mark) => {
          const { x, y, width, height } = boxOf(mark)
          if (!picture || scene.items.some(({ label }) => label.includes(mark.children[0]))) return false
          return (
            x + width > picture.x &&
            x < picture.x + picture.width &&
            y + height > picture.y + 1 &&
            y < picture.y + picture.height - 1
          )
        })
        // A picture may say its own title as well.
        expect(
          inside.filter(
            ({ children: [text] }) => !view.title.startsWith(text) && !text.startsWith(view.title.slice(0, 8)),
          ),
        ).toEqual([])
      },
    )
  },
)

describe('what stands around a picture', () => {
  it('is nothing where nothing is wanted', () => {
    const scene = sceneOf(lookOf({}))
    expect(framed(scene, { legend: [], foot: [], notes: [] })).toBe(scene)
    expect(words(sceneOf(lookOf({ source: '  ' })))).toEqual(words(scene))
  })

  it('says the source and the day in one line, and whose map it is', () => {
    expect(words(sceneOf(lookOf({ asOf: true, source: 'Staff list' })))).toContain(
      'Source: Staff list · Facts as of 24 Nov 2026',
    )
    expect(words(sceneOf(lookOf({ asOf: true })))).toContain('Facts as of 24 Nov 2026')
    expect(words(sceneOf(lookOf({ ground: 'map' })))).toContain('Map: Natural Earth, public domain')
  })

  it.each(PAPERS)('fits %s with what is around, and keeps its shape', (paper) => {
    for (const id of ['two-levels', 'figure-why-ticketing', 'history', 'dry-dock']) {
      const view = demo.views.get(asId(id))
      if (!view) throw new Error(id)
      const scene = sceneOf({ ...view, look: { ...AROUND, paper } })
      const { bounds, paper: on } = scene
      if (!on) throw new Error('no paper')
      expect(bounds.width / bounds.height).toBeCloseTo(on.width / on.height, 6)
      expect(bounds.width * on.scale).toBeCloseTo(on.width, 6)
      // However much smaller the picture is then, what is written around it is read.
      const source = textMarks(scene.backdrop).find(({ children: [text] }) => text.startsWith('Source'))
      expect((source?.attrs['font-size'] ?? 0) * on.scale * 0.75, id).toBeGreaterThan(
        id.startsWith('figure') ? 7.95 : 0,
      )
    }
  })

  it('numbers what notes are about, once, and a place where it was pointed at', () => {
    const scene = sceneOf(lookOf({}))
    const fact = scene.items[3]?.facts[0] ?? ''
    const noted = sceneOf(
      lookOf({
        'note b': ['2', 'Second', '@30,40'],
        'note a': ['1', 'First', fact],
        'note c': ['3', 'Gone', 'nobody'],
      }),
    )
    const numbered = noted.items.filter(({ marks }) => textMarks(marks).some(({ children: [text] }) => text === '1'))
    expect(numbered.map(({ facts }) => facts[0])).toEqual([fact])
    const [at] = textMarks(noted.backdrop).filter(
      ({ children: [text], attrs }) => text === '2' && Math.abs(attrs.x - noted.bounds.x - 30) < 1,
    )
    expect(at).toBeDefined()
    expect(words(noted)).toEqual(expect.arrayContaining(['First', 'Second', 'Gone', '1', '2', '3']))
  })

  it('numbers what is drawn twice where it is drawn itself, not at the head of its row', () => {
    const view = demo.views.get(asId('dry-dock'))
    const task = [...demo.entities.values()].find(({ name }) => name === 'Sea trials')
    if (!view || !task) throw new Error('gone')
    const scene = sceneOf({ ...view, look: { 'note a': ['1', 'Weather permitting', task.id] } })
    const drawnTwice = scene.items.filter(({ facts }) => facts[0] === task.id)
    expect(drawnTwice.length).toBeGreaterThan(1)
    const isNumbered = ({ marks }: { readonly marks: readonly Mark[] }) =>
      textMarks(marks).some(({ children: [text], attrs }) => text === '1' && attrs.fill === 'sheet')
    expect(drawnTwice.filter(isNumbered).length).toBe(1)
    expect(drawnTwice.find(isNumbered)?.stays).toBeUndefined()
  })

  it('makes each page longer by what stands at its foot, and lays it over nothing', () => {
    const view = demo.views.get(asId('whole-company'))
    const lead = [...demo.entities.values()].find(({ name }) => name === 'Port services lead')
    if (!view || !lead) throw new Error('gone')
    const paged = { ...view, options: { ...view.options, pages: 'a branch each', colour: 'none' } }
    const plain = sceneOf(paged)
    const look = {
      rules: ['colour by grade', 'strong where holder has vacant', 'category 3 where fte < 1'],
      heading: true,
      source: 'Staff list',
      asOf: true,
      'note a': ['1', 'About the lead of the ports', lead.id],
      'note b': ['2', 'About nothing'],
    }
    const scene = sceneOf({ ...paged, look })
    expect(scene.pages?.length).toBe(plain.pages?.length)
    expect(scene.items.length).toBe(plain.items.length)
    const pages = scene.pages ?? []
    pages.forEach(({ box }, at) => {
      const next = pages[at + 1]
      if (next) expect(box.y + box.height).toBeLessThan(next.box.y)
      expect(box.height).toBeGreaterThan(plain.pages?.[at]?.box.height ?? Infinity)
      const here = scene.items.filter((item) => item.box.y >= box.y && item.box.y < box.y + box.height)
      const lowest = Math.max(...here.map((item) => item.box.y + item.box.height))
      const texts = textMarks(scene.backdrop).filter(({ attrs }) => attrs.y > box.y && attrs.y < box.y + box.height)
      const said = texts.map(({ children: [text] }) => text)
      expect(said).toEqual(
        expect.arrayContaining(['Whole company', 'Grade', 'Source: Staff list · Facts as of 24 Nov 2026']),
      )
      for (const mark of texts) {
        const { y, height } = boxOf(mark)
        const isHead = mark.attrs.y < box.y + 40
        if (!isHead) expect(y, mark.children[0]).toBeGreaterThan(lowest)
        expect(y + height).toBeLessThan(box.y + box.height)
      }
      expect(said.includes('About nothing')).toBe(at === 0)
    })
    const last = pages.at(-1)?.box
    expect((last?.y ?? 0) + (last?.height ?? 0)).toBeLessThanOrEqual(scene.bounds.y + scene.bounds.height)
    const lengths = ({ links, items }: Scene) =>
      links.map(({ bounds, source }) =>
        Math.round(bounds.y - (items.find(({ facts }) => facts[0] === source)?.box.y ?? 0)),
      )
    expect(lengths(scene)).toEqual(lengths(plain))
    for (const { marks, bounds } of scene.links)
      for (const mark of marks) {
        const { y, height } = boxOf(mark)
        expect(y).toBeGreaterThanOrEqual(bounds.y - 2)
        expect(y + height).toBeLessThanOrEqual(bounds.y + bounds.height + 2)
      }
  })

  it('keeps heads that stay in view in their place, with the heading over them', () => {
    const view = demo.views.get(asId('dry-dock'))
    if (!view) throw new Error('gone')
    const [plain, headed] = [sceneOf({ ...view, look: {} }), sceneOf({ ...view, look: { heading: true } })]
    expect((headed.frozen?.height ?? 0) - (plain.frozen?.height ?? 0)).toBe(plain.bounds.y - headed.bounds.y)
  })

  it.each(['tint', 'ruled', 'dotted', 'map'] as const)('lies on a ground that reaches to the edges: %s', (ground) => {
    const plain = sceneOf(lookOf({ paper: 'A4' }))
    const scene = sceneOf(lookOf({ paper: 'A4', ground }))
    const [first] = scene.backdrop
    if (!first) throw new Error('nothing')
    const box = boxOf(first)
    expect(box.width).toBeGreaterThan(plain.bounds.width * 0.9)
    expect(box.height).toBeGreaterThan(plain.bounds.height * 0.9)
    expect(toSvg(scene, { theme: themeIn(themes[0] ?? never(), 'dark'), title: 'x' }).length).toBeLessThan(400_000)
  })

  it('draws no more lines and dots however large it is', () => {
    const huge: Scene = { ...sceneOf(lookOf({})), bounds: { x: 0, y: 0, width: 200_000, height: 90_000 } }
    for (const sort of ['ruled', 'dotted'] as const) {
      const [mark] = grounded(huge, { sort }).backdrop
      const strokes = mark?.tag === 'path' ? mark.attrs.d.split('M').length - 1 : Infinity
      expect(strokes, sort).toBeLessThanOrEqual(sort === 'ruled' ? 240 : 6200)
    }
  })

  it('reads notes and regions as they are written, and nothing else', () => {
    const note = { order: 2, words: 'Ask, first', fact: asId('x') }
    const view = lookOf({
      'note n': noteWords(note),
      'note m': noteWords({ order: 1, words: 'There', at: { x: 3.4, y: -8 } }),
    })
    expect(notesIn(view)).toEqual([
      { id: 'm', order: 1, words: 'There', at: { x: 3, y: -8 } },
      { id: 'n', ...note },
    ])
    expect(readRegion('55 8, 60.5 15')).toEqual([
      { latitude: 55, longitude: 8 },
      { latitude: 60.5, longitude: 15 },
    ])
    for (const text of ['', 'north', '55, 8', '95 8, 60 15', '55 8, 60 190', '1 2 3'])
      expect(readRegion(text)).toBeUndefined()
  })

  it('is the same on paper whether it is drawn before or after', () => {
    const scene = sceneOf(lookOf({ paper: 'A4' }))
    expect(onPaper(scene, { paper: 'A4' })).toBe(scene)
    expect(layersOf(scene).length).toBeGreaterThan(3)
  })
})

const never = (): never => {
  throw new Error('no theme')
}
