import { wcagContrast } from 'culori'
import { describe, expect, it } from 'vitest'
import { CATEGORIES, colourOf, themes } from '../../src/core/scene'
import { computeThemes } from '../../src/core/scene/palette'

// WCAG 2.2, success criterion 1.4.3 (4.5:1 for text) and 1.4.11 (3:1 for what is needed to understand a graphic).
describe('contrast', () => {
  it('is computed as WCAG 2.2 says: #767676 on white 4.54, black on white 21', () => {
    expect(wcagContrast('#767676', '#ffffff')).toBeCloseTo(4.54, 2)
    expect(wcagContrast('#000000', '#ffffff')).toBeCloseTo(21, 5)
  })
  it.each(themes)('of every text in $title is at least 4.5 on sheet and plate', (theme) => {
    for (const ink of ['ink', 'ink-quiet', 'warning', 'error'] as const)
      for (const ground of ['sheet', 'plate'] as const)
        expect(wcagContrast(colourOf(theme, ink), colourOf(theme, ground))).toBeGreaterThanOrEqual(4.5)
  })
  it.each(themes)('of neighbouring categories in $title keeps them apart in grey', (theme) => {
    const lightness = Array.from({ length: CATEGORIES }, (_, i) =>
      wcagContrast(colourOf(theme, `edge-${i + 1}`), '#000000'),
    )
    lightness.slice(1).forEach((value, i) => {
      const before = lightness[i] ?? 1
      expect(Math.max(value, before) / Math.min(value, before)).toBeGreaterThan(1.25)
    })
  })
  it('is that of the themes as they are computed: scripts/themes.ts was run', () => {
    expect(themes).toEqual(computeThemes())
  })
  it('has no colour for a role it does not know', () => {
    const [theme] = themes
    expect(() => theme && colourOf(theme, 'edge-99')).toThrow(/no colour/)
  })
})
