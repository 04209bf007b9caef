import { describe, expect, it } from 'vitest'
import {
  brushOf,
  dressed,
  kit,
  themeFor,
  themeIn,
  themes,
  themesOf,
  toSvg,
  type Brush,
  type Mark,
} from '../../../src/core/scene'
import { nth } from '../../../src/core/graph'

const [shoreline, heather] = themes
if (!shoreline || !heather) throw new Error('no themes')
const OWN = { own: ['House', '#004d7f', 'small corners', 'heavy lines'] }

describe('what a view is drawn in', () => {
  const shown = (settings: Parameters<typeof themeFor>[0], look = {}) => {
    const { id, tone } = themeFor(settings, look)
    return `${id} ${tone}`
  }
  it('is what it says itself, else what the workspace says, else the usual', () => {
    expect(shown({})).toBe('shoreline light')
    expect(shown({ look: { theme: 'moss', tone: 'dark' } })).toBe('moss dark')
    expect(shown({ look: { theme: 'moss', tone: 'dark' } }, { tone: 'grey' })).toBe('moss grey')
    expect(shown({ look: { theme: 'moss', tone: 'dark' } }, { theme: 'rust' })).toBe('rust dark')
    expect(shown({ themes: OWN }, { theme: 'own' })).toBe('own light')
  })
  it('is the usual one where a theme is gone, or is none', () => {
    expect(shown({ look: { theme: 'gone', tone: 'loud' } })).toBe('shoreline light')
    expect(shown({ themes: { own: ['House'] } }, { theme: 'own' })).toBe('shoreline light')
    expect(themesOf({ themes: { own: ['House'], ...{ two: ['Two', '#112233'] } } }).map(({ id }) => id)).toContain(
      'two',
    )
  })
  it('is the same object as long as it stays the same', () => {
    expect(themeFor({ themes: OWN }, { theme: 'own' })).toBe(themeFor({ themes: { ...OWN } }, { theme: 'own' }))
  })
})

describe('a mark in a theme', () => {
  const box = { x: 0, y: 0, width: 100, height: 40 }
  const theme = { ...themeIn(shoreline, 'light'), corners: 2, lines: 1.5 }
  const drawn = (mark: Mark, other = theme) => dressed(mark, other).attrs
  it('has its corners and lines, and none where it has none', () => {
    const line = { stroke: 'ink', fill: 'sheet' } as const
    expect(drawn(kit.rect(box, { ...line, rx: 4, 'stroke-width': 2 }))).toMatchObject({ rx: 8, 'stroke-width': 3 })
    expect(drawn(kit.rect(box, line))).toMatchObject({ 'stroke-width': 1.5 })
    expect(drawn(kit.rect(box, line))).not.toHaveProperty('rx')
    expect(drawn(kit.rect(box, { fill: 'sheet', rx: 4 }))).not.toHaveProperty('stroke-width')
    expect(drawn(kit.path('M0 0H9', line))).toMatchObject({ 'stroke-width': 1.5 })
  })
  it('stays a pill, and becomes none: what is round means something', () => {
    const rx = (value: number, corners = 2) => drawn(kit.rect(box, { fill: 'ink', rx: value }), { ...theme, corners })
    expect(rx(20)).toMatchObject({ rx: 20 })
    expect(rx(20, 0.5)).toMatchObject({ rx: 20 })
    expect(rx(9)).toMatchObject({ rx: 40 * 0.34 })
    expect(rx(6, 0.5)).toMatchObject({ rx: 3 })
  })
  it('is drawn so in a file and on a canvas alike', () => {
    const mark = kit.rect(box, { stroke: 'ink', fill: 'none', rx: 4, 'stroke-width': 2 })
    const scene = { bounds: box, backdrop: [mark], items: [], links: [], headline: '', summary: '' }
    expect(toSvg(scene, { theme, title: 'T' })).toMatch(
      /<rect[^>]*rx="8"[^>]*stroke-width="3"|<rect[^>]*stroke-width="3"[^>]*rx="8"/,
    )
    const told: unknown[] = []
    const brush = { globalAlpha: 1, setLineDash: () => undefined, stroke: (path: string) => told.push(path) }
    const make = { path: (d: string) => d, picture: () => undefined, sizeOf: () => box }
    brushOf(mark, theme, make)(brush as unknown as Brush<string, undefined>, 1)
    expect(nth(told, 0)).toContain('a8 8 0 0 1')
    expect(brush).toMatchObject({ lineWidth: 3 })
  })
})
