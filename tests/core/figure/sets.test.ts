import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { nth } from '../../../src/core/graph'
import { asDay, asId, Model } from '../../../src/core/model'
import { apartFor, lensArea, misfit, regionAreas, trueCircles } from '../../../src/core/notations/figure/sets/circles'
import { allMeeting, isIn, roomIn, spotsIn } from '../../../src/core/notations/figure/sets/fields'
import { gathered } from '../../../src/core/notations/figure/sets/gather'
import { setsOf } from '../../../src/core/notations/figure/sets/regions'
import { linesOn } from '../../../src/core/notations/figure/structure'
import { marramSoundFerries } from '../../../src/demo'
import { DAY } from '../../facts'
import { figureOf, figureView, type Line } from '../../figureShapes'
import { registry } from '../../../src/core/notations'
import { pictures } from '../../../src/core/notations/figure/pictures'

const overlap = pictures.find(({ id }) => id === 'overlap')

describe('circles', () => {
  it('of two sets share exactly what the sets do', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 60 }),
        fc.integer({ min: 0, max: 60 }),
        fc.integer({ min: 0, max: 60 }),
        (a, b, both) => {
          fc.pre(a + both > 0 && b + both > 0)
          const circles = trueCircles(2, [0, a, b, both])
          expect(misfit(circles, [0, a, b, both])).toBeLessThan(0.004)
        },
      ),
      { numRuns: 80, seed: 2 },
    ))
  it('of three sets that circles can show are true, and of others say by how much they are not', () => {
    const shown = regionAreas([
      { x: 0, y: 0, r: 3 },
      { x: 3, y: 0, r: 2 },
      { x: 1, y: 2.5, r: 2.5 },
    ])
    expect(misfit(trueCircles(3, shown), shown)).toBeLessThan(0.01)
    // Each pair shares much, all three nothing: circles cannot do that.
    expect(misfit(trueCircles(3, [0, 1, 1, 10, 1, 10, 10, 0]), [0, 1, 1, 10, 1, 10, 10, 0])).toBeGreaterThan(0.02)
  })
  it('share an area that is found again from how far apart they are', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 5, noNaN: true }),
        fc.double({ min: 0.2, max: 5, noNaN: true }),
        fc.double({ min: 0.01, max: 0.99, noNaN: true }),
        (a, b, share) => {
          const area = share * Math.PI * Math.min(a, b) ** 2
          expect(lensArea(a, b, apartFor(a, b, area))).toBeCloseTo(area, 6)
          const areas = regionAreas([
            { x: 0, y: 0, r: a },
            { x: apartFor(a, b, area), y: 0, r: b },
          ])
          expect(nth(areas, 3) / area).toBeGreaterThan(0.9)
        },
      ),
      { numRuns: 40, seed: 3 },
    ))
})

describe('ellipses', () => {
  it.each([4, 5] as const)('of %s sets leave room for a word in every region', (count) => {
    const ellipses = allMeeting(count)
    const room = roomIn(ellipses)
    for (let mask = 1; mask < 1 << count; mask++) {
      const box = room.get(mask)
      expect(box, `region ${mask}`).toBeDefined()
      if (!box) continue
      // All of it lies in those sets and in no other.
      for (const [u, v] of [
        [0, 0],
        [1, 0],
        [0, 1],
        [1, 1],
        [0.5, 0.5],
      ] as const)
        ellipses.forEach((one, at) =>
          expect(isIn(one, box.x + u * box.width, box.y + v * box.height), `region ${mask}, set ${at}`).toBe(
            ((mask >> at) & 1) === 1,
          ),
        )
    }
  })
})

describe('sets', () => {
  const entity = (key: string, kind: string, name: string, fields = {}) => ({ id: asId(key), kind, name, fields })
  const model = Model.of({
    entities: [
      entity('q1', 'person', 'Ada', { skills: ['First aid', 'Radio'] }),
      entity('q2', 'person', 'Ben', { skills: ['Radio'] }),
      { ...entity('q3', 'person', 'Cleo', { skills: ['First aid'] }), to: asDay('2026-01-31') },
      entity('d1', 'device', 'sw-1', { vlan: 20 }),
      entity('d2', 'device', 'sw-2', { vlan: 30 }),
      entity('pr', 'process', 'Sailing cancelled'),
      entity('s1', 'step', 'Tell people', { process: 'pr' }),
      entity('s2', 'step', 'Write it down', { process: 'pr' }),
      entity('y1', 'system', 'Booking'),
      entity('y2', 'system', 'Payroll'),
    ],
    relations: [{ id: asId('r1'), kind: 'uses', source: asId('s1'), target: asId('y1'), fields: {} }],
  })
  it('gather facts by what they hold, a number by its field, and by what they are tied to, as of a day', () => {
    const named = (words: string, day = DAY) => gathered(model, words, day)?.map(({ name }) => name)
    expect(named('people with first aid')).toEqual(['Ada'])
    expect(named('people with first aid', asDay('2026-01-01'))).toEqual(['Ada', 'Cleo'])
    expect(named('devices in VLAN 20')).toEqual(['sw-1'])
    expect(named('systems used by Sailing cancelled')).toEqual(['Booking'])
    expect(named('steps of Sailing cancelled')).toEqual(['Tell people', 'Write it down'])
    expect(named('dragons with wings')).toBeUndefined()
    expect(named('people')).toBeUndefined()
  })
  it('hold in each region those that are in just these', () => {
    const shown = figureOf([
      { text: 'First aid', fields: { gathers: 'people with First aid' } },
      { text: 'Radio', fields: { gathers: 'people with Radio' } },
      { text: 'First aid & Radio', under: [{ text: 'wanted on every ship' }] },
    ])
    const all = model.with({ entities: new Map([...model.entities, ...shown.entities]) })
    const { sets, regions, wanted } = setsOf(linesOn(all, figureView('overlap'), DAY).tops, all, DAY)
    expect(sets.map(({ entity: one }) => one.name)).toEqual(['First aid', 'Radio'])
    expect(regions.get(3)?.members.map(({ name }) => name)).toEqual(['Ada'])
    expect(regions.get(3)?.parts.map(({ entity: one }) => one.name)).toEqual(['wanted on every ship'])
    expect(regions.get(2)?.members.map(({ name }) => name)).toEqual(['Ben'])
    expect([...(wanted ?? [])]).toEqual([0, 0, 1, 1])
  })
  it('take numbers that are said: of a set, and of what is in several', () => {
    const model2 = figureOf([
      { text: 'A', fields: { value: 10 } },
      { text: 'B', fields: { value: 8 } },
      { text: 'A & B', fields: { value: 3 } },
    ])
    const { wanted } = setsOf(linesOn(model2, figureView('overlap'), DAY).tops, model2, DAY)
    expect([...(wanted ?? [])]).toEqual([0, 7, 5, 3])
    expect(overlap?.draw(model2, figureView('overlap'), DAY).headline).toContain('areas are true')
  })
  it.each<readonly [string, readonly [number, number, number], readonly Line[]]>([
    ['of next to no size', [100, 80, 0.2], [{ text: 'A & B', under: [{ text: 'two desks' }] }]],
    ['that does not come about', [10, 8, 0], [{ text: 'A & B', under: [{ text: 'nobody yet' }, { text: 'planned' }] }]],
    ['of a set that lies within another', [3, 10, 3], [{ text: 'A', under: [{ text: 'none of the crew alone' }] }]],
  ])('tell the lines of a region %s beside it, with a line to it', (_, [a, b, both], told) => {
    const sets: Line[] = [
      { text: 'A', fields: { value: a } },
      { text: 'B', fields: { value: b }, under: [{ text: 'the rest' }] },
      { text: 'A & B', fields: { value: both } },
    ]
    const facts = figureOf(
      sets.map((one) => ({ ...one, under: told.find(({ text }) => text === one.text)?.under ?? one.under ?? [] })),
    )
    for (const [paper, across] of [
      ['A4', true],
      ['A4', false],
      ['16:9', true],
    ] as const) {
      const scene = overlap?.draw(facts, figureView('overlap', { paper, across }), DAY)
      for (const { text } of told.flatMap(({ under = [] }) => under)) {
        const item = scene?.items.find(({ label }) => label.endsWith(text))
        const sizes = item?.marks.flatMap((mark) => (mark.tag === 'text' ? [mark.attrs['font-size']] : [])) ?? []
        expect(Math.min(...sizes), text).toBeGreaterThan(10.6)
        expect(sizes.length).toBeGreaterThan(0)
      }
      expect(scene?.backdrop.map(({ tag }) => tag)).toEqual(['path', 'circle'])
      expect(scene?.headline).not.toContain('cut')
      const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] =
        scene?.backdrop.flatMap((mark) =>
          mark.tag === 'path' ? (mark.attrs.d.match(/-?[\d.]+/g) ?? []).map(Number) : [],
        ) ?? []
      for (const { box, label, ground } of scene?.items ?? [])
        for (let share = 0; share <= 1 && !ground; share += 0.01) {
          const [x, y] = [x1 + (x2 - x1) * share, y1 + (y2 - y1) * share]
          const isOver = x > box.x && x < box.x + box.width && y > box.y + 1 && y < box.y + box.height - 1
          expect(isOver && label === 'the rest', `${paper} ${across}`).toBe(false)
        }
      // What is told is told in the order in which the lines are read.
      const read = linesOn(facts, figureView('overlap'), DAY).all.map(({ id }) => id)
      const inOrder = scene?.items.filter(({ ground }) => !ground).flatMap(({ facts: [id] }) => id ?? []) ?? []
      expect(inOrder.slice(1)).toEqual(read.filter((id) => inOrder.includes(id)))
    }
  })
  it('are pointed at where they are, or would be', () => {
    const circles = [
      { x: 0, y: 0, a: 2, b: 2, turn: 0 },
      { x: 6, y: 0, a: 2, b: 2, turn: 0 },
    ]
    const [first, second, both] = [1, 2, 3].map((mask) => spotsIn(circles).get(mask) ?? { x: NaN, y: NaN })
    expect(Math.hypot((first?.x ?? 9) - 0, first?.y ?? 9)).toBeLessThan(0.7)
    expect(Math.hypot((second?.x ?? 9) - 6, second?.y ?? 9)).toBeLessThan(0.7)
    expect(Math.hypot((both?.x ?? 9) - 3, both?.y ?? 9)).toBeLessThan(0.2)
  })
  describe('whose numbers contradict each other', () => {
    const shown = (lines: readonly (readonly [text: string, value?: number])[]) => {
      const facts = figureOf(
        lines.map(([text, value]) => (value === undefined ? { text } : { text, fields: { value } })),
      )
      const model3 = facts.with({ views: new Map([[asId('view'), { ...figureView('overlap'), id: asId('view') }]]) })
      return {
        said: (registry.rules.get('fig/impossible-set')?.check(model3, DAY) ?? []).map(({ message }) => message),
        headline: overlap?.draw(model3, figureView('overlap'), DAY).headline ?? '',
        many: (registry.rules.get('fig/too-many')?.check(model3, DAY) ?? []).length,
      }
    }
    it.each([
      [
        [
          ['Crew', 10],
          ['Shore', 10],
          ['Crew & Shore', 20],
        ],
        [
          '“Crew & Shore” says 20, more than “Crew”, which says 10: what is in several is in each of them.',
          '“Crew & Shore” says 20, more than “Shore”, which says 10: what is in several is in each of them.',
        ],
      ],
      [
        [
          ['Crew', -3],
          ['Shore', 10],
        ],
        ['“Crew” says -3: no set has fewer than none.'],
      ],
      [
        [
          ['A', 10],
          ['B', 20],
          ['C', 20],
          ['A & B', 8],
          ['A & C', 6],
        ],
        ['What “A” shares with others adds up to 14, and it says 10.'],
      ],
      [
        [
          ['A', 10],
          ['B', 20],
          ['C', 20],
          ['A & B', 8],
          ['A & B & C', 9],
        ],
        ['“A & B & C” says 9, more than “A & B”, which says 8: what is in several is in each of them.'],
      ],
    ] as const)('%j are found', (lines, messages) => {
      const { said, headline } = shown(lines)
      expect(said).toEqual(messages)
      expect(headline).toContain('no areas can be true')
      expect(headline).not.toContain('areas are true')
    })
    it.each([
      [
        [
          ['A', 10],
          ['B', 20],
          ['C', 20],
          ['A & B', 8],
          ['A & C', 6],
          ['A & B & C', 4],
        ],
      ],
      [
        [
          ['A', 10],
          ['B', 20],
          ['C', 20],
          ['A & B & C', 9],
        ],
      ],
      [
        [
          ['A', 10],
          ['B', 10],
          ['A & B', 10],
        ],
      ],
      [[['A'], ['B'], ['A & B']]],
      [
        [
          ['A', 0.1],
          ['B', 0.3],
          ['A & B', 0.1],
        ],
      ],
    ] as const)('%j do not', (lines) => {
      const { said, headline } = shown(lines)
      expect(said).toEqual([])
      expect(headline).not.toContain('no areas can be true')
    })
    it('are counted without the lines that name what they share', () => {
      const letters = [...'ABCDE']
      const pairs = letters.flatMap((one, at) => letters.slice(at + 1).map((other): [string] => [`${one} & ${other}`]))
      expect(shown([...letters.map((one): [string] => [one]), ...pairs]).many).toBe(
        (overlap?.arranges?.takes[1] ?? 0) >= 5 ? 0 : 1,
      )
      expect(shown([...letters, 'F'].map((one): [string] => [one])).many).toBe(1)
    })
  })
  it('of the demo are counted from its facts', () => {
    const demo = marramSoundFerries()
    expect(gathered(demo, 'systems used by Sailing cancelled', DAY)?.length).toBeGreaterThan(0)
  })
})
