import { filterDeficiencyDeuter, filterDeficiencyProt, filterDeficiencyTrit, formatHex, wcagLuminance } from 'culori'
import fc from 'fast-check'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { houseColours, seenBy, SIGHT_MATRICES, SIGHTS } from '../../src/core/scene'

const colours = fc.integer({ min: 0, max: 0xffffff }).map((value) => `#${value.toString(16).padStart(6, '0')}`)
const channels = (text: string) => [1, 3, 5].map((at) => Number.parseInt(text.slice(at, at + 2), 16))

// Machado, Oliveira & Fernandes 2009, “A Physiologically-based Model for Simulation of Color Vision Deficiency”, matrices of severity 1.0.
describe('how a picture is seen', () => {
  it('keeps white white and black black: rows of the published matrices add up to one', () => {
    for (const sight of SIGHTS) {
      for (const row of SIGHT_MATRICES[sight]) expect(row[0] + row[1] + row[2]).toBeCloseTo(1, 3)
      expect([seenBy('#ffffff', sight), seenBy('#000000', sight)]).toEqual(['#ffffff', '#000000'])
    }
  })
  it('has the matrices that npm culori has, which applies them without linear light', () => {
    const theirs = {
      protanopia: filterDeficiencyProt(1),
      deuteranopia: filterDeficiencyDeuter(1),
      tritanopia: filterDeficiencyTrit(1),
    }
    for (const [sight, filter] of Object.entries(theirs) as [keyof typeof theirs, (text: string) => unknown][])
      for (const [at, primary] of ['#ff0000', '#00ff00', '#0000ff'].entries()) {
        const own = SIGHT_MATRICES[sight].map((row) => Math.round(Math.max(0, Math.min(1, row[at] ?? 0)) * 255))
        expect(channels(formatHex(filter(primary) as string) ?? '')).toEqual(own)
      }
  })
  it('in grey is as light as before: the relative luminance of WCAG stays', () =>
    fc.assert(
      fc.property(colours, (one) => {
        const grey = seenBy(one, 'grey')
        expect(new Set(channels(grey)).size).toBe(1)
        expect(Math.abs(wcagLuminance(grey) - wcagLuminance(one))).toBeLessThan(0.006)
      }),
    ))
})

describe('house colours', () => {
  const painted = async (svg: string) =>
    (await sharp(Buffer.from(svg)).resize(72, 72, { fit: 'fill' }).ensureAlpha().raw().toBuffer()) as Uint8Array
  const near = (a: string, b: string) => channels(a).every((one, at) => Math.abs(one - (channels(b)[at] ?? 0)) < 14)
  it('are read from a picture, the foremost first, without its paper and its lettering', async () => {
    const pixels = await painted(
      '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="100"><rect width="300" height="100" fill="#fff"/><rect width="150" height="80" fill="#004d7f"/><rect x="200" width="60" height="60" fill="#e07b00"/><text x="10" y="95" fill="#222">Marram Sound</text></svg>',
    )
    const found = houseColours(pixels)
    expect(found).toHaveLength(2)
    expect(near(found[0] ?? '', '#004d7f') || near(found[0] ?? '', '#e07b00')).toBe(true)
    for (const one of ['#004d7f', '#e07b00'])
      expect(
        found.some((other) => near(one, other)),
        one,
      ).toBe(true)
  })
  it('of what has none are its darkest grey, and of nothing there are none', async () => {
    const [only = '', ...others] = houseColours(
      await painted(
        '<svg xmlns="http://www.w3.org/2000/svg" width="90" height="90"><rect width="90" height="90" fill="#fff"/><circle cx="45" cy="45" r="30" fill="#222222"/></svg>',
      ),
    )
    expect(others).toEqual([])
    expect(Math.max(...channels(only))).toBeLessThan(70)
    expect(houseColours(new Uint8Array(400))).toEqual([])
  })
})
