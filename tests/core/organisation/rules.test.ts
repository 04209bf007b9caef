import { describe, expect, it } from 'vitest'
import { findingsOf } from '../../../src/core/findings'
import type { Day, Model } from '../../../src/core/model'
import { registry } from '../../../src/core/notations'
import { marramSoundFerries } from '../../../src/demo'
import { after, DAY, day, facts, id, listed, person, position, reports, tie } from '../../facts'

const found = (rule: string, model: Model, on: Day = DAY) =>
  findingsOf(registry, model, on).filter((finding) => finding.rule === rule)
const subjects = (rule: string, model: Model, on?: Day) => found(rule, model, on).map((finding) => finding.subjects[0])

/** Every fix of every finding of a rule must make that finding go away. */
function expectFixesToMend(rule: string, model: Model, on: Day = DAY): void {
  const fixes = found(rule, model, on).flatMap((finding) => finding.fixes)
  expect(fixes.length).toBeGreaterThan(0)
  for (const fix of fixes) {
    const before = found(rule, model, on).length
    expect(found(rule, after(model, fix.change), on).length, fix.label).toBeLessThan(before)
  }
}

describe('org/cycle', () => {
  const circle = facts(
    position('a'),
    position('b'),
    position('c'),
    position('d'),
    reports('a', 'b'),
    reports('b', 'c'),
    reports('c', 'a'),
    reports('d', 'a'),
  )
  it('finds positions that report to each other in a circle, and those only', () => {
    expect(found('org/cycle', circle).map((finding) => [...finding.subjects].sort())).toEqual([['a', 'b', 'c']])
    expectFixesToMend('org/cycle', circle)
  })
  it('finds none in a tree', () => expect(found('org/cycle', listed('A\n  B\n    C\n  D'))).toEqual([]))
  it('finds none where the lines are not in force together, and finds the day on which they are', () => {
    const apart = facts(
      position('a'),
      position('b'),
      reports('a', 'b', { to: day('2026-06-30') }),
      reports('b', 'a', { from: day('2026-07-01') }),
    )
    expect(found('org/cycle', apart)).toEqual([])
    const later = facts(position('a'), position('b'), reports('a', 'b'), reports('b', 'a', { from: day('2027-03-01') }))
    expect(found('org/cycle', later)[0]?.message).toContain('1 Mar 2027')
  })
  it('does not count dotted lines', () => {
    expect(
      found(
        'org/cycle',
        facts(position('a'), position('b'), reports('a', 'b'), reports('b', 'a', { fields: { line: 'dotted' } })),
      ),
    ).toEqual([])
  })
})

describe('org/self-report', () => {
  it('finds a line to itself, and nothing else', () => {
    const model = facts(position('a'), position('b'), reports('a', 'a'), reports('b', 'a'))
    expect(subjects('org/self-report', model)).toEqual(['a'])
    expectFixesToMend('org/self-report', model)
    expect(found('org/self-report', facts(position('a'), position('b'), reports('b', 'a')))).toEqual([])
  })
})

describe('org/two-managers', () => {
  const two = (first: object, second: object) =>
    facts(position('x'), position('a'), position('b'), reports('x', 'a', first), reports('x', 'b', second))
  it('finds two solid lines on one day, with the days they share', () => {
    const model = two({ to: day('2026-12-31') }, { from: day('2026-10-01') })
    expect(found('org/two-managers', model)[0]?.message).toBe(
      '“x” reports to “a” and to “b” from 1 Oct 2026 until 31 Dec 2026.',
    )
    expectFixesToMend('org/two-managers', model)
  })
  it('lets one manager follow another', () =>
    expect(found('org/two-managers', two({ to: day('2026-09-30') }, { from: day('2026-10-01') }))).toEqual([]))
  it('lets a dotted line stand beside a solid one', () =>
    expect(found('org/two-managers', two({}, { fields: { line: 'dotted' } }))).toEqual([]))
})

describe('org/manager-not-in-force', () => {
  it('finds a report that outlives its manager’s position, and hands it on', () => {
    const model = facts(
      position('top'),
      position('m', { to: day('2027-01-31') }),
      position('r'),
      reports('m', 'top', { to: day('2027-01-31') }),
      reports('r', 'm'),
    )
    expect(found('org/manager-not-in-force', model)[0]?.message).toBe(
      '“m” ends on 31 Jan 2027, but “r” still reports to it on 1 Feb 2027.',
    )
    expectFixesToMend('org/manager-not-in-force', model)
    const hand = found('org/manager-not-in-force', model)[0]?.fixes[0]
    expect(hand?.label).toBe('Hand over to “top” on 1 Feb 2027')
  })
  it('finds a report that was there before its manager’s position', () => {
    const model = facts(
      position('m', { from: day('2026-01-01') }),
      position('r', { from: day('2025-01-01') }),
      reports('r', 'm'),
    )
    expect(subjects('org/manager-not-in-force', model)).toEqual(['m'])
    expectFixesToMend('org/manager-not-in-force', model)
  })
  it('finds nothing where the line ends with the manager', () => {
    const model = facts(
      position('m', { to: day('2027-01-31') }),
      position('r'),
      reports('r', 'm', { to: day('2027-01-31') }),
    )
    expect(found('org/manager-not-in-force', model)).toEqual([])
  })
})

describe('org/no-head', () => {
  it('finds heads beyond the number declared, the smallest first to go', () => {
    const model = listed('A\n  B\n  C\nD\n  E')
    expect(found('org/no-head', model)).toHaveLength(1)
    expect(found('org/no-head', model)[0]?.message).toContain('1 head is declared')
    expectFixesToMend('org/no-head', model)
  })
  it('finds a part that is a circle and has no head', () => {
    expect(
      subjects(
        'org/no-head',
        facts(position('a'), position('b'), position('top'), reports('a', 'b'), reports('b', 'a')),
      ),
    ).toEqual(['a'])
  })
  it('is content with one head, and on a day when there is none at all', () => {
    expect(found('org/no-head', listed('A\n  B'))).toEqual([])
    expect(found('org/no-head', facts())).toEqual([])
  })
  it('looks at the day shown', () => {
    const model = facts(position('a'), position('b', { from: day('2027-01-01') }))
    expect([found('org/no-head', model).length, found('org/no-head', model, day('2027-01-01')).length]).toEqual([0, 1])
  })
})

describe('org/wide-span', () => {
  const wide = (count: number) => listed(['Head', ...Array.from({ length: count }, (_, i) => `  R${i}`)].join('\n'))
  it('finds nine reports and not eight', () => {
    expect([found('org/wide-span', wide(9)).length, found('org/wide-span', wide(8)).length]).toEqual([1, 0])
  })
  it('takes the workspace’s own threshold', () => {
    const model = wide(9).with({ settings: { thresholds: { 'org/wide-span': 9 } } })
    expect(found('org/wide-span', model)).toEqual([])
  })
  it('counts the reports of the day', () => {
    const model = facts(
      position('h'),
      ...Array.from({ length: 9 }, (_, i) => [
        position(`r${i}`),
        reports(`r${i}`, 'h', i === 0 ? { to: day('2026-06-30') } : {}),
      ]).flat(),
    )
    expect([found('org/wide-span', model, day('2026-06-30')).length, found('org/wide-span', model).length]).toEqual([
      1, 0,
    ])
  })
})

describe('org/vacant-manager', () => {
  const left = (last: string) =>
    facts(position('m'), position('r'), reports('r', 'm'), person('p'), tie('holds', 'p', 'm', { to: day(last) }))
  it('finds a manager’s position that is vacant for more than 30 days', () => {
    expect(found('org/vacant-manager', left('2026-10-23'))[0]?.message).toContain('since 24 Oct 2026, 31 days')
    expect([
      found('org/vacant-manager', left('2026-10-23')).length,
      found('org/vacant-manager', left('2026-10-24')).length,
    ]).toEqual([1, 0])
  })
  it('does not mind a vacancy without reports, nor a holder who is there', () => {
    expect(found('org/vacant-manager', facts(position('a')))).toEqual([])
    expect(found('org/vacant-manager', left('2027-01-01'))).toEqual([])
  })
  it('counts from the end of the person, where that is earlier', () => {
    const gone = facts(
      position('m'),
      position('r'),
      reports('r', 'm'),
      person('p', { to: day('2026-01-01') }),
      tie('holds', 'p', 'm'),
    )
    expect(found('org/vacant-manager', gone)[0]?.message).toContain('2 Jan 2026')
  })
})

describe('x/dates-inverted', () => {
  it('finds an entity or a relation that ends before it begins', () => {
    const model = facts(
      position('a', { from: day('2026-02-01'), to: day('2026-01-31') }),
      position('b'),
      reports('b', 'a', { from: day('2026-02-01'), to: day('2026-01-31') }),
    )
    expect(found('x/dates-inverted', model)).toHaveLength(2)
    expectFixesToMend('x/dates-inverted', model)
  })
  it('lets a fact last one day', () =>
    expect(found('x/dates-inverted', facts(position('a', { from: DAY, to: DAY })))).toEqual([]))
})

describe('x/dangling', () => {
  it('finds a relation to something that is not in the workspace', () => {
    const model = facts(position('a'), reports('a', 'nobody'))
    expect(found('x/dangling', model)[0]?.message).toContain('“nobody”')
    expectFixesToMend('x/dangling', model)
  })
  it('finds, on the day, a relation that runs on past its target', () => {
    const model = facts(person('p'), position('a', { to: day('2026-10-31') }), tie('holds', 'p', 'a'))
    expect(found('x/dangling', model, day('2026-10-31'))).toEqual([])
    expect(subjects('x/dangling', model, day('2026-11-01'))).toEqual(['a'])
    expectFixesToMend('x/dangling', model)
  })
  it('leaves a manager that is not in force to the stricter rule', () => {
    const model = facts(position('a'), position('m', { to: day('2026-10-31') }), reports('a', 'm'))
    expect(found('x/dangling', model)).toEqual([])
    expect(found('org/manager-not-in-force', model)).toHaveLength(1)
  })
})

describe('the demo', () => {
  const model = marramSoundFerries()
  it('has about 70 positions in 8 units, two heads, assistants, vacancies and a contractor', () => {
    expect(model.ofKind('position').length).toBeGreaterThan(65)
    expect(model.ofKind('unit')).toHaveLength(8)
    expect(model.relationsOfKind('assists').length).toBeGreaterThan(1)
    expect(model.ofKind('person').some(({ fields }) => fields['employer'] !== undefined)).toBe(true)
  })
  it('has its three deliberate inconsistencies, and no other', () => {
    expect(findingsOf(registry, model, DAY).map(({ rule, subjects: [first] }) => [rule, first])).toEqual([
      ['org/two-managers', id('ux')],
      ['org/manager-not-in-force', id('ports')],
      ['org/vacant-manager', id('term')],
    ])
  })
})
