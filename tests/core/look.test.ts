import { describe, expect, it } from 'vitest'
import { checkTouched } from '../../src/core/file'
import { findingsOf } from '../../src/core/findings'
import { apply, Model, TONES, type Fields, type Settings, type View } from '../../src/core/model'
import { STRENGTH, type Finding } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { mostBehind, themeIn, themes } from '../../src/core/scene'
import { marramSoundFerries } from '../../src/demo'
import { DAY, id, treeView } from '../facts'

const HOUSE = ['House', '#ffd400', '#12565e', 'colours as given']
const modelOf = (look: View['look'], settings: Partial<Settings> = {}): Model =>
  Model.of({
    settings: { thresholds: {}, accepted: {}, themes: { own: HOUSE }, ...settings },
    views: [{ ...treeView(), id: id('v'), title: 'Staff', look }],
  })
const found = (model: Model) => findingsOf(registry, model, DAY).filter(({ rule }) => rule.startsWith('look/'))
const messages = (model: Model) => found(model).map(({ rule, message }) => `${rule}: ${message}`)
/** What is found after the first fix of the first finding. */
const mended = (model: Model, fix = 0): readonly string[] => {
  const change = found(model)[0]?.fixes[fix]?.change
  if (!change) throw new Error('no fix')
  return messages(apply(model, change).model)
}

const moved =
  'look/moved-colour: #ffd400 of “House” is drawn as #b19200 in “Staff”: it is 1.4 to 1 on the sheet, and 3 to 1 is the least.'

describe('rules of how views look', () => {
  it('look/contrast: a house colour that hardly stands out, drawn as it is given', () => {
    const model = modelOf({ theme: 'own' })
    expect(messages(model)).toEqual([
      'look/contrast: #ffd400 of “House” is 1.4 to 1 on the sheet of “Staff”; 3 to 1 is the least.',
    ])
    expect(found(model)[0]?.subjects).toEqual(['v'])
    expect(mended(model)).toEqual([moved])
    expect(messages(modelOf({ theme: 'own', tone: 'grey' }))).toEqual([])
    // On a dark sheet it is the other one.
    expect(messages(modelOf({ theme: 'own', tone: 'dark' }))).toEqual([
      expect.stringMatching(
        /^look\/contrast: #12565e of “House” is 2\.\d to 1 on the sheet of “Staff”; 3 to 1 is the least\.$/,
      ),
    ])
    // Chosen for the workspace, it is found in every view that says nothing of its own.
    expect(messages(modelOf({}, { look: { theme: 'own' } }))).toHaveLength(1)
    expect(messages(modelOf({ theme: 'moss' }, { look: { theme: 'own' } }))).toEqual([])
  })
  it('look/moved-colour: one that is drawn as another, with both, unless it is as given', () => {
    const themes = { own: HOUSE.slice(0, 3) }
    const model = modelOf({ theme: 'own' }, { themes })
    expect(messages(model)).toEqual([moved])
    expect(mended(model, 0)).toEqual([])
    expect(mended(model, 1)).toEqual([expect.stringMatching(/^look\/contrast: #ffd400/)])
    expect(messages(modelOf({ theme: 'own', tone: 'grey' }, { themes }))).toEqual([])
  })
  it('of a theme say once what holds in all its views', () => {
    const model = modelOf({ theme: 'own' }, { themes: { own: HOUSE.slice(0, 3) } })
    const [view] = model.views.values()
    const other = { ...treeView(), id: id('w'), title: 'Ships', look: { theme: 'own' } }
    const both = model.with({ views: new Map([...(view ? [[view.id, view] as const] : []), [other.id, other]]) })
    expect(messages(both)).toEqual([moved.replace('“Staff”', '2 views')])
    expect(found(both)[0]?.subjects).toEqual(['v', 'w'])
  })
  it('look/sight-twins: two of them that some eyes do not tell apart', () => {
    const model = modelOf({ theme: 'own' }, { themes: { own: ['House', '#d62728', '#2ca02c'] } })
    expect(messages(model)).toEqual([
      expect.stringMatching(
        /^look\/sight-twins: #d62728 and #2ca02c of “House” are hardly told apart without the cones for green \(deuteranopia\), in “Staff”: they differ by 4\.\d, and 12 is the least\.$/,
      ),
    ])
    expect(mended(model)).toEqual([])
  })
  it('look/grey-twins: two of them that are as light as each other', () => {
    const twins = { themes: { own: ['House', '#d62728', '#1f77b4', 'colours as given'] } }
    const model = modelOf({ theme: 'own' }, twins)
    expect(messages(model)).toEqual([
      expect.stringMatching(
        /^look\/grey-twins: #d62728 and #1f77b4 of “House” differ by [0-3]\.\d of 100 in grey, in “Staff”; 3.5 is the least\.$/,
      ),
    ])
    expect(mended(model)).toEqual([])
    expect(messages(modelOf({ theme: 'own' }, { ...twins, thresholds: { 'look/grey-twins': 0.1 } }))).toEqual([])
  })
  it('look/dark-ground: a dark sheet on a paper that is printed', () => {
    const model = modelOf({ tone: 'dark', paper: 'A4' })
    expect(messages(model)).toEqual(['look/dark-ground: “Staff” is drawn for a dark screen, on A4 upright.'])
    expect([mended(model, 0), mended(model, 1)]).toEqual([[], []])
    const others: readonly View['look'][] = [
      { tone: 'dark' },
      { tone: 'dark', paper: '16:9' },
      { tone: 'dark', paper: '1200 × 630 px' },
      { paper: 'A4' },
    ]
    for (const look of others) expect(messages(modelOf(look))).toEqual([])
    expect(messages(modelOf({ paper: 'A4' }, { look: { tone: 'dark' } }))).toHaveLength(1)
  })
  it('find nothing in the demo', () => {
    expect(messages(marramSoundFerries())).toEqual([])
  })

  it('look/contrast: a picture behind that shows so strongly that texts may be lost in it', () => {
    const asset = '987c66bd0d968070f26b04bb6c01da97f629391f'
    const model = modelOf({ ground: 'picture', picture: asset, strength: 40 })
    expect(messages(model)).toEqual([
      'look/contrast: The picture behind “Staff” shows at 40 %: where it is darkest or palest, texts have less than 4.5 to 1 above 12 %.',
    ])
    expect(mended(model)).toEqual([])
    // As it is begun with, and where it is another ground.
    expect(messages(modelOf({ ground: 'picture', picture: asset }))).toEqual([])
    expect(messages(modelOf({ ground: 'map', strength: 100 }))).toEqual([])
    expect(messages(modelOf({ ground: 'picture', picture: asset, strength: 39, tone: 'strong' }))).toEqual([])
    for (const theme of themes)
      for (const tone of TONES) expect(mostBehind(themeIn(theme, tone))).toBeGreaterThanOrEqual(STRENGTH)
  })
  it('look/colour-only: categories on paper that nothing but a colour tells', () => {
    const model = modelOf({ paper: 'A4', rules: ['colour by grade'] })
    const words = 'look/colour-only: In “Staff”, which is drawn for paper, categories differ by their colours alone.'
    expect(messages(model)).toEqual([words])
    expect(mended(model)).toEqual([])
    expect(messages(modelOf({ paper: 'A4', 'emphasis a': ['category 3'] }))).toEqual([words])
    expect(messages(modelOf({ paper: 'A4', rules: ['category 3 where fte > 1'] }))).toEqual([words])
    const others: readonly View['look'][] = [
      { rules: ['colour by grade'] },
      { paper: '16:9', rules: ['colour by grade'] },
      { paper: 'A4', rules: ['strong where fte > 1'] },
      { paper: 'A4', 'emphasis a': ['strong'] },
    ]
    for (const look of others) expect(messages(modelOf(look))).toEqual([])
  })
  it('look/too-small: what is printed too small to be read, with a paper that is large enough', () => {
    const demo = marramSoundFerries()
    const onto = (view: string, look: View['look']): Model => {
      const known = demo.views.get(id(view))
      if (!known) throw new Error('gone')
      return demo.with({ views: new Map([[known.id, { ...known, look }]]) })
    }
    const small = found(onto('dry-dock', { paper: 'A5' })).filter(({ rule }) => rule === 'look/too-small')
    expect(small.map(({ message }) => message)).toEqual([
      expect.stringMatching(
        /^The smallest text of “Dry dock and new ticketing” is \d\.\d pt on A5 upright; 8 pt is the least\.$/,
      ),
    ])
    expect(small[0]?.fixes.map(({ label }) => label)).toEqual(['Draw it on A4', 'Take the paper away'])
    expect(found(onto('cancelled', { paper: 'A5' }))[0]?.fixes.map(({ label }) => label)).toContain(
      'Turn the paper across',
    )
    const bounded = demo.with({
      settings: { ...demo.settings, thresholds: { 'look/too-small': 0.5 } },
      views: onto('dry-dock', { paper: 'A5' }).views,
    })
    expect(found(bounded).map(({ rule }) => rule)).not.toContain('look/too-small')
    // Of figures their own rule speaks, but for what stands around them.
    const around = (count: number) => {
      const notes = Array.from({ length: count }, (_, at) => [
        `note ${at}`,
        [String(at + 1), 'Said of it at length. '.repeat(9)],
      ])
      const look = { paper: 'A5', source: 'Staff list', ...(Object.fromEntries(notes) as View['look']) }
      return found(onto('figure-ready-to-sail', look)).map(({ rule }) => rule)
    }
    expect(around(0)).not.toContain('look/too-small')
    expect(around(30)).toContain('look/too-small')
    expect(found(onto('figure-ready-to-sail', { paper: 'A5' })).map(({ rule }) => rule)).not.toContain('look/too-small')
  })
  it('look/overflow: texts that are cut, on paper alone', () => {
    const demo = marramSoundFerries()
    const cut = (look: View['look'], options: View['options'] = {}): readonly Finding[] => {
      const known = demo.views.get(id('dry-dock'))
      if (!known) throw new Error('gone')
      const views = new Map([[known.id, { ...known, look, options: { ...known.options, ...options } }]])
      return found(demo.with({ views })).filter(({ rule }) => rule === 'look/overflow')
    }
    const [one] = cut({ paper: 'A2' })
    expect(one?.message).toMatch(
      /^\d+ texts of “Dry dock and new ticketing” do not fit and are cut: “[^“”]+…”, “[^“”]+…”, “[^“”]+…”\.$/,
    )
    expect(one?.fixes.map(({ label }) => label)).toEqual(['Set it airy', 'Take the paper away'])
    // Where a picture cannot set things further apart, that is not offered.
    const months = demo.views.get(id('dry-dock'))
    if (!months) throw new Error('gone')
    const monthly = { ...months, picture: 'month', look: { paper: 'A4' } }
    const cutThere = found(demo.with({ views: new Map([[monthly.id, monthly]]) })).find(
      ({ rule }) => rule === 'look/overflow',
    )
    expect(cutThere?.fixes.map(({ label }) => label)).not.toContain('Set it airy')
    expect(cutThere?.fixes.length).toBeGreaterThan(0)
    // Every fix of every view is one that a server takes.
    for (const view of demo.views.values())
      for (const paper of ['A5', 'A4']) {
        const model = demo.with({ views: new Map([[view.id, { ...view, look: { paper } }]]) })
        for (const { fixes } of found(model))
          for (const { change } of fixes) checkTouched(apply(model, change).model, change.steps, registry)
      }
    expect(cut({})).toEqual([])
    expect(cut({ paper: '16:9' })).toEqual([])
    // A name that ends in dots by itself is whole.
    const dotted = Model.of({
      entities: [{ id: id('a'), kind: 'position', name: 'To be named …', fields: {} }],
      views: [{ ...treeView(), id: id('v'), title: 'Staff', look: { paper: 'A4' } }],
    })
    expect(found(dotted)).toEqual([])
  })
  it('look/alt-missing: a picture without words, but for a portrait, whose name stands beside it', () => {
    const asset = '987c66bd0d968070f26b04bb6c01da97f629391f'
    const model = (fields: Fields, kind = 'event'): Model =>
      Model.of({ entities: [{ id: id('e'), kind, name: 'First sailing', fields: { photo: asset, ...fields } }] })
    const missing = model({ when: '1921' })
    expect(messages(missing)).toEqual([
      'look/alt-missing: The picture of “First sailing” has no words that say what it shows.',
    ])
    expect(mended(missing)).toEqual([])
    expect(messages(model({ when: '1921', alt: 'A launch' }))).toEqual([])
    expect(messages(model({}, 'person'))).toEqual([])
  })
  it('find nothing in what the program ships, in any theme and tone', () => {
    const rules = [...registry.rules.values()].filter((rule) => rule.id.startsWith('look/'))
    const demo = marramSoundFerries()
    for (const theme of themes)
      for (const tone of TONES) {
        const model = demo.with({ settings: { ...demo.settings, look: { theme: theme.id, tone } } })
        for (const rule of rules) {
          // A dark sheet is for screens, whatever it is drawn on.
          if (rule.id === 'look/dark-ground' && tone === 'dark') continue
          expect(rule.check(model, DAY), `${rule.id} in ${theme.id}, ${tone}`).toEqual([])
        }
      }
  })
})
