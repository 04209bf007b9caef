import { describe, expect, it } from 'vitest'
import { apply, asId, Model, type Entity, type View } from '../../../src/core/model'
import { onPaper, textWidth, type Item, type Mark, type Scene } from '../../../src/core/scene'
import { DAY, said } from '../../facts'
import { after, planned, planView, schedule, wishOf } from './facts'

const timeline = schedule.pictures.find(({ id }) => id === 'timeline')
if (!timeline) throw new Error('no timeline')

/** Random events and eras with names of all lengths. The same seed gives the same ones. */
function madeUp(seed: number): Model {
  let state = seed * 2654435761 + 7
  const dice = (sides: number) => {
    state = (Math.imul(state ^ (state >>> 15), 2246822519) + 374761393) >>> 0
    return Math.floor(((state >>> 8) / 2 ** 24) * sides)
  }
  const words = [
    'Opening',
    'of the second',
    'ferry terminal',
    'by',
    'the harbour company',
    'War',
    'Expansion to the outer islands',
  ]
  const name = () => Array.from({ length: 1 + dice(4) }, () => words[dice(words.length)]).join(' ')
  const year = () => String(1880 + dice(160))
  const entities = Array.from({ length: 4 + dice(22) }, (_, i): Entity => {
    const era = dice(3) === 0
    const from = year()
    return {
      id: asId(`e${i}`),
      kind: era ? 'era' : 'event',
      name: name(),
      fields: {
        when: from,
        ...(era ? { until: String(Number(from) + dice(40)) } : {}),
        ...(dice(3) === 0 ? { weight: 'main' } : {}),
        ...(dice(2) === 0 ? { band: ['Ships', 'Ports'][dice(2)] ?? 'Ships' } : {}),
      },
    }
  })
  return Model.of({ name: 'T', entities })
}

interface Box {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** The box of each text of an item, in the sheet's px. */
const textsOf = ({ box, marks }: Pick<Item, 'box' | 'marks'>): Box[] =>
  marks.flatMap((mark: Mark) => {
    if (mark.tag !== 'text') return []
    const { x, y, 'font-size': size, 'font-weight': weight, 'font-family': family } = mark.attrs
    const words = String(mark.children?.[0] ?? '')
    const face = family === 'mono' ? 'mono400' : Number(weight) === 700 ? 'text700' : 'text400'
    const height = Number(size)
    return [
      { x: box.x + Number(x), y: box.y + Number(y) - height * 0.8, width: textWidth(words, height, face), height },
    ]
  })

/** The upright pieces of an event's stem. */
function stemOf({ box, marks }: Item): { x: number; from: number; to: number }[] {
  const path = said(
    marks.find(({ tag }) => tag === 'path'),
    'd',
  )
  const pieces: { x: number; from: number; to: number }[] = []
  let at = 0
  for (const [, command, x, y] of path.matchAll(/(M|V)(?:(-?[\d.]+) )?(-?[\d.]+)/g)) {
    const next = Number(y)
    if (command === 'V') pieces.push({ x: box.x, from: box.y + Math.min(at, next), to: box.y + Math.max(at, next) })
    void x
    at = next
  }
  return pieces
}

const draw = (model: Model, more = {}): Scene => timeline.draw(model, planView({ picture: 'timeline', ...more }), DAY)

describe('random timelines', () => {
  const scenes = Array.from({ length: 150 }, (_, i) =>
    draw(
      madeUp(i + 1),
      i % 3 === 0 ? { options: { bands: true } } : i % 3 === 1 ? { options: { spacing: 'even' } } : {},
    ),
  )
  it('lead no stem across the name of an era', () => {
    let stems = 0
    const crossed = scenes.flatMap(({ items }, scene) => {
      const eras = items.filter(({ label }) => label.startsWith('era ')).flatMap(textsOf)
      return items
        .filter(({ label }) => !label.startsWith('era '))
        .flatMap(stemOf)
        .flatMap((stem) => {
          stems++
          return eras.some(
            (text) =>
              stem.x > text.x && stem.x < text.x + text.width && stem.from < text.y + text.height && stem.to > text.y,
          )
            ? [scene + 1]
            : []
        })
    })
    expect(stems).toBeGreaterThan(1000)
    expect(crossed).toEqual([])
  })
  it('cut no text at the edge of the sheet', () => {
    const cut = scenes.flatMap(({ items, backdrop, bounds }, scene) => {
      const all = [...items.flatMap(textsOf), ...textsOf({ box: { x: 0, y: 0, width: 0, height: 0 }, marks: backdrop })]
      return all.some(({ x, width }) => x < bounds.x - 0.5 || x + width > bounds.x + bounds.width + 0.5)
        ? [scene + 1]
        : []
    })
    expect(cut).toEqual([])
  })
})

const LOOKS: readonly View['look'][] = [{ paper: 'A4' }, { paper: 'A5', across: true }, { paper: 'Square' }]

describe('a timeline on a paper', () => {
  const scaled = (model: Model, look: View['look']): { scale: number; line: number } => {
    const view = planView({ picture: 'timeline', look })
    const scene = onPaper(timeline.draw(model, view, DAY), look)
    const years = scene.items.filter(({ label }) => !label.startsWith('era ')).map(({ box }) => box.x)
    return { scale: scene.paper?.scale ?? 0, line: Math.max(...years) - Math.min(...years) }
  }
  it('is as long as lets it be drawn largest: no smaller than one of the usual length, and longer on one that lies across', () => {
    let larger = 0
    for (let seed = 1; seed <= 40; seed++) {
      const model = madeUp(seed)
      const usual = timeline.draw(model, planView({ picture: 'timeline' }), DAY)
      for (const look of LOOKS) {
        const { scale } = scaled(model, look)
        const before = onPaper(usual, look).paper?.scale ?? 0
        expect(scale).toBeGreaterThan(before * 0.97)
        if (scale > before * 1.1) larger++
      }
      const [upright, across] = [scaled(model, { paper: 'A3' }), scaled(model, { paper: 'A3', across: true })]
      expect(across.line).toBeGreaterThanOrEqual(upright.line)
    }
    expect(larger).toBeGreaterThan(20)
  })
  it('has its events pulled along the line that is drawn', () => {
    const event = (at: number, when: string): Entity => ({
      id: asId(`e${at}`),
      kind: 'event',
      name: 'Opening',
      fields: { when },
    })
    for (const look of LOOKS) {
      const view = planView({ picture: 'timeline', look })
      const model = Model.of({
        name: 'T',
        entities: [event(1, '1900'), event(2, '1930-06'), event(3, '2000')],
        views: [view],
      })
      const pulled = (facts: Model) => timeline.draw(facts, view, DAY).items.find(({ id }) => id === 'e2')
      const { box, handles: [handle] = [] } = pulled(model) ?? {}
      if (!box || !handle || !timeline.pull) throw new Error('nothing to pull')
      const by = { x: 60, y: 0 }
      const next = after(
        model,
        timeline.pull(wishOf(model, { view, selection: [asId('e2')] }), { handle: handle.id, by, box, at: box }),
      )
      expect(Math.abs((pulled(next)?.box.x ?? 0) - box.x - by.x)).toBeLessThan(2)
    }
  })
})

describe('a plan as a timeline', () => {
  const WORK = 'Refit\n  Dock  5d\n  Paint  10d  after Dock\n  Afloat  milestone  after Paint\nTender  3d'
  const ofPlan = (text: string, options = {}, events: readonly Entity[] = []) => {
    const view = planView({ picture: 'timeline', options, scope: { plan: 'plan' } })
    const base = planned(text, '2026-01-05', events)
    return {
      model: apply(base, { label: '', steps: [{ do: 'add-view', view: { ...view, id: asId('w') } }] }).model,
      view,
    }
  }
  const event = (when: string): Entity => ({
    id: asId('e1'),
    kind: 'event',
    name: 'Season opens',
    fields: { when, plan: 'plan' },
  })
  it('is drawn by its milestones and groups, on the days that are worked out, which nobody can pull', () => {
    const { model, view } = ofPlan(WORK)
    const scene = timeline.draw(model, view, DAY)
    expect(scene.headline).toBe('1 milestone, 1 group')
    expect(scene.items.map(({ label }) => label).sort()).toEqual(['23 Jan 2026: Afloat', 'era Refit'])
    expect(scene.items.flatMap(({ handles = [] }) => handles)).toEqual([])
    expect(scene.items.flatMap(({ texts = [] }) => texts.map(({ part }) => part))).toEqual(['name', 'name'])
  })
  it('is drawn by its tasks where it has no groups, and not at all where that is not wanted', () => {
    const { model, view } = ofPlan('Dock  5d\nPaint  10d  after Dock')
    expect(timeline.draw(model, view, DAY).headline).toBe('2 tasks')
    expect(timeline.draw(model, { ...view, options: { work: false } }, DAY).headline).toBe('0 events')
    expect(timeline.draw(model, { ...view, scope: { plan: '' } }, DAY).items).toEqual([])
    const many = ofPlan(Array.from({ length: 203 }, (_, at) => `Task ${at}  1d`).join('\n'))
    expect(timeline.draw(many.model, many.view, DAY).headline).toBe('200 tasks, 3 tasks not drawn')
  })
  it('leaves events where they are pulled to, between the days of the plan', () => {
    const { model, view } = ofPlan(WORK, {}, [event('2026-01-12')])
    const drawn = (of: Model) => timeline.draw(of, view, DAY).items.find(({ id }) => id === 'e1')
    const { box, handles: [handle] = [] } = drawn(model) ?? {}
    if (!box || !handle || !timeline.pull) throw new Error('nothing to pull')
    const by = { x: 200, y: 0 }
    const wish = wishOf(model, { view, selection: [asId('e1')] })
    const next = after(model, timeline.pull(wish, { handle: handle.id, by, box, at: box }))
    expect(Math.abs((drawn(next)?.box.x ?? 0) - box.x - by.x)).toBeLessThan(58)
    const even = { ...view, options: { spacing: 'even' } }
    const { handles: [other] = [] } = timeline.draw(model, even, DAY).items.find(({ id }) => id === 'e1') ?? {}
    expect(timeline.pull({ ...wish, view: even }, { handle: other?.id ?? '', by, box, at: box })).toHaveProperty(
      'refused',
    )
  })
  it('tells the history of a workspace without the plan beside it, where it names none', () => {
    const { model } = ofPlan(WORK, {}, [{ ...event('1900'), fields: { when: '1900' } }])
    expect(timeline.draw(model, planView({ picture: 'timeline' }), DAY).headline).toBe('1 event')
  })
})
