import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, Model } from '../../../src/core/model'
import { drawn, isRefusal, listText } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { figure } from '../../../src/core/notations/figure'
import { outline } from '../../../src/core/notations/figure/outline'
import { layersOf, type Scene } from '../../../src/core/scene'
import { DAY, numbering, writtenAtOnce } from '../../facts'
import { figureOf, figureView, type Line } from '../../figureShapes'

const VIEW = figureView('cards')
const emptyScene: Scene = {
  bounds: { x: 0, y: 0, width: 1, height: 1 },
  backdrop: [],
  items: [],
  links: [],
  headline: '',
  summary: '',
}
const exported = (id: string, model: Model): string => {
  const written = figure.exports.find((one) => one.id === id)
  if (!written) throw new Error(`nothing writes ${id}`)
  return writtenAtOnce(written.write(model, VIEW, DAY))
}
async function brought(id: string, text: string) {
  const reader = await figure.files.find((one) => one.id === id)?.load()
  if (!reader) throw new Error(`nothing reads ${id}`)
  const model = Model.of({ views: [VIEW] })
  const found = reader.read({ model, view: VIEW, day: DAY, selection: [], newId: numbering() }, text)
  if (isRefusal(found as never) || 'refused' in found) throw new Error('refused' in found ? found.refused : 'refused')
  const after = apply(model, found.change).model
  const view = [...after.views.values()].find((one) => one.id === found.view)
  if (!view) throw new Error('no view')
  return { after, view, title: view.title, text: listText(outline.lines(after, view, DAY)) }
}
const textOf = (model: Model): string => listText(outline.lines(model, VIEW, DAY))

/** Texts that mean something in one of the formats. */
const SIGNS = [
  '# x',
  '- x',
  '[x] y',
  '**b**',
  '*q*',
  '_a_',
  'a\\b',
  '<x>',
  '[t](https://a.b)',
  '1. x',
  'x (strong)',
  '= y',
  '`c`',
  '~',
  'a & b',
  '"q"',
  'x (open day)',
  '## ',
  '> x',
]
const lines = fc.array(
  fc.record({
    text: fc
      .oneof(fc.constantFrom(...SIGNS), fc.string({ minLength: 1, maxLength: 10, unit: 'grapheme' }))
      .map((text) => text.replace(/[\p{C}\p{Zl}\p{Zp}]/gu, '').replace(/\s/g, ' '))
      .filter((text) => text.trim() !== ''),
    bits: fc.nat(63),
    under: fc.boolean(),
  }),
  { minLength: 1, maxLength: 7 },
)
const modelOf = (list: readonly { text: string; bits: number; under: boolean }[]): Model => {
  const tops: { -readonly [K in keyof Line]: Line[K] }[] = []
  for (const { text, bits, under } of list) {
    const fields = {
      ...(bits & 1 ? { emphasis: bits & 32 ? 'strong' : 'quiet' } : {}),
      ...(bits & 2 ? { value: bits * 1.5, unit: '%' } : {}),
      ...(bits & 4 ? { done: (bits & 32) > 0 } : {}),
      ...(bits & 8 ? { link: 'https://marram.example/x' } : {}),
      ...(bits & 16 ? { gathers: 'people with First aid' } : {}),
    }
    const line: Line = { text, fields }
    const last = tops.at(-1)
    if (under && last) last.under = [...(last.under ?? []), line]
    else tops.push({ ...line })
  }
  return figureOf(tops)
}

describe.each(['text', 'markdown', 'opml'])('a figure written as %s', (id) => {
  it('comes back line by line, whatever it says', () =>
    fc.assert(
      fc.asyncProperty(lines, async (list) => {
        const model = modelOf(list)
        expect((await brought(id, exported(id, model))).text).toBe(textOf(model))
      }),
      { numRuns: 120, seed: 9 },
    ))
  it('says what is at fault where it is none', async () => {
    await expect(brought(id, '')).rejects.toThrow(/no line|not XML/)
  })
})

describe('a figure that no title is said of', () => {
  it.each([
    [
      '**Dry dock**  (open) <https://marram.example/d>\nRadio and mast',
      'Dry dock',
      { 'Dry dock': 1, 'Radio and mast': 1 },
    ],
    ['**Before winter**\n  Ships\n  Ports', 'Before winter', { 'Before winter': 1, Ships: 1, Ports: 1 }],
    ['Before winter\n  Ships', 'Before winter', { 'Before winter': 1, Ships: 1 }],
  ])('is called after its first line without marks, and draws it once: %s', async (text, title, told) => {
    const { after, view } = await brought('text', text)
    expect(view.title).toBe(title)
    const marks = layersOf(drawn(registry, after, view, DAY) ?? emptyScene).flatMap((layer) => layer.marks)
    const said = marks.flatMap((mark) => (mark.tag === 'text' ? [mark.children[0]] : [])).join(' ')
    for (const [words, times] of Object.entries(told)) expect(said.split(words).length - 1, words).toBe(times)
  })
})

describe('what other programs write', () => {
  it('is read from Markdown: headings, lists of all sorts, tasks, emphasis and links', async () => {
    const { title, text } = await brought(
      'markdown',
      '# Before winter\n\nWhat has to be *done*\n\n## Ships\n\n1. **Dry dock**\n   - hull\n   - shafts\n2. [Radio](https://marram.example/r)\n\n## Ports\n\n* [x] lights\n* [ ] salt\n',
    )
    expect(title).toBe('Before winter')
    expect(text).toBe(
      'What has to be *done*\nShips\n  Dry dock  (strong)\n    hull\n    shafts\n  Radio  <https://marram.example/r>\nPorts\n  lights  (done)\n  salt  (open)',
    )
  })
  // Each as CommonMark 0.31.2 has it; the number is that of its chapter.
  it.each([
    ['front matter', '---\ntitle: x\ntags: [a]\n---\n\n- Hull\n', 'Hull'],
    ['4.1 thematic breaks', 'Hull\n\n---\n\n***\n\nShafts\n', 'Hull\nShafts'],
    ['4.3 underlined headings', 'Ships\n=====\n\nPorts\n-----\n\n- Skerry\n', 'Ports\n  Skerry'],
    ['4.5 fenced code', '- Hull\n\n```sh\n# run\n- now\n```\n', 'Hull\n# run\n"- now"'],
    ['4.8 continued lines', '- Hull and\nits paint\n- Shafts\n  and seals\n', 'Hull and its paint\nShafts and seals'],
    ['5.1 quotations', '> Hull\n> - paint\n', 'Hull\npaint'],
    [
      '5.2 what belongs to an item',
      '- Hull\n\n  in spring\n\n  - paint\n- Shafts\n',
      'Hull\n  in spring\n  paint\nShafts',
    ],
    ['6.1 escapes', '1\\. Hull \\*new\\*\n', '1. Hull *new*'],
    ['6.2 entities', '- Hull &amp; shafts&nbsp;&#8212; 5 &lt; 6\n', 'Hull & shafts\u00a0— 5 < 6'],
    ['6.3 code', '- `a * b` of the hull\n', 'a * b of the hull'],
    [
      '6.6 links',
      '- [Radio](https://marram.example/r "why") room\n- <https://marram.example/x>\n',
      'Radio room  <https://marram.example/r>\nhttps://marram.example/x  <https://marram.example/x>',
    ],
  ])('is read from Markdown: %s', async (_, written, text) => {
    expect((await brought('markdown', written)).text).toBe(text)
  })
  it('is read from Markdown within bounds', async () => {
    await expect(brought('markdown', `- ${'x'.repeat(4001)}`)).rejects.toThrow(/4,000 is the most/)
    await expect(brought('markdown', 'x\n\n'.repeat(700_000))).rejects.toThrow(/too many/)
    await expect(brought('markdown', '- x\n'.repeat(20_001))).rejects.toThrow(/more than 20,000 lines/)
    await expect(brought('markdown', '>'.repeat(3000))).rejects.toThrow(/no line/)
  })
  it('is read from OPML, whatever else it says', async () => {
    const { title, text } = await brought(
      'opml',
      '<?xml version="1.0"?><opml version="2.0"><head><title>Plans</title></head><body><outline text="A &amp; B" _note="n"><outline text="deep" url="https://marram.example/d"/></outline><outline text="C"/></body></opml>',
    )
    expect([title, text]).toEqual(['Plans', 'A & B\n  deep  <https://marram.example/d>\nC'])
  })
  it('is refused where it declares entities of its own', async () => {
    await expect(brought('opml', '<!DOCTYPE opml [<!ENTITY a "b">]><opml><body/></opml>')).rejects.toThrow(
      /document type/,
    )
  })
})
