import ICAL from 'ical.js'
import { describe, expect, it } from 'vitest'
import { Model } from '../../src/core/model'
import { isRefusal } from '../../src/core/notation'
import * as iCalendarImport from '../../src/core/notations/schedule/formats/readICalendar'
import { writeICalendar } from '../../src/core/notations/schedule/formats/writeICalendar'
import { readFileSync } from 'node:fs'
import { after, datesOf, idOf, planned, planView, wishOf, workOf } from '../core/schedule/facts'
import { DAY } from '../facts'

const model = planned(`Prepare; then, wait
  Grundlagen für die Überfahrt klären – mit allen Beteiligten, Schritt für Schritt, bis alles stimmt  3d  @ Ada Holm
  Half a day  4h  after 1.1
  milestone: Signed  after 1.2`)
const text = writeICalendar(model, planView(), DAY)

/** Read back with npm ical.js; RFC 5545. */
describe('a plan written as iCalendar', () => {
  const calendar = new ICAL.Component(ICAL.parse(text) as unknown[])
  const events = calendar.getAllSubcomponents('vevent').map((one) => new ICAL.Event(one))

  it('has an entry for each task and milestone, with its days; the end is the day after the last', () => {
    expect(events.map(({ startDate, endDate }) => `${startDate.toString()} to ${endDate.toString()}`)).toEqual([
      '2026-01-05 to 2026-01-08',
      '2026-01-08 to 2026-01-09',
      '2026-01-08T12:00:00 to 2026-01-08T12:00:00',
    ])
    expect(events[0]?.summary).toContain('Überfahrt klären – mit allen Beteiligten, Schritt')
    expect(events[0]?.description).toContain('Ada Holm')
    expect(events[0]?.component.getFirstPropertyValue('categories')).toBe('Prepare; then, wait')
  })
  it('folds its lines at 75 octets and ends them as the standard says', () => {
    const lines = text.split('\r\n')
    expect(lines.every((line) => new TextEncoder().encode(line).length <= 75)).toBe(true)
    expect(text.endsWith('END:VCALENDAR\r\n')).toBe(true)
    expect(text).not.toMatch(/[^\r]\n/)
  })
  it('reads back into the same plan without a change in names', () => {
    const read = iCalendarImport.read(wishOf(model), text)
    if ('refused' in read) throw new Error(read.refused)
    expect(read.change.steps.filter((step) => step.do === 'add-entity')).toEqual([])
  })
})

describe('a calendar from elsewhere', () => {
  const OTHER = [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Elsewhere//EN',
    'BEGIN:VEVENT',
    'UID:one@elsewhere.example',
    'DTSTAMP:20260101T000000Z',
    'DTSTART;VALUE=DATE:20260302',
    'DTEND;VALUE=DATE:20260305',
    'SUMMARY:Dock closed',
    'END:VEVENT',
    'BEGIN:VEVENT',
    'UID:two@elsewhere.example',
    'DTSTAMP:20260101T000000Z',
    'DTSTART:20260303T090000',
    'RRULE:FREQ=DAILY',
    'SUMMARY:Every day',
    'END:VEVENT',
    'END:VCALENDAR',
  ].join('\r\n')
  const empty = Model.of({ name: 'T', views: [planView()] })

  it('becomes tasks with the dates they have; what repeats is left out and counted', () => {
    const read = iCalendarImport.read(wishOf(empty), OTHER)
    if ('refused' in read) throw new Error(read.refused)
    const next = after(empty, { change: read.change })
    expect(datesOf(next, 'Dock closed')).toBe('2026-03-02 to 2026-03-04')
    expect(read.facts.join(' ')).toContain('1 entries have no date, or repeat')
    const again = iCalendarImport.read(wishOf(next), OTHER)
    expect('refused' in again ? again : again.change.steps).toEqual([])
    const moved = iCalendarImport.read(
      wishOf(next),
      OTHER.replace('DTEND;VALUE=DATE:20260305', 'DTEND;VALUE=DATE:20260306'),
    )
    if ('refused' in moved) throw new Error(moved.refused)
    expect(datesOf(after(next, { change: moved.change }), 'Dock closed')).toBe('2026-03-02 to 2026-03-05')
    expect(idOf(next, 'Dock closed')).toContain('ical-one')
  })
  it('has entries by their length, on weekends, and told in zones; all of it is said', () => {
    const read = iCalendarImport.read(wishOf(empty), readFileSync('tests/cases/wk.ics', 'utf8'))
    if ('refused' in read) throw new Error(read.refused)
    const next = after(empty, { change: read.change })
    expect(datesOf(next, 'Weekend move')).toBe('2026-01-10 to 2026-01-11')
    expect(datesOf(next, 'Zulu')).toBe('2026-01-13T09:00 to 2026-01-13T11:00')
    expect(datesOf(next, 'Zone and duration')).toBe('2026-01-14T09:00 to 2026-01-14T11:00')
    expect(next.entities.get(idOf(next, 'Three days by duration'))?.fields).toMatchObject({
      start: '2026-01-15',
      finish: '2026-01-17',
    })
    expect(read.facts.join(' ')).toContain('1 entries are told in the time of UTC')
    expect(read.facts.join(' ')).toContain('1 entries are told in the time of America/New_York')
    const early = next.ofKind('task').flatMap(({ name }) => {
      const work = workOf(next, name)
      return work.finish < work.start ? [name] : []
    })
    expect(early).toEqual([])
  })
  it('counts entries whose time is none, or which last for ages, and reads the others', () => {
    const bad = OTHER.replace('DTSTART;VALUE=DATE:20260302', 'DTSTART:20261399T999999').replace(
      'END:VCALENDAR',
      [
        'BEGIN:VEVENT',
        'UID:long',
        'DTSTART;VALUE=DATE:00010101',
        'DTEND;VALUE=DATE:99990101',
        'SUMMARY:Long',
        'END:VEVENT',
        'BEGIN:VEVENT',
        'UID:ok',
        'DTSTART;VALUE=DATE:20260401',
        'SUMMARY:Fine',
        'END:VEVENT',
        'END:VCALENDAR',
      ].join('\r\n'),
    )
    const read = iCalendarImport.read(wishOf(empty), bad)
    if ('refused' in read) throw new Error(read.refused)
    expect(read.change.steps.filter((step) => step.do === 'add-entity').length).toBeGreaterThanOrEqual(1)
    expect(datesOf(after(empty, { change: read.change }), 'Fine')).toBe('2026-04-01 to 2026-04-01')
    expect(read.facts.join(' ')).toContain('lie before 1900 or after 2199')
  })
  it('is written without an end where that would not lie after the beginning', () => {
    const none = planned('Sign  0d\nWork  2d  after 1')
    const written = writeICalendar(none, planView(), DAY)
    for (const event of written.split('BEGIN:VEVENT').slice(1)) {
      const [start, end] = ['DTSTART', 'DTEND'].map((name) => new RegExp(`${name}[^:]*:(\\S+)`).exec(event)?.[1])
      if (end !== undefined) expect(end > (start ?? '')).toBe(true)
    }
  })
  it('is refused in words when it is none', () => {
    expect(isRefusal(iCalendarImport.read(wishOf(empty), 'nonsense') as never)).toBe(true)
    expect(iCalendarImport.read(wishOf(empty), 'BEGIN:VCALENDAR\r\nEND:VCALENDAR')).toMatchObject({
      refused: 'There is no entry with a date in it.',
    })
  })
})
