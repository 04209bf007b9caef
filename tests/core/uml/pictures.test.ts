import { describe, expect, it } from 'vitest'
import { findingsOf } from '../../../src/core/findings'
import { apply, type Id, type Model } from '../../../src/core/model'
import { drawn } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { sidesOf } from '../../../src/core/notations/uml/pictures/classes/sides'
import { classesOn, type Tie } from '../../../src/core/notations/uml/structure'
import type { Box, Item, Link, Mark, Point, Scene } from '../../../src/core/scene'
import { classModelOf, classView } from '../../classShapes'
import { DAY, day } from '../../facts'
import { isMeeting, textBoxes } from '../../textBoxes'
import { named, rows } from '../network/facts'
import { classModel, textOf } from './facts'

const scene = (model: Model, options: Record<string, boolean> = {}, picture = 'classes', on = DAY): Scene => {
  const found = drawn(registry, model, classView({ options, picture }), on)
  if (!found) throw new Error('nothing is drawn')
  return found
}
const item = (model: Model, of: Scene, name: string): Item => {
  const found = of.items.find(({ id }) => id === named(model, name))
  if (!found) throw new Error(`no item “${name}”`)
  return found
}
const textsOf = (marks: readonly Mark[]): string[] =>
  marks.flatMap((mark) => (mark.tag === 'text' ? [mark.children[0]] : mark.tag === 'g' ? textsOf(mark.children) : []))
const link = (model: Model, of: Scene, kind: string): Link => {
  const [tie] = model.relationsOfKind(kind)
  const found = of.links.find(({ id }) => id === tie?.id)
  if (!found) throw new Error(`no ${kind}`)
  return found
}
const paths = ({ marks }: Link) => marks.flatMap((mark) => (mark.tag === 'path' ? [mark.attrs] : []))

const MODEL = `Shape  (abstract, «root»)
  + area() : Real {abstract}
  - secret : Integer
  + count : Integer {static}
Circle
  is a Shape
  realises Drawable
  owns 1..* Point as points {ordered}  each 0..1 as of  name: lies on
Square
  is a Shape
Point
  knows Shape  not back  not onwards
  uses Colour
Colour  (enumeration)
  red
  blue
Drawable  (interface)`

describe('a class', () => {
  const model = classModel(MODEL)
  it('is a box with its keyword, its name, what it is, and its members in compartments (UML 2.5.1, 9.2.4)', () => {
    const all = scene(model)
    expect(textsOf(item(model, all, 'Shape').marks)).toEqual([
      '«root»',
      'Shape',
      '{abstract}',
      '- secret : Integer',
      '+ count : Integer',
      '+ area() : Real {abstract}',
    ])
    expect(textsOf(item(model, all, 'Colour').marks)).toEqual(['«enumeration»', 'Colour', 'red', 'blue'])
    expect(textsOf(item(model, all, 'Drawable').marks)).toEqual(['«interface»', 'Drawable'])
    expect(all.headline).toBe('6 classes')
  })
  it('hides compartments and private members by choice', () => {
    const shape = (options: Record<string, boolean>) => textsOf(item(model, scene(model, options), 'Shape').marks)
    expect(shape({ private: false })).not.toContain('- secret : Integer')
    expect(shape({ attributes: false })).not.toContain('+ count : Integer')
    expect(shape({ operations: false })).not.toContain('+ area() : Real {abstract}')
  })
  it('shows so many members, and says how many more there are', () => {
    const many = classModel(`A\n${Array.from({ length: 60 }, (_, at) => `  x${at} : Integer`).join('\n')}`)
    const texts = textsOf(item(many, scene(many), 'A').marks)
    expect(texts).toHaveLength(41)
    expect(texts.at(-1)).toBe('… and 21 more')
  })
})

describe('a tie', () => {
  const model = classModel(MODEL)
  const all = scene(model)
  it('of what is special ends in a hollow triangle, drawn once for all that are joined', () => {
    const heads = model
      .relationsOfKind('generalization')
      .map(({ id }) => all.links.find((one) => one.id === id))
      .map((one) => (one ? paths(one).length : 0))
    expect(heads.sort()).toEqual([1, 2])
    const ways = model.relationsOfKind('generalization').flatMap(({ id }) => {
      const d = all.links.find((one) => one.id === id)?.marks[0]
      return d?.tag === 'path' ? [d.attrs.d.split(/[ML]/).slice(-2)] : []
    })
    // Both come to the same place, straight from beneath.
    expect(new Set(ways.map(([, last]) => last)).size).toBe(1)
    expect(new Set(ways.flat().map((point) => point.split(' ')[0])).size).toBe(1)
  })
  it('of what realises is dashed with a hollow triangle, of what depends dashed with an open head', () => {
    expect(paths(link(model, all, 'realization')).map((one) => [one['stroke-dasharray'], one.fill])).toEqual([
      ['5 3', 'none'],
      [undefined, 'sheet'],
    ])
    expect(paths(link(model, all, 'dependency')).map((one) => [one['stroke-dasharray'], one.fill])).toEqual([
      ['5 3', 'none'],
      [undefined, 'none'],
    ])
    expect(textsOf(link(model, all, 'dependency').marks)).toEqual(['«use»'])
  })
  it('of a whole has a filled diamond, an arrow where it leads and words at both ends', () => {
    const owns = link(model, all, 'association')
    expect(paths(owns).map(({ fill }) => fill)).toEqual(['none', 'line', 'none'])
    expect(textsOf(owns.marks)).toEqual(['of 0..1', 'lies on', 'points 1..* {ordered}'])
    expect(textsOf(link(model, scene(model, { ends: false }), 'association').marks)).toEqual([])
  })
  it('has a cross where nobody gets by it', () => {
    const [, knows] = model.relationsOfKind('association')
    const found = all.links.find(({ id }) => id === knows?.id)
    expect(found && paths(found).length).toBe(3)
  })
  it('from a class to itself loops at its side', () => {
    const self = classModel('A\n  has * A as parts')
    const [way] = paths(link(self, scene(self), 'association'))
    const { x, width } = item(self, scene(self), 'A').box
    expect(way?.d.startsWith(`M${x + width} `)).toBe(true)
  })
})

describe('words of ties', () => {
  it('lie on no others, and those of loops on no class, however long they are', () => {
    const faults: string[] = []
    for (let seed = 1; seed <= 40; seed++) {
      const model = classModelOf({ classes: 4 + (seed % 14), ties: 4 + (seed % 20), loops: 3, seed })
      const all = scene(model)
      const texts = textBoxes(all)
      texts.forEach((one, at) => {
        for (const other of texts.slice(at + 1))
          if (isMeeting(one, other)) faults.push(`${seed}: “${one.text}” on “${other.text}”`)
        const tied = model.relations.get(one.of as Id)
        if (!tied || tied.source !== tied.target) return
        for (const { label, box, marks } of all.items)
          if (marks.length > 0 && isMeeting(one, box)) faults.push(`${seed}: “${one.text}” on ${label}`)
      })
    }
    expect(faults).toEqual([])
  })
  it('stand beside each of several loops, and the class is as high as they are', () => {
    const model = classModel('A\n  has * A as parts\n  has 1 A as whole  each 1 as other\n  has 0..1 A as next')
    const all = scene(model)
    const { box } = item(model, all, 'A')
    const ys = all.links.flatMap(({ marks }) => marks.flatMap((mark) => (mark.tag === 'text' ? [mark.attrs.y] : [])))
    expect(ys).toEqual([...ys].sort((a, b) => a - b))
    expect(new Set(ys).size).toBe(4)
    expect(Math.max(...ys)).toBeLessThan(box.y + box.height)
  })
  it('stand to the left of their line where another one runs through their place, if there is room', () => {
    const [tie, other] = classesOn(classModelOf({ classes: 3, ties: 2, seed: 2 }), DAY).ties.filter(
      ({ a, b }) => a !== b,
    )
    if (!tie || !other) throw new Error('no ties')
    const words = (of: Tie) => ({ a: of === tie ? ['responsible for'] : [], b: [] })
    const own = [
      { x: 100, y: 50 },
      { x: 100, y: 150 },
    ]
    const sideWith = (way: readonly Point[], classes: readonly Box[] = []) =>
      sidesOf(
        new Map([
          [tie, own],
          [other, way],
        ]),
        words,
        classes,
      ).get(tie)?.a
    const upright = (x: number) => [
      { x, y: 0 },
      { x, y: 200 },
    ]
    expect(sideWith(upright(130))).toBe('left')
    expect(sideWith(upright(300))).toBeUndefined()
    expect(sideWith(upright(70))).toBeUndefined()
    // Nowhere better to the left: they stay where words are looked for.
    expect(sideWith(upright(130), [{ x: 40, y: 40, width: 50, height: 30 }])).toBeUndefined()
    const level = [
      { x: 0, y: 58 },
      { x: 200, y: 58 },
    ]
    expect(sideWith(level)).toBeUndefined()
  })
  it('begin where the picture does: no empty room before it', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const { bounds, items, links } = scene(classModelOf({ classes: 8, ties: 12, seed }))
      const drawnBoxes = items.filter(({ marks }) => marks.length > 0).map(({ box }) => box)
      const points = links.flatMap(({ marks }) =>
        marks.flatMap((mark) => (mark.tag === 'path' ? [...mark.attrs.d.matchAll(/(-?[\d.]+) (-?[\d.]+)/g)] : [])),
      )
      const top = Math.min(...drawnBoxes.map(({ y }) => y), ...points.map(([, , y]) => Number(y)))
      expect(top - bounds.y, `seed ${seed}`).toBeLessThan(16)
    }
  })
})

describe('two days compared', () => {
  it('mark what is new and what has changed, and list what is gone', () => {
    const model = classModel('A\n  x : Integer\nB  since 2026-11-01\n  is an A\nC  until 2026-10-01')
    const now = drawn(registry, model, classView(), DAY, { model, day: day('2026-09-01') })
    if (!now) throw new Error('not drawn')
    expect(item(model, now, 'B').label).toMatch(/: new/)
    expect(now.items.find(({ id }) => id === named(model, 'C'))?.label).toMatch(/C/)
    expect(textsOf(now.backdrop)).toContain('− No longer there')
    expect(scene(model, {}, 'classes', day('2026-09-01')).headline).toBe('2 classes')
  })
})

describe('packages', () => {
  const model = classModel(`p  (package)
  A
    has B
    uses C
  inner  (package)
    I
q  (package)
  B
    uses A
r  (package)
  C`)
  const all = scene(model, {}, 'packages')
  it('are drawn with their classes, and how many ties lead from one to another', () => {
    expect(all.headline).toBe('4 packages, 1 circle')
    expect(textsOf(item(model, all, 'p').marks)).toEqual(['p', 'A'])
    expect(textsOf(item(model, all, 'inner').marks)).toEqual(['p::inner', 'I'])
    expect(textsOf(item(model, scene(model, { classes: false }, 'packages'), 'p').marks)).toEqual(['p'])
  })
  it('are met by lines at their bodies or their tabs', () => {
    for (const one of all.links) {
      const [x = 0, y = 0] = (paths(one)[0]?.d ?? '').split('L').at(-1)?.split(' ').map(Number) ?? []
      const box = all.items.find(({ id }) => id === one.target)?.box
      if (!box) throw new Error('a line to nothing')
      const isOnTab = Math.abs(y - box.y) < 0.01
      const isOnBody = Math.abs(y - box.y - 15) < 0.01 || x <= box.x || x >= box.x + box.width
      expect(isOnTab ? x - box.x < 50 : isOnBody || y >= box.y + box.height).toBe(true)
    }
  })
  it('are walked, and the sheet opens, from the top down', () => {
    const tops = all.items.map(({ box }) => box.y)
    expect(tops).toEqual([...tops].sort((a, b) => a - b))
  })
  it('that depend on each other are bold, and so are the lines between them', () => {
    const weights = new Map(all.links.map((one) => [`${one.source} ${one.target}`, paths(one)[0]?.['stroke-width']]))
    const of = (a: string, b: string) => weights.get(`${named(model, a)} ${named(model, b)}`)
    expect([of('p', 'q'), of('q', 'p'), of('p', 'r')]).toEqual([2.6, 2.6, 1.2])
  })
})

describe('a model out of all proportion', () => {
  it('is drawn as far as somebody waits, and the headline says how far', () => {
    const many = classModelOf({ classes: 1300, ties: 60, packages: 0, named: false })
    const all = scene(many)
    expect(all.headline).toMatch(/^1,200 of 1,300 classes, \d+ of 60 ties: show one package$/)
    expect(all.items.filter(({ id }) => id.startsWith('c'))).toHaveLength(1200)
    const dense = classModelOf({ classes: 60, ties: 2400, packages: 60, named: false })
    expect(scene(dense, {}, 'packages').headline).toMatch(/^60 packages, \d circles?, 600 of [\d,]+ dependencies$/)
    expect(scene(dense, {}, 'packages').links).toHaveLength(600)
  })
})

describe('facts that contradict themselves', () => {
  const stated = classModel(
    'p  (package)\n  q  (package)\n    A\n      is a B\n      owns 1..* A  each 0..*\n    B\n      is an A\n      uses B\nr  (package)',
  )
  const step = (name: string, into: string) =>
    ({ do: 'set-entity', id: named(stated, name), path: 'fields.package', value: named(stated, into) }) as const
  it.each([
    ['a package within one that is within it', [step('p', 'q')]],
    ['a package within itself', [step('r', 'r')]],
    ['a package within what is none', [step('r', 'A')]],
  ] as const)('are drawn, told and counted all the same: %s', (_, steps) => {
    const { model } = apply(stated, { label: '', steps })
    for (const picture of ['classes', 'packages']) expect(scene(model, {}, picture).items.length).toBeGreaterThan(2)
    expect(textOf(model)).toContain('is an A')
    expect(findingsOf(registry, model, DAY).filter(({ failed }) => failed)).toEqual([])
    for (const sheet of ['uml/classes', 'uml/packages']) expect(rows(sheet, model).length).toBeGreaterThan(1)
  })
})
