import { describe, expect, it } from 'vitest'
import { apply, Model, type Day } from '../../../src/core/model'
import type { ImportPlan, Table } from '../../../src/core/notation'
import { guessMapping, understoodRows, readXlsx, registerCells, writeXlsx } from '../../../src/core/tabular'
import { marramSoundFerries } from '../../../src/demo'
import { membersOn, usersPage } from '../../../src/standins/staffDirectory'
import { ENTERPRISE, scimUsers } from '../../../src/core/notations/organisation/formats/scim'
import {
  asText,
  DAY,
  day,
  facts,
  listed,
  numbering,
  organisation,
  person,
  position,
  reports,
  tie,
  treeView,
  wishFor,
  writtenAtOnce,
} from '../../facts'

const [staff] = organisation.imports
if (!staff) throw new Error('no import')
const reader = (id: string) => {
  const found = staff.readers.find((one) => one.id === id)
  if (!found) throw new Error(`no reader ${id}`)
  return found
}
const table = (read: Table | { refused: string }): Table => {
  if ('refused' in read) throw new Error(read.refused)
  return read
}
let runs = 0
function plan(model: Model, read: Table, on: Day = DAY, source?: string): ImportPlan {
  const rows = understoodRows(read, guessMapping(read.heading, staff?.columns ?? []), staff?.columns ?? []).rows
  const wish = wishFor(model, { newId: numbering(`f${++runs}-`), day: on })
  const planned = staff?.plan(wish, rows, { leaveOutFaulty: false, endGone: false, ...(source ? { source } : {}) })
  if (!planned) throw new Error('no plan')
  return planned
}
const EMPTY = Model.of({ views: [treeView()] })
const written = (id: string, model: Model, on: Day = DAY): string => {
  const found = organisation.exports.find((one) => one.id === id)
  if (!found) throw new Error(`no export ${id}`)
  return writtenAtOnce(found.write(model, treeView(), on))
}

describe('what is written and read again is the same organisation', () => {
  const text =
    'Ada Holm — Head\n  Åse Ø. Lind, jr. — Chief of “things”\n    Cy Moe — Clerk of a very long title that has to be folded into more than one line\n  Dee — Aide'
  it.each(['ldif', 'scim'])('%s', (id) => {
    const model = listed(text)
    const again = plan(EMPTY, table(reader(id).read(written(id, model))))
    expect(again.faults).toEqual([])
    expect(asText(apply(EMPTY, again.change).model)).toBe(asText(model))
    // Read back into the facts it came from, it changes nothing.
    expect(plan(model, table(reader(id).read(written(id, model)))).change.steps).toEqual([])
  })
})

describe('LDIF that is no staff list', () => {
  const refused = (text: string): string => {
    const read = reader('ldif').read(text)
    return 'refused' in read ? read.refused : ''
  }
  it('is refused with its line', () => {
    expect(refused('hello')).toBe('Line 1 is not “attribute: value”: “hello”.')
    expect(refused('dn: a\ncn:: %%%')).toContain('Line 2: this is not base64')
    expect(refused('version: 2\n\ndn: a')).toContain('only LDIF version 1')
    expect(refused('cn: a')).toContain('begins with “dn:”')
    expect(refused('')).toBe('There is no entry in this LDIF file.')
    expect(refused('dn: o=x\nobjectClass: organization')).toContain('none is a person')
  })
})

describe('SCIM that is no list of users', () => {
  it('is refused in words', () => {
    const refused = (text: string) => {
      const read = reader('scim').read(text)
      return 'refused' in read ? read.refused : ''
    }
    expect(refused('{')).toContain('This is not JSON')
    expect(refused('{"a":1}')).toContain('no SCIM users')
    expect(refused('{"Resources":[{"title":"x"}]}')).toBe('Resources[0] has neither “id” nor “userName”.')
    expect(refused('[]')).toBe('This list of SCIM users is empty.')
  })
})

describe('vCards', () => {
  // RFC 6350: section 3.2 folds lines at 75 octets, section 3.4 escapes comma, semicolon and backslash.
  it('are folded and escaped', () => {
    const cards = written('vcard', listed(`Ada; Holm, sr. — ${'Überaus '.repeat(12)}lang`))
    expect(cards).toContain('FN:Ada\\; Holm\\, sr.')
    const lines = cards.split('\r\n')
    expect(Math.max(...lines.map((line) => new TextEncoder().encode(line).length))).toBeLessThanOrEqual(75)
    expect(lines.slice(0, 2)).toEqual(['BEGIN:VCARD', 'VERSION:4.0'])
    expect(cards.replace(/\r\n /g, '')).toContain(`TITLE:${'Überaus '.repeat(12)}lang`)
  })
})

describe('a workbook', () => {
  it('is read as the table that was written, numbers and days included, formulas made harmless', async () => {
    const model = listed('=Ada — Head\n  Ben — Clerk')
    const people = organisation.registers.find(({ id }) => id === 'people')
    if (!people) throw new Error('no register')
    const cells = registerCells(people, model, people.rows(model, treeView(), DAY), DAY)
    const read = table(await readXlsx(await writeXlsx('People: all', cells)))
    expect(read.heading).toEqual(cells[0])
    // In the workbook it is no formula; read back it is the name again.
    expect(cells[1]?.[1]).toBe("'=Ada")
    expect(read.rows.map(([, name, holds]) => [name, holds])).toEqual([
      ['=Ada', 'Head'],
      ['Ben', 'Clerk'],
    ])
  })
  it('that is none is refused in words', async () => {
    expect(await readXlsx(new TextEncoder().encode('no workbook').buffer as ArrayBuffer)).toMatchObject({
      refused: expect.stringContaining('no XLSX workbook') as string,
    })
  })
})

describe('the directory stand-in', () => {
  const users = (on: Day) => table(reader('scim').read(JSON.stringify(usersPage(on, 1, 500))))
  it('brings joiners, leavers and movers in, and a second time on the same day nothing', () => {
    let model = marramSoundFerries()
    const seen = { joined: 0, left: 0, moved: 0 }
    for (const on of ['2026-11-24', '2026-12-03', '2026-12-20', '2027-01-15'].map(day)) {
      const first = plan(model, users(on), on, 'dir-')
      expect(first.faults).toEqual([])
      seen.joined += first.added.length
      seen.left += first.altered.filter((words) => words.endsWith('has left')).length
      seen.moved += first.altered.filter((words) => !words.endsWith('has left')).length
      model = apply(model, first.change).model
      expect(plan(model, users(on), on, 'dir-')).toMatchObject({ change: { steps: [] }, added: [], altered: [] })
    }
    expect(Math.min(seen.joined, seen.left, seen.moved)).toBeGreaterThan(0)
  })
  it('fills an empty workspace, and gives the same people for the same day', () => {
    const first = plan(EMPTY, users(DAY), DAY, 'dir-')
    expect(first.faults).toEqual([])
    expect(first.added.length).toBe(membersOn(DAY).filter(({ active }) => active).length)
    expect(usersPage(DAY, 1, 500)).toEqual(usersPage(DAY, 1, 500))
  })
  it('answers in pages', () => {
    const page = usersPage(DAY, 3, 2) as { Resources: { id: string }[]; totalResults: number; startIndex: number }
    const all = usersPage(DAY, 1, 500) as { Resources: { id: string }[] }
    expect(page.Resources.map(({ id }) => id)).toEqual(all.Resources.slice(2, 4).map(({ id }) => id))
    expect([page.startIndex, page.totalResults]).toEqual([3, all.Resources.length])
  })
})

describe('directories with vacancies and shared posts', () => {
  /** A vacant head, a post that two people share, somebody with two posts under one address. */
  const model = facts(
    position('top'),
    position('lead'),
    position('desk'),
    position('extra'),
    reports('lead', 'top'),
    reports('desk', 'lead'),
    reports('extra', 'lead'),
    person('ada', { fields: { email: 'ada@marram.example' } }),
    person('ben'),
    person('cy'),
    tie('holds', 'ada', 'top'),
    tie('holds', 'ben', 'desk'),
    tie('holds', 'cy', 'desk'),
    tie('holds', 'ada', 'extra'),
  )
  const written = (id: string) =>
    writtenAtOnce(organisation.exports.find((one) => one.id === id)?.write(model, treeView(), DAY))
  it('are written as SCIM users that read back: every holder, unique names, managers that are there', () => {
    const { Resources } = JSON.parse(written('scim')) as {
      Resources: { id: string; userName: string; displayName: string; [ENTERPRISE]: { manager?: { value: string } } }[]
    }
    expect(Resources.map(({ displayName }) => displayName).sort()).toEqual(['ada', 'ada', 'ben', 'cy'])
    expect(new Set(Resources.map(({ userName }) => userName)).size).toBe(4)
    const ids = new Set(Resources.map(({ id: key }) => key))
    const managers = Resources.flatMap((user) => user[ENTERPRISE].manager?.value ?? [])
    expect(managers.filter((manager) => !ids.has(manager))).toEqual([])
    expect(managers).toEqual(['top', 'top', 'top'])
    expect('refused' in scimUsers.read(written('scim'))).toBe(false)
  })
  it('are written as LDIF with every holder', () => {
    const ldif = written('ldif')
    expect(ldif.match(/^cn: .*/gm)?.sort()).toEqual(['cn: ada', 'cn: ada', 'cn: ben', 'cn: cy'])
    expect(new Set(ldif.match(/^dn: .*/gm)).size).toBe(4)
  })
})
