import { describe, expect, it } from 'vitest'
import { findingsOf } from '../../../src/core/findings'
import { apply, asDay, Model, type Id, type View } from '../../../src/core/model'
import { isRefusal, listText, type Outcome } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { figure } from '../../../src/core/notations/figure'
import { boxOf, overlaps, type Box, type Scene } from '../../../src/core/scene'
import { DAY, id } from '../../facts'
import { figureView, mapOf as madeUpMap } from '../../figureShapes'

const VIEW = figureView('concepts')
const { outline } = figure
if (!outline) throw new Error('no outline')
let made = 0
const wish = (model: Model, selection: readonly string[] = [], target?: string) => ({
  model,
  view: VIEW,
  day: DAY,
  selection: selection as readonly Id[],
  newId: () => id(`n${++made}`),
  ...(target === undefined ? {} : { target: target as Id }),
})
const done = (model: Model, outcome: Outcome | undefined): Model => {
  if (!outcome || isRefusal(outcome)) throw new Error(outcome?.refused ?? 'nothing')
  return apply(model, outcome.change).model
}
const begun = Model.of({
  entities: [{ id: id('f'), kind: 'figure', name: 'What the weather does', fields: { question: 'Why?' } }],
  views: [VIEW],
})
const mapOf = (text: string): Model => done(begun, outline.paste(wish(begun), undefined, text))
const textOf = (model: Model): string => listText(outline.lines(model, VIEW, DAY))
const named = (model: Model, name: string): Id => {
  const found = model.ofKind('concept').find((one) => one.name === name)
  if (!found) throw new Error(`no ${name}`)
  return found.id
}
const draw = (model: Model, view: View = VIEW): Scene => {
  const picture = figure.pictures.find((one) => one.id === 'concepts')
  if (!picture) throw new Error('no picture')
  return picture.draw(model, view, DAY)
}
const WEATHER = 'Weather\n  brings: Wind\n  brings: Fog\nWind\n  raises: Sea\nFog\nSea'

describe('a concept map', () => {
  it('is written as concepts and what they say of one another, each concept once', () => {
    const model = mapOf('Weather\n  brings: Wind\n    raises: Sea\n  brings: Fog\nSea\n  tires: Passengers')
    expect(textOf(model)).toBe(
      'Weather\n  brings: Wind\n  brings: Fog\nSea\n  tires: Passengers\nWind\n  raises: Sea\nFog\nPassengers',
    )
  })
  it('changes as its lines are typed: a phrase, another concept, a new one', () => {
    const model = mapOf(WEATHER)
    const line = outline.lines(model, VIEW, DAY).find(({ text }) => text === 'raises: Sea')
    if (!line) throw new Error('no line')
    expect(textOf(done(model, outline.write(wish(model), line.id, 'clears: Fog')))).toContain('Wind\n  clears: Fog')
    expect(textOf(done(model, outline.write(wish(model), line.id, 'raises: Swell')))).toContain('Sea\nSwell')
    const refused = outline.write(wish(model), line.id, 'raises:')
    expect(isRefusal(refused) && refused.refused).toBe('Behind the colon stands the other concept.')
  })
  it('is linked by a line pulled from one to another, whose phrase is typed at once', () => {
    const model = mapOf(WEATHER)
    const picture = figure.pictures.find((one) => one.id === 'concepts')
    const pull = { handle: 'link', by: { x: 0, y: 0 }, at: { x: 0, y: 0 }, box: { x: 0, y: 0, width: 1, height: 1 } }
    const outcome = picture?.pull?.(wish(model, [named(model, 'Fog')], named(model, 'Sea')), pull)
    if (!outcome || isRefusal(outcome)) throw new Error('refused')
    expect(outcome.edit).toBe('phrase')
    expect(textOf(done(model, outcome))).toContain('Fog\n  : Sea')
    const written = done(model, outcome)
    const phrased = picture?.write?.(wish(written, [outcome.select ?? '']), 'phrase', 'hides')
    expect(textOf(done(written, phrased))).toContain('Fog\n  hides: Sea')
  })
  it('counts propositions, cross-links, levels and unlinked parts (Novak & Gowin 1984)', () => {
    const model = mapOf(`${WEATHER}\n  moves: Fog\nMoon`)
    const [row] = figure.numbers.find((one) => one.id === 'maps')?.rows(model, DAY) ?? []
    expect(row).toEqual({
      map: 'What the weather does',
      concepts: 5,
      propositions: 4,
      crossLinks: 1,
      levels: 3,
      unlinked: 1,
    })
  })
})

describe('rules of concept maps', () => {
  const found = (model: Model, rule: string, day = DAY) =>
    findingsOf(registry, model, day).filter((one) => one.rule === rule)
  const until = (model: Model, name: string, to: string): Model =>
    apply(model, { label: 'End', steps: [{ do: 'set-entity', id: named(model, name), path: 'to', value: asDay(to) }] })
      .model
  it('map/unlabelled-link: a line that says nothing', () => {
    const model = mapOf('A\n  : B')
    expect(found(model, 'map/unlabelled-link').map(({ message }) => message)).toEqual([
      'What “A” has to do with “B” is not said.',
    ])
    expect(found(mapOf(WEATHER), 'map/unlabelled-link')).toEqual([])
    expect(found(until(model, 'B', '2026-12-31'), 'map/unlabelled-link', asDay('2027-01-01'))).toEqual([])
  })
  it('map/loose-concept: one that nothing is linked to', () => {
    const model = mapOf('A\n  has: B\nC')
    expect(found(model, 'map/loose-concept').map(({ message }) => message)).toEqual([
      '“C” is linked to no other concept.',
    ])
    expect(found(mapOf('A'), 'map/loose-concept')).toEqual([])
    expect(found(until(model, 'C', '2026-12-31'), 'map/loose-concept', asDay('2027-01-01'))).toEqual([])
  })
  it('map/duplicate-concept: one that is there twice, made one', () => {
    const twice = mapOf('A\n  has: B\nC\n  has: D')
    const model = apply(twice, {
      label: 'x',
      steps: [{ do: 'set-entity', id: named(twice, 'D'), path: 'name', value: 'b' }],
    }).model
    const [one] = found(model, 'map/duplicate-concept')
    expect(one?.message).toBe('“b” is there twice.')
    const fix = one?.fixes[0]
    expect(fix && textOf(apply(model, fix.change).model)).toBe('A\n  has: B\nC\n  has: B\nB')
    expect(found(until(model, 'b', '2026-12-31'), 'map/duplicate-concept', asDay('2027-01-01'))).toEqual([])
  })
})

describe('a map of very many concepts', () => {
  it('is drawn as far as somebody waits, and the headline says how far', () => {
    const scene = draw(madeUpMap(400, 600))
    expect(scene.headline).toMatch(/^the first 150 of 400 concepts, the first \d+ of \d+ links$/)
    expect(scene.items.length).toBeLessThan(400)
  })
  it('has its smallest text measured on its paper', () => {
    const model = apply(madeUpMap(90, 130), {
      label: 'Show',
      steps: [{ do: 'add-view', view: figureView('concepts', { paper: 'A5' }) }],
    }).model
    expect(findingsOf(registry, model, DAY).filter(({ rule }) => rule === 'fig/too-small')).toHaveLength(1)
  })
})

describe('a map on its paper', () => {
  it.each([
    [{ paper: 'A4', across: true }, 8, 10],
    [{ paper: 'A4' }, 8, 10],
    [{ paper: 'A3', across: true }, 60, 90],
    [{ paper: '16:9', across: true }, 25, 34],
  ] as const)('fills it, with no phrase on a line or a box: %o, %s concepts, %s links', (look, concepts, links) => {
    const scene = draw(madeUpMap(concepts, links), figureView('concepts', look))
    const boxes = scene.items.filter(({ facts }) => scene.links.every(({ id: line }) => line !== facts[0]))
    const [{ width: wide, height: high }, margin] = [scene.bounds, 0.88]
    const lines = scene.links.flatMap(({ marks: [mark] }) => (mark ? [boxOf(mark)] : []))
    const all = [...boxes.filter(({ id: one }) => one !== 'f').map(({ box }) => box), ...lines]
    const width = Math.max(...all.map((box) => box.x + box.width)) - Math.min(...all.map((box) => box.x))
    const height = Math.max(...all.map((box) => box.y + box.height)) - Math.min(...all.map((box) => box.y))
    const [smaller, larger] =
      wide < high
        ? [width / (wide * margin), height / (high * margin)]
        : [height / (high * margin), width / (wide * margin)]
    expect(larger).toBeGreaterThan(0.85)
    expect(smaller).toBeGreaterThan(0.7)
    const phrases = scene.items.filter(
      ({ marks, facts }) => marks.length > 0 && scene.links.some(({ id: line }) => line === facts[0]),
    )
    expect(phrases.length).toBeGreaterThan(links / 2)
    const pieces = scene.links.flatMap(({ id: own, marks: [mark] }) => {
      if (mark?.tag !== 'path') return []
      const points = [...mark.attrs.d.matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map(([, x, y]) => ({
        x: Number(x),
        y: Number(y),
      }))
      return points.slice(1).map((b, at) => {
        const a = points[at] ?? b
        return {
          own,
          box: {
            x: Math.min(a.x, b.x),
            y: Math.min(a.y, b.y),
            width: Math.abs(a.x - b.x),
            height: Math.abs(a.y - b.y),
          },
        }
      })
    })
    const within = (box: Box, by: number): Box => ({
      x: box.x + by,
      y: box.y + by,
      width: Math.max(0.01, box.width - 2 * by),
      height: Math.max(0.01, box.height - 2 * by),
    })
    for (const { id: one, label, box, marks } of phrases) {
      const words = marks.map((mark) => {
        const own = boxOf(mark)
        return { ...own, x: own.x + box.x, y: own.y + box.y + own.height * 0.15, height: own.height * 0.7 }
      })
      for (const word of words) {
        for (const other of boxes)
          expect(overlaps(word, within(other.box, 0.5)), `${label} on ${other.label}`).toBe(false)
        for (const piece of pieces)
          if (piece.own !== one) expect(overlaps(within(word, 0.5), piece.box), `${label} on a line`).toBe(false)
      }
    }
  })
  it.each([
    [60, 90],
    [60, 75],
    [30, 40],
    [12, 14],
  ])(
    'of %s concepts and %s links moves by less than a tenth of the page when one more is linked to it',
    (concepts, links) => {
      const view = figureView('concepts', { paper: 'A3', across: true })
      const base = madeUpMap(concepts, links)
      const middles = (model: Model) =>
        new Map(
          draw(model, view).items.map(({ id: one, box }) => [
            one,
            { x: box.x + box.width / 2, y: box.y + box.height / 2 },
          ]),
        )
      const before = middles(base)
      const { width, height } = draw(base, view).bounds
      const moves = Array.from({ length: 8 }, (_, at) => {
        const added = apply(base, {
          label: 'Add',
          steps: [
            {
              do: 'add-entity',
              entity: { id: id('cx'), kind: 'concept', name: 'One more', fields: { figure: 'f', order: 99 } },
            },
            {
              do: 'add-relation',
              relation: {
                id: id('lx'),
                kind: 'links',
                source: id(`c${(at * 7) % concepts}`),
                target: id('cx'),
                fields: { phrase: 'adds' },
              },
            },
          ],
        }).model
        const after = middles(added)
        const far = [...base.ofKind('concept')].map(({ id: one }) => {
          const [a, b] = [before.get(one), after.get(one)]
          return a && b ? Math.hypot((a.x - b.x) / width, (a.y - b.y) / height) : 1
        })
        return far.reduce((sum, one) => sum + one, 0) / far.length
      })
      expect(moves.reduce((sum, one) => sum + one, 0) / moves.length).toBeLessThan(0.1)
    },
  )
})
