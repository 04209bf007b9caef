import { describe, expect, it } from 'vitest'
import { apply, type Model } from '../../../src/core/model'
import { drawn, isRefusal } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { overlaps, type Box, type Item } from '../../../src/core/scene'
import { marramSoundFerries } from '../../../src/demo'
import {
  DAY,
  day,
  facts,
  id,
  listed,
  organisation,
  person,
  position,
  reports,
  tie,
  treeView,
  wishFor,
} from '../../facts'

const picture = (key: string) => {
  const found = organisation.pictures.find((one) => one.id === key)
  if (!found) throw new Error(`no picture ${key}`)
  return found
}
const unit = (key: string) => ({ id: id(key), kind: 'unit', name: key, fields: {} })
const draw = (key: string, model: Model, options = {}, on = DAY) =>
  picture(key).draw(model, treeView({ picture: key, options }), on)
const inside = (inner: Box, outer: Box): boolean =>
  inner.x >= outer.x &&
  inner.y >= outer.y &&
  inner.x + inner.width <= outer.x + outer.width &&
  inner.y + inner.height <= outer.y + outer.height
const labelled = (items: readonly Item[], start: string): Item => {
  const item = items.find(({ label }) => label.startsWith(start))
  if (!item) throw new Error(`no ${start}`)
  return item
}

describe('units', () => {
  const model = facts(
    unit('Whole'),
    unit('Part'),
    unit('Late'),
    tie('part-of', 'Part', 'Whole'),
    position('lead', { fields: { unit: 'Whole' } }),
    position('clerk', { fields: { unit: 'Part', fte: 0.5 } }),
    position('loose'),
    reports('clerk', 'lead'),
    reports('loose', 'lead'),
    person('Ada'),
    person('Ben'),
    tie('holds', 'Ada', 'lead'),
    tie('holds', 'Ben', 'clerk', { to: day('2026-12-31') }),
  )
  it('stand within each other, with all their people, and their lead', () => {
    const { items } = draw('units', model)
    const [whole, part] = [labelled(items, 'Whole'), labelled(items, 'Part')]
    expect(inside(part.box, whole.box)).toBe(true)
    expect([whole.label, part.label]).toEqual(['Whole: 2 people, 1.5 fte', 'Part: 1 person, 0.5 fte'])
    expect(JSON.stringify(whole.marks)).toContain('"Ada"')
    expect(labelled(items, 'Without a unit').label).toContain('1 vacant')
    expect(overlaps(whole.box, labelled(items, 'Late').box)).toBe(false)
  })
  it('follow the day', () => {
    expect(labelled(draw('units', model, {}, day('2027-01-01')).items, 'Part').label).toBe(
      'Part: no people, 0 fte, 1 vacant',
    )
  })
  it('are drawn even where they are parts of each other in a circle', () => {
    const circle = facts(unit('A'), unit('B'), tie('part-of', 'A', 'B'), tie('part-of', 'B', 'A'))
    expect(draw('units', circle).items).toHaveLength(2)
  })
  it('are dropped into each other, but not into their own parts', () => {
    const drop = (selection: string, target: string) => {
      const outcome = picture('units').drop?.(wishFor(model, { selection: [id(selection)], target: id(target) }))
      return outcome && isRefusal(outcome) ? outcome.refused : outcome && apply(model, outcome.change).model
    }
    expect(drop('Whole', 'Part')).toContain('would be a circle')
    const moved = drop('Late', 'Part')
    if (typeof moved !== 'object') throw new Error('refused')
    expect(
      inside(labelled(draw('units', moved).items, 'Late').box, labelled(draw('units', moved).items, 'Part').box),
    ).toBe(true)
  })
})

describe('the directory', () => {
  it('shows everyone once a position, unit by unit, and nobody over another', () => {
    const model = marramSoundFerries()
    const { items, headline } = draw('directory', model)
    expect(headline).toMatch(/^66 people/)
    expect(items).toHaveLength(66)
    items.forEach((a, i) => {
      for (const b of items.slice(i + 1)) expect(overlaps(a.box, b.box)).toBe(false)
    })
    expect(draw('directory', model, { vacant: true }).items).toHaveLength(68)
  })
  it('is sorted by name where that is chosen', () => {
    const { items } = draw('directory', marramSoundFerries(), { sorted: 'name' })
    const fleet = items.filter(({ label }) =>
      /Fleet|Master|Watch officer|engineer|Roster|Crewing|Duty|fitter/.test(label),
    )
    const names = fleet.slice(0, 5).map(({ label }) => label)
    expect(names).toEqual([...names].sort((a, b) => a.localeCompare(b, 'en')))
  })
  it('has a face of initials, and over it the photo where there is one', () => {
    const model = facts(
      position('a'),
      person('p', { name: 'Ada Lind', fields: { photo: 'f00' } }),
      tie('holds', 'p', 'a'),
    )
    const marks = JSON.stringify(draw('directory', model).items[0]?.marks)
    expect(marks).toContain('"AL"')
    expect(marks).toContain('"href":"f00"')
  })
})

describe('a comparison with an earlier state of the facts', () => {
  it('shows on one day what has been changed since', () => {
    const then = facts(
      position('head'),
      position('clerk'),
      position('gone'),
      reports('clerk', 'head'),
      reports('gone', 'head'),
    )
    const now = apply(then, {
      label: '',
      steps: [
        { do: 'remove-relation', id: id('reports-to:gone:head') },
        { do: 'remove-entity', id: id('gone') },
        { do: 'set-entity', id: id('clerk'), path: 'name', value: 'Chief clerk' },
      ],
    }).model
    const scene = drawn(registry, now, treeView(), DAY, { model: then, day: DAY })
    expect(scene?.headline).toBe('− 1 gone, ≠ 1 retitled')
  })
})

describe('a position without a title', () => {
  it.each(['tree', 'units', 'directory'])('says nothing in its place: %s', (key) => {
    const scene = draw(key, listed('Ada Holm\n  vacant\n  Ben Aas'), { vacant: true })
    expect(JSON.stringify(scene.items.map(({ marks }) => marks))).not.toContain('Untitled')
    const [card] = scene.items
    if (key === 'tree')
      expect(card?.texts.map(({ part, value }) => [part, value])).toEqual([
        ['holder', 'Ada Holm'],
        ['title', ''],
      ])
  })
})
