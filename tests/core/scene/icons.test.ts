import { describe, expect, it } from 'vitest'
import '../../../src/core/scene/withIcons'
import { asId, type Id } from '../../../src/core/model'
import { bestFirst, drawn } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { boxOf, iconData, iconsThere, kit, loadIcons, type Mark } from '../../../src/core/scene'
import { marramSoundFerries } from '../../../src/demo'
import { DAY } from '../../facts'

const icons = iconsThere()
const data = (name: string): string => iconData(name) ?? ''
const boxFor = (name: string) => boxOf(kit.path(data(name), { fill: 'none', stroke: 'ink' }))

describe('icons', () => {
  it('are there, each drawn within its square of 24', () => {
    expect(icons?.list.length).toBeGreaterThan(1000)
    for (const { name } of icons?.list ?? []) {
      const { x, y, width, height } = boxFor(name)
      expect([x >= -0.01, y >= -0.01, x + width <= 24.01, y + height <= 24.01], name).toEqual([true, true, true, true])
      expect(Math.max(width, height), name).toBeGreaterThan(0)
    }
  })

  it('keep each of their lines where it is, however it is written', () => {
    // The set’s anchor: a shaft, two arms, a crossbar, and a ring of radius 2 about 12, 4.
    expect(data('anchor')).toMatch(/^M12 6V22M19 13L21 12A9 9 0 0 1 3 12L5 13M9 11H15M10 4a2 2 0 1 0 4 0/)
    expect(boxFor('anchor')).toEqual({ x: 3, y: 2, width: 18, height: 20 })
  })

  it('are found by what they show and by what they are for', () => {
    const sought = (icons?.list ?? []).map(({ name, words }) => ({
      title: name.replaceAll('-', ' '),
      summary: '',
      words,
      name,
    }))
    for (const [query, expected] of [
      ['anchor', 'anchor'],
      ['ship', 'ship'],
      ['boat', 'sailboat'],
      ['warning', 'triangle-alert'],
      ['money', 'banknote'],
      ['calendr', 'calendar'],
    ] as const)
      expect(
        bestFirst(sought, query)
          .slice(0, 42)
          .map(({ name }) => name),
        query,
      ).toContain(expected)
  })

  it('are none under names that objects have by themselves', () => {
    for (const name of ['__proto__', 'constructor', 'toString', '', 'nothing-like-it'])
      expect(iconData(name)).toBeUndefined()
    expect(loadIcons()).toBeUndefined()
  })

  it('stand once on what has one, and what is not known is not drawn', () => {
    const demo = marramSoundFerries()
    const view = demo.views.get(asId('dry-dock'))
    const task = [...demo.entities.values()].find(({ name }) => name === 'Sea trials')
    if (!view || !task) throw new Error('gone')
    const groups = (icon: string): readonly Id[] => {
      const entities = new Map(demo.entities).set(task.id, { ...task, fields: { ...task.fields, icon } })
      const scene = drawn(registry, demo.with({ entities }), view, DAY)
      const isIcon = (mark: Mark) => mark.tag === 'g' && mark.attrs.transform?.startsWith('scale(0.58') === true
      return scene?.items.flatMap((item) => (item.marks.some(isIcon) ? (item.facts[0] ?? item.id) : [])) ?? []
    }
    expect(groups('anchor')).toEqual([task.id])
    expect(groups('no-such-icon')).toEqual([])
  })
})
