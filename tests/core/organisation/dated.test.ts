import fc from 'fast-check'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { parseWorkspace } from '../../../src/core/file'
import { findingsOf } from '../../../src/core/findings'
import { asDay, covers, type Day, type Model } from '../../../src/core/model'
import { registry } from '../../../src/core/notations'
import { DAY, day, facts, id, organisation, person, position, reports, tie } from '../../facts'

const DAYS = ['2026-01-01', '2026-03-01', '2026-06-01', '2026-09-01', '2027-01-01'].map(asDay)
const named = (name: string): Model => parseWorkspace(readFileSync(`tests/cases/${name}`, 'utf8'), registry).model
const circles = (model: Model, on: Day = DAY) => registry.rules.get('org/cycle')?.check(model, on) ?? []

/** Whether anybody reports to themselves through others on a day, followed line by line. */
function circleOn(model: Model, on: Day): boolean {
  const there = (key: string) => {
    const entity = model.entities.get(id(key))
    return entity !== undefined && covers(entity, on)
  }
  const lines = model
    .relationsOfKind('reports-to')
    .filter((line) => covers(line, on) && there(line.source) && there(line.target))
  const reaches = (from: string, goal: string, seen: readonly string[]): boolean =>
    lines.some(
      ({ source, target }) =>
        source === from &&
        source !== target &&
        (target === goal || (!seen.includes(target) && reaches(target, goal, [...seen, target]))),
    )
  return lines.some(({ source }) => reaches(source, source, [source]))
}

describe('circles with days', () => {
  const period = fc
    .tuple(fc.option(fc.nat(4), { nil: undefined }), fc.option(fc.nat(4), { nil: undefined }))
    .map(([a, b]) => ({
      ...(a === undefined ? {} : { from: DAYS[a] as Day }),
      ...(b === undefined || (a !== undefined && b < a) ? {} : { to: DAYS[b] as Day }),
    }))
  const KEYS = ['a', 'b', 'c', 'd']
  it('are found on whatever day they are there', () => {
    let found = 0
    fc.assert(
      fc.property(
        fc.array(period, { minLength: 4, maxLength: 4 }),
        fc.array(fc.tuple(fc.nat(3), fc.nat(3), period), { maxLength: 7 }),
        (posts, lines) => {
          const model = facts(
            ...KEYS.map((key, i) => position(key, posts[i])),
            ...lines.map(([a, b, when], i) => ({ ...reports(KEYS[a] ?? '', KEYS[b] ?? '', when), id: id(`l${i}`) })),
          )
          const is = [DAY, ...DAYS].some((on) => circleOn(model, on))
          expect(circles(model).length > 0).toBe(is)
          if (is) found++
        },
      ),
      { numRuns: 500 },
    )
    expect(found).toBeGreaterThan(20)
  })
  it('are found where they have no first day and are over', () => {
    const until = { to: day('2026-01-01') }
    const past = facts(position('a'), position('b'), reports('a', 'b', until), reports('b', 'a', until))
    expect(circles(past)[0]?.message).toContain('in a circle on 1 Jan 2026')
  })
  it('are found before its members begin', () => {
    expect(circles(named('late-circle.skivel.json'), asDay('2026-01-01'))[0]?.message).toContain('1 Jun 2026')
  })
})

describe('one person in one post by two ties', () => {
  it('counts once on the days of both, and is no finding', () => {
    const model = named('twice.skivel.json')
    for (const on of ['2026-02-01', '2026-03-15', '2026-05-01'].map(asDay)) {
      const row = organisation.numbers.find((sheet) => sheet.id === 'units')?.rows(model, on)[0]
      expect(row).toMatchObject({ headcount: 1, fte: 1, positions: 1 })
      expect(findingsOf(registry, model, on).filter(({ rule }) => rule.startsWith('org/'))).toEqual([])
    }
  })
})

describe('full-time equivalents', () => {
  const fte = (...list: Parameters<typeof facts>) =>
    organisation.numbers.find((sheet) => sheet.id === 'units')?.rows(facts(...list), DAY)[0]?.['fte']
  it('are what holders give: as stated, and of the rest its share', () => {
    const post = position('p')
    expect(fte(post, person('a'), tie('holds', 'a', 'p', { fields: { fte: 0.5 } }))).toBe(0.5)
    expect(fte(post, person('a'), tie('holds', 'a', 'p'))).toBe(1)
    const shared = tie('holds', 'a', 'p', { fields: { fte: 0.6 } })
    expect(fte(post, person('a'), person('b'), shared, tie('holds', 'b', 'p'))).toBe(1)
  })
  it('and cost says that it holds what is vacant', () => {
    const column = organisation.numbers.find((sheet) => sheet.id === 'units')?.columns.find((one) => one.id === 'cost')
    expect(column?.unit).toContain('vacancies included')
  })
})
