import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, type Model } from '../../../src/core/model'
import { drawn } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { overlaps, pageOf, type Box, type Scene } from '../../../src/core/scene'
import { marramSoundFerries } from '../../../src/demo'
import { DAY, day, facts, id, listed, organisation, person, position, reports, tie, treeView, said } from '../../facts'

const [tree] = organisation.pictures
const draw = (model: Model, options = {}, scope = {}, on = DAY): Scene => {
  if (!tree) throw new Error('no tree')
  return tree.draw(model, treeView({ options, scope }), on)
}
const box = (scene: Scene, key: string): Box => {
  const item = scene.items.find((one) => one.label.includes(key) || one.id === key)
  if (!item) throw new Error(`no ${key}`)
  return item.box
}
const middle = ({ x, width }: Box) => x + width / 2

function expectNoOverlap({ items }: Scene): void {
  const sorted = [...items].sort((a, b) => a.box.x - b.box.x)
  sorted.forEach((a, index) => {
    for (const b of sorted.slice(index + 1)) {
      if (b.box.x >= a.box.x + a.box.width) break
      expect(overlaps(a.box, b.box), `${a.label} over ${b.label}`).toBe(false)
    }
  })
}

/** A random organisation: every position but the first reports to, or assists, an earlier one. */
const organisations = fc
  .array(
    fc.record({
      above: fc.nat(),
      assists: fc.boolean(),
      title: fc.string({ maxLength: 60 }),
      layout: fc.constantFrom('row', 'column', 'two columns', undefined),
    }),
    { minLength: 1, maxLength: 60 },
  )
  .map((list) =>
    facts(
      ...list.flatMap(({ above, assists, title, layout }, i) => [
        position(`p${i}`, { name: title.trim() || 'x', fields: layout ? { layout } : {} }),
        ...(i === 0 ? [] : [tie(assists && i % 5 === 0 ? 'assists' : 'reports-to', `p${i}`, `p${above % i}`)]),
      ]),
    ),
  )

describe('the tree', () => {
  it.each(['auto', 'row', 'column', 'two columns'])('never lets two cards overlap, with leaves set as %s', (leaves) => {
    fc.assert(
      fc.property(organisations, (model) => expectNoOverlap(draw(model, { leaves }))),
      { numRuns: 60 },
    )
  })
  it.each([{ grows: 'right' }, { pages: 'a branch each' }, { page: 'portrait', photo: true, dates: true, fte: true }])(
    'never lets two cards overlap, drawn as %j',
    (options) => {
      fc.assert(
        fc.property(organisations, (model) => expectNoOverlap(draw(model, options))),
        { numRuns: 40 },
      )
    },
  )

  it('grows to the right, each card right of its manager and the manager in the middle of its reports', () => {
    const scene = draw(listed('Head\n  One\n    A\n    B\n  Two'), { grows: 'right' })
    const [head, one, two, a, b] = ['Head', 'One', 'Two', 'A', 'B'].map((key) => box(scene, key))
    if (!head || !one || !two || !a || !b) throw new Error('missing')
    expect([one.x > head.x + head.width, a.x > one.x + one.width, one.y < two.y, a.y < b.y]).toEqual(
      Array(4).fill(true),
    )
    expect(Math.abs(head.y - (one.y + two.y) / 2)).toBeLessThanOrEqual(1)
  })

  it('stands leaves in two columns on both sides of a stem, read row by row', () => {
    const scene = draw(listed('Head\n  A\n  B\n  C\n  D'), { leaves: 'two columns' })
    const [head, a, b, c, d] = ['Head', 'A', 'B', 'C', 'D'].map((key) => box(scene, key))
    if (!head || !a || !b || !c || !d) throw new Error('missing')
    expect([a.y === b.y, c.y === d.y, a.y < c.y]).toEqual([true, true, true])
    expect(a.x + a.width).toBeLessThan(middle(head))
    expect(b.x).toBeGreaterThan(middle(head))
  })

  it('meets the shape of the page that it is for', () => {
    const shape = (page: string) => {
      const { width, height } = draw(marramSoundFerries(), { page }).bounds
      return width / height
    }
    expect(shape('portrait')).toBeLessThan(1)
    expect(shape('landscape')).toBeGreaterThan(1)
  })

  it('folds a branch away by hand, with its count', () => {
    const model = listed('Head\n  One\n    A\n    B\n      C\n  Two')
    const one = model.ofKind('position').find(({ id: key }) =>
      draw(model)
        .items.find((item) => item.id === key)
        ?.label.includes('One'),
    )
    const scene = draw(model, {}, { [`folded ${one?.id}`]: true })
    expect(scene.items.map(({ label }) => label.slice(0, 3))).toEqual(['Hea', 'One', 'Two'])
    expect(JSON.stringify(scene.items[1]?.marks)).toContain('3 below')
  })

  it('gives each branch a page of its own after an overview', () => {
    const scene = draw(listed('Head\n  One\n    A\n    B\n  Two\n    C\n  Three'), { pages: 'a branch each' })
    expect(scene.pages?.map(({ title }) => title.replace(/\s+/g, ' '))).toEqual([
      '1 of 3 Overview',
      expect.stringMatching(/^2 of 3 /),
      expect.stringMatching(/^3 of 3 /),
    ])
    for (const item of scene.items)
      expect(
        scene.pages?.filter((page) => overlaps(page.box, item.box)),
        item.label,
      ).toHaveLength(1)
    const [, second] = scene.pages ?? []
    if (!second) throw new Error('no page')
    expect(pageOf(scene, second).items.map(({ label }) => label.slice(0, 3))).toEqual(['One', 'A', 'B'])
    expect(new Set(scene.items.map((item) => item.id)).size).toBe(scene.items.length)
  })

  it('draws the lines of each page on it, each under an identity of its own', () => {
    const scene = draw(listed('Head\n  One\n    A\n    B\n  Two\n    C\n  Three'), { pages: 'a branch each' })
    const counts = scene.pages?.map((page) => pageOf(scene, page).links.length)
    const whole = draw(listed('Head\n  One\n    A\n    B\n  Two\n    C\n  Three')).links.length
    expect(counts?.every((count) => count > 0)).toBe(true)
    expect(counts?.reduce((a, b) => a + b, 0)).toBe(scene.links.length)
    expect(scene.links.length).toBeGreaterThanOrEqual(whole)
    expect(new Set(scene.links.map((link) => link.id)).size).toBe(scene.links.length)
    // So with dotted lines, from whichever page to whichever other.
    const demo = draw(marramSoundFerries(), { pages: 'a branch each' })
    expect(new Set(demo.links.map((link) => link.id)).size).toBe(demo.links.length)
  })

  it('colours by any field, and writes only the lines that are chosen', () => {
    const model = marramSoundFerries()
    for (const colour of ['unit', 'grade', 'location', 'role', 'employer', 'fte', 'cost', 'planned', 'holder'])
      expect(draw(model, { colour }).backdrop.length, colour).toBeGreaterThan(0)
    const plain = JSON.stringify(draw(model, { title: false }).items.map(({ marks }) => marks))
    expect(plain.includes('Crewing planner')).toBe(false)
    const full = JSON.stringify(draw(model, { unit: true, location: true, fte: true, dates: true }).items)
    for (const words of ['Skerry Point', '0.5 fte', 'from 16 Nov 2026', 'Fleet'])
      expect(full.includes(words), words).toBe(true)
  })

  it('draws every position once', () => {
    fc.assert(
      fc.property(organisations, (model) => {
        const ids = draw(model).items.map((item) => item.id)
        expect([...ids].sort()).toEqual(
          model
            .ofKind('position')
            .map((one) => one.id)
            .sort(),
        )
      }),
      { numRuns: 40 },
    )
  })

  it('stands the head above its reports, and the reports in their order', () => {
    const scene = draw(listed('Head\n  One\n    A\n    B\n  Two\n    C\n  Three'), { leaves: 'row' })
    const [head, one, two, three] = ['Head', 'One', 'Two', 'Three'].map((key) => box(scene, key))
    if (!head || !one || !two || !three) throw new Error('missing')
    expect(one.y).toBeGreaterThan(head.y + head.height)
    expect([one.x < two.x, two.x < three.x, one.y === two.y]).toEqual([true, true, true])
    expect(Math.abs(middle(head) - (middle(one) + middle(three)) / 2)).toBeLessThanOrEqual(1)
  })

  // Common practice: an assistant is drawn beside the line, not under it.
  it('stands an assistant beside the stem, smaller, above the reports', () => {
    const scene = draw(listed('Head\n  Help (assistant)\n  One\n  Two\n  Three'))
    const [head, help, one] = ['Head', 'Help', 'One'].map((key) => box(scene, key))
    if (!head || !help || !one) throw new Error('missing')
    expect(help.x).toBeGreaterThan(middle(head))
    expect([help.y > head.y + head.height, help.y + help.height < one.y, help.width < head.width]).toEqual([
      true,
      true,
      true,
    ])
  })

  it('stacks leaves in a column beneath their manager', () => {
    const scene = draw(listed('Head\n  Lead\n    A\n    B\n    C\n  Other\n    D'))
    const [lead, a, b] = ['Lead', 'A', 'B'].map((key) => box(scene, key))
    if (!lead || !a || !b) throw new Error('missing')
    expect([a.x === b.x, a.x > lead.x, b.y > a.y]).toEqual([true, true, true])
  })

  it('sets several heads side by side', () => {
    const scene = draw(listed('A\n  B\nC\n  D'))
    expect(box(scene, 'A').y).toBe(box(scene, 'C').y)
    expectNoOverlap(scene)
  })

  it('shows the levels asked for and counts what is below', () => {
    const scene = draw(listed('Head\n  One\n    A\n    B\n      C\n  Two'), { levels: '2' })
    expect(scene.items).toHaveLength(3)
    expect(JSON.stringify(scene.items.map(({ marks }) => marks))).toContain('3 below')
  })

  it('shows one branch, and a vacancy with its first day', () => {
    const model = facts(
      position('top'),
      position('m'),
      position('r'),
      reports('m', 'top'),
      reports('r', 'm'),
      person('p'),
      tie('holds', 'p', 'm', { to: day('2026-09-01') }),
    )
    const scene = draw(model, {}, { root: 'm' })
    expect(scene.items.map((item) => item.id)).toEqual(['m', 'r'])
    expect(JSON.stringify(scene.items[0]?.marks)).toContain('vacant since 2 Sep')
  })

  it('grows a card before it cuts a text, and keeps one width for a rank', () => {
    const scene = draw(listed(`Head\n  ${'Coordinator of unusually long titles '.repeat(3)} — T\n  Short — S`))
    const [long, short] = [box(scene, 'Coordinator'), box(scene, 'Short')]
    expect([long.width === short.width, long.height > short.height]).toEqual([true, true])
  })

  it('colours by unit with a legend, and marks contractors and acting holders', () => {
    const scene = draw(marramSoundFerries(), { colour: 'unit' })
    const legend = JSON.stringify(scene.backdrop)
    expect(legend).toContain('Harbour company')
    expect(scene.links.some(({ marks }) => said(marks[0], 'stroke-dasharray') === '2 4')).toBe(true)
  })

  it('leads no dotted line through a card', () => {
    const { items, links } = draw(marramSoundFerries())
    const dotted = links.filter(({ marks }) => said(marks[0], 'stroke-dasharray') === '2 4')
    expect(dotted.length).toBeGreaterThan(1)
    for (const { marks } of dotted) {
      const points = [...said(marks[0], 'd').matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map(([, x, y]) => ({
        x: Number(x),
        y: Number(y),
      }))
      points.slice(1).forEach((b, i) => {
        const a = points[i] ?? b
        const line = {
          x: Math.min(a.x, b.x),
          y: Math.min(a.y, b.y),
          width: Math.abs(a.x - b.x),
          height: Math.abs(a.y - b.y),
        }
        for (const item of items) expect(overlaps(line, item.box), item.label).toBe(false)
      })
    }
  })

  it('leads none through a card in a chart of two thousand either', () => {
    // Seven reports each; twelve dotted lines from one end of the chart to another.
    const keys = Array.from({ length: 2000 }, (_, i) => `p${i}`)
    const posts = keys.map((key) => position(key, { name: `Position ${key}` }))
    const lines = keys.slice(1).map((key, i) => reports(key, keys[Math.floor(i / 7)] ?? 'p0'))
    const across = Array.from({ length: 12 }, (_, i) => ({
      ...reports(keys[(i * 331 + 40) % 2000] ?? '', keys[(i * 947 + 900) % 2000] ?? '', { fields: { line: 'dotted' } }),
      id: id(`dotted-${i}`),
    }))
    const { items, links } = draw(facts(...posts, ...lines, ...across))
    const dotted = links.filter(({ marks }) => said(marks[0], 'stroke-dasharray') === '2 4')
    expect(dotted).toHaveLength(12)
    const behind = dotted.filter(({ marks }) => {
      const points = [...said(marks[0], 'd').matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map(([, x, y]) => ({
        x: Number(x),
        y: Number(y),
      }))
      return points.slice(1).some((b, i) => {
        const a = points[i] ?? b
        const line = {
          x: Math.min(a.x, b.x),
          y: Math.min(a.y, b.y),
          width: Math.abs(a.x - b.x),
          height: Math.abs(a.y - b.y),
        }
        return items.some((item) => overlaps(line, item.box))
      })
    })
    expect(behind.map((link) => link.id)).toEqual([])
  })

  it('draws a circle cut open, with every position in it', () => {
    const model = facts(
      position('a'),
      position('b'),
      position('c'),
      reports('a', 'b'),
      reports('b', 'c'),
      reports('c', 'a'),
    )
    expect(draw(model).items).toHaveLength(3)
  })

  it('shows what differs between two days, whichever is named first', () => {
    const model = facts(
      position('head'),
      position('other'),
      position('clerk'),
      position('old', { to: day('2026-12-31') }),
      position('late', { from: day('2027-01-01') }),
      reports('other', 'head'),
      reports('old', 'head'),
      reports('late', 'head'),
      { ...reports('clerk', 'head'), to: day('2026-12-31') },
      reports('clerk', 'other', { from: day('2027-01-01') }),
      person('p'),
      person('q'),
      tie('holds', 'p', 'other', { to: day('2026-12-31') }),
      tie('holds', 'q', 'other', { from: day('2027-01-01') }),
    )
    if (!tree) throw new Error('no tree')
    const both = [
      drawn(registry, model, treeView(), day('2027-02-01'), { model, day: DAY }),
      drawn(registry, model, treeView(), DAY, { model, day: day('2027-02-01') }),
    ]
    for (const scene of both) {
      if (!scene) throw new Error('nothing drawn')
      expect(scene.headline).toBe('+ 1 new, − 1 gone, » 1 moved, ± 1 with another holder')
      const label = (key: string) => scene.items.find((item) => item.id === key)?.label
      expect([label('clerk'), label('old'), label('other')]).toEqual([
        'vacant — clerk: moved from head',
        'vacant — old: gone',
        'q — other: instead of p',
      ])
      expectNoOverlap(scene)
    }
    expect(drawn(registry, model, treeView(), DAY, { model, day: day('2026-11-01') })?.headline).toBe('no difference')
  })

  it('draws a chain of 10 000 and a manager of 5 000 without running out of stack', () => {
    const chain = facts(
      ...Array.from({ length: 10_000 }, (_, i) => [
        position(`p${i}`),
        ...(i ? [reports(`p${i}`, `p${i - 1}`)] : []),
      ]).flat(),
    )
    expect(draw(chain).items).toHaveLength(10_000)
    const star = facts(
      ...Array.from({ length: 5000 }, (_, i) => [position(`p${i}`), ...(i ? [reports(`p${i}`, 'p0')] : [])]).flat(),
    )
    expect(draw(star).items).toHaveLength(5000)
  })

  it('gives every relation that is drawn one link, and every link two cards', () => {
    const model = marramSoundFerries()
    const scene = draw(model)
    const cards = new Set(scene.items.map((item) => item.id))
    expect(new Set(scene.links.map((link) => link.id)).size).toBe(scene.links.length)
    for (const link of scene.links) expect([cards.has(link.source), cards.has(link.target)]).toEqual([true, true])
    expect(scene.links.length).toBeGreaterThanOrEqual(scene.items.length - 2)
  })

  it('writes what is typed into a card', () => {
    const model = listed('Ada — Head\n  Ben — Clerk')
    const outcome = tree?.write?.(
      { model, view: treeView(), day: DAY, selection: [id('p1')], newId: () => id('new') },
      'title',
      'Chair',
    )
    if (!outcome || 'refused' in outcome) throw new Error('refused')
    expect(apply(model, outcome.change).model.entities.get(id('p1'))?.name).toBe('Chair')
  })
})
