import { describe, expect, it } from 'vitest'
import { readFileSync } from 'node:fs'
import { parseWorkspace } from '../../../src/core/file'
import { registry } from '../../../src/core/notations'
import { apply, asDay, asId, Model } from '../../../src/core/model'
import type { ImportPlan } from '../../../src/core/notation'
import { guessMapping, understoodRows, readTable, registerCells, registerCsv } from '../../../src/core/tabular'
import { DAY, numbering } from '../../facts'
import { datesOf, idOf, planned, planView, schedule, text, wishOf, workOf } from './facts'

const [sort] = schedule.imports
if (!sort) throw new Error('no import')
let runs = 0
const plan = (model: Model, table: string, more = {}): ImportPlan => {
  const read = readTable(table)
  if ('refused' in read) throw new Error(read.refused)
  return sort.plan(
    wishOf(model, { newId: numbering(`t${++runs}-`) }),
    understoodRows(read, guessMapping(read.heading, sort.columns), sort.columns).rows,
    { leaveOutFaulty: false, endGone: false, ...more },
  )
}
const EMPTY = Model.of({
  name: 'T',
  entities: [{ id: asId('plan'), kind: 'plan', name: 'P', fields: { start: '2026-01-05' } }],
  views: [planView()],
})
const TABLE = `WBS\tTask name\tDuration\tPredecessors\tResources\t% complete
1\tYard\t\t\t\t
1.1\tDig\t3\t\tAda Holm\t
1.2\tPour\t4d\t1.1\tAda Holm, Ben Aas 50 %\t
1.3\tDry\t1w\t1.2SS+1d\t\t
2\tOpen\t0d\t1.3\t\t`

describe('a table of tasks', () => {
  const model = apply(EMPTY, plan(EMPTY, TABLE).change).model
  it('becomes a plan: bare numbers are days, numbers with points are levels, none at all is a milestone', () => {
    expect(text(model)).toBe(`Yard
  Dig  3d  @ Ada Holm
  Pour  4d  @ Ada Holm, Ben Aas 50 %  after 1.1
  Dry  1w  after 1.2SS+1d
milestone: Open  after 1.3`)
    expect(model.ofKind('person')).toHaveLength(2)
    expect(datesOf(model, 'Open')).toBe('2026-01-15 to 2026-01-15')
  })
  it('brought in a second time changes nothing, and with other cells just those', () => {
    expect(plan(model, TABLE)).toMatchObject({ change: { steps: [] }, added: [], altered: [], gone: [] })
    const moved = plan(model, TABLE.replace('Pour\t4d\t1.1', 'Pour\t5d\t1.1FF'))
    expect(moved).toMatchObject({ added: [], altered: ['Pour'] })
    expect(text(apply(model, moved.change).model)).toContain('Pour  5d  @ Ada Holm, Ben Aas 50 %  after 1.1FF')
  })
  it('is told row by row what does not fit, and nothing is written', () => {
    const faulty = plan(
      EMPTY,
      'Id\tTask\tDuration\tAfter\na\tDig\tsoon\t\nb\tPour\t2d\tz\nc\tDry\t1d\td\nd\tWait\t1d\tc\na\tTwice\t1d\t',
    )
    expect(faulty.faults.map(({ row, column }) => [row, column])).toEqual([
      [2, 'Duration'],
      [6, 'Id'],
      [3, 'After'],
      [4, 'After'],
      [5, 'After'],
    ])
    expect(faulty.change.steps).toEqual([])
    const rest = plan(EMPTY, 'Id\tTask\tDuration\na\tDig\tsoon\nb\tPour\t2d', { leaveOutFaulty: true })
    expect(rest.added).toEqual(['Pour'])
  })
  it('takes out what is gone when asked to', () => {
    const less = plan(model, TABLE.split('\n').slice(0, 4).join('\n'), { endGone: true })
    expect(less.gone.map(({ name }) => name)).toEqual(['Dry', 'Open'])
    expect(text(apply(model, less.change).model)).not.toContain('Dry')
  })
  it('that a register wrote is read back without a change', () => {
    const own = planned('G\n  A  2d  @ Ada\n  B  1d  after 1.1\nmilestone: M  after 1.2')
    const register = schedule.registers.find(({ id }) => id === 'tasks')
    if (!register) throw new Error('no register')
    const csv = registerCsv(registerCells(register, own, register.rows(own, planView(), DAY), DAY))
    expect(plan(own, csv)).toMatchObject({ change: { steps: [] }, faults: [] })
    expect(workOf(own, 'A').number).toBe('1.1')
    expect(idOf(own, 'B')).toBeDefined()
  })
})

it('the assessment leaves out links between what is done', () => {
  const { model } = parseWorkspace(readFileSync('tests/cases/dcma-done.skivel.json', 'utf8'), registry)
  const rows = schedule.numbers.find(({ id }) => id === 'assessment')?.rows(model, asDay('2026-02-02')) ?? []
  expect([2, 3, 4].map((number) => rows.find(({ id }) => id === `p ${number}`)?.['value'])).toEqual([0, '0 %', '100 %'])
})

describe('the assessment of a plan', () => {
  const sheet = schedule.numbers.find(({ id }) => id === 'assessment')
  const rows = (model: Model) => sheet?.rows(model, DAY) ?? []
  it('has fourteen checks with figure, limit and verdict, and names the tasks behind each', () => {
    const model = planned('A  2d  @ Ada\nB  60d  @ Ada  after 1-1d\nC  1d  after 2SS')
    const found = rows(model)
    expect(found).toHaveLength(14)
    const of = (number: number) => found[number - 1]
    expect(of(2)).toMatchObject({ value: 1, met: false })
    expect(of(4)).toMatchObject({ value: '50 %', met: false })
    expect(of(8)).toMatchObject({ met: false, tasks: 1 })
    expect(of(10)).toMatchObject({ value: 1, met: false })
    expect(of(12)).toMatchObject({ met: true, value: '600 d' })
    expect(sheet?.counted?.(model, DAY, of(8) ?? {})).toEqual([idOf(model, 'B')])
  })
  it('is met by a plan in which everything hangs together', () => {
    const model = planned('milestone: Start\nA  2d  @ Ada  after 1\nB  3d  @ Ada  after 2\nmilestone: End  after 3')
    expect(rows(model).filter(({ met }) => met === 'no')).toEqual([])
  })
})
