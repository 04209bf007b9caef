import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Model } from '../../src/core/model'
import { classesOn, type Classifier } from '../../src/core/notations/uml/structure'
import { classModelOf } from '../classShapes'
import { classModel } from '../core/uml/facts'
import { rows } from '../core/network/facts'
import { DAY } from '../facts'

const of = (model: Model, path: string, key: string, name: string) =>
  rows(path, model).find((row) => row[key] === name) ?? {}

/** The longest way up by trying each. */
const longestUp = (one: Classifier, seen: readonly Classifier[] = []): number =>
  one.parents
    .filter((parent) => !seen.includes(parent))
    .reduce((most, parent) => Math.max(most, 1 + longestUp(parent, [...seen, one])), 0)

describe('numbers of classes (Chidamber & Kemerer 1994: DIT, NOC, CBO)', () => {
  it('depth is the longest way up, children those right beneath, coupling counts either direction and no kinds', () => {
    const model = classModel(
      'A\n  x : D\nB\n  is an A\nC\n  is a B\n  is an A\n  has D\n  uses E\nD\n  run(e : E) : Integer\nE\nF\n  has F',
    )
    expect(of(model, 'uml/classes', 'class', 'C')).toMatchObject({ depthOfInheritance: 2, children: 0, coupling: 2 })
    expect(of(model, 'uml/classes', 'class', 'A')).toMatchObject({ depthOfInheritance: 0, children: 2, coupling: 1 })
    // D is named by A, held by C, and names E.
    expect(of(model, 'uml/classes', 'class', 'D')).toMatchObject({ coupling: 3, operations: 1, attributes: 0 })
    // To itself nothing is coupled.
    expect(of(model, 'uml/classes', 'class', 'F')).toMatchObject({ coupling: 0 })
  })
  it('depth equals the longest of all ways over random models', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 14 }),
        fc.integer({ min: 0, max: 40 }),
        fc.nat(9999),
        (classes, ties, seed) => {
          const model = classModelOf({ classes, ties: classes < 2 ? 0 : ties, seed })
          const all = classesOn(model, DAY)
          const found = new Map(rows('uml/classes', model).map((row) => [row['id'], row['depthOfInheritance']]))
          for (const one of all.classes) expect(found.get(one.id)).toBe(longestUp(one))
        },
      ),
      { numRuns: 150, seed: 2026 },
    ))
  it('a circle of kinds ends', () => {
    const model = classModel('A\n  is a B\nB\n  is a C\nC\n  is an A')
    for (const row of rows('uml/classes', model)) expect(row['depthOfInheritance']).toBeLessThanOrEqual(3)
  })
})

describe('numbers of packages (Martin 1994)', () => {
  // Three classes outside depend on it, one of its own depends on one outside: instability 1 ⁄ 4. The example is from memory.
  const model = classModel(`a  (package)
  Q
    uses T
  R
    uses U
b  (package)
  S
    uses U
c  (package)
  T
    uses V
  U  (abstract)
d  (package)
  V`)
  it('count the classes that depend on it and on others, and what follows from that', () => {
    expect(of(model, 'uml/packages', 'package', 'c')).toMatchObject({
      afferent: 3,
      efferent: 1,
      instability: 0.25,
      abstractness: 0.5,
      distance: 0.25,
    })
    expect(of(model, 'uml/packages', 'package', 'a')).toMatchObject({ afferent: 0, efferent: 2, instability: 1 })
    expect(of(model, 'uml/packages', 'package', 'd')).toMatchObject({ afferent: 1, efferent: 0, instability: 0 })
  })
  it('say nothing of a package that nothing hangs on', () => {
    const alone = classModel('p  (package)\n  A')
    expect(of(alone, 'uml/packages', 'package', 'p')).toMatchObject({
      instability: null,
      abstractness: 0,
      distance: null,
    })
  })
  it('take types of members and associations both ways as dependencies', () => {
    const both = classModel('p  (package)\n  A\n    x : B\nq  (package)\n  B\n    has C  both ways\nr  (package)\n  C')
    expect(of(both, 'uml/packages', 'package', 'p')).toMatchObject({ efferent: 1 })
    expect(of(both, 'uml/packages', 'package', 'q')).toMatchObject({ afferent: 2, efferent: 1 })
    expect(of(both, 'uml/packages', 'package', 'r')).toMatchObject({ afferent: 1, efferent: 1 })
  })
})
