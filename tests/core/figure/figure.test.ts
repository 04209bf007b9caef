import { describe, expect, it } from 'vitest'
import { findingsOf } from '../../../src/core/findings'
import { apply, asDay, Model, type Id, type View } from '../../../src/core/model'
import { isRefusal, listText, type Outcome } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { figure } from '../../../src/core/notations/figure'
import { outline } from '../../../src/core/notations/figure/outline'
import { DAY, id, numbering, writtenAtOnce } from '../../facts'
import { figureOf, figureView } from '../../figureShapes'

const CARDS = figureView('cards')
const wish = (model: Model, selection: readonly string[], target?: string, view: View = CARDS) => ({
  model,
  view,
  day: DAY,
  selection: selection as readonly Id[],
  newId: numbering(),
  ...(target === undefined ? {} : { target: target as Id }),
})
const after = (model: Model, outcome: Outcome): string => {
  if (isRefusal(outcome)) return outcome.refused
  return listText(outline.lines(apply(model, outcome.change).model, CARDS, DAY))
}
const act = (name: string, model: Model, selection: readonly string[]): string => {
  const action = figure.actions.find((one) => one.id === name)
  if (!action) throw new Error(`no action ${name}`)
  return after(model, action.run(wish(model, selection)))
}
const drop = (model: Model, one: string, on: string): string => {
  const outcome = figure.pictures[0]?.drop?.(wish(model, [one], on))
  if (!outcome) throw new Error('nothing is dropped')
  return after(model, outcome)
}
/** A, B (b1, b2), C */
const MODEL = figureOf([{ text: 'A' }, { text: 'B', under: [{ text: 'b1' }, { text: 'b2' }] }, { text: 'C' }])

describe('parts', () => {
  it('are added after the selected one, or under it', () => {
    expect(act('next', MODEL, ['p1'])).toBe('A\nNew part\nB\n  b1\n  b2\nC')
    expect(act('next', MODEL, [])).toBe('A\nB\n  b1\n  b2\nC\nNew part')
    expect(act('under', MODEL, ['p1'])).toBe('A\n  New part\nB\n  b1\n  b2\nC')
    expect(act('under', MODEL, ['p2'])).toBe('A\nB\n  b1\n  b2\n  New part\nC')
  })
  it('go a level up and down, earlier and later', () => {
    expect(act('demote', MODEL, ['p5'])).toBe('A\nB\n  b1\n  b2\n  C')
    expect(act('promote', MODEL, ['p3'])).toBe('A\nB\n  b2\nb1\nC')
    expect(act('earlier', MODEL, ['p5'])).toBe('A\nC\nB\n  b1\n  b2')
    expect(act('later', MODEL, ['p5'])).toBe('It is the last.')
    expect(act('demote', MODEL, ['p1'])).toContain('no line above')
  })
  it('take the place of what they are dropped on, or go under it', () => {
    expect(drop(MODEL, 'p5', 'p1')).toBe('C\nA\nB\n  b1\n  b2')
    expect(drop(MODEL, 'p1', 'p5')).toBe('B\n  b1\n  b2\nC\nA')
    const four = figureOf(['A', 'B', 'C', 'D'].map((text) => ({ text })))
    expect(drop(four, 'p1', 'p2')).toBe('B\nA\nC\nD')
    expect(drop(four, 'p4', 'p2')).toBe('A\nD\nB\nC')
    expect(drop(MODEL, 'p3', 'p5')).toBe('A\nB\n  b2\nC\n  b1')
    expect(drop(MODEL, 'p2', 'p3')).toBe('It cannot stand under itself.')
    expect(drop(MODEL, 'p1', 'p4')).toBe('B\n  b1\n  A\n  b2\nC')
  })
  it('are removed with what stands under them, which is said; a line alone gives its place to those', () => {
    const removing = figure.actions.find((one) => one.id === 'remove')?.run(wish(MODEL, ['p2']))
    if (!removing || isRefusal(removing)) throw new Error('refused')
    expect(removing.spreads).toEqual(['“b1” goes with it.', '“b2” goes with it.'])
    expect(after(MODEL, removing)).toBe('A\nC')
    expect(after(MODEL, outline.remove(wish(MODEL, []), id('p2')))).toBe('A\nb1\nb2\nC')
  })
  it('that stand under each other in a circle are still shown', () => {
    const circle = figureOf([{ text: 'A' }, { text: 'B' }])
    const bent = new Map(
      [...circle.entities].map(([key, one]) => [
        key,
        key === 'p1'
          ? { ...one, fields: { ...one.fields, under: 'p2' } }
          : key === 'p2'
            ? { ...one, fields: { ...one.fields, under: 'p1' } }
            : one,
      ]),
    )
    expect(listText(outline.lines(circle.with({ entities: bent }), CARDS, DAY))).toBe('A\n  B')
  })
  it('are shown as of a day', () => {
    const dated = figureOf([{ text: 'A' }, { text: 'B' }])
    const entities = new Map(
      [...dated.entities].map(([key, one]) => [key, key === 'p2' ? { ...one, from: asDay('2027-01-01') } : one]),
    )
    const model = dated.with({ entities })
    expect(listText(outline.lines(model, CARDS, DAY))).toBe('A')
    expect(listText(outline.lines(model, CARDS, asDay('2027-01-01')))).toBe('A\nB')
  })
})

describe('figures of any size', () => {
  const draw = (picture: string, model: Model) => {
    const found = figure.pictures.find((one) => one.id === picture)
    if (!found) throw new Error(`no ${picture}`)
    return found.draw(model, figureView(picture), DAY)
  }
  const chain = (count: number): Model => {
    const entities = [...figureOf([]).entities.values()]
    for (let at = 0; at < count; at++)
      entities.push({
        id: id(`d${at}`),
        kind: 'part',
        name: `Line ${at}`,
        fields: { figure: 'figure', order: 1, ...(at === 0 ? {} : { under: `d${at - 1}` }) },
      })
    return Model.of({ entities })
  }
  it('stand as deep as anybody writes them, are drawn, and go out as OPML', () => {
    const deep = chain(15_000)
    const lines = outline.lines(deep, CARDS, DAY)
    expect([lines.length, lines.at(-1)?.depth]).toEqual([15_000, 14_999])
    for (const picture of ['cards', 'indented', 'tree-across', 'overlap'])
      expect(draw(picture, deep).items.length).toBeGreaterThan(0)
    const opml = figure.exports.find((one) => one.id === 'opml')
    expect(opml && writtenAtOnce(opml.write(deep, CARDS, DAY)).match(/<outline /g)).toHaveLength(15_000)
  })
  it('draw the first of very many lines under a part, and say so', () => {
    const full = figureOf([
      { text: 'A', under: Array.from({ length: 3000 }, (_, at) => ({ text: `a${at}` })) },
      { text: 'B' },
    ])
    for (const { id: picture, arranges } of figure.pictures) {
      if (!arranges) continue
      const { items, headline } = draw(picture, full)
      expect(items.length, picture).toBeLessThan(140)
      const texts = items.flatMap(({ marks }) => marks.flatMap((mark) => (mark.tag === 'text' ? mark.children : [])))
      const says = [headline, texts.join(' ')].join(' ')
      if (picture !== 'overlap') expect(says, picture).toMatch(/the first|too long for this paper|…/)
    }
  })
})

const found = (model: Model, view: View, rule: string, day = DAY) =>
  findingsOf(registry, model.with({ views: new Map([[view.id, view]]) }), day).filter((one) => one.rule === rule)

describe('rules of figures', () => {
  const many = figureOf(Array.from({ length: 9 }, (_, at) => ({ text: `Part ${at + 1}` })))
  it('fig/too-many: more parts than an arrangement takes well, and another that takes them', () => {
    const ring = figureView('ring')
    expect(found(MODEL, ring, 'fig/too-many')).toEqual([])
    const [one] = found(many, ring, 'fig/too-many')
    expect(one?.message).toBe('“A figure” has 9 parts; as ring it takes 7 well.')
    const [funnel] = found(many, figureView('gates'), 'fig/too-many')
    expect(funnel?.fixes.map(({ label }) => label)).toEqual(['As bending row'])
    const few = many.with({
      entities: new Map(
        [...many.entities].map(([key, part]) => [
          key,
          Number(key.slice(1)) > 6 ? { ...part, from: asDay('2027-01-01') } : part,
        ]),
      ),
    })
    expect(found(few, ring, 'fig/too-many')).toEqual([])
    expect(found(few, ring, 'fig/too-many', asDay('2027-01-01'))).toHaveLength(1)
  })
  it('fig/too-small: text under 8 pt on its paper, mended by a larger one', () => {
    const long = figureOf(
      Array.from({ length: 6 }, (_, at) => ({
        text: `Part ${at}`,
        under: Array.from({ length: 6 }, () => ({
          text: 'what is said of it at some length, in more words than a small paper holds',
        })),
      })),
    )
    const view = figureView('cards', { paper: 'A5' })
    expect(found(MODEL, view, 'fig/too-small')).toEqual([])
    expect(found(long, figureView('cards', {}), 'fig/too-small')).toEqual([])
    const [one] = found(long, view, 'fig/too-small')
    expect(one?.message).toMatch(/^The smallest text of “A figure” is [\d.]+ pt on A5 upright; 8 pt is the least\.$/)
    const mended = one?.fixes[0]
      ? apply(long.with({ views: new Map([[view.id, view]]) }), one.fixes[0].change).model
      : long
    expect(findingsOf(registry, mended, DAY).filter(({ rule }) => rule === 'fig/too-small')).toEqual([])
    const later = long.with({
      entities: new Map(
        [...long.entities].map(([key, part]) => [
          key,
          part.kind === 'part' && part.fields['under'] !== undefined ? { ...part, from: asDay('2027-01-01') } : part,
        ]),
      ),
    })
    expect(found(later, view, 'fig/too-small')).toEqual([])
    expect(found(later, view, 'fig/too-small', asDay('2027-01-01'))).toHaveLength(1)
  })
  it('fig/empty-part: nothing said of one where something is said of the others', () => {
    const some = figureOf([{ text: 'A', under: [{ text: 'a' }] }, { text: 'B', under: [{ text: 'b' }] }, { text: 'C' }])
    expect(found(some, CARDS, 'fig/empty-part').map(({ message }) => message)).toEqual([
      'Nothing is said of “C”, as it is of the other 2.',
    ])
    expect(found(figureOf([{ text: 'A' }, { text: 'B' }]), CARDS, 'fig/empty-part')).toEqual([])
    const ended = some.with({
      entities: new Map(
        [...some.entities].map(([key, part]) => [key, part.name === 'C' ? { ...part, to: asDay('2026-12-31') } : part]),
      ),
    })
    expect(found(ended, CARDS, 'fig/empty-part')).toHaveLength(1)
    expect(found(ended, CARDS, 'fig/empty-part', asDay('2027-01-01'))).toEqual([])
  })
  it('fig/unnamed: a part that nobody has given a text', () => {
    const model = figureOf([{ text: 'A' }, { text: 'New part' }])
    expect(found(model, CARDS, 'fig/unnamed').map(({ subjects }) => subjects)).toEqual([['p2']])
    expect(found(MODEL, CARDS, 'fig/unnamed')).toEqual([])
    const ended = model.with({
      entities: new Map(
        [...model.entities].map(([key, part]) => [key, key === 'p2' ? { ...part, to: asDay('2026-12-31') } : part]),
      ),
    })
    expect(found(ended, CARDS, 'fig/unnamed', asDay('2027-01-01'))).toEqual([])
  })
})

describe('what a figure says besides its parts', () => {
  const said = (picture: string, model: Model, options: View['options'] = {}) =>
    figure.pictures
      .find((one) => one.id === picture)
      ?.draw(model, figureView(picture, { paper: 'A4' }, { options }), DAY)
      .items.flatMap(({ marks }) => marks.flatMap((mark) => (mark.tag === 'text' ? mark.children : [])))
      .join(' ')
  it('is its title, over it or in its middle, unless somebody wants none; what parts hang on stays', () => {
    const model = figureOf([{ text: 'A' }, { text: 'B' }, { text: 'C' }], 'Winter')
    for (const picture of ['cards', 'ring', 'segments']) {
      expect(said(picture, model)).toContain('Winter')
      expect(said(picture, model, { title: false })).not.toContain('Winter')
    }
    expect(said('tree-down', model, { title: false })).toContain('Winter')
  })
  it('is what lies in the regions of sets, with numbers and on all levels', () => {
    const model = figureOf([
      { text: 'A', under: [{ text: 'own', under: [{ text: 'deeper' }] }] },
      { text: 'B' },
      { text: 'A & B', under: [{ text: 'shared', fields: { value: 7 } }] },
    ])
    expect(said('overlap', model)).toMatch(/own.*deeper/)
    expect(said('overlap', model)).toContain('shared: 7')
  })
})

describe('arrangements', () => {
  const best = (model: Model, view: View = CARDS): string[] =>
    figure.pictures
      .map((picture) => ({ id: picture.id, score: picture.suits?.(model, view, DAY).score ?? 0 }))
      .sort((a, b) => b.score - a.score)
      .slice(0, 3)
      .map((one) => one.id)
  it('are at least thirty, in families', () => {
    expect(figure.pictures.filter(({ arranges }) => arranges).length).toBeGreaterThanOrEqual(30)
    expect(new Set(figure.pictures.map(({ arranges }) => arranges?.family)).size).toBeGreaterThanOrEqual(10)
  })
  it('that suit the lines come first, with the reason', () => {
    expect(best(figureOf([{ text: 'A' }, { text: 'B' }, { text: 'C' }], 'The year, again and again'))[0]).toBe('ring')
    expect(best(figureOf([{ text: 'A', fields: { done: true } }, { text: 'B' }, { text: 'C' }]))[0]).toBe('checklist')
    const valued = [40, 30, 30].map((value) => ({ text: `V${value}`, fields: { value } }))
    expect(best(figureOf(valued))).toContain('share')
    expect(best(figureOf([{ text: 'A' }, { text: 'B' }, { text: 'A & B' }]))[0]).toBe('overlap')
    const ring = figure.pictures.find((one) => one.id === 'ring')?.suits
    expect(ring?.(figureOf(Array.from({ length: 12 }, (_, at) => ({ text: `P${at}` }))), CARDS, DAY).why).toBe(
      'takes 3 to 7 parts well, here are 12',
    )
  })
})
