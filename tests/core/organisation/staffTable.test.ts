import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { apply, Model } from '../../../src/core/model'
import type { ImportOptions, ImportPlan } from '../../../src/core/notation'
import { guessMapping, understoodRows, readTable } from '../../../src/core/tabular'
import { findingsOf } from '../../../src/core/findings'
import { registry } from '../../../src/core/notations'
import { asText, DAY, id, numbering, organisation, treeView, wishFor } from '../../facts'

const [staff] = organisation.imports
if (!staff) throw new Error('no import')
const EMPTY = Model.of({ views: [treeView()] })
let runs = 0

function plan(model: Model, text: string, options: Partial<ImportOptions> = {}): ImportPlan {
  const table = readTable(text)
  if ('refused' in table) throw new Error(table.refused)
  const rows = understoodRows(table, guessMapping(table.heading, staff?.columns ?? []), staff?.columns ?? []).rows
  const wish = wishFor(model, { newId: numbering(`i${++runs}-`) })
  return (
    staff?.plan(wish, rows, { leaveOutFaulty: false, endGone: false, ...options }) ?? {
      change: { label: '', steps: [] },
      faults: [],
      added: [],
      altered: [],
      gone: [],
    }
  )
}
const brought = (model: Model, text: string, options?: Partial<ImportOptions>): Model =>
  apply(model, plan(model, text, options).change).model
const faults = (text: string) =>
  plan(EMPTY, text).faults.map(({ row, column, message }) => `${row} ${column}: ${message}`)

const TABLE = `Employee ID,Full name,Job title,Manager ID,Department,FTE,Start date
1,Ada Holm,Head,,Direction,1,2020-01-01
2,Ben Aas,Lead,1,Fleet,1,2021-06-01
3,,Driver,2,Fleet,"0,5",
4,"Dora, jr.",Clerk,1,Ports,1,1 Feb 2024`

describe('a table of staff', () => {
  it('is understood by its headings, whatever separates its cells', () => {
    const text = asText(brought(EMPTY, TABLE))
    expect(text).toBe('Ada Holm — Head\n  Ben Aas — Lead\n    vacant — Driver\n  Dora, jr. — Clerk')
    expect(asText(brought(EMPTY, 'Name\tPosition\tReports to\nAda\tHead\t\nBen\tClerk\tAda'))).toBe(
      'Ada — Head\n  Ben — Clerk',
    )
    expect(asText(brought(EMPTY, 'Name;Title;Manager\nBen;Clerk;Head\nAda;Head;'))).toBe('Ada — Head\n  Ben — Clerk')
  })

  it('brings the same table in twice without a further change, and later only what differs', () => {
    const once = brought(EMPTY, TABLE)
    expect(plan(once, TABLE)).toMatchObject({ change: { steps: [] }, added: [], altered: [], gone: [] })
    const later = plan(
      once,
      TABLE.replace('Ben Aas,Lead,1', 'Ben Aas,Chief,1').replace('3,,Driver,2,Fleet,"0,5",\n', ''),
    )
    expect([later.added, later.altered, later.gone.map(({ name }) => name)]).toEqual([
      [],
      ['Ben Aas — Chief'],
      ['Driver'],
    ])
    expect(later.change.steps).toHaveLength(1)
  })

  it('ends what is gone only when asked to', () => {
    const once = brought(EMPTY, TABLE)
    const less = TABLE.split('\n').slice(0, 3).join('\n')
    expect(asText(brought(once, less))).toContain('Driver')
    const ended = plan(once, less, { endGone: true })
    expect(ended.change.steps.filter(({ do: sort }) => sort === 'set-entity')).toHaveLength(2)
  })

  it('explains every row that does not fit, and writes nothing', () => {
    const bad =
      'id,name,title,manager,from\n1,Ada,Head,,2020-01-01\n1,Bo,Clerk,,\n2,Cy,Clerk,Nobody,\n3,Di,Clerk,1,2020-02-30\n4,Ed,Clerk,4,\n5,,,1,'
    expect(faults(bad)).toEqual([
      '3 Id: It has the identity of row 2.',
      '5 In post from: “2020-02-30” is not a day. Write it as 2026-11-24.',
      '7 Name: There is neither a name nor a title.',
      '4 Manager: There is no “Nobody” in the table or among the facts.',
      '6 Manager: It reports to itself.',
    ])
    expect(plan(EMPTY, bad).change.steps).toEqual([])
  })

  it('finds a circle and names all its rows', () => {
    expect(faults('id,name,manager\n1,A,3\n2,B,1\n3,C,2\n4,D,1')).toEqual(
      [2, 3, 4].map((row) => `${row} Manager: Rows 2, 3, 4 report to each other in a circle.`),
    )
  })

  it('brings in the rest when faulty rows are left out, with those that hang on them', () => {
    const text = 'id,name,title,manager\n1,Ada,Head,\n2,Bo,Lead,Nobody\n3,Cy,Clerk,2\n4,Di,Clerk,1'
    expect(asText(brought(EMPTY, text, { leaveOutFaulty: true }))).toBe('Ada — Head\n  Di — Clerk')
  })

  it('says when a manager’s name may be any of several', () => {
    expect(faults('id,name,manager\n1,Ada,\n2,Ada,\n3,Bo,Ada')).toEqual([
      '4 Manager: “Ada” may be any of 2. Use an identity.',
    ])
  })

  it('is refused where it is none', () => {
    expect([readTable('just text'), readTable('a,b')]).toEqual([
      { refused: 'A table has a heading and at least two columns.' },
      { refused: 'There is a heading, and no row beneath it.' },
    ])
  })

  it('takes columns by their closest heading, each once', () => {
    expect(guessMapping(['Manager', 'Name', 'Full Name', 'Manager ID', 'Shoe size'], staff.columns)).toEqual([
      'manager',
      'name',
      undefined,
      undefined,
      undefined,
    ])
  })
})

describe('a table as another program hands it out', () => {
  const HANDED = `Personnel number;Last name, first name;Job title;Manager;Cost;FTE;Hire date;Employed
1;Ortiz, Dana;Head;;120.500,00;1,0;01/09/2021;ja
2;Aas, Bo;Lead;Ortiz, Dana;80.000,50;0,5;15/03/2019;ja
3;Lind, Eva;Clerk;Aas, Bo;;;02/01/2009;ja
4;Gone, Gil;Clerk;Aas, Bo;;;02/01/2010;nein`.replace('Last name, first name', 'Name')
  const model = brought(EMPTY, HANDED)

  it('is understood: names turned around, decimal commas, days and yes in its language', () => {
    expect(asText(model)).toBe('Dana Ortiz — Head\n  Bo Aas — Lead\n    Eva Lind — Clerk')
    expect(model.entities.get(id('post-2'))?.fields).toMatchObject({ cost: 80_000.5, fte: 0.5 })
  })

  it('takes a hire date for when somebody took the post, which contradicts no chief who came later', () => {
    expect(model.ofKind('position').map(({ from }) => from)).toEqual([undefined, undefined, undefined])
    expect(model.relationsOfKind('holds').map(({ from }) => from)).toEqual(['2021-09-01', '2019-03-15', '2009-01-02'])
    expect(findingsOf(registry, model, DAY).filter(({ severity }) => severity === 'error')).toEqual([])
    expect(plan(model, HANDED).change.steps).toEqual([])
  })

  it('lets a post end with its last holder’s day, and the next one hold it from the first', () => {
    const next = brought(
      model,
      HANDED.replace('3;Lind, Eva;Clerk;Aas, Bo;;;02/01/2009', '3;Moe, Kai;Clerk;Aas, Bo;;;01/02/2026'),
    )
    const held = next.reaching(id('post-3'), 'holds').map(({ from, to }) => `${from ?? ''} to ${to ?? ''}`)
    expect(held).toEqual(['2009-01-02 to 2026-01-31', '2026-02-01 to '])
    const later = HANDED.replace('3;Lind, Eva;Clerk;Aas, Bo;;;02/01/2009', '3;Moe, Kai;Clerk;Aas, Bo;;;01/02/2099')
    const planned = brought(model, later)
    expect(plan(planned, later).change.steps).toEqual([])
  })

  it('finds a manager by a title with a comma beside names with the last one first', () => {
    const text =
      'Id;Name;Title;Manager\n1;Ortiz, Dana;Director, Ports;\n2;Aas, Bo;Lead;Director, Ports\n3;Lind, Eva;Clerk;Aas, Bo'
    expect(asText(brought(EMPTY, text))).toBe('Dana Ortiz — Director, Ports\n  Bo Aas — Lead\n    Eva Lind — Clerk')
  })

  it('keeps the days of a post apart from those of its holder, and gives a vacant post its own', () => {
    const text =
      'Id,First name,Last name,Title,Start,Post exists from\n1,Ada,Holm,Head,2024-05-01,2020-01-01\n2,,,Clerk,2027-01-01,'
    const posts = brought(EMPTY, text)
    expect(posts.ofKind('position').map(({ from }) => from)).toEqual(['2020-01-01', '2027-01-01'])
    expect(asText(posts)).toContain('Ada Holm — Head')
    expect(faults('id,name,from,to\n1,Ada,2024-05-01,2024-04-01')).toEqual([
      '2 In post until: It ends before it begins.',
    ])
  })
})

// Reference: the `flare` hierarchy of npm vega-datasets, as a table of an organisation.
describe('flare as an organisation', () => {
  const rows = JSON.parse(readFileSync('node_modules/vega-datasets/data/flare.json', 'utf8')) as {
    id: number
    name: string
    parent?: number
  }[]
  const table = ['id,title,manager id', ...rows.map(({ id, name, parent }) => `${id},${name},${parent ?? ''}`)].join(
    '\n',
  )
  it('has 252 positions, one head, and the same parents', () => {
    const model = brought(EMPTY, table)
    expect([model.ofKind('position').length, model.relationsOfKind('reports-to').length]).toEqual([252, 251])
    const parentOf = new Map(
      model
        .relationsOfKind('reports-to')
        .map(({ source, target }) => [source.replace('post-', ''), target.replace('post-', '')]),
    )
    for (const { id, parent } of rows)
      expect(parentOf.get(String(id))).toBe(parent === undefined ? undefined : String(parent))
  })
  it('of 10 000 rows is planned in seconds, and again without a change', () => {
    const many = [
      'id,name,title,manager id,unit',
      ...Array.from(
        { length: 10_000 },
        (_, i) => `${i + 1},Person ${i},Post ${i},${i === 0 ? '' : Math.ceil(i / 7)},Unit ${i % 20}`,
      ),
    ].join('\n')
    const model = brought(EMPTY, many)
    expect(model.ofKind('position')).toHaveLength(10_000)
    expect(plan(model, many).change.steps).toEqual([])
  })
})
