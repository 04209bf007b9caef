import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, type Model } from '../../src/core/model'
import type { Scene } from '../../src/core/scene'
import { deltaOf, nextScene } from '../../src/worker/delta'
import { DAY, id, listed, organisation, treeView } from '../facts'

const draw = (model: Model): Scene => {
  const [tree] = organisation.pictures
  if (!tree) throw new Error('no tree')
  return tree.draw(model, treeView(), DAY)
}
const lists = fc
  .array(fc.record({ depth: fc.nat(4), name: fc.constantFrom('Ada', 'Bo', 'Cleo', 'Dag') }), { maxLength: 25 })
  .map((lines) => lines.map(({ depth, name }) => '  '.repeat(depth) + name).join('\n'))

describe('the delta of two scenes', () => {
  it('leads from the one to the other, whatever they are', () => {
    fc.assert(
      fc.property(lists, lists, (a, b) => {
        if (a.trim() === '' || b.trim() === '') return
        const [before, after] = [draw(listed(a)), draw(listed(b))]
        expect(nextScene(before, structuredClone(deltaOf(before, after)))).toEqual(after)
        expect(nextScene(undefined, structuredClone(deltaOf(undefined, after)))).toEqual(after)
      }),
      { numRuns: 60 },
    )
  })
  it('carries only the card that changed, and keeps the others as they are', () => {
    const model = listed('Ada — Head\n  Bo — Clerk\n  Cleo — Clerk')
    const before = draw(model)
    const renamed = apply(model, {
      label: '',
      steps: [{ do: 'set-entity', id: id('p1'), path: 'name', value: 'Chair' }],
    }).model
    const delta = deltaOf(before, draw(renamed))
    const fresh = JSON.parse(delta.items.fresh) as { label: string }[]
    expect(fresh.map((item) => item.label)).toEqual(['Ada — Chair'])
    expect(nextScene(before, delta).items[1]).toBe(before.items[1])
  })
  it('leaves the scene the same object where nothing of it has changed', () => {
    const before = draw(listed('Ada\n  Bo'))
    const delta = deltaOf(before, draw(listed('Ada\n  Bo')))
    expect(delta.frame).toBeUndefined()
    expect(nextScene(before, structuredClone(delta))).toBe(before)
  })
  it('tells a change of any part of an item, a link and what is around them', () => {
    const before = draw(listed('Ada\n  Bo'))
    const [first, ...items] = before.items
    const [line, ...links] = before.links
    if (!first || !line) throw new Error('nothing drawn')
    const others: readonly Partial<typeof first>[] = [
      { box: { ...first.box, x: 7 } },
      { label: 'Other' },
      { facts: [id('other')] },
      { marks: [] },
      { texts: [] },
      { handles: [{ id: 'h', box: first.box, pulls: 'along' }] },
      { signs: { x: 1, y: 1 } },
      { stays: 'left' },
      { ground: true },
      { link: '#view=x' },
      { parent: id('other') },
    ]
    const scenes: readonly Scene[] = [
      ...others.map((part) => ({ ...before, items: [{ ...first, ...part }, ...items] })),
      { ...before, links: [{ ...line, marks: [] }, ...links] },
      { ...before, links: [{ ...line, source: id('other') }, ...links] },
      { ...before, headline: 'Other' },
      { ...before, backdrop: [...before.backdrop, ...first.marks] },
      { ...before, picture: before.bounds },
      { ...before, items: [...items, first] },
    ]
    for (const after of scenes) expect(nextScene(before, structuredClone(deltaOf(before, after)))).toEqual(after)
  })
  it('does not fit another scene than its own', () => {
    const [one, other] = [draw(listed('Ada\n  Bo')), draw(listed('Ada'))]
    expect(() => nextScene(other, deltaOf(one, one))).toThrow(/does not belong/)
  })
})
