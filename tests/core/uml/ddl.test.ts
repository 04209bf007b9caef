import { describe, expect, it } from 'vitest'
import { ddlOf } from '../../../src/core/notations/uml/formats/ddl'
import { tablesOf } from '../../../src/core/notations/uml/formats/tables'
import { classView } from '../../classShapes'
import { DAY } from '../../facts'
import { classModel } from './facts'

const tables = (text: string) => tablesOf(classModel(text), classView(), DAY)
const table = (text: string, name: string) => {
  const found = tables(text).find((one) => one.name === name)
  if (!found) throw new Error(`no table “${name}”`)
  return found
}
const columns = (text: string, name: string) =>
  table(text, name).columns.map(
    (one) =>
      `${one.name} ${one.type}${one.isRequired ? '' : ' NULL'}${one.initial === undefined ? '' : ` = ${one.initial}`}`,
  )

describe('a class as a table', () => {
  it('is called as it says, or by its name, with a column for each attribute', () => {
    expect(
      columns(
        'OrderLine\n  + code : String {id}\n  + count : Integer [0..1] = 1\n  + isPaid : Boolean = false\n  / total : Real\n  + all : Integer {static}\n  + note : Unknown',
        'order_line',
      ),
    ).toEqual(['code VARCHAR(255)', 'count INT NULL = 1', 'is_paid BOOLEAN = FALSE', 'note VARCHAR(255)'])
    expect(table('A  table: orders', 'orders').key).toEqual(['id'])
  })
  it('takes data types apart, and names the literals of an enumeration', () => {
    const text = `Money  (data type)\n  + amount : Real\n  + currency : String = "EUR"\nState  (enumeration)\n  open\n  it's paid\nA\n  + price : Money [0..1]\n  + state : State = open`
    expect(columns(text, 'a')).toEqual([
      'id BIGINT UNSIGNED',
      'price_amount DOUBLE NULL',
      "price_currency VARCHAR(255) NULL = 'EUR'",
      "state ENUM('open', 'it''s paid') = 'open'",
    ])
  })
  it('has the key of what it is a kind of, and refers to it', () => {
    const text = 'Document  (abstract)\n  # reference : String {id}\nTicket\n  is a Document\n  + seats : Integer'
    const ticket = table(text, 'ticket')
    expect(ticket.key).toEqual(['reference'])
    expect(ticket.foreign).toEqual([
      { columns: ['reference'], to: 'document', toColumns: ['reference'], cascades: true },
    ])
  })
  it('is keyed though classes are kinds of each other', () => {
    for (const one of tables('A\n  is a B\nB\n  is an A')) expect(one.key.length).toBeGreaterThan(0)
  })
})

describe('what there is one of and many of', () => {
  it('one is referred to: required where there must be one, once where it is of one only', () => {
    const text = 'A\n  has 1 B as first\n  has 0..1 B as second  each 1\nB'
    const a = table(text, 'a')
    expect(columns(text, 'a')).toEqual([
      'id BIGINT UNSIGNED',
      'first_id BIGINT UNSIGNED',
      'second_id BIGINT UNSIGNED NULL',
    ])
    expect(a.unique).toEqual([['second_id']])
  })
  it('many of one refer to it, and parts are gone with their whole', () => {
    const text = 'Order\n  owns 1..* Line as lines  each 1 as order\nLine'
    expect(table(text, 'line').foreign).toEqual([
      { columns: ['order_id'], to: 'order', toColumns: ['id'], cascades: true },
    ])
  })
  it('many of many have a table between', () => {
    const text = 'Ticket\n  has 1..* Leg as legs  each * as tickets\nLeg'
    const between = table(text, 'ticket_legs')
    expect(between.key).toEqual(['tickets_id', 'legs_id'])
    expect(between.foreign.map(({ to }) => to)).toEqual(['ticket', 'leg'])
  })
  it('an attribute of many has a table of its own, in its order', () => {
    const text = 'A\n  + names : String [*]'
    expect(columns(text, 'a_names')).toEqual(['a_id BIGINT UNSIGNED', 'position INT UNSIGNED', 'names VARCHAR(255)'])
    expect(table(text, 'a_names').key).toEqual(['a_id', 'position'])
  })
})

describe('names', () => {
  it('are told apart whatever the case, and are no longer than may be', () => {
    const long = 'N'.repeat(80)
    const all = tables(`p  (package)\n  Line\nq  (package)\n  line\n  ${long}\n  ${long}x`)
    expect(all.map(({ name }) => name)).toEqual(['line', 'line_2', 'n'.repeat(64), `${'n'.repeat(62)}_2`])
  })
  it('are written so that nothing in them is read as anything else', () => {
    const text = ddlOf(tables('A  table: a`b; DROP TABLE x'))
    expect(text).toContain('CREATE TABLE `a``b; DROP TABLE x` (')
  })
})
