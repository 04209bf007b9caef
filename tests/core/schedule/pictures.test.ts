import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addDays, asId, Model, type Entity } from '../../../src/core/model'
import { isRefusal, type Pull } from '../../../src/core/notation'
import { placeCallouts } from '../../../src/core/layout'
import { linkWay } from '../../../src/core/notations/schedule/pictures/links'
import { LINK_TYPES } from '../../../src/core/notations/schedule/terms'
import { boxOf, overlaps } from '../../../src/core/scene'
import { DAY, said } from '../../facts'
import { after, datesOf, idOf, outline, planned, planView, schedule, text, wishOf } from './facts'

const [bars, timeline] = schedule.pictures
if (!bars || !timeline) throw new Error('no pictures')

describe('callouts', () => {
  it('never meet, whatever their sizes, and no stem runs through a text', () => {
    const callout = fc.record({
      x: fc.integer({ min: 0, max: 1200 }),
      width: fc.integer({ min: 20, max: 240 }),
      height: fc.integer({ min: 20, max: 160 }),
      side: fc.constantFrom(undefined, 'above' as const, 'below' as const),
    })
    fc.assert(
      fc.property(fc.array(callout, { maxLength: 60 }), (callouts) => {
        const places = placeCallouts(callouts, 18)
        const boxes = callouts.map(({ x, width, height }, i) => ({
          side: places[i]?.side,
          x,
          y: places[i]?.out ?? 0,
          width,
          height,
        }))
        boxes.forEach((a, i) => {
          boxes.forEach((b, k) => {
            if (i === k || a.side !== b.side) return
            if (i < k) expect(overlaps(a, b)).toBe(false)
            // The stem of b, strictly within a.
            expect(b.x > a.x && b.x < a.x + a.width && b.y > a.y).toBe(false)
          })
        })
      }),
    )
  })
})

describe('a timeline', () => {
  const events = (count: number): Entity[] =>
    Array.from({ length: count }, (_, i) => ({
      id: asId(`e${i}`),
      kind: 'event',
      name: `Event ${i}: ${'something long happened there '.repeat(1 + (i % 7))}`,
      fields: { when: String(1900 + ((i * 37) % 120)), weight: i % 5 === 0 ? 'main' : 'minor' },
    }))
  const drawn = (entities: readonly Entity[], options = {}) => {
    const view = planView({ picture: 'timeline', options })
    return timeline.draw(Model.of({ name: 'T', entities: [...entities], views: [view] }), view, DAY)
  }

  it.each([{}, { spacing: 'even' }, { width: 'wide' }])(
    'of 150 callouts with long texts lets none overlap (%j)',
    (options) => {
      const { items, bounds } = drawn(events(150), options)
      expect(items).toHaveLength(150)
      items.forEach((a, i) => {
        for (const b of items.slice(i + 1)) expect(overlaps(a.box, b.box)).toBe(false)
        expect(a.box.x >= bounds.x && a.box.x + a.box.width <= bounds.x + bounds.width).toBe(true)
      })
    },
  )
  it('reaches from before our era to the minute of a day', () => {
    const at = (id: string, when: string): Entity => ({ id: asId(id), kind: 'event', name: id, fields: { when } })
    const old = drawn([at('a', '-0043'), at('b', '1066')])
    expect(old.summary).toContain('44 BCE')
    const day = drawn([at('a', '2026-11-24T09:00'), at('b', '2026-11-24T17:30')])
    const [a, b] = ['a', 'b'].map((id) => day.items.find((item) => item.id === asId(id)))
    expect((b?.box.x ?? 0) - (a?.box.x ?? 0)).toBeGreaterThan(100)
  })
  it('is written as an outline: dates first, minor ones indented, spans with two dates', () => {
    const view = planView({ picture: 'timeline', scope: { plan: '' } })
    const empty = Model.of({ name: 'T', views: [view] })
    const list = '1887  Two pilots begin\n  May 1902  Carriages carried  [Fleet]\n1887..1935  Steam'
    const model = after(empty, outline.paste(wishOf(empty, { view }), undefined, list))
    expect(text(model)).toBe('1887  Two pilots begin\n1887..1935  Steam\n  1902-05  Carriages carried  [Fleet]')
    expect(isRefusal(outline.paste(wishOf(empty, { view }), undefined, 'no date at all'))).toBe(true)
    const [first] = model.ofKind('event')
    const weighed = after(model, outline.indent(wishOf(model), first?.id ?? asId('')))
    expect(weighed.entities.get(first?.id ?? asId(''))?.fields['weight']).toBe('minor')
  })
})

describe('bars', () => {
  const model = planned('Dig  3d\nPour  4d  after 1\nDry  2d  after 2')
  const scene = bars.draw(model, planView({ options: { unit: 'days' } }), DAY)
  const item = (name: string) => scene.items.find(({ facts, stays }) => facts[0] === idOf(model, name) && !stays)
  const pull = (name: string, handle: string, by: number, target?: string) => {
    const box = item(name)?.box ?? { x: 0, y: 0, width: 0, height: 0 }
    const to = target === undefined ? undefined : item(target)?.box
    const at = to ? { x: to.x + 1, y: to.y } : { x: box.x + by, y: box.y }
    const pulled: Pull = { handle, by: { x: by, y: 0 }, at, box }
    const view = planView({ options: { unit: 'days' } })
    const wish = wishOf(model, {
      view,
      selection: [idOf(model, name)],
      ...(target ? { target: idOf(model, target) } : {}),
    })
    return bars.pull?.(wish, pulled)
  }
  it('lie in rows, as long as their days, one after the other', () => {
    const [dig, pour] = [item('Dig'), item('Pour')]
    expect(dig?.box.width).toBe(90)
    expect((pour?.box.x ?? 0) - (dig?.box.x ?? 0)).toBe(90)
    expect((pour?.box.y ?? 0) - (dig?.box.y ?? 0)).toBe(32)
  })
  it('slide: the start is set, what follows is pushed, and it is said before', () => {
    const outcome = pull('Dig', 'slide', 62)
    const next = after(model, outcome)
    expect(datesOf(next, 'Dig')).toBe('2026-01-07 to 2026-01-09')
    expect(datesOf(next, 'Dry')).toBe('2026-01-16 to 2026-01-19')
    expect(outcome && !isRefusal(outcome) ? outcome.along?.join(' ') : '').toContain(
      '2 Pour: 13 Jan 2026 → 15 Jan 2026',
    )
    expect(pull('Dig', 'slide', 4)).toMatchObject({ change: { steps: [] } })
  })
  it('stretch by days, and tell progress by their lower edge', () => {
    expect(text(after(model, pull('Pour', 'finish', 31)))).toContain('Pour  5d')
    const told = after(model, pull('Dig', 'progress', 45))
    expect(told.entities.get(idOf(model, 'Dig'))?.fields).toMatchObject({ percent: 50 })
  })
  it('are linked from end to end: the ends say which kind of link it is', () => {
    expect(text(after(model, pull('Dig', 'link S', 0, 'Dry')))).toContain('Dry  2d  after 2, 1SS')
    expect(pull('Dry', 'link F', 0, 'Dig')).toHaveProperty('refused')
  })
  it('are joined by lines with right angles only, from end to end, for all kinds of link', () => {
    const spot = fc.record({
      from: fc.integer({ min: 0, max: 900 }),
      length: fc.integer({ min: 2, max: 200 }),
      row: fc.nat(20),
    })
    fc.assert(
      fc.property(spot, spot, fc.constantFrom(...LINK_TYPES), (a, b, type) => {
        if (a.row === b.row) return
        const [s, t] = [a, b].map(({ from, length, row }) => ({ from, to: from + length, middle: row * 32 + 16 }))
        if (!s || !t) return
        const way = linkWay(s, t, type)
        way.slice(1).forEach((corner, i) => {
          const before = way[i]
          expect(corner.x === before?.x || corner.y === before?.y).toBe(true)
        })
        expect(way[0]).toEqual({ x: type[0] === 'F' ? s.to : s.from, y: s.middle })
        expect(way.at(-1)).toEqual({ x: type[1] === 'S' ? t.from : t.to, y: t.middle })
        // It comes in from outside the bar.
        const last = way.at(-2)
        expect(type[1] === 'S' ? (last?.x ?? 0) < t.from : (last?.x ?? 0) > t.to).toBe(true)
      }),
    )
  })
})

describe('the network of a plan', () => {
  const model = planned(
    'Dig  3d\nPour  4d  after 1\nFence  1d  after 1\nDry  2d  after 2SS+1d, 3\nmilestone: Open  after 4',
  )
  const [, , network] = schedule.pictures
  const scene = network?.draw(model, planView({ picture: 'network' }), DAY)
  it('has a box for each task with its early and late dates and its float, none over another', () => {
    const boxes = scene?.items ?? []
    expect(boxes).toHaveLength(5)
    boxes.forEach((a, i) => {
      for (const b of boxes.slice(i + 1)) expect(overlaps(a.box, b.box)).toBe(false)
    })
    const fence = JSON.stringify(boxes.find(({ label }) => label.includes('Fence'))?.marks)
    for (const words of ['8 Jan 26', 'float 1d', '9 Jan 26']) expect(fence).toContain(words)
    expect(scene?.links).toHaveLength(5)
    expect(JSON.stringify(scene?.links.map(({ marks }) => marks))).toContain('SS+1d')
  })
})

describe('the months of a plan', () => {
  const [, , , month] = schedule.pictures
  it('show each task once a week that it spans, over its days, and no two over each other', () => {
    const model = planned('Dig  7d\nPour  2d  after 1\nFence  12d', '2026-01-28')
    const scene = month?.draw(model, planView({ picture: 'month' }), DAY)
    const items = scene?.items ?? []
    expect(items.filter(({ facts }) => facts[0] === idOf(model, 'Dig'))).toHaveLength(3)
    items.forEach((a, i) => {
      for (const b of items.slice(i + 1)) expect(overlaps(a.box, b.box)).toBe(false)
    })
    // The week that two months share is drawn in both, as items of their own.
    expect(new Set(items.map(({ id }) => id)).size).toBe(items.length)
    expect(JSON.stringify(scene?.backdrop)).toContain('February 2026')
  })
})

describe('the load of people', () => {
  it('is the share of their tasks in each week’s hours', () => {
    const model = planned('Dig  5d  @ Ada\nPour  5d  @ Ada 50 %\nFence  2d  @ Ben')
    const rows = schedule.numbers.find(({ id }) => id === 'load')?.rows(model, DAY) ?? []
    expect(rows.map(({ who, week, load, tasks }) => [who, week, load, tasks])).toEqual([
      ['Ada', '2026-01-05', 150, 2],
      ['Ben', '2026-01-05', 40, 1],
    ])
  })
  it('stands beneath the bars: a line for each person, what is too much in the colour of errors', () => {
    const model = planned('Dig  5d  @ Ada\nPour  5d  @ Ada 50 %\nFence  2d  @ Ben\nRest  1d')
    const scene = bars.draw(model, planView({ options: { unit: 'weeks' } }), DAY)
    const names = scene.items.filter(({ id, stays }) => id.startsWith('load ') && stays === 'left')
    expect(names.map(({ label }) => label)).toEqual(['Ada, at most 150 %', 'Ben, at most 40 %'])
    const last = scene.items.find(({ facts }) => facts[0] === idOf(model, 'Rest'))
    expect(names[0]?.box.y).toBeGreaterThanOrEqual((last?.box.y ?? 0) + 32)
    const columns = scene.items.filter(({ id }) => id.startsWith('loads '))
    const above = columns.map(({ marks }) =>
      said(
        marks.find((mark) => said(mark, 'fill') === 'error'),
        'd',
      ),
    )
    // 11 px are all the hours of a week; half as much again is above them, as far as there is room for it.
    expect(above).toEqual([expect.stringMatching(/^M\d+ 14h40v-5.5h-40Z$/), 'M0 0'])
    expect(JSON.stringify(columns[0]?.marks)).toContain('"150"')
    expect(scene.summary).toContain('the load of 2 people by week, 1 with more than a week holds')
    expect(scene.bounds.height).toBe((names[1]?.box.y ?? 0) + (names[1]?.box.height ?? 0))
  })
  it('is left out where it is switched off, and where nobody works', () => {
    const model = planned('Dig  5d  @ Ada')
    const drawn = (view = planView(), on = model) => bars.draw(on, view, DAY).items.some(({ id }) => id === 'loads')
    expect(drawn()).toBe(true)
    expect(drawn(planView({ options: { load: false } }))).toBe(false)
    expect(drawn(planView(), planned('Dig  5d'))).toBe(false)
  })
})

describe('the flags of the axis', () => {
  it.each(['days', 'weeks', 'months'])('cover none of its marks, on whatever day: %s', (unit) => {
    const model = planned('Dig  20d\nLay  40d  after 1', '2026-11-02')
    const view = planView({ picture: 'bars', options: { unit } })
    for (let at = 0; at < 60; at++) {
      const on = addDays(DAY, at)
      const top = bars?.draw(model, view, on).frozen?.top ?? []
      const flags = top.flatMap((mark) => (mark.tag === 'rect' && mark.attrs.y === 27 ? [boxOf(mark)] : []))
      expect(flags.length).toBeGreaterThan(0)
      const words = top.filter((mark) => mark.tag === 'text' && mark.attrs.y === 33)
      expect(words.length).toBeGreaterThan(0)
      for (const mark of words) expect(flags.some((flag) => overlaps(flag, boxOf(mark)))).toBe(false)
    }
  })
})
