import { describe, expect, it } from 'vitest'
import { edgeOfHeads, holdAt, inScene, itemAt } from '../../src/app/sheet/places'
import { kit, type Item, type Scene } from '../../src/core/scene'
import { id } from '../facts'

const item = (key: string, x: number, y: number, more: Partial<Item> = {}): Item => ({
  id: id(key),
  facts: [id(key)],
  label: key,
  box: { x, y, width: 100, height: 20 },
  marks: [],
  texts: [],
  ...more,
})
const scene = (items: readonly Item[], frozen = true): Scene => ({
  bounds: { x: 0, y: 0, width: 2000, height: 900 },
  backdrop: [],
  items,
  links: [],
  summary: '',
  headline: '',
  ...(frozen ? { frozen: { top: [], left: [], corner: [], width: 120, height: 40 } } : {}),
})

describe('heads that stay in view', () => {
  const all = scene([item('bar', 300, 100), item('row', 0, 100, { stays: 'left' })])
  it('end where the camera has them, and nowhere without heads', () => {
    expect(edgeOfHeads(all, { x: 0, y: 0, k: 1 })).toEqual({ x: 120, y: 40 })
    expect(edgeOfHeads(all, { x: -500, y: -80, k: 2 })).toEqual({ x: 240, y: 80 })
    expect(edgeOfHeads(all, { x: 30, y: 10, k: 1 })).toEqual({ x: 150, y: 50 })
    expect(edgeOfHeads(scene([], false), { x: 0, y: 0, k: 1 })).toBeUndefined()
  })
  it('are hit where they are seen, and what has moved beneath them is not', () => {
    const camera = { x: -280, y: 0, k: 1 }
    expect(itemAt(all, camera, { x: 50, y: 110 })?.id).toBe('row')
    expect(itemAt(all, camera, { x: 99, y: 110 })?.id).toBe('row')
    expect(itemAt(all, camera, { x: 121, y: 110 })?.id).toBeUndefined()
    expect(itemAt(all, { x: 0, y: 0, k: 1 }, { x: 350, y: 110 })?.id).toBe('bar')
    expect(inScene(all, camera, { x: 50, y: 10 }).stays).toBe('top')
  })
})

describe('handles', () => {
  const bar = item('bar', 300, 100, {
    handles: [
      { id: 'link', box: { x: 102, y: 0, width: 12, height: 20 }, pulls: 'line' },
      { id: 'slide', box: { x: 0, y: 0, width: 100, height: 20 }, pulls: 'along' },
    ],
  })
  const camera = { x: 0, y: 0, k: 1 }
  it('are taken within their item and where they stand out beside it', () => {
    const hold = (x: number) => holdAt(scene([bar]), camera, { x, y: 110 }).handle?.id
    expect([hold(350), hold(408), hold(440)]).toEqual(['slide', 'link', undefined])
  })
  it('that have become small are taken from a little beside', () => {
    const small = { x: 0, y: 0, k: 0.2 }
    const hold = (x: number, y = 22) => holdAt(scene([bar]), small, { x, y }).handle?.id
    expect([hold(81.6), hold(84), hold(90)]).toEqual(['link', 'link', undefined])
  })
})

describe('a line', () => {
  const line = {
    id: id('line'),
    source: id('a'),
    target: id('b'),
    bounds: { x: 200, y: 100, width: 200, height: 100 },
    marks: kit.arrow(
      [
        { x: 200, y: 100 },
        { x: 300, y: 100 },
        { x: 300, y: 200 },
      ],
      'line',
      { width: 1, length: 6, half: 3 },
    ),
  }
  const head = item('line', 290, 190, { box: { x: 295, y: 190, width: 10, height: 10 } })
  const ground = item('lane', 0, 60, { box: { x: 0, y: 60, width: 900, height: 400 }, ground: true })
  const hold = (all: readonly Item[], x: number, y: number, k = 1) =>
    holdAt({ ...scene(all, false), links: [line] }, { x: 0, y: 0, k }, { x, y }).item?.id
  it('is taken hold of anywhere along its way, by what stands for it', () => {
    expect([hold([ground, head], 240, 103), hold([ground, head], 303, 150)]).toEqual(['line', 'line'])
    expect([hold([ground, head], 240, 108), hold([head], 240, 108)]).toEqual(['lane', undefined])
    expect(hold([head], 120, 53, 0.5)).toBe('line')
  })
  it('that nothing stands for is none, and what lies over a line comes first', () => {
    expect(hold([ground], 240, 100)).toBe('lane')
    expect(hold([head, item('step', 220, 90)], 240, 100)).toBe('step')
  })
})
