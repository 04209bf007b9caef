import { describe, expect, it } from 'vitest'
import { acceptanceOf, findingsOf, tally } from '../../../src/core/findings'
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
  it('does not mind a beginning that nobody stated', () => {
    expect(
      found(
        'org/manager-not-in-force',
        facts(position('m', { from: day('2018-01-01') }), position('r'), reports('r', 'm')),
      ),
    ).toEqual([])
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
    const model = wide(9).with({ settings: { thresholds: { 'org/wide-span': 9 }, accepted: {} } })
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
  it('finds one that comes from something that is not there, and names both of two', () => {
    const lost = facts(position('a'), reports('nobody', 'a'))
    expect(found('x/dangling', lost)[0]?.message).toContain('“nobody”, which is not')
    expect(subjects('x/dangling', lost)).toEqual(['a'])
    expectFixesToMend('x/dangling', lost)
    expect(found('x/dangling', facts(reports('one', 'two')))[0]?.message).toContain('“one” and “two”')
  })
  it('lets a relation end with where it comes from', () => {
    const model = facts(person('p', { to: day('2026-10-31') }), position('a'), tie('holds', 'p', 'a'))
    expect(found('x/dangling', model, day('2026-11-01'))).toEqual([])
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

describe('org/assistant-with-reports', () => {
  it('finds an assistant who leads others, and puts it in the line', () => {
    const model = facts(position('h'), position('a'), position('r'), tie('assists', 'a', 'h'), reports('r', 'a'))
    expect(subjects('org/assistant-with-reports', model)).toEqual(['a'])
    expectFixesToMend('org/assistant-with-reports', model)
    expect(found('org/assistant-with-reports', model, day('2020-01-01'))).toHaveLength(1)
  })
  it('finds none without reports on the day', () => {
    const ended = facts(
      position('h'),
      position('a'),
      position('r', { to: day('2026-01-01') }),
      tie('assists', 'a', 'h'),
      reports('r', 'a'),
    )
    expect(found('org/assistant-with-reports', ended)).toEqual([])
  })
})

describe('org/dotted-duplicates-solid', () => {
  const dotted = (to?: string) => ({ id: id('d'), fields: { line: 'dotted' }, ...(to ? { to: day(to) } : {}) })
  it('finds a dotted line beside the solid one', () => {
    const model = facts(position('a'), position('m'), reports('a', 'm'), reports('a', 'm', dotted()))
    expect(subjects('org/dotted-duplicates-solid', model)).toEqual(['a'])
    expectFixesToMend('org/dotted-duplicates-solid', model)
  })
  it('finds none where it leads elsewhere, or is over when the solid one begins', () => {
    expect(
      found(
        'org/dotted-duplicates-solid',
        facts(position('a'), position('m'), position('n'), reports('a', 'm'), reports('a', 'n', dotted())),
      ),
    ).toEqual([])
    const before = facts(
      position('a'),
      position('m'),
      reports('a', 'm', { from: day('2026-06-01') }),
      reports('a', 'm', dotted('2026-05-31')),
    )
    expect(found('org/dotted-duplicates-solid', before)).toEqual([])
  })
})

describe('org/grade-inversion', () => {
  const grades = (own: string, above: string, more = {}) =>
    facts(
      position('a', { fields: { grade: own } }),
      position('m', { fields: { grade: above } }),
      reports('a', 'm', more),
    )
  it('finds a report of a higher grade', () =>
    expect(subjects('org/grade-inversion', grades('G9', 'G7'))).toEqual(['a']))
  it('lets equal, lower and other gradings be', () => {
    for (const [own, above] of [
      ['G7', 'G7'],
      ['G3', 'G10'],
      ['T9', 'G7'],
      ['senior', 'G7'],
    ] as const)
      expect(found('org/grade-inversion', grades(own, above))).toEqual([])
  })
  it('looks at the line of the day', () =>
    expect(found('org/grade-inversion', grades('G9', 'G7', { from: day('2027-01-01') }))).toEqual([]))
})

describe('org/narrow-span', () => {
  it('finds exactly one report', () => {
    expect(subjects('org/narrow-span', listed('A\n  B\n    C\n    D'))).toEqual(['p1'])
    expect(found('org/narrow-span', listed('A\n  B\n  C'))).toEqual([])
  })
  it('counts the reports of the day', () => {
    const model = facts(
      position('h'),
      position('a'),
      position('b', { from: day('2027-01-01') }),
      reports('a', 'h'),
      reports('b', 'h'),
    )
    expect([found('org/narrow-span', model).length, found('org/narrow-span', model, day('2027-01-01')).length]).toEqual(
      [1, 0],
    )
  })
})

describe('org/deep', () => {
  const chain = (layers: number) =>
    listed(Array.from({ length: layers }, (_, i) => `${'  '.repeat(i)}P${i}`).join('\n'))
  it('finds eight layers and not seven', () =>
    expect([found('org/deep', chain(8)).length, found('org/deep', chain(7)).length]).toEqual([1, 0]))
  it('counts the layers of the day', () => {
    const model = chain(8)
    const last = model.ofKind('position').at(-1)
    const shorter = after(model, {
      label: '',
      steps: last ? [{ do: 'set-entity', id: last.id, path: 'to', value: '2026-01-01' }] : [],
    })
    expect(found('org/deep', shorter)).toEqual([])
  })
})

describe('org/over-allocated', () => {
  const two = (first: object, second: object, fte = 1) =>
    facts(
      person('p'),
      position('a', { fields: { fte } }),
      position('b', { fields: { fte } }),
      tie('holds', 'p', 'a', first),
      tie('holds', 'p', 'b', second),
    )
  it('finds more than one full-time post on a day, whichever day that is', () => {
    const model = two({ from: day('2026-01-01') }, { from: day('2027-03-01') })
    expect(found('org/over-allocated', model)[0]?.message).toBe('“p” holds “a” and “b”, 2 fte from 1 Mar 2027.')
    expectFixesToMend('org/over-allocated', model)
  })
  it('lets one post follow another, and two halves make a whole', () => {
    expect(found('org/over-allocated', two({ to: day('2026-05-31') }, { from: day('2026-06-01') }))).toEqual([])
    expect(found('org/over-allocated', two({}, {}, 0.5))).toEqual([])
  })
  it('takes the share that is stated', () =>
    expect(found('org/over-allocated', two({ fields: { fte: 0.5 } }, { fields: { fte: 0.5 } }))).toEqual([]))
})

describe('org/double-holder', () => {
  const shared = (...shares: (number | undefined)[]) =>
    facts(
      position('a'),
      ...shares.flatMap((fte, i) => [
        person(`p${i}`),
        tie('holds', `p${i}`, 'a', fte === undefined ? {} : { fields: { fte } }),
      ]),
    )
  it('finds two holders of one post, and lets them share it', () => {
    expect(subjects('org/double-holder', shared(undefined, undefined))).toEqual(['a'])
    expectFixesToMend('org/double-holder', shared(undefined, undefined))
    expect(found('org/double-holder', shared(0.5, 0.5))).toEqual([])
  })
  it('looks at the holders of the day', () => {
    const model = facts(
      position('a'),
      person('p'),
      person('q'),
      tie('holds', 'p', 'a', { to: day('2026-05-31') }),
      tie('holds', 'q', 'a', { from: day('2026-05-01') }),
    )
    expect([
      found('org/double-holder', model).length,
      found('org/double-holder', model, day('2026-05-15')).length,
    ]).toEqual([0, 1])
  })
})

describe('org/duplicate-person', () => {
  it('finds one address twice, whatever its case, and makes one of two', () => {
    const model = facts(
      person('p', { fields: { email: 'A@x.example' } }),
      person('q', { fields: { email: 'a@X.example' } }),
      position('a'),
      tie('holds', 'q', 'a'),
    )
    expect(subjects('org/duplicate-person', model)).toEqual(['q'])
    expectFixesToMend('org/duplicate-person', model)
  })
  it('finds one name twice in one unit on the day, not in two', () => {
    const at = (one: string, other: string) =>
      facts(
        person('p', { name: 'Ada' }),
        person('q', { name: 'Ada' }),
        position('a', { fields: { unit: one } }),
        position('b', { fields: { unit: other } }),
        tie('holds', 'p', 'a'),
        tie('holds', 'q', 'b', { from: day('2026-06-01') }),
      )
    expect([
      found('org/duplicate-person', at('U', 'U')).length,
      found('org/duplicate-person', at('U', 'V')).length,
    ]).toEqual([1, 0])
    expect(found('org/duplicate-person', at('U', 'U'), day('2026-05-31'))).toEqual([])
  })
})

describe('org/acting-too-long', () => {
  const acting = (from: string, more = {}) =>
    facts(person('p'), position('a'), tie('holds', 'p', 'a', { from: day(from), fields: { acting: true }, ...more }))
  it('finds more than 180 days, and appoints for good', () => {
    expect([
      found('org/acting-too-long', acting('2026-05-27')).length,
      found('org/acting-too-long', acting('2026-05-28')).length,
    ]).toEqual([1, 0])
    expectFixesToMend('org/acting-too-long', acting('2026-01-01'))
  })
  it('does not mind what is over on the day', () =>
    expect(found('org/acting-too-long', acting('2025-01-01', { to: day('2026-01-01') }))).toEqual([]))
})

describe('x/owner-gone', () => {
  const owned = (owner: string, more = {}) =>
    facts(
      { id: id('s'), kind: 'system', name: 'Booking', fields: { owner } },
      person('p', { name: 'Ada' }),
      position('a'),
      tie('holds', 'p', 'a', more),
    )
  it('finds an owner who holds no position on the day, by identity or by name', () => {
    for (const owner of ['p', 'Ada']) {
      const model = owned(owner, { to: day('2026-10-31') })
      expect([found('x/owner-gone', model).length, found('x/owner-gone', model, day('2026-10-31')).length]).toEqual([
        1, 0,
      ])
      expectFixesToMend('x/owner-gone', model)
    }
  })
  it('finds none while the owner is in post', () => expect(found('x/owner-gone', owned('p'))).toEqual([]))
  it('finds who is named for something and is gone while it is still to be done', () => {
    const named = (worker: Parameters<typeof facts>[0], task: Record<string, string> = {}) =>
      facts(
        worker,
        { id: id('t'), kind: 'task', name: 'Move the data', fields: task },
        tie('assigned', worker.id, 't'),
        person('p', { name: 'Ada' }),
        position('a'),
        tie('holds', 'p', 'a', { to: day('2026-10-31') }),
      )
    const ada = person('p', { name: 'Ada' })
    expect(found('x/owner-gone', named(ada))[0]?.message).toContain('“Ada”, who is named for “Move the data”')
    expectFixesToMend('x/owner-gone', named(ada))
    expect(found('x/owner-gone', named(ada, { actualFinish: '2026-10-01' }))).toEqual([])
    // Who never held a position comes from elsewhere; a role holds none itself, and is gone when it has ended.
    expect(found('x/owner-gone', named(person('q', { name: 'Guest' })))).toEqual([])
    const role = (to?: string) => ({
      id: id('r'),
      kind: 'role',
      name: 'Clerk',
      fields: {},
      ...(to ? { to: day(to) } : {}),
    })
    expect(found('x/owner-gone', named(role()))).toEqual([])
    expect(found('x/owner-gone', named(role('2026-10-31')))[0]?.message).toContain('ended on 31 Oct 2026')
  })
  it('finds an owner whose position is there no longer, or not yet', () => {
    for (const [period, missing, there] of [
      [{ to: day('2026-10-31') }, '2026-11-01', '2026-10-31'],
      [{ from: day('2026-11-10') }, '2026-11-09', '2026-11-10'],
    ] as const) {
      const model = facts(
        { id: id('s'), kind: 'system', name: 'Booking', fields: { owner: 'p' } },
        person('p', { name: 'Ada' }),
        position('a', period),
        tie('holds', 'p', 'a'),
      )
      expect(found('x/owner-gone', model, day(missing))[0]?.message).toContain('holds no position')
      expect(found('x/owner-gone', model, day(there))).toEqual([])
    }
  })
})

describe('x/undefined-role', () => {
  const system = (owner: string) => ({ id: id('s'), kind: 'system', name: 'Booking', fields: { owner } })
  it('finds an owner that names nothing, and defines the role', () => {
    expect(subjects('x/undefined-role', facts(system('Port manager')))).toEqual(['s'])
    expectFixesToMend('x/undefined-role', facts(system('Port manager')))
  })
  it('finds none where a role has that name', () => {
    expect(
      found(
        'x/undefined-role',
        facts(system('Port manager'), { id: id('r'), kind: 'role', name: 'Port manager', fields: {} }),
      ),
    ).toEqual([])
  })
})

describe('x/unused', () => {
  it('finds what is tied to nothing, named by nothing and drawn by no view', () => {
    const model = facts(
      person('p'),
      position('a'),
      { id: id('r'), kind: 'role', name: 'R', fields: {} },
      { id: id('s'), kind: 'system', name: 'S', fields: { owner: 'R' } },
    )
    expect(subjects('x/unused', model)).toEqual(['p', 's'])
    expectFixesToMend('x/unused', facts(person('p'), position('a')))
  })
  it('says nothing where there are no views to be in', () =>
    expect(found('x/unused', facts(person('p')).with({ views: new Map() }))).toEqual([]))
})

describe('an accepted finding', () => {
  const model = facts(position('a'), reports('a', 'a'))
  const [finding] = findingsOf(registry, model, DAY)
  it('stays listed, does not count, and counts again after its last day', () => {
    if (!finding) throw new Error('no finding')
    const accepted = after(model, acceptanceOf(finding, { reason: 'Known', until: day('2026-12-31') }))
    const on = (text: string) => findingsOf(registry, accepted, day(text))
    expect(on('2026-12-31')[0]?.accepted).toEqual({ reason: 'Known', until: '2026-12-31' })
    expect([tally(on('2026-12-31')).error, tally(on('2027-01-01')).error]).toEqual([0, 1])
    expect(tally(findingsOf(registry, after(accepted, acceptanceOf(finding, null)), DAY)).error).toBe(1)
  })
})

describe('the demo', () => {
  const model = marramSoundFerries()
  it('has about 70 positions in 9 units, two heads, assistants, vacancies and a contractor', () => {
    expect(model.ofKind('position').length).toBeGreaterThan(65)
    expect(model.ofKind('unit')).toHaveLength(9)
    expect(model.relationsOfKind('assists').length).toBeGreaterThan(1)
    expect(model.ofKind('person').some(({ fields }) => fields['employer'] !== undefined)).toBe(true)
  })
  it('has its seventeen deliberate faults, and no other', () => {
    expect(findingsOf(registry, model, DAY).map(({ rule, subjects: [first] }) => [rule, first])).toEqual([
      ['org/two-managers', id('ux')],
      ['org/manager-not-in-force', id('ports')],
      ['flow/deadlock', id('sc-settled')],
      ['sch/person-not-in-post', id('t-data-move')],
      ['uml/composite-shared', id('class-voucher')],
      ['uml/state-trap', id('state-waiting-list')],
      ['org/vacant-manager', id('term')],
      ['flow/unlabelled-branch', id('sc-seats')],
      ['sch/over-allocated', id('t-links')],
      ['sch/should-have-started', id('t-network')],
      ['net/single-point', id('device-rt-skerry')],
      ['net/shadowed-rule', id('filter-old-shop-address')],
      ['net/end-of-support', id('device-notice-1')],
      ['x/host-retired', id('sys-notices')],
      ['uml/package-cycle', id('package-booking')],
      ['uml/schema-drift', id('class-passenger')],
      ['uml/message-unknown-operation', id('sr-11')],
    ])
  })
})
