import { describe, expect, it } from 'vitest'
import type { Id, Model } from '../../../src/core/model'
import type { Column, Register } from '../../../src/core/notation'
import { harmless, pasteCells, registerCells, registerCsv } from '../../../src/core/tabular'
import {
  asText,
  carriedOut,
  DAY,
  facts,
  id,
  lineWith,
  listed,
  organisation,
  person,
  position,
  refusal,
  tie,
  wishFor,
} from '../../facts'

const register = (name: string): Register => {
  const one = organisation.registers.find((each) => each.id === name)
  if (!one) throw new Error(`no register ${name}`)
  return one
}
const column = (name: string, in_ = 'positions'): Column => {
  const one = register(in_).columns.find((each) => each.id === name)
  if (!one) throw new Error(`no column ${name}`)
  return one
}
const write = (model: Model, name: string, row: Id, text: string, in_ = 'positions') =>
  column(name, in_).write?.(wishFor(model), row, text) ?? { refused: 'not written' }
const COMPANY = listed('Ada — Head\n  Ben — Clerk\n    Cy — Aide\n  Dee — Clerk')

describe('the register of positions', () => {
  const ben = lineWith(COMPANY, 'Ben')
  it('reads title, holder, manager and unit', () => {
    expect(['name', 'holder', 'reports-to', 'fte'].map((name) => column(name).read(COMPANY, ben, DAY))).toEqual([
      'Clerk',
      'Ben',
      'Head',
      1,
    ])
    expect(column('reports-to').read(COMPANY, lineWith(COMPANY, 'Cy'), DAY)).toBe('Clerk (Ben)')
  })
  it('hands over by naming the manager by title, by title and holder, or by holder', () => {
    const cy = lineWith(COMPANY, 'Cy')
    expect(refusal(write(COMPANY, 'reports-to', cy, 'Clerk'))).toMatch(/2 positions are called/)
    for (const text of ['Clerk (Dee)', 'Dee'])
      expect(asText(carriedOut(COMPANY, write(COMPANY, 'reports-to', cy, text)))).toContain('  Dee — Clerk\n    Cy')
    expect(refusal(write(COMPANY, 'reports-to', ben, 'Nobody'))).toMatch(/no position “Nobody”/)
    expect(refusal(write(COMPANY, 'reports-to', ben, 'Aide'))).toMatch(/circle/)
  })
  it('appoints a person who is there, or a new one, or nobody', () => {
    const cy = lineWith(COMPANY, 'Cy')
    const two = carriedOut(COMPANY, write(COMPANY, 'holder', cy, 'Dee'))
    expect(two.ofKind('person')).toHaveLength(4)
    expect(asText(two)).toContain('Dee — Aide')
    expect(asText(carriedOut(COMPANY, write(COMPANY, 'holder', cy, 'Zoe')))).toContain('Zoe — Aide')
    expect(asText(carriedOut(COMPANY, write(COMPANY, 'holder', cy, '')))).toContain('vacant — Aide')
  })
  it('makes a unit on first use and takes it by name afterwards', () => {
    const one = carriedOut(COMPANY, write(COMPANY, 'unit', ben, 'Harbour'))
    const two = carriedOut(one, write(one, 'unit', lineWith(one, 'Dee'), 'harbour'))
    expect(two.ofKind('unit')).toHaveLength(1)
    expect(column('unit').read(two, lineWith(two, 'Dee'), DAY)).toBe('Harbour')
    expect(column('positions', 'units').read(two, two.ofKind('unit')[0]?.id ?? id('x'), DAY)).toBe(2)
  })
  it.each([
    ['fte', 'half', /is a number/],
    ['fte', '-1', /at least 0/],
    ['from', '31/31/2026', /is not a day/],
    ['grade', 'x'.repeat(500), /500 characters/],
  ])('refuses %s = %s in words', (name, text, words) => expect(refusal(write(COMPANY, name, ben, text))).toMatch(words))
  it('reads numbers and days as people write them', () => {
    expect(column('fte').read(carriedOut(COMPANY, write(COMPANY, 'fte', ben, '0,5')), ben, DAY)).toBe(0.5)
    expect(column('cost').read(carriedOut(COMPANY, write(COMPANY, 'cost', ben, '61 200')), ben, DAY)).toBe(61200)
    expect(column('from').read(carriedOut(COMPANY, write(COMPANY, 'from', ben, '1 Dec 2026')), ben, DAY)).toBe(
      '2026-12-01',
    )
  })
  it('lists positions that are not in force on the day after those that are', () => {
    const model = facts(position('old', { to: '2020-01-01' as never }), position('now'))
    expect(register('positions').rows(model, wishFor(model).view, DAY)).toEqual(['now', 'old'])
  })
})

describe('the register of people', () => {
  it('says what each holds', () => {
    const model = facts(person('p'), position('a'), position('b'), tie('holds', 'p', 'a'), tie('holds', 'p', 'b'))
    expect(column('holds', 'people').read(model, id('p'), DAY)).toBe('a, b')
  })
})

describe('a paste from a spreadsheet', () => {
  const paste = (model: Model, text: string, row: number, start = 'name') => {
    const { columns, rows } = register('positions')
    const at = {
      rows: rows(model, wishFor(model).view, DAY),
      columns,
      row,
      column: columns.findIndex((one) => one.id === start),
    }
    return pasteCells(
      wishFor(model),
      register('positions'),
      at,
      text.split('\n').map((line) => line.split('\t')),
    )
  }
  it('adds rows past the last, which may name each other in any order', () => {
    const model = carriedOut(COMPANY, paste(COMPANY, 'Cook\tEli\tChef\nChef\tFay\tHead', 4))
    expect(asText(model)).toContain('  Fay — Chef\n    Eli — Cook')
  })
  it('overwrites from a cell on, as one change', () => {
    const model = carriedOut(COMPANY, paste(COMPANY, 'Clerk one\nAide one', 1))
    expect(asText(model)).toContain('  Ben — Clerk one\n    Cy — Aide one')
  })
  it('with a circle in it is refused row by row, and nothing is written', () => {
    const words = refusal(paste(COMPANY, 'One\t\tTwo\nTwo\t\tThree\nThree\t\tOne', 4))
    expect(words).toMatch(/^Nothing was pasted\.\nRow 3, Reports to: .*circle/)
  })
  it('names every cell that does not fit', () => {
    expect(refusal(paste(COMPANY, 'nine\nten', 0, 'fte')).split('\n')).toHaveLength(3)
  })
  it('reads a column of days or numbers as all of its cells say, and refuses days that may mean two', () => {
    const days = carriedOut(COMPANY, paste(COMPANY, '03/04/2026\n24/11/2026', 0, 'from'))
    expect(
      register('positions')
        .rows(days, wishFor(days).view, DAY)
        .slice(0, 2)
        .map((row) => days.entities.get(row)?.from),
    ).toEqual(['2026-04-03', '2026-11-24'])
    expect(refusal(paste(COMPANY, '03/04/2026\n05/06/2026', 0, 'from'))).toBe(
      'Nothing was pasted.\nFrom: day first: 03/04/2026 is 3 Apr 2026, month first: 03/04/2026 is 4 Mar 2026? Write one as 2026-11-24.',
    )
    const costs = carriedOut(COMPANY, paste(COMPANY, '1.250,50\n900', 0, 'cost'))
    expect(costs.ofKind('position').flatMap(({ fields }) => fields['cost'] ?? [])).toEqual([1250.5, 900])
  })
  it('of too much is refused', () => {
    expect(refusal(paste(COMPANY, 'x\n'.repeat(30_000), 0))).toMatch(/more than one paste takes/)
  })
})

describe('roles and units', () => {
  const model = listed('Ada — Head\n  Ben — Clerk')
  const ben = lineWith(model, 'Ben')
  it('are made on first use, and a role says who holds it on the day', () => {
    const one = carriedOut(model, write(model, 'fills', ben, 'Keeper of keys'))
    const [role] = one.ofKind('role')
    expect(column('holders', 'roles').read(one, role?.id ?? id('x'), DAY)).toBe('Ben')
    const two = carriedOut(one, write(one, 'fills', ben, 'keeper of keys'))
    expect([two.ofKind('role').length, two.relationsOfKind('fills').length]).toEqual([1, 1])
    expect(carriedOut(two, write(two, 'fills', ben, '')).relationsOfKind('fills')).toHaveLength(0)
  })
  it('are parts of one another, but not of themselves', () => {
    const units = facts(
      { id: id('u'), kind: 'unit', name: 'Port', fields: {} },
      { id: id('v'), kind: 'unit', name: 'Company', fields: {} },
    )
    const tied = carriedOut(units, write(units, 'part-of', id('u'), 'Company', 'units'))
    expect(column('part-of', 'units').read(tied, id('u'), DAY)).toBe('Company')
    expect(refusal(write(units, 'part-of', id('u'), 'port', 'units'))).toMatch(/itself/)
  })
})

describe('a register as CSV', () => {
  it('is quoted as RFC 4180 says, and no cell can be run as a formula', () => {
    const model = facts(
      person('p', { name: '=SUM(A1), "x"\ny' }),
      person('q', { name: '-1' }),
      person('r', { name: 'O’Hara' }),
    )
    const rows = model.ofKind('person').map((one) => one.id)
    const csv = registerCsv(registerCells(register('people'), model, rows, DAY))
    const lines = csv.split('\r\n')
    expect(lines[0]).toBe('Id,Name,Holds,Email,Employer,From,To')
    expect(lines[1]).toBe(`p,"'=SUM(A1), ""x""\ny",,,,,`)
    expect(lines[2]).toBe("q,'-1,,,,,")
    expect(['=1', '+1', '-1', '@x', 'a=1'].map(harmless)).toEqual(["'=1", "'+1", "'-1", "'@x", 'a=1'])
  })
})

describe('a title that is cleared', () => {
  it('leaves a position without a title, and a name of anything else stands', () => {
    const model = facts(position('a', { name: 'Head' }), person('p', { name: 'Ada' }))
    const cleared = carriedOut(model, column('name').write?.(wishFor(model), id('a'), ' ') ?? { refused: 'no' })
    expect(cleared.entities.get(id('a'))?.name).toBe('Untitled')
    expect(refusal(column('name', 'people').write?.(wishFor(model), id('p'), '') ?? { refused: '' })).toMatch(/empty/)
  })
})
