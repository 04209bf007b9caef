import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ImportColumn, Table } from '../../../src/core/notation'
import { understand, understoodRows } from '../../../src/core/tabular'

type Says = NonNullable<ImportColumn['says']>

/** Cells of one column as they are understood. */
function read(says: Says, cells: readonly string[], more: Partial<ImportColumn> & { way?: string; typed?: true } = {}) {
  const { way, typed, ...rest } = more
  const columns = [{ id: 'x', label: 'X', headings: [], says, ...rest }]
  const table: Table = { heading: ['X'], rows: cells.map((cell) => [cell]), ...(typed ? { typed } : {}) }
  const { rows, understood } = understoodRows(table, ['x'], columns, [way])
  return { cells: rows.map((row) => row.cells['x']), ...understood[0] }
}

describe('days of a column', () => {
  it('are read in the order that fits all, which is said by the cell that tells it', () => {
    expect(read('day', ['03/04/2026', '24/11/2026', ''])).toMatchObject({
      cells: ['2026-04-03', '2026-11-24', ''],
      doubtful: false,
      said: 'day first: 24/11/2026 is 24 Nov 2026',
    })
    expect(read('day', ['03/04/2026', '11/24/2026']).cells).toEqual(['2026-03-04', '2026-11-24'])
    expect(read('day', ['26-11-24', '27-01-02', '31-01-02']).way).toBe('day first')
    expect(read('day', ['26-11-24', '99-01-02']).cells).toEqual(['2026-11-24', '1999-01-02'])
  })
  it('are asked about where nothing tells the order, and read as answered', () => {
    const found = read('day', ['03/04/2026', '05/06/2026'])
    expect([found.doubtful, found.ways?.map(({ label }) => label)]).toEqual([
      true,
      ['day first: 03/04/2026 is 3 Apr 2026', 'month first: 03/04/2026 is 4 Mar 2026'],
    ])
    expect(read('day', ['03/04/2026', '05/06/2026'], { way: 'month first' })).toMatchObject({
      cells: ['2026-03-04', '2026-05-06'],
      doubtful: false,
    })
    // Points are everywhere written after the day; and the same either way is no question.
    expect(read('day', ['3.4.2026']).doubtful).toBe(false)
    expect(read('day', ['04/04/2026', '05/05/2026'])).toMatchObject({ doubtful: false, ways: [] })
  })
  it('are counted by spreadsheets: 46 350 days after the 30th of December 1899', () => {
    expect(read('day', ['46350', '1 Jan 2020', '40000']).cells).toEqual(['2026-11-24', '2020-01-01', '2009-07-06'])
  })
  it('keep their time where it is asked for, and what is none stays as it stands', () => {
    expect(read('moment', ['24/11/2026 1:05 pm', '24.11.2026', 'soon']).cells).toEqual([
      '2026-11-24T13:05',
      '2026-11-24',
      'soon',
    ])
    expect(read('day', ['2026-11-24T00:00:00Z']).cells).toEqual(['2026-11-24'])
  })
})

describe('numbers of a column', () => {
  it('have a point or a comma before their decimals, as all of them do', () => {
    expect(read('number', ['1.250,50', '0,5', '€ 3', '2 000 kr', '(12,5)']).cells).toEqual([
      '1250.5',
      '0.5',
      '3',
      '2000',
      '-12.5',
    ])
    expect(read('number', ["1'250.50", '12,34,567', '−3', 'EUR 7', '45 %']).cells).toEqual([
      '1250.5',
      '1234567',
      '-3',
      '7',
      '45',
    ])
  })
  it('are asked about where three digits after a mark may be either, unless the range tells', () => {
    expect(read('number', ['1,250', '2,000'])).toMatchObject({ doubtful: true, cells: ['1250', '2000'] })
    expect(read('number', ['1,250', '2,000'], { way: 'decimal comma' }).cells).toEqual(['1.25', '2'])
    expect(read('number', ['1,250', '0,500'], { range: { max: 10 } })).toMatchObject({
      doubtful: false,
      cells: ['1.25', '0.5'],
    })
    expect(read('number', ['1.125'], { typed: true })).toMatchObject({ doubtful: false, cells: ['1.125'] })
  })
  it('are read as every language writes them', () => {
    // Reference: number formats of the Unicode CLDR by ECMA-402.
    fc.assert(
      fc.property(
        fc.constantFrom('en', 'de', 'fr', 'pl', 'de-CH', 'en-IN', 'sv', 'pt-BR', 'nb'),
        fc.array(fc.integer({ min: -99_999_999, max: 99_999_999 }), { minLength: 1, maxLength: 8 }),
        (language, list) => {
          const format = new Intl.NumberFormat(language, { minimumFractionDigits: 2 })
          const numbers = list.map((value) => value / 100)
          expect(
            read(
              'number',
              numbers.map((value) => format.format(value)),
            ).cells?.map(Number),
          ).toEqual(numbers.map((value) => value || 0))
        },
      ),
    )
  })
})

describe('yes, no and names of a column', () => {
  it('are understood in several languages, and words that are neither are named', () => {
    expect(read('flag', ['ja', 'Nein', 'x', 'on leave'], { words: { yes: [], no: ['gone'] } })).toMatchObject({
      cells: ['yes', 'no', 'yes', 'on leave'],
      said: '“ja”, “x” is yes, “Nein” is no, “on leave” is neither',
    })
  })
  it('turn a last name first around, but for titles behind a name', () => {
    expect(read('person', ['Ortiz, Dana', 'van der Berg, Anna', 'Ada Holm, PhD', 'Bo']).cells).toEqual([
      'Dana Ortiz',
      'Anna van der Berg',
      'Ada Holm, PhD',
      'Bo',
    ])
    const titled = read('person', ['Dana Ortiz, Chief', 'Bo Aas, Lead'])
    expect([titled.way, titled.ways?.length]).toEqual(['as they stand', 2])
    expect(read('person', ['Ortiz, Dana'], { way: 'as they stand' }).cells).toEqual(['Ortiz, Dana'])
  })
  it('are read like the column whose people they name', () => {
    const columns: ImportColumn[] = [
      { id: 'name', label: 'Name', headings: [], says: 'person' },
      { id: 'chief', label: 'Chief', headings: [], says: 'person', like: 'name' },
    ]
    const table = {
      heading: ['Name', 'Chief'],
      rows: [
        ['Ortiz, Dana', 'Head, Ports'],
        ['Aas, Bo', 'Ortiz, Dana'],
      ],
    }
    const { rows } = understoodRows(table, ['name', 'chief'], columns)
    expect(rows.map(({ cells }) => cells['chief'])).toEqual(['Ports Head', 'Dana Ortiz'])
    expect(understand(table, ['name', 'chief'], columns)[1]).toMatchObject({ said: 'as in “Name”', doubtful: false })
  })
})
