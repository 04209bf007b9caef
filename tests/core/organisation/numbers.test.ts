import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, covers, Model, type Day, type Id } from '../../../src/core/model'
import { sheetOf } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { marramSoundFerries } from '../../../src/demo'
import {
  asText,
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
} from '../../facts'

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

describe('sums over parts', () => {
  const DAYS = ['2025-03-01', '2026-01-01', '2026-11-24', '2027-01-15', '2027-03-01'].map(day)
  const amounts = ['headcount', 'positions', 'fte', 'vacant', 'cost'] as const
  const total = (list: readonly Readonly<Record<string, unknown>>[], amount: string) =>
    list.reduce((sum, row) => sum + Number(row[amount]), 0)
  /** The same from the register, read cell by cell. */
  function overRegister(model: Model, on: Day) {
    const register = organisation.registers.find(({ id: key }) => key === 'positions')
    if (!register) throw new Error('no register')
    const rowsOf = register.rows(model, treeView(), on).filter((row) => {
      const entity = model.entities.get(row)
      return entity !== undefined && covers(entity, on)
    })
    const cell = (row: Id, column: string) =>
      register.columns.find(({ id: key }) => key === column)?.read(model, row, on)
    const held = rowsOf.filter((row) => !String(cell(row, 'holder')).startsWith('—'))
    const people = new Set(
      model
        .relationsOfKind('holds')
        .filter((holds) => covers(holds, on) && held.includes(holds.target))
        .flatMap(({ source }) => {
          const person = model.entities.get(source)
          return person && covers(person, on) ? [source] : []
        }),
    )
    return {
      positions: rowsOf.length,
      cost: rowsOf.reduce((sum, row) => sum + Number(cell(row, 'cost') ?? 0), 0),
      fte: held.reduce((sum, row) => sum + Number(cell(row, 'fte')), 0),
      vacant: rowsOf.length - held.length,
      headcount: people.size,
    }
  }
  function expectSums(model: Model, on: Day) {
    const register = overRegister(model, on)
    const branches = rows('organisation/spans', model, on)
    const structure = new Set(branches.map(({ id: key }) => key))
    const heads = outlineHeads(model, on)
    for (const amount of amounts) {
      expect(total(rows('organisation/units', model, on), amount), `${amount} by unit on ${on}`).toBeCloseTo(
        register[amount],
        6,
      )
      // A head without reports is no branch: it counts by itself.
      const loners = heads.filter((head) => !structure.has(head))
      const tops = branches.filter(({ id: key }) => heads.includes(key as Id))
      if (loners.length === 0)
        expect(total(tops, amount), `${amount} by branch on ${on}`).toBeCloseTo(register[amount], 6)
    }
  }
  const outlineHeads = (model: Model, on: Day): Id[] =>
    organisation.outline?.lines(model, treeView(), on).flatMap((line) => (line.depth === 0 ? [line.id] : [])) ?? []

  it('of the demo equal the register on five days', () => {
    const model = marramSoundFerries()
    for (const on of DAYS) expectSums(model, on)
  })
  it('of any organisation equal the register on five days', () => {
    const maybeDay = fc.constantFrom(undefined, ...DAYS)
    const organisations = fc
      .array(
        fc.record({
          above: fc.nat(),
          unit: fc.constantFrom('A', 'B', undefined),
          cost: fc.nat(90_000),
          from: maybeDay,
          to: maybeDay,
          who: fc.nat(12),
          until: maybeDay,
        }),
        { minLength: 2, maxLength: 25 },
      )
      .map((list) =>
        facts(
          ...Array.from({ length: 13 }, (_, i) => person(`p${i}`)),
          ...list.flatMap(({ above, unit, cost, from, to, who, until }, i) => [
            position(`x${i}`, {
              fields: { cost, fte: (i % 4) / 4, ...(unit ? { unit } : {}) },
              ...(from ? { from } : {}),
              ...(to ? { to } : {}),
            }),
            ...(i > 0 ? [reports(`x${i}`, `x${above % i}`)] : []),
            tie('holds', `p${who}`, `x${i}`, until ? { to: until } : {}),
          ]),
        ),
      )
    fc.assert(
      fc.property(organisations, (model) => DAYS.forEach((on) => expectSums(model, on))),
      { numRuns: 60 },
    )
  })
  it('count what they select', () => {
    const model = marramSoundFerries()
    for (const path of [
      'organisation/units',
      'organisation/spans',
      'organisation/span-distribution',
      'organisation/layer-distribution',
    ]) {
      const sheet = sheetOf(registry, path)
      for (const row of sheet?.rows(model, DAY) ?? []) {
        const count = Number(row['positions'] ?? row['managers'])
        expect(sheet?.counted?.(model, DAY, row), `${path} ${JSON.stringify(row)}`).toHaveLength(count)
      }
    }
  })
  it('have a point for each month, the same as that month’s first day', () => {
    const model = marramSoundFerries()
    const months = rows('organisation/months', model)
    expect(months.length).toBeGreaterThan(24)
    const december = months.find(({ month }) => month === '2026-12')
    expect(december?.['cost']).toBe(total(rows('organisation/units', model, day('2026-12-01')), 'cost'))
  })
})

describe('the measures in the margin', () => {
  const model = marramSoundFerries()
  const value = (label: string, selected?: string, on = DAY) =>
    organisation
      .measures(model, on, selected === undefined ? undefined : id(selected), treeView())
      .list.find((one) => one.label === label)?.value
  it('of everything are the sums of the branches', () => {
    const sum = ['md', 'harbour'].reduce((total, head) => total + Number(value('Positions', head)), 0)
    expect(Number(value('Positions'))).toBe(sum)
  })
  it('of no position are those of everything', () => expect(value('Positions', 'unit-fleet')).toBe(value('Positions')))
  it('have no mean span where nobody manages', () => {
    expect(
      organisation
        .measures(facts(position('a')), DAY, undefined, treeView())
        .list.find(({ label }) => label === 'Mean span')?.value,
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
