import { differenceCiede2000, formatHex, interpolate, wcagContrast, wcagLuminance } from 'culori'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { TONES, type ThemeSpec, type Tone } from '../../src/core/model'
import {
  CATEGORIES,
  colourOf,
  mendedIn,
  themeIn,
  themes,
  TOLD_APART,
  toldApart,
  twinsIn,
  type Role,
  type Theme,
} from '../../src/core/scene'
import { nth } from '../../src/core/graph'

// WCAG 2.2, success criterion 1.4.3 (4.5:1 for text) and 1.4.11 (3:1 for what is needed to understand a graphic).
const TEXTS = ['ink', 'ink-quiet', 'warning', 'error', 'action'] as const
const GROUNDS = ['sheet', 'plate', 'head'] as const
const edges = (theme: Theme) => Array.from({ length: CATEGORIES }, (_, i) => colourOf(theme, `edge-${i + 1}`))
/** Lightness L* of CIE 1976, from 0 to 100, of a colour printed in grey. */
const lightness = (colour: string): number => {
  const y = wcagLuminance(colour)
  return y > 216 / 24389 ? 116 * Math.cbrt(y) - 16 : (y * 24389) / 27
}
/** Categories of a theme may be no nearer than this in grey. */
const APART = 3.5

function expectSound(theme: Theme, house = 0): void {
  const contrast = (a: Role, b: Role) => wcagContrast(colourOf(theme, a), colourOf(theme, b))
  const said = (...roles: Role[]) => `${theme.title}, ${theme.tone}: ${roles.join(' on ')}`
  for (const ground of GROUNDS)
    for (const ink of TEXTS) expect(contrast(ink, ground), said(ink, ground)).toBeGreaterThanOrEqual(4.5)
  for (let i = 0; i <= CATEGORIES; i++) {
    expect(contrast('ink', `fill-${i}`), said('ink', `fill-${i}`)).toBeGreaterThanOrEqual(4.5)
    expect(contrast('ink-quiet', `fill-${i}`), said('ink-quiet', `fill-${i}`)).toBeGreaterThanOrEqual(4.5)
    expect(contrast(`edge-${i}`, 'sheet'), said(`edge-${i}`, 'sheet')).toBeGreaterThanOrEqual(3)
  }
  const grey = edges(theme).map(lightness)
  grey.forEach((one, i) =>
    grey.slice(0, i).forEach((other, j) => {
      // House colours stand where they stand: rules say which of them are alike.
      if (i >= house) expect(Math.abs(one - other), said(`edge-${i + 1}`, `edge-${j + 1}`)).toBeGreaterThan(APART)
    }),
  )
  // Neighbours are farther apart still.
  if (house === 0)
    grey.slice(1).forEach((one, i) => {
      expect(Math.abs(one - nth(grey, i)), said(`edge-${i + 2}`, `edge-${i + 1}`)).toBeGreaterThan(2.5 * APART)
    })
}

describe('contrast', () => {
  it('is computed as WCAG 2.2 says: #767676 on white 4.54, black on white 21', () => {
    expect(wcagContrast('#767676', '#ffffff')).toBeCloseTo(4.54, 2)
    expect(wcagContrast('#000000', '#ffffff')).toBeCloseTo(21, 5)
  })
  it.each(themes.flatMap((spec) => TONES.map((tone) => [spec.title, tone, spec] as const)))(
    'of %s in its %s tone is enough for every text and every category, which stay apart in grey',
    (_, tone, spec) => {
      expectSound(themeIn(spec, tone))
    },
  )
  it('has no colour for a role it does not know', () => {
    const [spec] = themes
    expect(() => spec && colourOf(themeIn(spec, 'light'), 'edge-99')).toThrow(/no colour/)
  })
})

describe('a theme of house colours', () => {
  const colour = fc.integer({ min: 0, max: 0xffffff }).map((value) => `#${value.toString(16).padStart(6, '0')}`)
  const specOf = (colours: readonly string[], more: Partial<ThemeSpec> = {}): ThemeSpec => ({
    id: 'own',
    title: 'Own',
    hues: [],
    chroma: 0.08,
    colours,
    corners: 1,
    lines: 1,
    type: 1,
    ...more,
  })
  it('is legible whatever they are, in every tone, with eight categories apart in grey', () => {
    fc.assert(
      fc.property(fc.array(colour, { minLength: 1, maxLength: 3 }), fc.constantFrom(...TONES), (colours, tone) => {
        expectSound(themeIn(specOf(colours), tone), tone === 'grey' ? 0 : colours.length)
      }),
      { numRuns: 300 },
    )
  })
  it('says which of them would not stand out from the sheet, how much they do, and what is drawn instead', () => {
    const [only, ...others] = mendedIn(specOf(['#ffd400', '#12565e']), 'light')
    expect(others).toEqual([])
    expect(only?.given).toBe('#ffd400')
    expect(only?.contrast).toBeCloseTo(wcagContrast('#ffd400', '#ffffff'), 6)
    expect(wcagContrast(only?.drawn ?? '#ffffff', '#ffffff')).toBeGreaterThanOrEqual(3)
    expect(mendedIn(specOf(['#ffd400']), 'dark')).toEqual([])
  })
  const drawnIn = (tone: Tone, ...colours: string[]) => edges(themeIn(specOf(colours), tone)).slice(0, colours.length)
  it('draws what stands out as it is given, and moves the rest no farther than it has to', () => {
    const difference = differenceCiede2000()
    fc.assert(
      fc.property(colour, fc.constantFrom<Tone>('light', 'tinted', 'dark', 'strong'), (given, tone) => {
        const sheet = colourOf(themeIn(specOf([given]), tone), 'sheet')
        const least = tone === 'strong' ? 4.5 : 3
        const [drawn = ''] = drawnIn(tone, given)
        if (wcagContrast(given, sheet) >= least) return void expect(drawn).toBe(given)
        expect(wcagContrast(drawn, sheet)).toBeGreaterThanOrEqual(least)
        expect(wcagContrast(drawn, sheet)).toBeLessThan(least + 0.1)
        // No colour on its way to black or white that stands out is much nearer.
        const others = [...Array(100).keys()]
          .map((at) => formatHex(interpolate([given, tone === 'dark' ? '#ffffff' : '#000000'])(at / 100)) ?? '')
          .filter((one) => wcagContrast(one, sheet) >= least)
        const nearest = Math.min(...others.map((one) => difference(one, given)))
        expect(difference(drawn, given)).toBeLessThan(nearest * 1.3 + 1)
      }),
    )
    expect(drawnIn('light', '#ff0000', '#12565e')).toEqual(['#ff0000', '#12565e'])
    const given = themeIn(specOf(['#ffd400', '#12565e'], { isAsGiven: true }), 'light')
    expect(edges(given).slice(0, 2)).toEqual(['#ffd400', '#12565e'])
  })
  it('says which of them are one in grey or to eyes that lack a colour, and which would not be', () => {
    const whom = (colours: readonly string[], tone: Tone = 'light') =>
      twinsIn(specOf(colours), tone, TOLD_APART).map(({ sight }) => sight)
    expect(whom(['#d62728', '#2ca02c'])).toEqual(['deuteranopia'])
    expect(whom(['#1b7f3b', '#1f5fa8'])).toEqual(['tritanopia'])
    expect(whom(['#d62728', '#1f77b4'])).toEqual(['grey'])
    expect(whom(['#a03030', '#2a6a50'])).toEqual(['grey', 'protanopia'])
    expect(whom(['#a03030', '#2a6a50'], 'grey')).toEqual([])
    expect(whom(['#004d7f', '#e07b00'])).toEqual([])
    // That one is moved which has to go least far.
    expect(toldApart(specOf(['#d62728', '#2ca02c']), 'light', TOLD_APART)).toEqual(['#ba0013', '#2ca02c'])
    fc.assert(
      fc.property(fc.array(colour, { minLength: 2, maxLength: 3 }), fc.constantFrom(...TONES), (colours, tone) => {
        const told = toldApart(specOf(colours), tone, TOLD_APART) ?? colours
        expect(whom(told, tone)).toEqual([])
        if (tone !== 'grey') expect(drawnIn(tone, ...told)).toEqual(told)
        // What is told apart stays as it is.
        if (whom(colours, tone).length === 0 && tone !== 'grey') expect(told).toEqual(drawnIn(tone, ...colours))
      }),
      { numRuns: 60, examples: [[['#000000', '#ffffff'], 'dark']] },
    )
  })
  const plain: readonly Tone[] = ['light', 'tinted', 'strong']
  it.each(plain)('has no colour in its grey tone, and some in its %s one', (tone) => {
    const isGrey = (text: string) => /^#(..)\1\1$/.test(text)
    expect(Object.values(themeIn(specOf(['#aa3311']), 'grey').colours).every(isGrey)).toBe(true)
    expect(edges(themeIn(specOf(['#aa3311']), tone)).some(isGrey)).toBe(false)
  })
})
