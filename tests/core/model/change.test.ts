import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  apply,
  clashes,
  compose,
  difference,
  Model,
  ModelError,
  stepsBetween,
  type Change,
  type Step,
} from '../../../src/core/model'
import { day, facts, id, person, position, reports, tie, treeView } from '../../facts'

const small = facts(position('a'), position('b'), person('p'), reports('b', 'a'), tie('holds', 'p', 'b'))

const change = (...steps: Step[]): Change => ({ label: 'test', steps })
const sorted = (model: Model) => ({
  name: model.name,
  settings: model.settings,
  entities: [...model.entities.values()].sort((a, b) => (a.id < b.id ? -1 : 1)),
  relations: [...model.relations.values()].sort((a, b) => (a.id < b.id ? -1 : 1)),
  views: [...model.views.values()].sort((a, b) => (a.id < b.id ? -1 : 1)),
})

const ids = fc.constantFrom('a', 'b', 'p', 'q', 'r').map((text) => id(text))
const value = fc.oneof(fc.string({ maxLength: 8 }), fc.integer(), fc.boolean(), fc.constant(null))
const days = fc.constantFrom('2025-01-01', '2026-02-28', null)
const anyStep: fc.Arbitrary<Step> = fc.oneof(
  ids.map((one): Step => ({ do: 'add-entity', entity: position(one) })),
  ids.map((one): Step => ({ do: 'remove-entity', id: one })),
  fc
    .record({ id: ids, path: fc.constantFrom('name', 'fields.grade', 'fields.fte'), value })
    .map((set): Step => ({ do: 'set-entity', ...set })),
  fc
    .record({ id: ids, path: fc.constantFrom('from', 'to'), value: days })
    .map((set): Step => ({ do: 'set-entity', ...set })),
  fc.record({ s: ids, t: ids }).map(({ s, t }): Step => ({ do: 'add-relation', relation: reports(s, t) })),
  fc.record({ s: ids, t: ids }).map(({ s, t }): Step => ({ do: 'remove-relation', id: reports(s, t).id })),
  fc
    .record({ s: ids, t: ids, u: ids })
    .map(({ s, t, u }): Step => ({ do: 'set-relation', id: reports(s, t).id, path: 'target', value: u })),
  fc.constantFrom('New', 'Old').map((title): Step => ({ do: 'set-view', id: id('view'), path: 'title', value: title })),
  fc.integer().map((n): Step => ({ do: 'set-view', id: id('view'), path: 'options.levels', value: n })),
  fc.constantFrom('x', 'y').map((name): Step => ({ do: 'set-workspace', path: 'name', value: name })),
  fc
    .option(fc.constantFrom('dark', 'grey'))
    .map((tone): Step => ({ do: 'set-workspace', path: 'look.tone', value: tone })),
  fc
    .option(fc.constantFrom(['House', '#112233'], ['Other', '#445566', 'thin lines']))
    .map((words): Step => ({ do: 'set-workspace', path: 'themes.own', value: words })),
  fc.option(fc.integer()).map((n): Step => ({ do: 'set-workspace', path: 'thresholds.org/wide-span', value: n })),
)

describe('a change', () => {
  it('is undone to the letter by its inverse, whatever its steps', () => {
    let applied = 0
    fc.assert(
      fc.property(fc.array(anyStep, { maxLength: 12 }), (steps) => {
        // Steps that do not fit are left out one by one, so that long changes are met too.
        const fitting: Step[] = []
        let model = small
        for (const step of steps) {
          try {
            model = apply(model, change(step)).model
            fitting.push(step)
          } catch (error) {
            expect(error).toBeInstanceOf(ModelError)
          }
        }
        const { model: next, inverse } = apply(small, change(...fitting))
        applied += fitting.length
        expect(sorted(next)).toEqual(sorted(model))
        expect(sorted(apply(next, inverse).model)).toEqual(sorted(small))
      }),
      { numRuns: 400 },
    )
    expect(applied).toBeGreaterThan(400)
  })

  it('is made whole or not at all, and names the step that does not fit', () => {
    const bad = change(
      { do: 'set-entity', id: id('a'), path: 'name', value: 'x' },
      { do: 'remove-entity', id: id('z') },
    )
    expect(() => apply(small, bad)).toThrow('Step 2 of “test”: there is no entity “z”.')
    expect(small.entities.get(id('a'))?.name).toBe('a')
  })

  it.each([
    ['set-entity', 'colour'],
    ['set-entity', 'fields.__proto__'],
    ['set-view', 'notation'],
    ['set-relation', 'id'],
  ] as const)('refuses a %s of “%s”', (sort, path) => {
    const target = sort === 'set-view' ? id('view') : sort === 'set-relation' ? reports('b', 'a').id : id('a')
    expect(() => apply(small, change({ do: sort, id: target, path, value: 'x' }))).toThrow(ModelError)
  })

  it('never clears a name', () => {
    expect(() => apply(small, change({ do: 'set-entity', id: id('a'), path: 'name', value: null }))).toThrow(
      /cannot be empty/,
    )
  })
})

describe('two changes', () => {
  const rename = (key: string): Step[] => [{ do: 'set-entity', id: id(key), path: 'name', value: 'x' }]
  const grade: Step[] = [{ do: 'set-entity', id: id('a'), path: 'fields.grade', value: 'x' }]

  it('of one field clash', () => expect(clashes(rename('a'), rename('a'))).toEqual(['entity/a/name']))
  it('of two fields of one entity do not', () => expect(clashes(rename('a'), grade)).toEqual([]))
  it('clash when one takes away what the other writes', () => {
    expect(clashes([{ do: 'remove-entity', id: id('a') }], grade)).toEqual(['entity/a'])
    expect(clashes(grade, [{ do: 'remove-entity', id: id('a') }])).toEqual(['entity/a'])
  })
  it('clash when one ties to what the other takes away', () => {
    const tied: Step[] = [{ do: 'add-relation', relation: reports('b', 'a') }]
    expect(clashes(tied, [{ do: 'remove-entity', id: id('a') }])).toEqual(['entity/a'])
  })
  it('clash, by whichever of the two it is that takes away what the other ties to', () => {
    const tied: Step[] = [{ do: 'add-relation', relation: reports('b', 'a') }]
    const led: Step[] = [{ do: 'set-relation', id: reports('b', 'a').id, path: 'target', value: id('c') }]
    expect(clashes([{ do: 'remove-entity', id: id('a') }], tied)).toEqual(['entity/a'])
    expect(clashes([{ do: 'remove-entity', id: id('c') }], led)).toEqual(['entity/c'])
    expect(clashes(led, [{ do: 'remove-entity', id: id('c') }])).toEqual(['entity/c'])
    expect(clashes([{ do: 'remove-entity', id: id('b') }], led)).toEqual([])
  })
  it('that tie different things to one entity do not clash', () => {
    expect(
      clashes(
        [{ do: 'add-relation', relation: reports('b', 'a') }],
        [{ do: 'add-relation', relation: reports('c', 'a') }],
      ),
    ).toEqual([])
  })

  it('that do not clash give the same facts in either order', () => {
    fc.assert(
      fc.property(anyStep, anyStep, (one, other) => {
        if (clashes([one], [other]).length > 0) return
        const inOrder = (first: Step, second: Step) =>
          sorted(apply(apply(small, change(first)).model, change(second)).model)
        let expected
        try {
          expected = inOrder(one, other)
          inOrder(other, one)
        } catch (error) {
          expect(error).toBeInstanceOf(ModelError)
          return
        }
        expect(inOrder(other, one)).toEqual(expected)
      }),
      { numRuns: 500 },
    )
  })

  it('compose to one that does both, keeping only the last write of a path', () => {
    const first = change({ do: 'set-entity', id: id('a'), path: 'name', value: 'one' })
    const second = change({ do: 'set-entity', id: id('a'), path: 'name', value: 'two' }, ...grade)
    const both = compose(first, second)
    expect(both.steps).toHaveLength(2)
    expect(apply(small, both).model.entities.get(id('a'))).toMatchObject({ name: 'two', fields: { grade: 'x' } })
  })
  it('compose to one that does both, whatever they do', () => {
    let composed = 0
    fc.assert(
      fc.property(fc.array(anyStep, { maxLength: 6 }), fc.array(anyStep, { maxLength: 6 }), (one, other) => {
        let expected
        try {
          expected = apply(apply(small, change(...one)).model, change(...other)).model
        } catch (error) {
          expect(error).toBeInstanceOf(ModelError)
          return
        }
        composed += one.length * other.length > 0 ? 1 : 0
        expect(sorted(apply(small, compose(change(...one), change(...other))).model)).toEqual(sorted(expected))
      }),
      { seed: 2026, numRuns: 2000 },
    )
    expect(composed).toBeGreaterThan(50)
  })
  it('compose without moving a write before what it is written to was made', () => {
    const name = (value: string): Step => ({ do: 'set-entity', id: id('c'), path: 'name', value })
    const first = change({ do: 'add-entity', entity: position('c') }, name('one'))
    const second = change(
      { do: 'remove-entity', id: id('c') },
      { do: 'add-entity', entity: position('c') },
      name('two'),
      name('three'),
    )
    const both = compose(first, second)
    expect(both.steps).toHaveLength(5)
    expect(apply(small, both).model.entities.get(id('c'))?.name).toBe('three')
  })
})

describe('the difference of two models', () => {
  it('names what was added, what is gone, and which paths differ', () => {
    const later = apply(small, {
      label: '',
      steps: [
        { do: 'add-entity', entity: position('c') },
        { do: 'set-entity', id: id('a'), path: 'fields.grade', value: 'G1' },
        { do: 'set-entity', id: id('a'), path: 'to', value: day('2027-01-31') },
        { do: 'remove-relation', id: reports('b', 'a').id },
      ],
    }).model
    const { entities, relations } = difference(small, later)
    expect(entities.added.map((one) => one.id)).toEqual(['c'])
    expect(entities.altered.map(({ paths }) => paths)).toEqual([['fields.grade', 'to']])
    expect(relations.removed.map((one) => one.kind)).toEqual(['reports-to'])
  })
  it('is empty between a model and itself', () => {
    const { entities, relations } = difference(small, small)
    expect([entities, relations]).toEqual([
      { added: [], removed: [], altered: [] },
      { added: [], removed: [], altered: [] },
    ])
  })
})

describe('the steps between two models', () => {
  it('lead from the one to the other, whatever has been done to it', () => {
    fc.assert(
      fc.property(fc.array(anyStep, { maxLength: 15 }), (steps) => {
        let model = small
        for (const step of steps) {
          try {
            model = apply(model, change(step)).model
          } catch (error) {
            expect(error).toBeInstanceOf(ModelError)
          }
        }
        expect(sorted(apply(small, change(...stepsBetween(small, model))).model)).toEqual(sorted(model))
        expect(sorted(apply(model, change(...stepsBetween(model, small))).model)).toEqual(sorted(small))
      }),
      { numRuns: 300 },
    )
  })
})

describe('the indexes of a model', () => {
  it('follow its relations from either end, and are handed on when only entities change', () => {
    expect(small.leaving(id('b'), 'reports-to').map((one) => one.target)).toEqual(['a'])
    expect(small.reaching(id('b')).map((one) => one.kind)).toEqual(['holds'])
    const renamed = apply(small, change({ do: 'set-entity', id: id('a'), path: 'name', value: 'x' })).model
    expect(renamed.leaving(id('b'))).toBe(small.leaving(id('b')))
    expect(renamed.ofKind('position').map((one) => one.name)).toEqual(['x', 'b'])
  })
  it('see a new relation', () => {
    const more = apply(small, change({ do: 'add-relation', relation: reports('a', 'b') })).model
    expect(more.leaving(id('a')).map((one) => one.target)).toEqual(['b'])
  })
  it('keep the view', () => expect(small.views.get(id('view'))).toEqual(treeView()))
})
