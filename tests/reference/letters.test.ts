import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import fc from 'fast-check'
import { openSync, type Font } from 'fontkit'
import { describe, expect, it } from 'vitest'
import { isUnseen, textWidth, type Mark } from '../../src/core/scene'
import { facesIn, WEB_FACES } from '../../src/core/scene/faces'
import { delivered } from '../../src/server/draw/deliver'
import { fontOf, isForeign, layoutOf, runsOf } from '../../src/server/draw/fonts'
import { foreignOutlined, outlineOf } from '../../src/server/draw/outlines'
import { DAY, listed, organisation, treeView } from '../facts'

const require = createRequire(import.meta.url)
type TextMark = Extract<Mark, { tag: 'text' }>
const mark = (words: string, more: Partial<TextMark['attrs']> = {}): TextMark => ({
  tag: 'text',
  attrs: { x: 0, y: 0, 'font-size': 20, 'font-family': 'text', fill: 'ink', ...more },
  children: [words],
})
/** How a text stands, from the left to the right. */
const inSight = (words: string): string =>
  runsOf(mark(words))
    .flatMap((run) => layoutOf(run).glyphs.map(({ codePoints }) => String.fromCodePoint(...codePoints)))
    .join('')
const glyphs = (words: string) => runsOf(mark(words)).flatMap((run) => layoutOf(run).glyphs.map(({ name }) => name))

/** Names and titles as people have them, in the scripts that ship. */
const SAMPLES: Readonly<Record<string, string>> = {
  Hebrew: 'מנהלת תפעול (נמל 12)',
  Arabic: 'مدير العمليات',
  Thai: 'ผู้จัดการท่าเรือ',
  Devanagari: 'क्षेत्र प्रबंधक',
  Chinese: '港口經理 港口经理',
  Japanese: '港湾長 フェリー',
  Korean: '항만 관리자',
  Greek: 'Ἀθῆναι Λιμάνι',
  Vietnamese: 'Giám đốc cảng biển Nguyễn',
  Cyrillic: 'Начальник порта Ѳ',
  arrows: '→ ← ↑ ↓ ⇒ ⇄ ↦',
  ticks: '✓ ✔ ✗ ✘ ☐ ☑ ☒ ● ○ ■ □ ▲ ◆ ★ ☆ ➢',
  signs: '⚠ ⚡ ∑ ≠ ≈ ∞ ½ ℃ ① ₂ ² ™ №',
  emoji: '🚢 👩‍🔧 🇳🇴 👍🏽 ✅ 1️⃣ ⚠️ ❤️',
}
const samples = Object.entries(SAMPLES)

describe('letters of other scripts', () => {
  it.each(samples)('%s is drawn in every format', async (_script, words) => {
    const model = listed(`${words} — Head`)
    for (const format of ['png', 'pdf', 'docx', 'svg'] as const) {
      const { missing } = await delivered(model, [treeView()], { format, day: DAY, letters: 'outlines' })
      expect(missing, format).toEqual([])
    }
    const [tree] = organisation.pictures
    const scene = tree?.draw(model, treeView(), DAY)
    if (!scene) throw new Error('no scene')
    const square = ['sc', 'kr'].flatMap((part) => {
      const parts = require(`@fontsource-variable/noto-sans-${part}/unicode.json`) as Record<string, string>
      return Object.entries(parts).map(([file, ranges]) => ({
        file,
        ranges,
        family: 'Noto Sans',
        style: 'normal' as const,
      }))
    })
    expect(facesIn(scene, '', square).missing).toEqual([])
    // What draws pictures as pixels sets the letters of one family alone; the others come as paths.
    const texts: string[] = []
    const look = (one: Mark): void => {
      if (one.tag === 'g') one.children.forEach(look)
      else if (one.tag === 'text') texts.push(one.children[0])
    }
    for (const { marks } of foreignOutlined(scene, words).items) marks.forEach(look)
    expect(texts.filter((text) => isForeign(mark(text)))).toEqual([])
    expect(texts.join()).toContain('Head')
  })

  it('that no font has are told, and marks that nobody sees are none', () => {
    const found = (words: string) => {
      const scene = organisation.pictures[0]?.draw(listed(`${words} — Head`), treeView(), DAY)
      return scene && facesIn(scene).missing
    }
    expect(found('ᚱᚠ of 港')).toEqual(['ᚠ', 'ᚱ', '港'])
    expect(found('a\u200bb ⚠\ufe0f')).toEqual([])
  })

  // Unicode Standard Annex 9 (UAX #9), rules N0, L2 and L4: the base direction is that of the page, from the left.
  it.each([
    ['car: מכונית', 'car: תינוכמ'],
    ['שלום עולם', 'םלוע םולש'],
    ['מנהלת (נמל 12)', '(12 למנ) תלהנמ'],
    ['Pier 3', 'Pier 3'],
  ])('what is written from the right stands so: %s', (words, seen) => expect(inSight(words)).toBe(seen))

  // The Unicode Standard 16.0, 9.2: beh, yeh and teh join, dal and alef do so with what is before them alone; lam and alef are one.
  it('Arabic letters join their neighbours', () => {
    const forms = glyphs('بيت').filter((name) => /^uni/.test(name))
    expect(forms.map((name) => name.replace(/^uni[\dA-F]+\./, ''))).toEqual(['fina', 'medi.wide', 'init'])
    expect(glyphs('لا').every((name) => name.endsWith('.rlig'))).toBe(true)
    expect(glyphs('دا').some((name) => /init|medi/.test(name))).toBe(false)
    // The reader of fonts stumbles over where these have their dots: they are drawn all the same.
    expect(outlineOf(mark('ڢڣ'))).toHaveLength(1)
  })

  // The Unicode Standard 16.0, 16.1: the sign of SARA AM stands beneath the tone that is written before it.
  it('Thai tones stand above the sign of the vowel', () =>
    expect(glyphs('น้ำ')).toEqual(['uni0E19', 'uni0E4D', 'uni0E49.small', 'uni0E32']))

  // The Unicode Standard 16.0, 12.1: a consonant without its vowel joins the next one; the sign of i comes first.
  it('Devanagari letters are joined and put in order', () => {
    expect(glyphs('क्षेत्र')).toHaveLength(3)
    expect(glyphs('कि')[0]).toMatch(/^uni093F/)
  })

  // Unicode Technical Standard 51, 2.2 to 2.8.
  it.each(['👩‍🔧', '🇳🇴', '👍🏽', '🚢', '⚠️'])('an emoji that is made of several is one: %s', (emoji) =>
    expect(
      glyphs(emoji).filter(
        (_, at) => layoutOf(runsOf(mark(emoji))[0] ?? { font: 'text400', words: '' }).positions[at]?.xAdvance,
      ),
    ).toHaveLength(1),
  )
})

describe('nonsense', () => {
  const BLOCKS = [
    [0x20, 0x7f],
    [0x300, 0x36f],
    [0x590, 0x6ff],
    [0x900, 0x97f],
    [0xe00, 0xe7f],
    [0x200b, 0x206f],
    [0x2190, 0x27bf],
    [0x1f1e6, 0x1f6ff],
    [0x4e00, 0x4eff],
    [0xac00, 0xacff],
    [0xd800, 0xdfff],
    [0xfb1d, 0xfdff],
    [0xfe00, 0xfeff],
  ] as const
  const letter = fc
    .oneof(...BLOCKS.map(([min, max]) => fc.integer({ min, max })))
    .map((code) => String.fromCodePoint(code))
  it('of letters, marks and joiners of all scripts is drawn, and no letter of it is set twice', () => {
    fc.assert(
      fc.property(fc.array(letter, { maxLength: 12 }), fc.boolean(), (letters, isStrong) => {
        const set = mark(letters.join(''), { 'font-weight': isStrong ? 700 : 400 })
        expect(() => outlineOf(set)).not.toThrow()
        const drawn = runsOf(set).reduce((sum, { words }) => sum + [...words].length, 0)
        const vowels = letters.join('').match(/[\u0e48-\u0e4b]\u0e33/g)?.length ?? 0
        expect(drawn).toBeLessThanOrEqual([...letters.join('')].length + vowels)
      }),
      { numRuns: 500 },
    )
  })
})

describe('what is known of fonts without opening them', () => {
  it('is the same on the page as within pictures', () => {
    const css = readFileSync('src/app/scripts.css', 'utf8')
    const rules = [...css.matchAll(/files\/([^.]+)\.woff2[^;]*;\s*unicode-range:([^;]+);/g)]
    const known = rules.map(([, file = '', ranges = '']) => [file, ranges.replace(/\s/g, '').toUpperCase()])
    expect(known).toEqual(WEB_FACES.slice(6).map(({ file, ranges }) => [file, ranges]))
  })

  it.each(samples)('%s is no wider than it is measured', (script, words) => {
    for (const weight of [400, 700] as const) {
      const set = mark(words, { 'font-weight': weight })
      const real = runsOf(set).reduce(
        (sum, run) => sum + (layoutOf(run).advanceWidth * 20) / fontOf(run.font).unitsPerEm,
        0,
      )
      const measured = textWidth(words, 20, weight === 400 ? 'text400' : 'text700')
      expect(measured).toBeGreaterThan(real * 0.97)
      // Letters that grow together are narrower than one by one.
      expect(measured).toBeLessThan(
        real * (['Arabic', 'Devanagari', 'signs', 'ticks'].includes(script) ? 1.5 : 1.12) + 1,
      )
    }
  })

  it('has files whose letters are those that are said', () => {
    const packages = (file: string) =>
      /symbols-2|math/.test(file)
        ? [`@fontsource/${/^noto-sans-(?:symbols-2|math)/.exec(file)?.[0] ?? ''}`]
        : [
            'atkinson-hyperlegible-next',
            'atkinson-hyperlegible-mono',
            'noto-emoji',
            'noto-sans-hebrew',
            'noto-sans-arabic',
            'noto-sans-thai',
            'noto-sans-symbols',
            'noto-sans',
          ]
            .filter((name) => file.startsWith(`${name}-`))
            .map((name) => `@fontsource-variable/${name}`)
    for (const { file, ranges } of WEB_FACES.slice(6)) {
      const font = openSync(require.resolve(`${packages(file)[0] ?? ''}/files/${file}.woff2`)) as Font
      for (const range of ranges.split(',')) {
        const [from = 0, to = from] = range
          .slice(2)
          .split('-')
          .map((code) => parseInt(code, 16))
        for (let code = from; code <= to; code++)
          if (!isUnseen(code)) expect(font.hasGlyphForCodePoint(code), `${file} ${code.toString(16)}`).toBe(true)
      }
    }
  })
})
