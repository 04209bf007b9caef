import { describe, expect, it } from 'vitest'
import { frozenAt, keeping, revealing } from '../../src/app/sheet/camera'
import { neighbour } from '../../src/app/sheet/walk'
import {
  fitting,
  kit,
  opening,
  openingOf,
  smallestText,
  type Box,
  type Item,
  type Mark,
  type Scene,
} from '../../src/core/scene'
import { id } from '../facts'

const SIZE = { width: 800, height: 500 }
const bounds = (width: number, height: number) => ({ x: -20, y: -10, width, height })

const sceneOf = (marks: readonly Mark[]): Scene => ({
  bounds: bounds(100, 100),
  backdrop: marks,
  items: [],
  links: [],
  headline: '',
  summary: '',
})

describe('the camera', () => {
  it('fits everything, and never enlarges', () => {
    const { x, y, k } = fitting(bounds(1600, 400), SIZE)
    expect([k, (-20 + 1600) * k + x <= 800, (-10 + 400) * k + y <= 500]).toEqual([780 / 1600, true, true])
    expect(fitting(bounds(100, 100), SIZE).k).toBe(1)
  })
  it('opens a large picture at a legible size with its first item at the top', () => {
    const first = { x: 1000, y: 0, width: 120, height: 40 }
    const { x, k } = opening(bounds(3000, 900), first, SIZE, 10)
    expect([k, Math.round(1060 * k + x)]).toEqual([0.85, 400])
  })
  it('opens a picture as a whole where its smallest text is then 7 px, and by no less', () => {
    const first = { x: 0, y: 0, width: 120, height: 40 }
    const whole = fitting(bounds(1000, 500), SIZE)
    expect(whole.k).toBe(0.78)
    expect(opening(bounds(1000, 500), first, SIZE, 9)).toEqual(whole)
    expect(opening(bounds(1000, 500), first, SIZE, 8.9).k).toBeCloseTo(8.5 / 8.9, 9)
  })
  it('opens a tall and narrow picture in the middle, however much smaller it would be as a whole', () => {
    const { x, k } = opening(bounds(700, 3000), { x: 0, y: 0, width: 120, height: 40 }, SIZE, 10)
    expect([k, Math.round(330 * k + x)]).toEqual([0.85, 400])
  })
  it('opens where the first item is when the top of a picture does not show it, and no further down than the picture goes', () => {
    const at = (y: number) => {
      const camera = opening(bounds(3000, 4000), { x: 0, y, width: 120, height: 40 }, SIZE, 10)
      return Math.round((y + 20) * camera.k + camera.y)
    }
    expect([at(0) < 60, at(480), at(2000), at(3900)]).toEqual([true, 446, 167, 421])
  })
  it('begins with what stands on something, not with the ground or with a line', () => {
    const item = (key: string, box: Box, ground = false): Item => ({
      id: id(key),
      facts: [],
      label: '',
      texts: [],
      box,
      marks: [],
      ...(ground ? { ground } : {}),
    })
    const scene: Scene = {
      ...sceneOf([]),
      bounds: bounds(9000, 4000),
      items: [
        item('zone', { x: 0, y: 0, width: 9000, height: 4000 }, true),
        item('line', { x: 0, y: 0, width: 8000, height: 3000 }),
        item('device', { x: 300, y: 60, width: 120, height: 40 }),
      ],
      links: [{ id: id('line'), source: id('device'), target: id('device'), bounds: bounds(1, 1), marks: [] }],
    }
    const { x, k } = openingOf(scene, SIZE)
    expect(Math.round(360 * k + x)).toBeLessThanOrEqual(400)
    expect(Math.round(360 * k + x)).toBeGreaterThan(0)
  })
  it('asks the texts of a scene, those within groups too, how small they are', () => {
    const marks = [
      kit.text(0, 0, 'a', { fill: 'ink', 'font-size': 12 }),
      kit.group([kit.text(0, 0, 'b', { fill: 'ink', 'font-size': 9.5 })], {}),
    ]
    expect(smallestText(sceneOf(marks))).toBe(9.5)
    expect(smallestText(sceneOf([]))).toBe(11)
  })
  it('moves no further than it must to bring a box into view', () => {
    const camera = { x: 0, y: 0, k: 1 }
    expect(revealing({ x: 100, y: 100, width: 50, height: 50 }, camera, SIZE)).toEqual(camera)
    expect(revealing({ x: 900, y: 100, width: 50, height: 50 }, camera, SIZE).x).toBe(-170)
  })
  it('keeps part of a picture in view, however far it is moved, and beside its heads', () => {
    const at = (x: number, y: number, k = 1) => keeping(bounds(1600, 400), undefined, { x, y, k }, SIZE)
    expect(at(-300, 20)).toEqual({ x: -300, y: 20, k: 1 })
    expect(at(-9999, -9999)).toEqual({ x: 120 - 1580, y: 120 - 390, k: 1 })
    expect(at(9999, 9999)).toEqual({ x: 800 - 120 + 20, y: 500 - 120 + 10, k: 1 })
    // Where it is smaller than that it stays in view as a whole.
    expect(at(-9999, 9999, 0.1)).toEqual({ x: 120 - 158, y: 500 - 40 + 1, k: 0.1 })
    const heads = { width: 272, height: 40 }
    expect(keeping(bounds(1600, 400), heads, { x: -9999, y: -9999, k: 1 }, SIZE)).toMatchObject({
      x: 392 - 1580,
      y: 160 - 390,
    })
  })
  it('keeps frozen heads at the edge once the scene has moved past it', () => {
    expect(frozenAt(bounds(100, 100), { x: 5, y: -300, k: 2 }).top).toEqual({ k: 2, x: 5, y: 20 })
    expect(frozenAt(bounds(100, 100), { x: 5, y: 300, k: 2 }).top.y).toBe(300)
    expect(frozenAt(bounds(100, 100), { x: -500, y: 3, k: 1 }).left).toEqual({ k: 1, x: 20, y: 3 })
  })
})

describe('the walk with arrows', () => {
  const item = (key: string, x: number, y: number, parent?: string): Item => ({
    id: id(key),
    facts: [id(key)],
    label: key,
    box: { x, y, width: 100, height: 40 },
    marks: [],
    texts: [],
    ...(parent === undefined ? {} : { parent: id(parent) }),
  })
  const head = item('head', 200, 0)
  const [left, right, below] = [
    item('left', 100, 100, 'head'),
    item('right', 300, 100, 'head'),
    item('below', 320, 200, 'right'),
  ]
  const all = [head, left, right, below]
  const go = (from: Item, direction: Parameters<typeof neighbour>[2]) => neighbour(all, from, direction)?.id
  it('goes to what lies that way, and nowhere where nothing does', () => {
    expect([go(left, 'ArrowRight'), go(right, 'ArrowLeft'), go(right, 'ArrowUp'), go(right, 'ArrowDown')]).toEqual([
      'right',
      'left',
      'head',
      'below',
    ])
    expect([go(head, 'ArrowUp'), go(left, 'ArrowLeft')]).toEqual([undefined, undefined])
  })
})
