import { Resvg } from '@resvg/resvg-js'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { assetId, isAsset, shapeOfAsset } from '../../../src/core/model'
import { brushOf, kit, seenOf, themeOf, toSvg, wholeOf, type Brush, type Scene } from '../../../src/core/scene'

const DIGEST = 'a'.repeat(40)
const theme = themeOf(undefined)

describe('the identity of a picture', () => {
  it('says its shape, unless that is a square', () => {
    expect(assetId(DIGEST, 320, 320)).toBe(DIGEST)
    expect(assetId(DIGEST, 1200, 400)).toBe(`${DIGEST}-1200x400`)
    expect([shapeOfAsset(DIGEST), shapeOfAsset(`${DIGEST}-1200x400`), shapeOfAsset('anything')]).toEqual([1, 3, 1])
    expect(['', DIGEST, `${DIGEST}-1200x400`, `${DIGEST}-12000x4`, `${DIGEST}-x4`, 'b'].map(isAsset)).toEqual([
      false,
      true,
      true,
      false,
      false,
      false,
    ])
  })
})

describe('a cropped picture', () => {
  it('fills its box around the point that matters, as far as the picture reaches', () => {
    const wide = assetId(DIGEST, 300, 100)
    const seen = (x: number, y: number, box = { width: 50, height: 50 }) => seenOf(wide, box, { x, y })
    const third = { y: 0, width: 1 / 3, height: 1 }
    expect(seen(0.5, 0.9).x).toBeCloseTo(1 / 3)
    expect(seen(0.5, 0.9)).toMatchObject({ ...third })
    expect([seen(0.1, 0).x, seen(0.4, 0).x, seen(0.95, 0).x].map((one) => Math.round(one * 1000) / 1000)).toEqual([
      0, 0.233, 0.667,
    ])
    expect(seen(0, 0.75, { width: 60, height: 10 })).toEqual({ x: 0, y: 0.5, width: 1, height: 0.5 })
    expect(wholeOf({ x: 10, y: 20, width: 50, height: 50 }, { x: 1 / 3, ...third })).toEqual({
      x: -40,
      y: 20,
      width: 150,
      height: 50,
    })
  })

  const box = { x: 10, y: 20, width: 60, height: 60 }
  const sceneOf = (asset: string, x: number): Scene => ({
    bounds: { x: 0, y: 0, width: 100, height: 100 },
    backdrop: [kit.cropped(box, asset, { x, y: 0.5 })],
    items: [],
    links: [],
    headline: '',
    summary: '',
  })
  /** Red, green and blue thirds. */
  const striped = async (): Promise<string> => {
    const third = (background: string, left: number) => ({
      input: { create: { width: 100, height: 100, channels: 3 as const, background } },
      left,
      top: 0,
    })
    const bytes = await sharp({ create: { width: 300, height: 100, channels: 3, background: '#f00' } })
      .composite([third('#0f0', 100), third('#00f', 200)])
      .png()
      .toBuffer()
    return `data:image/png;base64,${bytes.toString('base64')}`
  }
  it.each([
    [0, ['red', 'red', 'red']],
    [1 / 3, ['red', 'red', 'green']],
    [0.5, ['green', 'green', 'green']],
    [0.6, ['green', 'green', 'blue']],
    [1, ['blue', 'blue', 'blue']],
  ])('shows in a file what lies around %s of its width, and nothing beside its box', async (x, colours) => {
    const asset = assetId(DIGEST, 300, 100)
    const svg = toSvg(sceneOf(asset, x), { theme, title: 'T', images: new Map([[asset, await striped()]]) })
    const { pixels, width } = new Resvg(svg).render()
    const at = (px: number, py: number) => {
      const [red = 0, green = 0, blue = 0] = pixels.subarray(4 * (py * width + px))
      return Math.min(red, green, blue) > 200 ? 'none' : red > 128 ? 'red' : green > 128 ? 'green' : 'blue'
    }
    expect([at(14, 50), at(36, 50), at(66, 50)]).toEqual(colours)
    expect([at(5, 50), at(75, 50), at(40, 15), at(40, 85)]).toEqual(['none', 'none', 'none', 'none'])
  })
  it('is painted on a canvas from its own px, whatever size it turns out to have', () => {
    const [mark] = sceneOf(assetId(DIGEST, 300, 100), 0.4).backdrop
    const calls: number[][] = []
    const brush = { drawImage: (_: string, ...told: number[]) => calls.push(told) } as unknown as Brush<string, string>
    const make = { path: (d: string) => d, picture: () => 'it', sizeOf: () => ({ width: 1200, height: 400 }) }
    if (mark) brushOf(mark, theme, make)(brush, 1)
    expect(calls.map((told) => told.map(Math.round))).toEqual([[280, 0, 400, 400, 10, 20, 60, 60]])
  })
})
