import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, Model } from '../../../src/core/model'
import { sheetOf } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { marramSoundFerries } from '../../../src/demo'
import { asText, DAY, day, facts, id, listed, organisation, person, position, reports, tie } from '../../facts'

const rows = (path: string, model: Parameters<typeof organisation.measures>[0], on = DAY) =>
  sheetOf(registry, path)?.rows(model, on) ?? []

describe('spans and layers', () => {
  it('has one row a manager, with the branch’s sums', () => {
    const model = listed('Ada — Head\n  Ben — Lead\n    Cy — Aide\n    vacant — Aide\n  Dee — Clerk')
    expect(
      rows('organisation/spans', model).map(({ position: title, span, layers, positions, headcount, fte }) => [
        title,
        span,
        layers,
        positions,
        headcount,
        fte,
      ]),
    ).toEqual([
      ['Head', 2, 2, 5, 4, 4],
      ['Lead', 2, 1, 3, 2, 2],
    ])
  })
  it('counts a person with two positions once, and fte by position', () => {
    const model = facts(
      position('a', { fields: { fte: 0.5 } }),
      position('b', { fields: { fte: 0.25 } }),
      reports('b', 'a'),
      person('p'),
      tie('holds', 'p', 'a'),
      tie('holds', 'p', 'b'),
    )
    expect(rows('organisation/spans', model)[0]).toMatchObject({ headcount: 1, fte: 0.75 })
  })
  it('follows the day', () => {
    const model = facts(position('a'), position('b', { from: day('2027-01-01') }), reports('b', 'a'))
    expect([
      rows('organisation/spans', model).length,
      rows('organisation/spans', model, day('2027-01-01')).length,
    ]).toEqual([0, 1])
  })
})

describe('the measures in the margin', () => {
  const model = marramSoundFerries()
  const value = (label: string, selected?: string, on = DAY) =>
    organisation
      .measures(model, on, selected === undefined ? undefined : id(selected))
      .list.find((one) => one.label === label)?.value
  it('of everything are the sums of the branches', () => {
    const sum = ['md', 'harbour'].reduce((total, head) => total + Number(value('Positions', head)), 0)
    expect(Number(value('Positions'))).toBe(sum)
  })
  it('of no position are those of everything', () => expect(value('Positions', 'unit-fleet')).toBe(value('Positions')))
  it('have no mean span where nobody manages', () => {
    expect(
      organisation.measures(facts(position('a')), DAY, undefined).list.find(({ label }) => label === 'Mean span')
        ?.value,
    ).toBe('–')
  })
})

describe('the structure of a day', () => {
  const names = fc.constantFrom('Ada', 'Bo', 'Cleo')
  const model = listed('Head\n  One\n    A\n    B\n  Two (assistant)')
  const positions = model.ofKind('position').map((one) => one.id)
  const people = model.ofKind('person').map((one) => one.id)
  const edits = fc.array(
    fc.oneof(
      fc.record({ id: fc.constantFrom(...positions, ...people), path: fc.constant('name'), value: names }),
      fc.record({
        id: fc.constantFrom(...positions),
        path: fc.constantFrom('fields.order', 'fields.fte'),
        value: fc.integer({ min: 0, max: 9 }),
      }),
      fc.record({
        id: fc.constantFrom(...positions, ...people),
        path: fc.constantFrom('from', 'to'),
        value: fc.constantFrom('2026-11-24', '2026-11-25', null),
      }),
    ),
    { minLength: 1, maxLength: 6 },
  )
  it('is the same whether it is computed anew or from the one before', () => {
    fc.assert(
      fc.property(edits, (list) => {
        let edited = model
        for (const set of list) {
          edited = apply(edited, { label: '', steps: [{ do: 'set-entity', ...set }] }).model
          const stepwise = asText(edited)
          // The same facts under another identity of the model share nothing with what came before.
          const anew = Model.of({ entities: edited.entities.values(), relations: edited.relations.values() })
          expect(stepwise).toBe(asText(anew))
        }
      }),
      { numRuns: 150 },
    )
  })
})
