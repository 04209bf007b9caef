import { describe, expect, it } from 'vitest'
import { drawn } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { overlaps, type Box, type Item } from '../../src/core/scene'
import { marramSoundFerries } from '../../src/demo'
import { demoViews } from '../demoViews'
import { DAY } from '../facts'

const within = (inner: Box, outer: Box): boolean =>
  inner.x >= outer.x &&
  inner.y >= outer.y &&
  inner.x + inner.width <= outer.x + outer.width &&
  inner.y + inner.height <= outer.y + outer.height

const demo = marramSoundFerries()
const pictures = demoViews
  .filter(({ picture }) => picture.options.some(({ id }) => id === 'room'))
  .map(({ view, picture }) => [`${view.title}, ${picture.id}`, view] as const)

describe.each(pictures)('the spacing of %s', (_, view) => {
  const at = (room: string) => {
    const scene = drawn(registry, demo, { ...view, options: { ...view.options, room } }, DAY)
    if (!scene) throw new Error('nothing is drawn')
    return scene
  }
  const inked = (items: readonly Item[]) =>
    items.filter(({ ground, stays, marks }) => !ground && !stays && marks.length > 0)

  it('has three steps, the usual one as without a choice, and each needs more room than the one before', () => {
    const [tight, normal, airy] = ['tight', 'normal', 'airy'].map(at)
    if (!tight || !normal || !airy) throw new Error('not drawn')
    expect(normal).toEqual(drawn(registry, demo, view, DAY))
    const area = ({ bounds }: typeof tight) => bounds.width * bounds.height
    if (inked(normal.items).length > 1) {
      expect(area(tight)).toBeLessThan(area(normal))
      expect(area(normal)).toBeLessThan(area(airy))
    }
  })

  it('lets no box meet another but one that it stands within or at whose border it sits, however tight', () => {
    const items = inked(at('tight').items)
    const isAt = (port: Item, holder: Item) => port.label.startsWith('port ') && port.parent === holder.id
    for (const [i, one] of items.entries())
      for (const other of items.slice(i + 1))
        if (overlaps(one.box, other.box)) {
          const isMeant =
            within(one.box, other.box) || within(other.box, one.box) || isAt(one, other) || isAt(other, one)
          expect([one.label, other.label, isMeant]).toEqual([one.label, other.label, true])
        }
  })
})
