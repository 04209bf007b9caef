import { describe, expect, it } from 'vitest'
import { findingsOf } from '../../src/core/findings'
import { apply, Model, type Settings, type View } from '../../src/core/model'
import { registry } from '../../src/core/notations'
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

describe('rules of how views look', () => {
  it('look/contrast: a house colour that hardly stands out, drawn as it is given', () => {
    const model = modelOf({ theme: 'own' })
    expect(messages(model)).toEqual([
      'look/contrast: #ffd400 of “House” is 1.4 to 1 on the sheet of “Staff”; 3 to 1 is the least.',
    ])
    expect(found(model)[0]?.subjects).toEqual(['v'])
    expect(mended(model)).toEqual([])
    expect(messages(modelOf({ theme: 'own' }, { themes: { own: HOUSE.slice(0, 3) } }))).toEqual([])
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
  it('look/grey-twins: two of them that are as light as each other', () => {
    const twins = { themes: { own: ['House', '#a03030', '#2a6a50', 'colours as given'] } }
    const model = modelOf({ theme: 'own' }, twins)
    expect(messages(model)).toEqual([
      expect.stringMatching(
        /^look\/grey-twins: #a03030 and #2a6a50 of “House” differ by [0-3]\.\d of 100 in grey, in “Staff”; 3.5 is the least\.$/,
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
})
