import { describe, expect, it } from 'vitest'
import type { Model } from '../../../src/core/model'
import { registry } from '../../../src/core/notations'
import { readMember, memberText } from '../../../src/core/notations/uml/syntax/members'
import { isFault } from '../../../src/core/notations/uml/syntax/scan'
import { DAY } from '../../facts'
import { classNamed } from '../../../src/core/notations/uml/types'
import { classesIn, classModel } from './facts'

const said = (rule: string, model: Model): readonly string[] =>
  (registry.rules.get(rule)?.check(model, DAY) ?? []).map(({ message }) => message)
const of = (rule: string, text: string): readonly string[] => said(rule, classModel(text))

describe('an operation that an interface asks for', () => {
  const asks = (wanted: string, own: string, head = 'Door') =>
    of('uml/missing-operation', `${head}  (interface)\n  + ${wanted}\nGate\n  ${own}\n  realises "${head}"\nKey\nLock`)
  it.each([
    // By the types of its parameters (UML 2.5.1, 9.6.3), by whether it can be called from outside, and of an instance.
    ['open(k : Key)', '+ open(key : Key)', 0],
    ['open(k : Key)', '+ open(l : Lock)', 1],
    ['open(k : Key)', '+ open(k)', 0],
    ['open(k : List<Key>)', '+ open(k : List< Key >)', 0],
    ['open(k : Key)', '- open(k : Key)', 1],
    ['open(k : Key)', '+ open(k : Key) {static}', 1],
    ['open(k : Key) {static}', '+ shut()', 0],
    ['open(k : Key)', '+ open(k : Key, l : Lock)', 1],
  ])('%s, where there is %s: %i', (wanted, own, count) => expect(asks(wanted, own)).toHaveLength(count))
  it('with a type that it leaves open is met by any', () => {
    expect(asks('open(k : T)', '+ open(k : Key)', 'Door<T>')).toEqual([])
    expect(asks('open(k : List<T>)', '+ open(k : List<Key>)', 'Door<T extends Key>')).toEqual([])
    expect(asks('open(k : U)', '+ open(k : Key)', 'Door<T>')).toHaveLength(1)
  })
})

describe('a type that a class leaves open', () => {
  it('is known in it, and nowhere else; types in brackets are looked at', () => {
    expect(
      of('uml/unknown-type', 'Box<T, K extends Key>\n  - held : T\n  + put(what : K) : List<T>\nKey\nList<E>'),
    ).toEqual([])
    expect(of('uml/unknown-type', 'Box<T>\n  - held : T\nBag\n  - held : T').map((one) => one.split(' ')[0])).toEqual([
      '“T”',
    ])
    expect(of('uml/unknown-type', 'Bag\n  - held : List<Tikcet>\nList<E>\nTicket')[0]).toContain('“Tikcet”')
    expect(
      of('uml/override-signature', 'Box<T>\n  + put(what : T)\nBag\n  + put(what : String)\n  is a "Box<T>"'),
    ).toEqual([])
  })
})

it('a name alone means the class that is called so, and only then one of that name that leaves types open', () => {
  for (const lines of ['Map<K, V>\nMap', 'Map\nMap<K, V>'])
    expect(classNamed(classesIn(classModel(lines)), 'Map')?.name).toBe('Map')
  expect(classNamed(classesIn(classModel('Map<K, V>')), 'Map')?.name).toBe('Map<K, V>')
})

describe('a member', () => {
  it.each([
    '+ operator==(other : Key) : Boolean',
    '+ operator()(x : Integer)',
    '+ operator[](at : Integer) : Key',
    '+ operator<(other : Key)',
  ])('%s has the name of an operator', (text) => {
    const read = readMember(text)
    if (isFault(read)) throw new Error(read.refused)
    expect(read.name).toBe(/operator\W*(?=\()/.exec(text)?.[0])
    expect(memberText(read)).toBe(text)
  })
  it('that is an operation has no default; one of a parameter is none of it', () => {
    expect(readMember('+ total() : Integer = 5')).toMatchObject({
      refused: expect.stringContaining('has no default') as string,
    })
    expect(readMember('+ total(of : Integer = 5) : Integer')).not.toHaveProperty('refused')
    expect(() => classModel('A\n  + total() : Integer = 5')).toThrow('An operation has no default')
  })
  it('has a name that no role of its class has', () => {
    expect(of('uml/duplicate-name', 'A\n  - b : String\n  has 1 B as b\nB')).toEqual([
      '“b” is the name of an attribute and a role of “A”.',
    ])
    expect(of('uml/duplicate-name', 'A\n  has 1 B as b\n  has * C as b\nB\nC')).toEqual([
      '“b” is the name of two roles of “A”.',
    ])
    expect(of('uml/duplicate-name', 'A\n  has 1 B as b\n  has * C as c\nB\n  - b : String\nC')).toEqual([])
  })
})

describe('parts of parts', () => {
  it('that each own at least one, or are always owned, have no end', () => {
    expect(of('uml/composite-ring', 'A\n  owns 1..* B\nB\n  owns 1 A')).toEqual([
      'Each of “A”, “B” always owns another of them: their parts have no end.',
    ])
    expect(of('uml/composite-ring', 'A\n  owns * A  each 1')).toEqual([
      'Each of “A” is always owned by another of them: there is no first one.',
    ])
    // A folder in a folder, and one of a ring that may be missing.
    expect(of('uml/composite-ring', 'Folder\n  owns * Folder  each 0..1')).toEqual([])
    expect(of('uml/composite-ring', 'A\n  owns 1..* B\nB\n  owns 0..1 A')).toEqual([])
  })
})
