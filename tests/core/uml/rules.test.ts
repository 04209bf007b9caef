import { describe, expect, it } from 'vitest'
import { apply, asId, isId, Model, type Day } from '../../../src/core/model'
import { registry } from '../../../src/core/notations'
import { DAY, day } from '../../facts'
import { findings, mended, named } from '../network/facts'
import { classModel } from './facts'

interface Case {
  readonly rule: string
  /** What is at fault, from a day on; and what is not. */
  readonly wrong: string
  readonly right: string
  /** Words of the finding. */
  readonly says: string
  /** Which of its fixes leaves nothing to be found. */
  readonly fix?: number
  /** Before this day nothing was wrong. */
  readonly since: string
}

const CASES: readonly Case[] = [
  {
    rule: 'uml/generalization-cycle',
    wrong: 'A\n  is a B\nB\n  is a C\nC\n  is an A  since 2026-03-01',
    right: 'A\n  is a B\n  is a C\nB\n  is a C\nC',
    says: '“A”, “B”, “C” are kinds of each other',
    fix: 0,
    since: '2026-03-01',
  },
  {
    rule: 'uml/leaf-specialised',
    wrong: 'A  (final)\nB\n  is an A  since 2026-03-01',
    right: 'A\nB  (final)\n  is an A',
    says: '“B” is a kind of “A”, which is final',
    fix: 0,
    since: '2026-03-01',
  },
  {
    rule: 'uml/duplicate-name',
    wrong: 'A\n  x : Integer\n  x : String  since 2026-03-01',
    right: 'p  (package)\n  A\n    run(a : Integer)\n    run(a : String)\nq  (package)\n  A',
    says: '“x” stands twice in “A”',
    fix: 0,
    since: '2026-03-01',
  },
  {
    rule: 'uml/composite-shared',
    wrong: 'A\n  owns * P\nB\n  owns * P  each 1  since 2026-03-01\nP',
    right: 'A\n  owns * P  each 0..1\nB\n  owns * P  each 0..1\nP',
    says: '“P” is owned by “A” and by “B”',
    fix: 0,
    since: '2026-03-01',
  },
  {
    rule: 'uml/unknown-type',
    wrong: 'A\n  x : Money  since 2026-03-01',
    right: 'Money  (data type)\nA\n  x : Money\n  of(list : Money) : Integer',
    says: '“Money” is the type of a member of “A”, and nobody states it',
    fix: 0,
    since: '2026-03-01',
  },
  {
    rule: 'uml/missing-operation',
    wrong: 'Shape  (abstract)\n  + area() : Real {abstract}\nCircle\n  is a Shape  since 2026-03-01',
    right:
      'Shape  (abstract)\n  + area() : Real {abstract}\nRound  (abstract)\n  is a Shape\nCircle\n  is a Round\n  + area() : Real',
    says: '“Circle” is not abstract, but has no “area() : Real”, which “Shape” leaves open',
    fix: 0,
    since: '2026-03-01',
  },
  {
    rule: 'uml/abstract-in-concrete',
    wrong: 'A\n  run() {abstract}  since 2026-03-01',
    right: 'A  (abstract)\n  run() {abstract}\nI  (interface)\n  go() {abstract}',
    says: '“run” is abstract, but “A” is not',
    fix: 0,
    since: '2026-03-01',
  },
  {
    rule: 'uml/override-signature',
    wrong: 'A\n  put(a : Integer) : Real\nB\n  is an A\n  put(a : String) : Real  since 2026-03-01',
    right: 'D\nE\n  is a D\nA\n  put(a : Integer) : D\nB\n  is an A\n  put(a : Integer) : E\n  put()',
    says: '“put(a : String) : Real” of “B” differs',
    fix: 0,
    since: '2026-03-01',
  },
  {
    rule: 'uml/attribute-shadows',
    wrong: 'A\n  # x : Integer\nB\n  is an A\n  x : Integer  since 2026-03-01',
    right: 'A\n  - x : Integer\nB\n  is an A\n  x : Integer',
    says: '“x” of “B” hides that of “A”',
    fix: 0,
    since: '2026-03-01',
  },
  {
    rule: 'uml/isolated',
    wrong: 'A\n  has B\nB\nC  since 2026-03-01',
    right: 'A\n  has B\nB\n  x : C\nC',
    says: '“C” is tied to no other class',
    since: '2026-03-01',
  },
  {
    rule: 'uml/package-cycle',
    wrong: 'p  (package)\n  A\n    has B\nq  (package)\n  B\n    uses A  since 2026-03-01',
    right: 'p  (package)\n  A\n    has B\nq  (package)\n  B\n  C\n    uses B',
    says: '“p”, “q” depend on each other, by 2',
    since: '2026-03-01',
  },
]

describe.each(CASES)('$rule', ({ rule, wrong, right, says, fix, since }) => {
  const before = (on: string): Day => {
    const [year, month] = on.split('-')
    return day(`${year ?? ''}-${String(Number(month) - 1).padStart(2, '0')}-15`)
  }
  it('finds what is wrong from the day on which it is, and says it', () => {
    const model = classModel(wrong)
    expect(findings(rule, model, DAY).map(({ message }) => message)).toEqual([expect.stringContaining(says) as string])
    expect(findings(rule, model, before(since))).toEqual([])
  })
  it('finds nothing where nothing is wrong', () => {
    expect(findings(rule, classModel(right))).toEqual([])
  })
  it('is mended by its fix, where there is one', () => {
    const [found] = findings(rule, classModel(wrong))
    expect(found?.fixes.length === 0).toBe(fix === undefined)
    if (fix !== undefined) expect(mended(rule, classModel(wrong), fix)).toEqual([])
  })
})

describe('uml/multiplicity', () => {
  const model = (field: string, value: string): Model => {
    const stated = classModel('A\n  x : Integer [1]\n  has 1 B as b  each 1\nB')
    const attribute = named(stated, 'x')
    const [tie] = stated.relationsOfKind('association')
    if (!tie) throw new Error('no tie')
    const step =
      field === 'multiplicity'
        ? ({ do: 'set-entity', id: attribute, path: 'fields.multiplicity', value } as const)
        : ({ do: 'set-relation', id: tie.id, path: `fields.${field}`, value } as const)
    return apply(stated, { label: 'Set it', steps: [step] }).model
  }
  it.each([
    ['multiplicity', '5..2', '“x” of “A”'],
    ['sourceMultiplicity', 'x y', 'The end at “A”'],
    ['targetMultiplicity', '1..', 'The end at “B”'],
  ])('finds a faulty one at %s, and leaves it out', (field, value, says) => {
    const wrong = model(field, value)
    expect(findings('uml/multiplicity', wrong)).toEqual([
      expect.objectContaining({ message: expect.stringContaining(says) as string }),
    ])
    expect(mended('uml/multiplicity', wrong)).toEqual([])
    expect(findings('uml/multiplicity', wrong, day('1999-01-01'))).toHaveLength(1)
  })
  it('takes every one of the grammar', () => {
    for (const value of ['0..1', '*', '2..MAX'])
      expect(findings('uml/multiplicity', model('targetMultiplicity', value))).toEqual([])
  })
})

describe('some more of them', () => {
  it('an owner of whom there may be many is no owner', () => {
    const wrong = classModel('A\n  owns * P  each 0..*\nP')
    expect(findings('uml/composite-shared', wrong)[0]?.message).toContain('would belong to 0..* “A” at once')
    expect(mended('uml/composite-shared', wrong)).toEqual([])
  })
  it('an interface is asked of all that are a kind of what realises it', () => {
    const model = classModel('I  (interface)\n  + go(to : Integer)\nA  (abstract)\n  realises I\nB\n  is an A')
    expect(findings('uml/missing-operation', model)[0]?.message).toContain(
      '“B” is not abstract, but has no “go(to : Integer)”, which “I” asks for',
    )
    expect(mended('uml/missing-operation', model, 1)).toEqual([])
  })
  it('what a fix states has an identity that is taken, however long those are that it comes from', () => {
    const long = (key: string) => key.repeat(60)
    const stated = classModel('A  (abstract)\n  run() {abstract}\nB\n  is an A\n  x : M')
    const ids = new Map([...stated.entities.keys()].map((one) => [one, asId(long(one.slice(-1)))]))
    const to = (one: string) => ids.get(asId(one)) ?? one
    const model = Model.of({
      entities: [...stated.entities.values()].map((one) => ({
        ...one,
        id: asId(to(one.id)),
        fields: Object.fromEntries(
          Object.entries(one.fields).map(([key, value]) => [key, typeof value === 'string' ? to(value) : value]),
        ),
      })),
      relations: [...stated.relations.values()].map((one) => ({
        ...one,
        source: asId(to(one.source)),
        target: asId(to(one.target)),
      })),
    })
    for (const rule of ['uml/missing-operation', 'uml/unknown-type']) {
      const [found] = findings(rule, model)
      const steps = found?.fixes[0]?.change.steps ?? []
      expect(steps).toHaveLength(1)
      for (const step of steps) if (step.do === 'add-entity') expect(isId(step.entity.id)).toBe(true)
      expect(mended(rule, model)).toEqual([])
    }
  })
  it('every rule names its source, and a finding only facts that are there', () => {
    const rules = [...registry.rules.values()].filter(({ id }) => id.startsWith('uml/'))
    expect(rules.length).toBeGreaterThanOrEqual(12)
    for (const rule of rules) expect(rule.source, rule.id).toMatch(/UML 2\.5\.1|Common practice|Martin/)
    for (const { rule, wrong } of CASES) {
      const model = classModel(wrong)
      for (const { subjects } of findings(rule, model))
        for (const id of subjects) expect(model.entities.has(id) || model.relations.has(id), rule).toBe(true)
    }
  })
})
