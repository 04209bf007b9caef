import { describe, expect, it } from 'vitest'
import type { Model, View } from '../../../src/core/model'
import { drawn } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { overlaps, type Box, type Mark, type Scene } from '../../../src/core/scene'
import { marramSoundFerries } from '../../../src/demo'
import { DAY, id } from '../../facts'
import { told } from './facts'

const demo = marramSoundFerries()
const NODES = new Set(['step', 'event', 'gateway', 'data'])
const textsOf = (marks: readonly Mark[]) => marks.flatMap((mark) => (mark.tag === 'text' ? [mark.children[0]] : []))
const inside = (inner: Box, outer: Box): boolean =>
  inner.x >= outer.x - 0.5 &&
  inner.y >= outer.y - 0.5 &&
  inner.x + inner.width <= outer.x + outer.width + 0.5 &&
  inner.y + inner.height <= outer.y + outer.height + 0.5

/** A long process that goes from lane to lane, back and forth, with ways back, and a step by itself. */
const LONG = told(
  [
    ...Array.from({ length: 40 }, (_, i) =>
      i % 9 === 8
        ? `Good ${i}?\n  yes\n  no\n    go to ${`Do ${i - 5}`}`
        : `Do ${i} @ ${['Desk', 'Store', 'Lead'][((i * 7) % 5) % 3]}`,
    ),
    'end',
    'apart: Lone @ Archive',
  ].join('\n'),
)
const cases: [string, Model, View][] = [
  ['the cancelled sailing', demo, demo.views.get(id('cancelled')) as View],
  ['the fare', demo, demo.views.get(id('fare')) as View],
  ['a long process', LONG, [...LONG.views.values()][0] as View],
].flatMap(([title, model, view]) =>
  ['lanes', 'flow'].map((picture): [string, Model, View] => [
    `${title as string}, ${picture}`,
    model as Model,
    { ...(view as View), picture },
  ]),
)

describe.each(cases)('strips of %s', (_, model, view) => {
  const of = (strips: string): Scene => {
    const scene = drawn(registry, model, { ...view, options: { ...view.options, strips } }, DAY)
    if (!scene) throw new Error('nothing is drawn')
    return scene
  }
  const nodesOf = ({ items }: Scene) => items.filter((item) => NODES.has(model.entities.get(item.id)?.kind ?? ''))
  const misfit = ({ bounds }: Scene, shape: number) => Math.abs(Math.log(bounds.width / bounds.height / shape))

  it('are one without a choice', () => {
    expect(of('one')).toEqual(drawn(registry, model, view, DAY))
  })

  it.each([
    ['landscape', 1.5],
    ['portrait', 0.68],
  ])('come nearer to a page (%s), with everything drawn once and in its lane', (page, shape) => {
    const [one, many] = [of('one'), of(page)]
    expect(misfit(many, shape)).toBeLessThanOrEqual(misfit(one, shape))
    const sizes = (scene: Scene) => nodesOf(scene).map(({ id: key, box }) => [key, box.width, box.height])
    expect(sizes(many)).toEqual(sizes(one))
    const nodes = nodesOf(many)
    for (const [i, { box }] of nodes.entries()) {
      expect(inside(box, many.bounds)).toBe(true)
      for (const other of nodes.slice(i + 1)) expect(overlaps(box, other.box)).toBe(false)
    }
    const grounds = many.items.filter(({ ground }) => ground)
    if (view.picture === 'lanes')
      for (const node of nodes) {
        const [lane] = model.leaving(node.id, 'performed-in')
        const own = grounds.filter(({ facts }) => facts[0] === lane?.target)
        if (lane) expect(own.filter(({ box }) => overlaps(node.box, box))).toHaveLength(1)
      }
    // What stands in no lane of a strip takes none of its room: no lane of a strip is empty.
    for (const { box } of grounds)
      expect(
        nodes.some((node) => overlaps(node.box, box)) || many.links.some(({ bounds }) => overlaps(bounds, box)),
      ).toBe(true)
  })

  it('are cut where a phase begins, if there are phases', () => {
    if (view.picture !== 'lanes' || model.ofKind('phase').length === 0) return
    const heads = of('landscape').items.filter(
      ({ id: key, facts }) => model.entities.get(facts[0] ?? key)?.kind === 'phase',
    )
    const rows = new Set(heads.map(({ box }) => box.y))
    // Each strip begins with one phase and no strip with the end of another and the beginning of the next.
    for (const y of rows) expect(heads.filter(({ box }) => box.y === y)).toHaveLength(1)
  })

  it('carry a letter at both ends of every line that goes on elsewhere, each letter on one line', () => {
    const { links } = of('portrait')
    const letters = links.flatMap(({ marks }) => textsOf(marks).filter((text) => /^[A-Z]\d*$/.test(text)))
    const counts = new Map<string, number>()
    for (const letter of letters) counts.set(letter, (counts.get(letter) ?? 0) + 1)
    expect([...counts.values()].every((count) => count === 2)).toBe(true)
    if (view.picture === 'lanes') expect(counts.size).toBeGreaterThan(0)
    expect(of('one').links.flatMap(({ marks }) => textsOf(marks))).toEqual([])
    // Each stands clear of every shape, and within the picture.
    const scene = of('portrait')
    for (const { marks } of links)
      for (const mark of marks)
        if (mark.tag === 'text') {
          const { x, y } = mark.attrs
          const box = {
            x: mark.attrs['text-anchor'] === 'end' ? x - 6 * mark.children[0].length : x,
            y: y - 7,
            width: 6 * mark.children[0].length,
            height: 8,
          }
          expect(inside(box, scene.bounds)).toBe(true)
          expect(nodesOf(scene).some((node) => overlaps(node.box, box))).toBe(false)
        }
  })
})
