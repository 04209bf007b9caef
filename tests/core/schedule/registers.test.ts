import { describe, expect, it } from 'vitest'
import { apply, asId, type Entity, type Model } from '../../../src/core/model'
import { isRefusal, type Column, type Register } from '../../../src/core/notation'
import { DAY } from '../../facts'
import { after, datesOf, idOf, planned, planView, schedule, text, wishOf } from './facts'

const register = (id: string): Register => {
  const found = schedule.registers.find((one) => one.id === id)
  if (!found) throw new Error(`no register ${id}`)
  return found
}
const column = (table: string, id: string): Column => {
  const found = register(table).columns.find((one) => one.id === id)
  if (!found) throw new Error(`no column ${id}`)
  return found
}
const rows = (table: string, model: Model) => register(table).rows(model, planView(), DAY)
const write = (model: Model, table: string, id: string, row: string, typed: string) =>
  column(table, id).write?.(wishOf(model), asId(row), typed)
const read = (model: Model, table: string, id: string, row: string) => column(table, id).read(model, asId(row), DAY)

describe('the register of tasks', () => {
  const model = planned('Yard\n  Dig  3d  @ Ada\n  Pour  4d  after 1.1\nDry  2d  after 1.2, 1.1SS+2d  @ Ada 50 %')
  const dry = idOf(model, 'Dry')

  it('has a row for each line of the plan, in its order, with what is computed of it', () => {
    const shown = rows('tasks', model).map((row) =>
      ['number', 'name', 'duration', 'early', 'finished', 'after', 'who'].map((id) => read(model, 'tasks', id, row)),
    )
    expect(shown).toEqual([
      ['1', 'Yard', '7d', '2026-01-05', '2026-01-13', undefined, undefined],
      ['1.1', 'Dig', '3d', '2026-01-05', '2026-01-07', undefined, 'Ada'],
      ['1.2', 'Pour', '4d', '2026-01-08', '2026-01-13', '1.1', undefined],
      ['2', 'Dry', '2d', '2026-01-14', '2026-01-15', '1.2, 1.1SS+2d', 'Ada 50 %'],
    ])
  })
  it('shows predecessors and people part by part, each with the fact it means and what takes it off', () => {
    const chips = column('tasks', 'after').chips?.(model, dry, DAY) ?? []
    expect(chips.map(({ label, title, fact }) => [label, title, fact])).toEqual([
      ['1.2', '1.2 Pour', idOf(model, 'Pour')],
      ['1.1SS+2d', '1.1SS+2d Dig', idOf(model, 'Dig')],
    ])
    const [first] = chips
    if (!first) throw new Error('no chip')
    expect(text(apply(model, first.off).model)).toContain('Dry  2d  @ Ada 50 %  after 1.1SS+2d')
    const [who] = column('tasks', 'who').chips?.(model, dry, DAY) ?? []
    expect(who?.label).toBe('Ada 50 %')
    if (who) expect(text(apply(model, who.off).model)).toMatch(/Dry {2}2d {2}after/)
  })
  it('takes predecessors by number, name and kind of link, and says what it does not understand', () => {
    expect(text(after(model, write(model, 'tasks', 'after', dry, 'Dig FF')))).toContain('after 1.1FF')
    expect(text(after(model, write(model, 'tasks', 'after', dry, '')))).toMatch(/Dry {2}2d {2}@ Ada 50 %$/m)
    for (const [typed, words] of [
      ['9', '9'],
      ['2', 'itself'],
      ['Nobody knows', 'Nobody knows'],
    ] as const) {
      const outcome = write(model, 'tasks', 'after', dry, typed)
      expect(outcome && isRefusal(outcome) ? outcome.refused : '').toContain(words)
    }
    expect(write(model, 'tasks', 'after', idOf(model, 'Dig'), 'Pour')).toHaveProperty('refused')
  })
  it('keeps what only tasks have at tasks', () => {
    const outcome = write(model, 'tasks', 'duration', rows('tasks', model)[0] ?? '', '5d')
    expect(outcome).toHaveProperty('refused')
    expect(datesOf(after(model, write(model, 'tasks', 'duration', dry, '1w')), 'Dry')).toBe('2026-01-14 to 2026-01-20')
  })
  it('adds a row at the end', () => {
    const next = after(model, register('tasks').add(wishOf(model)))
    expect(rows('tasks', next)).toHaveLength(5)
  })
})

describe('the other registers of plans', () => {
  const era: Entity = { id: asId('steam'), kind: 'era', name: 'Steam', fields: { when: '1887', until: '1935' } }
  const event: Entity = { id: asId('quay'), kind: 'event', name: 'Quay', fields: { when: '1921-05-02' } }
  const calendar: Entity = { id: asId('cal'), kind: 'calendar', name: 'Four days', fields: {} }
  const model = planned('Dig  3d\nPour  4d  after 1', '2026-01-05', [era, event, calendar])

  it('hold links, events, eras, plans and calendars', () => {
    expect(['links', 'events', 'eras', 'plans', 'calendars'].map((id) => rows(id, model).length)).toEqual([
      1, 1, 1, 1, 1,
    ])
    for (const id of ['events', 'eras', 'plans', 'calendars'])
      expect(rows(id, after(model, register(id).add(wishOf(model)))), id).toHaveLength(2)
  })
  it('list events in the order of their dates, those before our era first', () => {
    const dated = (id: string, when: string): Entity => ({ id: asId(id), kind: 'event', name: id, fields: { when } })
    const old = planned('Dig  3d', '2026-01-05', [
      dated('c', '-0043'),
      dated('d', '0012'),
      dated('b', '-0100-05'),
      dated('e', '1887'),
    ])
    expect(rows('events', old)).toEqual(['b', 'c', 'd', 'e'])
  })
  it('write the kind and the lag of a link, and dates of any precision', () => {
    const [link = ''] = rows('links', model)
    const types = register('links').columns.map(({ id }) => id)
    expect(types).toEqual(expect.arrayContaining(['type', 'lag']))
    const next = after(
      after(model, write(model, 'links', 'type', link, 'SS')),
      write(model, 'links', 'lag', link, '2d'),
    )
    expect(text(next)).toContain('after 1')
    expect(
      after(model, write(model, 'eras', 'until', 'steam', '1936-07')).entities.get(asId('steam'))?.fields['until'],
    ).toBe('1936-07')
    expect(write(model, 'events', 'when', 'quay', 'some day')).toHaveProperty('refused')
  })
  it('take the days and hours of a calendar as they are said, and refuse what is none', () => {
    const hours = after(model, write(model, 'calendars', 'hours', 'cal', '09:00-13:00'))
    expect(hours.entities.get(asId('cal'))?.fields['hours']).toBe('09:00-13:00')
    for (const [typed, days] of [
      ['Mon-Thu', ['Mon', 'Tue', 'Wed', 'Thu']],
      ['saturday; Friday', ['Fri', 'Sat']],
      ['Sat – Mon', ['Mon', 'Sat', 'Sun']],
    ] as const)
      expect(
        after(model, write(model, 'calendars', 'weekdays', 'cal', typed)).entities.get(asId('cal'))?.fields['weekdays'],
      ).toEqual(days)
    expect(
      after(model, write(model, 'calendars', 'region', 'cal', 'NO')).entities.get(asId('cal'))?.fields['region'],
    ).toBe('NO')
    for (const [id, typed] of [
      ['hours', '25:00-26:00'],
      ['weekdays', 'Mon, Moonday'],
      ['weekdays', 'Mon-Tue-Wed'],
      ['region', 'Marramland'],
      ['exceptions', 'whenever off'],
    ] as const)
      expect(write(model, 'calendars', id, 'cal', typed), id).toHaveProperty('refused')
  })
})
