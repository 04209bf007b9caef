import { Ajv2020 } from 'ajv/dist/2020.js'
import fc from 'fast-check'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { FileError, readThemeFile, themeSchema, writeTheme } from '../../../src/core/file'
import { readTheme, wordsOfTheme, type ThemeSpec } from '../../../src/core/model'

const colour = fc.integer({ min: 0, max: 0xffffff }).map((value) => `#${value.toString(16).padStart(6, '0')}`)
const themes: fc.Arbitrary<ThemeSpec> = fc
  .record({
    title: fc.string({ minLength: 1, maxLength: 60 }).filter((text) => text.trim() !== ''),
    colours: fc.array(colour, { minLength: 1, maxLength: 3 }),
    corners: fc.constantFrom(0.5, 1, 2),
    lines: fc.constantFrom(0.7, 1, 1.6),
    type: fc.constantFrom(0.5, 1, 1.6),
    isAsGiven: fc.boolean(),
  })
  .map((one) => ({ id: 'own', hues: [], chroma: 0.08, ...one }))
const validate = new Ajv2020().compile(themeSchema())

describe('a theme of one’s own', () => {
  it('comes back from the words that a workspace keeps, and from the file that is handed on', () =>
    fc.assert(
      fc.property(themes, (spec) => {
        expect(readTheme('own', wordsOfTheme(spec))).toEqual(spec)
        const file: unknown = JSON.parse(JSON.stringify(writeTheme(spec)))
        expect(readThemeFile(file)).toEqual(spec)
        expect(validate(file)).toBe(true)
      }),
    ))
  it.each([
    [[], undefined],
    [['House'], undefined],
    [['', '#112233'], undefined],
    [['House', '#112233', 'loud lines'], undefined],
    [['House', '#112233', '#112233', '#112233', '#112233'], undefined],
    ['House #112233', undefined],
    [['House', 3], undefined],
    [['x'.repeat(61), '#112233'], undefined],
  ])('is not what %j says', (words, nothing) => expect(readTheme('own', words)).toBe(nothing))
})

describe('a theme file', () => {
  const good = { format: 'skivel-theme', version: 1, title: 'House', colours: ['#112233'] }
  it.each([
    [[], 'file is not a JSON object'],
    [{ ...good, format: 'other' }, 'format is not "skivel-theme": "other"'],
    [{ ...good, title: ' ' }, 'title is not a text of 60 characters at most'],
    [{ ...good, colours: ['red'] }, 'colours are not one to three colours as #rrggbb'],
    [{ ...good, colours: [] }, 'colours are not one to three colours as #rrggbb'],
    [{ ...good, corners: 'sharp' }, 'corners are none of small, usual, large'],
    [{ ...good, lines: 2 }, 'lines are none of thin, usual, heavy'],
    [{ ...good, type: 'large' }, 'type is none of even, usual, steep'],
    [{ ...good, asGiven: 'yes' }, 'asGiven is neither true nor false'],
  ])('is refused in words, as its schema refuses it: %j', (json, words) => {
    expect(() => readThemeFile(json)).toThrow(FileError)
    expect(() => readThemeFile(json)).toThrow(`This is not a theme file: ${words}`)
    if (!JSON.stringify(json).includes('"title":" "')) expect(validate(json)).toBe(false)
  })
  it('has its schema in docs/', () => {
    expect(JSON.parse(readFileSync('docs/theme-file.schema.json', 'utf8'))).toEqual(themeSchema())
  })
})
