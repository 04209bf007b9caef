import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { drawn } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { freeSize, kit, leastPoints, onPaper, PAPERS, paperOf, svgSize, type Scene } from '../../../src/core/scene'
import { marramSoundFerries } from '../../../src/demo'
import { DAY, id } from '../../facts'

const scene = (width: number, height: number, frozen = false): Scene => ({
  bounds: { x: 10, y: 20, width, height },
  backdrop: [],
  items: [],
  links: [],
  ...(frozen ? { frozen: { width: 40, height: 20 } } : {}),
  headline: '',
  summary: '',
})

describe('paper', () => {
  it('has the sides of ISO 216 and of Letter, upright or across, at 96 px to the inch', () => {
    const sides = (paper: string, across = false) => {
      const { width = 0, height = 0 } = paperOf({ paper, across }) ?? {}
      return [width, height].map((side) => Math.round((side * 25.4 * 10) / 96) / 10)
    }
    // ISO 216:2007, Table 1; from memory.
    expect(sides('A4')).toEqual([210, 297])
    expect(sides('A4', true)).toEqual([297, 210])
    expect(sides('A5')).toEqual([148, 210])
    expect(sides('A3')).toEqual([297, 420])
    expect(sides('A2')).toEqual([420, 594])
    // ANSI/ASME Y14.1 A, 8.5 by 11 inches; from memory.
    expect(sides('Letter')).toEqual([215.9, 279.4])
    const wide = paperOf({ paper: '16:9', across: true })
    expect((wide?.width ?? 0) / (wide?.height ?? 1)).toBeCloseTo(16 / 9, 6)
    expect(PAPERS).toHaveLength(8)
  })
  it('of a size of its own is read in mm and px, within bounds', () => {
    expect(freeSize('1200 x 630 px')).toEqual({ width: 1200, height: 630 })
    expect(freeSize('25.4 × 50.8 mm')).toEqual({ width: 96, height: 192 })
    for (const text of ['', '210', '210 × 99', '0 × 0 mm', '999999 × 10 px', 'A4', '-5 × 10 mm'])
      expect(freeSize(text)).toBeUndefined()
    expect(paperOf({ paper: 'nonsense' })).toBeUndefined()
    expect(paperOf({ paper: 7 })).toBeUndefined()
  })
  it('holds a picture whole, no larger than life, and has its own shape', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9000 }),
        fc.integer({ min: 1, max: 9000 }),
        fc.constantFrom(...PAPERS),
        fc.boolean(),
        fc.boolean(),
        (width, height, paper, across, frozen) => {
          const before = scene(width, height, frozen)
          const { bounds, paper: on } = onPaper(before, { paper, across })
          if (!on) throw new Error('no paper')
          expect(bounds.width / bounds.height).toBeCloseTo(on.width / on.height, 6)
          expect(on.scale).toBeLessThanOrEqual(1)
          expect(bounds.x).toBeLessThanOrEqual(10)
          expect(bounds.x + bounds.width).toBeGreaterThanOrEqual(10 + width - 1e-6)
          expect(bounds.y + bounds.height).toBeGreaterThanOrEqual(20 + height - 1e-6)
          // Heads stay where they are.
          if (frozen) expect([bounds.x, bounds.y]).toEqual([10, 20])
        },
      ),
      { numRuns: 100, seed: 1 },
    ))
  it('makes small texts as large as they are read well at where it has room, and counts those around the picture', () => {
    const said = (size: number) => kit.text(0, 0, 'words', { fill: 'ink', 'font-size': size })
    const least = (more: Partial<Scene>, side = 200) =>
      leastPoints(onPaper({ ...scene(side, side), ...more }, { paper: 'A4' }))
    const small = { marks: [said(9)] }
    expect(least({ backdrop: [said(9)] })).toBeCloseTo(8, 6)
    expect(least({ backdrop: [said(16), kit.group([said(18)], { transform: 'scale(0.5 0.5)' })] })).toBeCloseTo(8, 6)
    expect(least({ backdrop: [said(16)] })).toBe(12)
    expect(least({ backdrop: [said(9)] }, 2000)).toBeLessThan(3)
    // What is written behind more marks than a picture is opened by counts as well.
    const many = Array.from({ length: 5000 }, () => said(16))
    expect(least({ backdrop: [...many, said(9)] })).toBeCloseTo(8, 6)
    const link = { id: id('l'), facts: [], points: [], bounds: scene(9, 9).bounds, label: '', ...small }
    expect(least({ backdrop: many, links: [link] as unknown as Scene['links'] })).toBeCloseTo(8, 6)
    expect(least({})).toBeUndefined()
  })
  it('is one for every view of every notation, as it is drawn anywhere', () => {
    const demo = marramSoundFerries()
    for (const view of demo.views.values()) {
      const shown = drawn(registry, demo, { ...view, look: { paper: 'A4', across: true } }, DAY)
      expect(shown?.paper?.title, view.title).toBe('A4 across')
      if (!shown) continue
      const { width, height } = svgSize(shown, {})
      expect(width / height, view.title).toBeCloseTo(297 / 210, 1)
      expect(leastPoints(shown), view.title).toBeGreaterThan(0)
    }
  })
})
