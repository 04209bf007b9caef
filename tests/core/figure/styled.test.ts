import { describe, expect, it } from 'vitest'
import { drawn } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { pictures } from '../../../src/core/notations/figure/pictures'
import { boxOf, toSvg, themeOf, type Mark, type Scene } from '../../../src/core/scene'
import { marramSoundFerries } from '../../../src/demo'
import { DAY, id } from '../../facts'
import { faultsIn } from '../../figureFaults'
import { figureOf, figureView } from '../../figureShapes'

const arranged = pictures.filter(({ arranges }) => arranges)
const textsOf = ({ items }: Scene) =>
  items.flatMap(({ marks }) => marks.filter((mark): mark is Extract<Mark, { tag: 'text' }> => mark.tag === 'text'))
const LINES = [
  { text: 'Decide \\ at once', under: [{ text: 'the **master** decides, *never* the office' }] },
  { text: '*Tell* everybody', under: [{ text: 'crews, then ***passengers***' }] },
  { text: 'Look after people', under: [{ text: '3*4*5 rooms' }] },
]

describe('text of a part', () => {
  it.each(arranged)('is strong and slanted where it says so, in $id', (picture) => {
    const model = figureOf(LINES)
    const scene = picture.draw(model, figureView(picture.id), DAY)
    expect(faultsIn(scene, new Set(['p1', 'p3', 'p5']))).toEqual([])
    const texts = textsOf(scene)
    const said = texts.map(({ children }) => children[0]).join(' ')
    expect(said).not.toContain('**')
    for (const item of scene.items) expect(item.label).not.toMatch(/\*\*|\\/)
    expect(texts.find(({ children }) => children[0].startsWith('Tell'))?.attrs).toMatchObject({
      'font-style': 'italic',
    })
    // A line break is one: what stands beside it stands on lines of their own.
    const [decide, once] = ['Decide', 'at once'].map((words) =>
      texts.find(({ children }) => children[0].trim() === words),
    )
    if (decide && once) expect(boxOf(once).y).toBeGreaterThan(boxOf(decide).y)
    // Arrangements that say what stands under a part.
    if (!said.includes('master')) return
    expect(texts.find(({ children }) => children[0].trim() === 'master')?.attrs['font-weight']).toBe(700)
    expect(texts.find(({ children }) => children[0].trim() === 'never')?.attrs['font-style']).toBe('italic')
    expect(said).toContain('3*4*5')
  })

  it('is written into SVG in its style', () => {
    const scene = arranged[0]?.draw(figureOf(LINES), figureView('rows'), DAY)
    if (!scene) throw new Error('no scene')
    expect(toSvg(scene, { theme: themeOf('shoreline'), title: 'x' })).toMatch(/<text[^>]* font-style="italic">never /)
  })
})

describe('sizes of type', () => {
  const sizesIn = (theme: string) => {
    const scene = arranged[0]?.draw(figureOf(LINES), figureView('rows', { paper: 'A4', across: true, theme }), DAY)
    const sizes = scene ? textsOf(scene).map(({ attrs }) => attrs['font-size']) : []
    return Math.max(...sizes) / Math.min(...sizes)
  }
  it('are as far apart as a theme has them, in figures and in headings', () => {
    expect(sizesIn('shoreline')).toBeCloseTo(1.2 / 0.78, 3)
    expect(sizesIn('graphite')).toBeCloseTo((1.2 / 0.78) ** 0.5, 3)
    expect(sizesIn('regatta')).toBeCloseTo((1.2 / 0.78) ** 1.6, 3)
    const demo = marramSoundFerries()
    const view = demo.views.get(id('cancelled'))
    if (!view) throw new Error('gone')
    const heading = (theme: string) => {
      const scene = drawn(registry, demo, { ...view, look: { heading: true, theme } }, DAY)
      const marks = [...(scene?.frozen?.corner ?? []), ...(scene?.frozen?.top ?? []), ...(scene?.backdrop ?? [])]
      const mark = marks.find((one) => one.tag === 'text' && one.children[0] === view.title)
      return mark?.tag === 'text' ? mark.attrs['font-size'] : undefined
    }
    expect(['graphite', 'shoreline', 'regatta'].map(heading)).toEqual([17.3, 19, 21.2])
  })
})

describe('variants of shapes that a notation allows', () => {
  const demo = marramSoundFerries()
  const drawnWith = (view: string, picture: string, options: Record<string, string | boolean>) => {
    const found = [...demo.views.values()].find((one) => one.id === view || one.picture === view)
    const scene = found && drawn(registry, demo, { ...found, picture, options: { ...found.options, ...options } }, DAY)
    if (!scene) throw new Error(`no ${view}`)
    return scene
  }
  it('an exclusive gateway with its cross or without (BPMN 2.0.2, 10.6.2), others keep their signs', () => {
    const [crossed, plain] = [true, false].map((crosses) => drawnWith('cancelled', 'lanes', { crosses }))
    const marks = (scene: Scene | undefined, type: string) =>
      scene?.items
        .filter(({ facts: [fact = ''] }) => {
          const one = demo.entities.get(id(fact))
          return one?.kind === 'gateway' && (one.fields['type'] ?? 'exclusive') === type
        })
        .map((item) => item.marks.filter(({ tag }) => tag === 'path').length) ?? []
    expect(marks(crossed, 'exclusive').length).toBeGreaterThan(0)
    expect(marks(plain, 'exclusive')).toEqual(marks(crossed, 'exclusive').map((count) => count - 1))
    expect(marks(plain, 'parallel')).toEqual(marks(crossed, 'parallel'))
  })
  it('an actor as a figure or as a rectangle with its keyword (UML 2.5.1, 18.1.4)', () => {
    const boxed = drawnWith('use-cases', 'use-cases', { actors: 'boxes' })
    const figures = drawnWith('use-cases', 'use-cases', {})
    const actors = (scene: Scene) => scene.items.filter(({ label }) => label.startsWith('actor '))
    expect(actors(boxed).length).toBeGreaterThan(1)
    for (const { marks, box } of actors(boxed)) {
      expect(marks.filter(({ tag }) => tag === 'circle')).toEqual([])
      expect(marks.some((mark) => mark.tag === 'text' && mark.children[0] === '«actor»')).toBe(true)
      for (const mark of marks) expect(boxOf(mark).width).toBeLessThanOrEqual(box.width)
    }
    for (const { marks } of actors(figures)) expect(marks.some(({ tag }) => tag === 'circle')).toBe(true)
  })
  it('concepts rounded, square or oval, their words within', () => {
    for (const shape of ['rounded', 'square', 'ovals']) {
      const scene = drawnWith('concepts', 'concepts', { shape })
      const named = scene.items.filter(({ handles }) => handles)
      expect(named.length).toBeGreaterThan(3)
      for (const { marks, box } of named) {
        expect(marks[0]?.tag).toBe(shape === 'ovals' ? 'path' : 'rect')
        const [rx, ry] = [box.width / 2, box.height / 2]
        for (const mark of marks) {
          if (mark.tag !== 'text' || shape !== 'ovals') continue
          const { x, y, width, height } = boxOf(mark)
          for (const [cx, cy] of [
            [x, y + height * 0.25],
            [x + width, y + height * 0.75],
          ] as const)
            expect(((cx - rx) / rx) ** 2 + ((cy - ry) / ry) ** 2).toBeLessThanOrEqual(1.02)
        }
      }
    }
  })
})
