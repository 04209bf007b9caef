import { openSync, type Font } from 'fontkit'
import { createRequire } from 'node:module'
import { describe, expect, it } from 'vitest'
import { around, onPaper, svgSize, textWidth, themeOf, toSvg, wrap, type Scene } from '../../../src/core/scene'
import { toPng } from '../../../src/server/draw/png'
import { listed, DAY, organisation, treeView } from '../../facts'

const theme = themeOf(undefined)
const scene = (text: string): Scene => {
  const [tree] = organisation.pictures
  if (!tree) throw new Error('no tree')
  return tree.draw(listed(text), treeView(), DAY)
}

describe('text', () => {
  // The advances are the font's own: fontkit reads them from the shipped file. Kerning is left out, so within 4 %.
  it('is as wide as the shipped font says', () => {
    const path = createRequire(import.meta.url).resolve(
      '@expo-google-fonts/atkinson-hyperlegible-next/700Bold/AtkinsonHyperlegibleNext_700Bold.ttf',
    )
    const font = openSync(path) as Font
    for (const text of ['Hedda Lauring', 'Digital and ticketing lead', 'Ørjan Čapek', 'WAVE TAXI']) {
      const exact = (font.layout(text).advanceWidth * 13) / font.unitsPerEm
      expect(Math.abs(textWidth(text, 13, 'text700') - exact) / exact).toBeLessThan(0.04)
    }
  })
  it('breaks between words, then inside a word, and ends in an ellipsis at the last line', () => {
    const lines = wrap('Coordinator of everything', 80, 12, 'text400', 3)
    expect(lines.join(' ')).toBe('Coordinator of everything')
    for (const line of wrap('x'.repeat(10_000), 80, 12, 'text400', 3))
      expect(textWidth(line, 12, 'text400')).toBeLessThanOrEqual(80)
    expect(wrap('x'.repeat(10_000), 80, 12, 'text400', 3)).toHaveLength(3)
    expect(wrap('x'.repeat(10_000), 80, 12, 'text400', 3)[2]).toMatch(/…$/)
  })
  it('cuts a line with its ellipsis inside the width, and only where something is left out', () => {
    for (const width of [20, 33, 57, 65]) {
      const [line = ''] = wrap('Coordinator of everything', width, 12, 'text400', 1)
      expect(line, String(width)).toMatch(/\S…$/)
      expect(textWidth(line, 12, 'text400')).toBeLessThanOrEqual(width)
      // One more letter would not have gone in.
      const rest = 'Coordinator of everything'.slice(line.length - 1)
      const more = `${line.slice(0, -1)}${/^\s*\S/.exec(rest)?.[0] ?? ''}…`
      expect(textWidth(more, 12, 'text400')).toBeGreaterThan(width)
    }
    const whole = textWidth('Coordinator', 12, 'text400')
    expect(wrap('Coordinator', whole, 12, 'text400', 1)).toEqual(['Coordinator'])
    expect(wrap('Coordinator', whole - 1, 12, 'text400', 1)[0]).toMatch(/…$/)
    expect(wrap('One Two Three', 40, 12, 'text400', 9).join(' ')).toBe('One Two Three')
  })
})

describe('an SVG', () => {
  it('carries title, description and caption, and is as wide as asked', () => {
    const options = { theme, title: 'Staff', caption: 'As of today', alt: 'Two people', width: 1000 }
    const svg = toSvg(scene('Ada — Head\n  Ben — Clerk'), options)
    expect(svg).toMatch(/^<svg [^>]*width="1000"/)
    expect(svg).toContain('<title>Staff</title>')
    expect(svg).toContain('<desc>Two people</desc>')
    expect(svg).toContain('As of today')
  })
  it('has its caption beneath it, within its paper where it is on one, and cut to its width', () => {
    const drawn = scene('Ada — Head\n  Ben — Clerk')
    const caption = 'As of today '.repeat(400)
    expect(svgSize(drawn, { caption }).height).toBeGreaterThan(svgSize(drawn, {}).height)
    const sheet = onPaper(drawn, { paper: 'A5' })
    const { width, height } = svgSize(sheet, {})
    expect(svgSize(sheet, { caption })).toEqual({ width, height })
    for (const one of [drawn, sheet]) {
      const [, x, y, size, words = ''] =
        /<text x="([^"]*)" y="([^"]*)"[^>]*font-size="([^"]*)"[^>]*>(As of[^<]*…)</.exec(
          toSvg(one, { theme, title: 'T', caption }),
        ) ?? []
      const { bounds } = one
      expect(Number(x)).toBeGreaterThan(bounds.x)
      expect(Number(x) + textWidth(words, Number(size), 'text400')).toBeLessThan(bounds.x + bounds.width)
      if (one === sheet) expect(Number(y)).toBeLessThan(bounds.y + bounds.height)
    }
  })
  it('never lets a name become markup', () => {
    const svg = toSvg(scene('<script>alert(1)</script> — "Head" & \'co\'\u0000\ud800'), {
      theme,
      title: '</title><script>',
    })
    expect(svg).not.toContain('<script')
    expect(svg).toContain('&lt;script&gt;')
    expect(/[\u0000-\u0008\ud800]/.test(svg)).toBe(false)
  })
  it('draws frozen heads last, over what they stand beside', () => {
    const head = { tag: 'rect', attrs: { x: 0, y: 0, width: 5, height: 5, fill: 'ink', stroke: 'none' } } as const
    const svg = toSvg({ ...scene('Ada — Head'), frozen: { width: 0, height: 5, top: [head] } }, { theme, title: '' })
    expect(svg.trimEnd().endsWith('height="5" fill="#1c2530" stroke="none"/>\n</svg>')).toBe(true)
  })
  it('can leave out its ground', () => {
    const one = scene('Ada — Head')
    const grounds = [toSvg(one, { theme, title: '' }), toSvg(one, { theme, title: '', transparent: true })].map(
      (svg) => svg.split('<rect').length,
    )
    expect(grounds[0]).toBe((grounds[1] ?? 0) + 1)
  })
  it('of an empty workspace is small and valid', () => {
    expect(around([], 24)).toEqual({ x: 0, y: 0, width: 48, height: 48 })
    expect(
      toSvg(
        scene('Ada').items.length ? { ...scene('Ada'), items: [], links: [], bounds: around([], 24) } : scene('Ada'),
        { theme, title: '' },
      ),
    ).toContain('</svg>')
  })
})

describe('a PNG', () => {
  const png = (width: number) => {
    const drawn = scene('Ada — Head\n  Ben — Clerk')
    const options = { theme, title: '', width }
    const size = svgSize(drawn, options)
    return { bytes: Buffer.from(toPng(toSvg(drawn, options), size.width, size.height)), size }
  }
  it('has exactly the pixels asked for, in its header (PNG, ISO/IEC 15948, IHDR)', () => {
    const { bytes, size } = png(2480)
    expect(bytes.subarray(1, 4).toString()).toBe('PNG')
    expect([bytes.readUInt32BE(16), bytes.readUInt32BE(20)]).toEqual([2480, size.height])
  })
  it('shows the names: without them it is a different, smaller picture', () => {
    const withNames = png(800).bytes.length
    const blank = scene('Ada — Head\n  Ben — Clerk')
    const bare = {
      ...blank,
      items: blank.items.map((item) => ({ ...item, marks: item.marks.filter(({ tag }) => tag !== 'text') })),
    }
    const size = svgSize(bare, { width: 800 })
    expect(withNames).toBeGreaterThan(
      1.3 * toPng(toSvg(bare, { theme, title: '', width: 800 }), 800, size.height).length,
    )
  })
  it('refuses sizes that cannot be drawn', () => {
    expect(() => toPng('<svg/>', 15, 10)).toThrow(/px wide/)
    expect(() => toPng('<svg/>', 12_000, 50_000)).toThrow(/smaller width/)
  })
})
