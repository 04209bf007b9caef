import fc from 'fast-check'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { parseWorkspace, writeWorkspace } from '../../src/core/file'
import { CARRIED, carriedBy, carryingPng } from '../../src/core/file/carried'
import { pngText, withPngText } from '../../src/core/file/raster'
import { carriedByPdf } from '../../src/core/file/pdfFile'
import type { Model, View } from '../../src/core/model'
import { drawn, shownPortion } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { paperOf, pixelsOf, themeFor, toSvg, type Scene } from '../../src/core/scene'
import { marramSoundFerries } from '../../src/demo'
import { delivered, type Delivery } from '../../src/server/draw/deliver'
import { fileHeaders, missingInWords } from '../../src/server/draw/formats'
import { DAY, id } from '../facts'

// Read back with npm sharp (libvips, libpng, libjpeg, libwebp), and with a browser's reader of SVG in the browser tests.
const demo = marramSoundFerries()
const chart = demo.views.get(id('whole-company')) as View
const care = demo.views.get(id('port-services')) as View
const bytesOf = async (wish: Partial<Delivery>, views = [chart]) => {
  const { content } = await delivered(demo, views, { format: 'png', day: DAY, ...wish })
  return typeof content === 'string' ? new TextEncoder().encode(content) : content
}
const textOf = async (wish: Partial<Delivery>, views = [chart]) =>
  new TextDecoder().decode(await bytesOf({ format: 'svg', ...wish }, views))

describe('letters that no font has', () => {
  const harbour = demo.views.get(id('two-levels')) as View
  const [named] = [...demo.entities.values()].filter(({ kind }) => kind === 'person')
  const model = demo.with({
    entities: new Map(
      [...demo.entities].map(([key, one]) => [key, one === named ? { ...one, name: 'ᚠᚱ Lauring' } : one]),
    ),
  })
  const missing = async (wish: Partial<Delivery>) =>
    missingInWords((await delivered(model, [harbour], { format: 'png', day: DAY, ...wish })).missing)
  const formats = ['png', 'jpg', 'webp', 'docx', 'odt', 'pdf'] as const
  it.each(formats)('are told of %s, with where they stand', async (format) => {
    expect(await missing({ format })).toBe('ᚠ ᚱ in “ᚠᚱ Lauring”')
    expect((await delivered(demo, [harbour], { format, day: DAY })).missing).toEqual([])
  })
  it('are told of an SVG that draws them itself, and of none that leaves that to whoever opens it', async () => {
    expect(await missing({ format: 'svg', letters: 'outlines' })).toContain('ᚠ ᚱ in')
    expect(await missing({ format: 'svg', letters: 'inside' })).toContain('ᚠ ᚱ in')
    expect(await missing({ format: 'svg' })).toBe('')
    expect(await missing({ format: 'html' })).toBe('')
  })
  it('are told of captions, and of many in few words', async () => {
    const captioned = { ...harbour, caption: 'ᛟ' }
    expect(missingInWords((await delivered(demo, [captioned], { format: 'png', day: DAY })).missing)).toBe('ᛟ in “ᛟ”')
    const many = Array.from({ length: 90 }, (_, at) => ({
      letter: String.fromCharCode(0x4e00 + at),
      text: `t${at % 9}`,
    }))
    const words = missingInWords(many)
    expect(words).toMatch(/^一 [^,]* … in “t0”, .* in “t5” and in 3 more$/)
    expect(fileHeaders('png', many)['x-missing-letters']?.length).toBeLessThan(4000)
  })
})

describe('pictures of pixels', () => {
  // ISO 216 at 300 and at 150 dots per inch; ANSI/ASME Y14.1 A.
  it.each([
    ['png', { paper: 'A4', dpi: 300 }, 2480, 3508, 300],
    ['jpg', { paper: 'A4', across: true, dpi: 300 }, 3508, 2480, 300],
    ['png', { paper: 'A5', dpi: 150, border: 8 }, 874, 1240, 150],
    ['jpg', { paper: 'Letter', dpi: 72 }, 612, 792, 72],
    ['webp', { paper: 'A5', dpi: 96 }, 559, 794, undefined],
    ['webp', { width: 777 }, 777, undefined, undefined],
    ['jpg', { width: 640, border: 40 }, 640, undefined, undefined],
  ] as const)('%s of %j is %i × %s px', async (format, wish, width, height, dpi) => {
    const told = await sharp(await bytesOf({ format, ...wish })).metadata()
    expect(told.format).toBe(format === 'jpg' ? 'jpeg' : format)
    expect(told.width).toBe(width)
    if (height !== undefined) expect(told.height).toBe(height)
    if (dpi !== undefined) expect(Math.round(told.density ?? 0)).toBe(dpi)
  })
  it.each([0.5, 1, 2.5])('of about %f megapixels has about so many', async (megapixels) => {
    const { width, height } = await sharp(await bytesOf({ megapixels })).metadata()
    expect(((width ?? 0) * (height ?? 0)) / 1e6 / megapixels).toBeCloseTo(1, 2)
  })
  it('have a border that is free, around a picture that is whole', async () => {
    const framed = async (wish: Partial<Delivery>) => {
      const { data, info } = await sharp(await bytesOf(wish, [care]))
        .greyscale()
        .raw()
        .toBuffer({ resolveWithObject: true })
      let [left, top, right, bottom] = [info.width, info.height, 0, 0]
      for (let at = 0; at < data.length; at++) {
        if ((data[at] ?? 255) > 250) continue
        const [x, y] = [at % info.width, Math.floor(at / info.width)]
        ;[left, top, right, bottom] = [Math.min(left, x), Math.min(top, y), Math.max(right, x), Math.max(bottom, y)]
      }
      return {
        width: info.width,
        height: info.height,
        left,
        top,
        right: info.width - right,
        bottom: info.height - bottom,
      }
    }
    const [bare, bordered] = [await framed({ width: 900, border: 0 }), await framed({ width: 900, border: 60 })]
    for (const side of ['left', 'top', 'right', 'bottom'] as const) {
      expect(bordered[side]).toBeGreaterThanOrEqual(60)
      expect(bordered[side]).toBeLessThan(60 + bare[side] + 3)
    }
  })
  it('have a border in mm on a paper, of which they keep clear', async () => {
    const scene = drawn(registry, demo, care, DAY)
    const paper = paperOf({ paper: 'A5' })
    // 8 mm at 150 dots per inch.
    expect(scene && paper && pixelsOf(scene, { paper, dpi: 150, border: 8 }).border).toBe(47)
    const { data, info } = await sharp(await bytesOf({ paper: 'A5', dpi: 150, border: 8 }, [care]))
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true })
    let left = info.width
    for (let at = 0; at < data.length; at++) if ((data[at] ?? 255) <= 250) left = Math.min(left, at % info.width)
    expect(left).toBeGreaterThanOrEqual(47)
    expect(left).toBeLessThan(info.width / 2)
  })
  it('are see-through where the format can, and weigh less at less quality', async () => {
    const corner = async (wish: Partial<Delivery>) => [
      ...(await sharp(await bytesOf({ width: 200, ...wish }))
        .ensureAlpha()
        .extract({ left: 1, top: 1, width: 1, height: 1 })
        .raw()
        .toBuffer()),
    ]
    expect((await corner({ transparent: true }))[3]).toBe(0)
    expect((await corner({ format: 'webp', transparent: true }))[3]).toBe(0)
    expect(await corner({})).toEqual([255, 255, 255, 255])
    const flat = await corner({ format: 'jpg', transparent: true })
    for (const value of flat) expect(value).toBeGreaterThan(250)
    for (const format of ['jpg', 'webp'] as const) {
      const [poor, fine] = [
        await bytesOf({ format, width: 900, quality: 20 }),
        await bytesOf({ format, width: 900, quality: 95 }),
      ]
      expect(poor.length * 2).toBeLessThan(fine.length)
    }
  })
  it('are refused in words where they would be too large', async () => {
    await expect(bytesOf({ paper: 'A2', dpi: 1200 })).rejects.toThrow(/12000 px|more than can be drawn/)
  })
})

describe('SVG', () => {
  it('has its letters as text, with its fonts, or as outlines', async () => {
    const named = await textOf({})
    expect(named).toContain('<text')
    expect(named).not.toContain('@font-face')
    const inside = await textOf({ letters: 'inside' })
    expect(inside.match(/@font-face/g)?.length).toBe(1)
    expect(inside).toMatch(/src:url\(data:font\/woff2;base64,d09GMg/)
    const outlined = await textOf({ letters: 'outlines' })
    expect(outlined).not.toContain('<text')
    // What is seen is the same, within what a renderer's hinting and kerning may move.
    const grey = (svg: string) =>
      sharp(Buffer.from(svg)).resize(700).flatten({ background: '#fff' }).greyscale().raw().toBuffer()
    const png = await sharp(await bytesOf({ width: 1870 }))
      .resize(700)
      .greyscale()
      .raw()
      .toBuffer()
    const drawn = await grey(outlined)
    const [ink, other] = [png, drawn].map((data) => data.reduce((sum, value) => sum + 255 - value, 0)) as [
      number,
      number,
    ]
    expect(other / ink).toBeCloseTo(1, 1)
    let apart = 0
    for (let at = 0; at < Math.min(png.length, drawn.length); at++) apart += Math.abs((png[at] ?? 0) - (drawn[at] ?? 0))
    expect(apart / ink).toBeLessThan(0.35)
  })
})

describe('a picture that carries its facts', () => {
  const portion = shownPortion(registry, demo, care, DAY)
  it.each(['svg', 'png', 'pdf'] as const)('as %s brings back what it shows, which draws the same', async (format) => {
    const bytes = await bytesOf({ format, facts: true }, [care])
    const text = format === 'pdf' ? carriedByPdf(bytes) : carriedBy(bytes)
    const { model } = parseWorkspace(text ?? '', registry)
    expect(writeWorkspace(model)).toEqual(writeWorkspace(portion))
    const scene = (of: Model) => drawn(registry, of, of.views.get(care.id) as View, DAY) as Scene
    const svg = (of: Model) => toSvg(scene(of), { theme: themeFor(of.settings, care.look), title: 'x' })
    expect(svg(model)).toBe(svg(demo))
    // The picture itself is no other for it.
    const bare = await bytesOf({ format }, [care])
    expect(bare.length).toBeLessThan(bytes.length)
    if (format === 'png')
      expect((await sharp(bytes).raw().toBuffer()).equals(await sharp(bare).raw().toBuffer())).toBe(true)
    expect(format === 'pdf' ? carriedByPdf(bare) : carriedBy(bare)).toBeUndefined()
  })
  it('has nothing that stands outside its branch', () => {
    const shown = new Set(drawn(registry, demo, care, DAY)?.items.flatMap(({ facts }) => facts))
    const positions = [...portion.entities.values()].filter(({ kind }) => kind === 'position')
    expect(positions.length).toBeGreaterThan(5)
    for (const { id: one, name } of positions) expect(shown.has(one), name).toBe(true)
    const people = new Set([...portion.relations.values()].map(({ source }) => source))
    for (const one of portion.entities.values())
      if (one.kind === 'person') expect(people.has(one.id), one.name).toBe(true)
    expect([...portion.views.keys()]).toEqual([care.id])
    expect(portion.entities.size).toBeLessThan(demo.entities.size / 4)
  })
  const pixel = sharp({ create: { width: 3, height: 2, channels: 3, background: '#123456' } })
    .png()
    .toBuffer()
  it('is read back letter by letter, whatever it says', async () => {
    const png = new Uint8Array(await pixel)
    await fc.assert(
      fc.asyncProperty(fc.string({ unit: 'grapheme', maxLength: 300 }), async (text) => {
        const whole = text.replace(/\p{Cs}/gu, '?')
        expect(carriedBy(carryingPng(png, whole))).toBe(whole)
        expect((await sharp(carryingPng(png, whole)).raw().toBuffer()).length).toBe(18)
        const scene: Scene = {
          bounds: { x: 0, y: 0, width: 10, height: 10 },
          backdrop: [],
          items: [],
          links: [],
          headline: '',
          summary: '',
        }
        const svg = toSvg(scene, {
          theme: themeFor(demo.settings, {}),
          title: whole,
          carried: { name: CARRIED, text: JSON.stringify(whole) },
        })
        expect(JSON.parse(carriedBy(new TextEncoder().encode(svg)) ?? '')).toBe(whole)
      }),
      { numRuns: 60 },
    )
  })
  it('refuses what is broken, and what would be too large once unpacked', async () => {
    const png = carryingPng(new Uint8Array(await pixel), '{"a": 1}'.repeat(50))
    for (let at = 0; at < png.length; at += 7) {
      const text = (() => {
        try {
          return carriedBy(png.subarray(0, at))
        } catch (error) {
          return error instanceof RangeError ? undefined : 'another error'
        }
      })()
      expect(text === undefined || text === '{"a": 1}'.repeat(50)).toBe(true)
    }
    const bomb = withPngText(new Uint8Array(await pixel), CARRIED, ' '.repeat(70_000_000))
    expect(bomb.length).toBeLessThan(200_000)
    expect(() => carriedBy(bomb)).toThrow('what stands in this picture cannot be read')
    expect(() => withPngText(new Uint8Array([1, 2, 3]), 'x', 'y')).toThrow('this is no PNG')
    expect(pngText(png, 'other')).toBeUndefined()
    expect(carriedBy(new Uint8Array([0xff, 0xd8, 1, 2]))).toBeUndefined()
  })
})
