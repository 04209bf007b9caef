import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, Model } from '../../../src/core/model'
import { classTable } from '../../../src/core/notations/uml/formats/classTable'
import { registers } from '../../../src/core/notations/uml/registers'
import { guessMapping, readTable, registerCells, registerCsv, understoodRows } from '../../../src/core/tabular'
import { marramSoundFerries } from '../../../src/demo'
import { classView } from '../../classShapes'
import { databaseModels, statements } from '../../databaseShapes'
import { DAY, numbering, wishFor } from '../../facts'
import { classModel, textOf } from './facts'

let runs = 0
function planned(csv: string, onto: Model, more = {}) {
  const table = readTable(csv)
  if ('refused' in table) throw new Error(table.refused)
  const { rows } = understoodRows(table, guessMapping(table.heading, classTable.columns), classTable.columns)
  const wish = wishFor(onto, { view: classView(), newId: numbering(`t${++runs}-`) })
  return classTable.plan(wish, rows, { leaveOutFaulty: false, endGone: false, ...more })
}
const begun = Model.of({ views: [classView()] })
const brought = (csv: string, onto = begun, more = {}) => apply(onto, planned(csv, onto, more).change).model
const csvOf = (model: Model, register: string): string => {
  const found = registers.find(({ id }) => id === register)
  if (!found) throw new Error('no such register')
  return registerCsv(registerCells(found, model, found.rows(model, classView(), DAY), DAY))
}

describe('a table of classes', () => {
  it('states classes with what they are, and members as they are typed, each once', () => {
    const model = brought(
      "Class,Kind,Member,Package,Abstract,Parent\nDocument,,# reference : String {id},booking,yes,\nDocument,,+ print() : Page,,,\nTicket,class,- seats : Integer = 1,booking,,Document\nState,enum,open,booking,,\nState,,it's paid,,,\n",
    )
    expect(textOf(model)).toBe(
      [
        'booking  (package)',
        '  Document  (abstract)',
        '    # reference : String {id}',
        '    + print() : Page',
        '  Ticket',
        '    - seats : Integer = 1',
        '    is a Document',
        '  State  (enumeration)',
        '    open',
        "    it's paid",
      ].join('\n'),
    )
  })
  it('as its registers are saved comes back, and the same again changes nothing', () => {
    const demo = marramSoundFerries()
    const [classes, members] = [csvOf(demo, 'classes'), csvOf(demo, 'members')]
    expect(planned(classes, demo).change.steps).toEqual([])
    expect(planned(members, demo).change.steps).toEqual([])
    const back = brought(members, brought(classes))
    const untied = (text: string) =>
      statements(text).filter((line) => !/: (?:is an?|has|owns|shares|knows|realises|uses|depends on) /.test(line))
    expect(untied(textOf(back))).toEqual(untied(textOf(demo)))
  })
  it('comes back so for any classes', () => {
    fc.assert(
      fc.property(databaseModels, (text) => {
        const model = classModel(text)
        const members = csvOf(model, 'members')
        const classes = brought(csvOf(model, 'classes'))
        // A table without a row is none.
        const back = members.trim().includes('\n') ? brought(members, classes) : classes
        const untied = (one: string) => statements(one).filter((line) => !/: (?:is an?|has|owns) /.test(line))
        expect(untied(textOf(back))).toEqual(untied(textOf(model)))
      }),
      { numRuns: 40 },
    )
  })
  it('alters what is there by its name, and ends what it has no longer', () => {
    const model = classModel('Ticket\n  - seats : Integer\n  + book(a : Integer)\n  + book(b : String)\nLeg')
    const plan = planned(
      'Class,Member,Final\nTicket,- seats : Integer [1..9],yes\nTicket,+ book(b : String) : Boolean,\nTicket,+ cancel(),\n',
      model,
      { endGone: true },
    )
    expect([plan.added, plan.altered, plan.gone.map(({ name }) => name)]).toEqual([[], ['Ticket'], ['Leg']])
    const after = apply(model, plan.change).model
    expect(textOf(after)).toBe(
      'Ticket  (final)\n  - seats : Integer [1..9]\n  + book(a : Integer)\n  + book(b : String) : Boolean\n  + cancel()',
    )
    expect(after.ofKind('class').find(({ name }) => name === 'Leg')?.to).toBe('2026-11-23')
  })
  it('says row by row what does not fit, and leaves it out where that is wished', () => {
    const csv = 'Class,Sort,Member\n,,- a : Integer\nTicket,unicorn,\nTicket,,- x : Integer [5..1]\nLeg,,\n'
    expect(planned(csv, begun).faults.map(({ row, column }) => [row, column])).toEqual([
      [2, 'Class'],
      [3, 'Sort'],
      [4, 'Member'],
    ])
    expect(planned(csv, begun).change.steps).toEqual([])
    expect(textOf(brought(csv, begun, { leaveOutFaulty: true }))).toBe('Leg')
  })
})
