import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  memberText,
  readAttribute,
  readMember,
  readOperation,
  type AttributeText,
  type OperationText,
} from '../../src/core/notations/uml/syntax/members'
import { readMultiplicity } from '../../src/core/notations/uml/syntax/multiplicity'
import { readTransition, transitionText } from '../../src/core/notations/uml/syntax/transition'

/** UML 2.5.1 (OMG formal/17-12-05): the grammars of its own notation. The texts are ours; what each means follows from the grammar. */

describe('a multiplicity (7.5.4)', () => {
  it.each([
    ['1', 1, 1],
    ['0..1', 0, 1],
    ['*', 0, Infinity],
    ['1..*', 1, Infinity],
    ['2..5', 2, 5],
    [' 0 .. 4 ', 0, 4],
    ['0', 0, 0],
    ['12', 12, 12],
    ['1..MAX', 1, 'MAX'],
    ['minimum..maximum', 'minimum', 'maximum'],
    ['0..0', 0, 0],
  ] as const)('“%s” is from %s to %s', (text, lower, upper) => {
    expect(readMultiplicity(text)).toEqual({ lower, upper })
  })
  it.each(['', '..', '1..', '..3', '5..2', '*..*', '-1', '1.5', '1...3', '1..2..3', 'a b', '[1]', '1,2'])(
    '“%s” is none, and it is said why',
    (text) => {
      expect(readMultiplicity(text)).toMatchObject({
        refused: expect.stringMatching(/multiplicity|more than/) as string,
      })
    },
  )
})

type Attribute = Omit<AttributeText, 'is'>
const attribute = (more: Partial<Attribute> & { name: string }): AttributeText => ({
  is: 'attribute',
  properties: [],
  ...more,
})

describe('an attribute (9.5.4)', () => {
  it.each<[string, AttributeText]>([
    ['name', attribute({ name: 'name' })],
    ['+ name', attribute({ name: 'name', visibility: 'public' })],
    ['-name', attribute({ name: 'name', visibility: 'private' })],
    ['# name : String', attribute({ name: 'name', visibility: 'protected', type: 'String' })],
    ['~ name:String', attribute({ name: 'name', visibility: 'package', type: 'String' })],
    ['/ total : Money', attribute({ name: 'total', derived: true, type: 'Money' })],
    ['+ / total : Money', attribute({ name: 'total', visibility: 'public', derived: true, type: 'Money' })],
    [
      'balance : Money [0..1] = 0 {readOnly}',
      attribute({ name: 'balance', type: 'Money', multiplicity: '0..1', default: '0', properties: ['readOnly'] }),
    ],
    [
      '- balance : Money [0..1] = 0 {readOnly}',
      attribute({
        name: 'balance',
        visibility: 'private',
        type: 'Money',
        multiplicity: '0..1',
        default: '0',
        properties: ['readOnly'],
      }),
    ],
    ['size : Integer = 100', attribute({ name: 'size', type: 'Integer', default: '100' })],
    [
      'legs : Leg [1..*] {ordered, unique}',
      attribute({ name: 'legs', type: 'Leg', multiplicity: '1..*', properties: ['ordered', 'unique'] }),
    ],
    ['width {redefines length}', attribute({ name: 'width', properties: ['redefines length'] })],
    ['own {subsets all, union}', attribute({ name: 'own', properties: ['subsets all', 'union'] })],
    ['number : String {id}', attribute({ name: 'number', type: 'String', properties: ['id'] })],
    ['at [*]', attribute({ name: 'at', multiplicity: '*' })],
    ['map : Map<String, List<Leg>>', attribute({ name: 'map', type: 'Map<String, List<Leg>>' })],
    ['home : travel::Port', attribute({ name: 'home', type: 'travel::Port' })],
    ['words : String = "a, b: c {d}"', attribute({ name: 'words', type: 'String', default: '"a, b: c {d}"' })],
    ['count : Integer = of(1, 2)', attribute({ name: 'count', type: 'Integer', default: 'of(1, 2)' })],
    ['instances : Integer {static}', attribute({ name: 'instances', type: 'Integer', static: true })],
    ['"seats: free" : Integer', attribute({ name: 'seats: free', type: 'Integer' })],
    ['price in euro : Real', attribute({ name: 'price in euro', type: 'Real' })],
    ['age : Integer {self >= 0}', attribute({ name: 'age', type: 'Integer', properties: ['self >= 0'] })],
  ])('“%s” is read, and written the same', (text, meant) => {
    const read = readAttribute(text)
    expect(read).toEqual(meant)
    expect(readMember(memberText(meant))).toEqual(meant)
  })
  it.each([
    ['', 0, 'name'],
    [': String', 0, 'name'],
    ['- : String', 2, 'name'],
    ['name :', 6, 'type'],
    ['name : String [', 14, 'closed'],
    ['name : String [5..2]', 15, 'more than'],
    ['name : String [many things]', 15, 'multiplicity'],
    ['name = ', 7, 'value'],
    ['name : String {id} extra', 19, 'does not belong'],
    ['name : String {id', 14, 'closed'],
  ] as const)('“%s” is refused at letter %i', (text, at, why) => {
    const read = readAttribute(text)
    expect(read).toMatchObject({ at, refused: expect.stringContaining(why) as string })
  })
})

const operation = (more: Partial<OperationText> & { name: string }): OperationText => ({
  is: 'operation',
  parameters: '',
  properties: [],
  ...more,
})

describe('an operation (9.6.4)', () => {
  it.each<[string, OperationText]>([
    ['run()', operation({ name: 'run' })],
    ['+ run()', operation({ name: 'run', visibility: 'public' })],
    ['# close ( )', operation({ name: 'close', visibility: 'protected' })],
    ['total() : Money', operation({ name: 'total', type: 'Money' })],
    [
      'legs() : Leg [*] {ordered}',
      operation({ name: 'legs', type: 'Leg', multiplicity: '*', properties: ['ordered'] }),
    ],
    [
      '+ book(seats : Integer) : Reference',
      operation({ name: 'book', visibility: 'public', parameters: 'seats : Integer', type: 'Reference' }),
    ],
    [
      'cancel(reason : String [0..1] = none)',
      operation({ name: 'cancel', parameters: 'reason : String [0..1] = none' }),
    ],
    ['swap(inout a : Leg, inout b : Leg)', operation({ name: 'swap', parameters: 'inout a : Leg, inout b : Leg' })],
    [
      'find(in key : String, out found : Boolean)',
      operation({ name: 'find', parameters: 'key : String, out found : Boolean' }),
    ],
    ['of(list : List<Leg, Set>, b)', operation({ name: 'of', parameters: 'list : List<Leg, Set>, b' })],
    ['size() : Integer {query}', operation({ name: 'size', type: 'Integer', properties: ['query'] })],
    ['draw() {redefines paint}', operation({ name: 'draw', properties: ['redefines paint'] })],
    ['print() : Page {abstract}', operation({ name: 'print', type: 'Page', abstract: true })],
    ['make() : Ticket {static}', operation({ name: 'make', type: 'Ticket', static: true })],
    ['put(values : Integer [*] {ordered})', operation({ name: 'put', parameters: 'values : Integer [*] {ordered}' })],
    ['say(words : String = "a, b")', operation({ name: 'say', parameters: 'words : String = "a, b"' })],
  ])('“%s” is read, and written the same', (text, meant) => {
    expect(readOperation(text)).toEqual(meant)
    expect(readMember(memberText(meant))).toEqual(meant)
  })
  it.each([
    ['run(', 3, 'closed'],
    ['()', 0, 'name'],
    ['run() :', 7, 'type'],
    ['run(a : )', 7, 'type'],
    ['run(a : X [3..1])', 11, 'more than'],
    ['/ run()', 0, 'derived'],
    ['run(+ a : X)', 4, 'parameter'],
    ['run() : X extra {query} more', 24, 'does not belong'],
  ] as const)('“%s” is refused at letter %i', (text, at, why) => {
    expect(readOperation(text)).toMatchObject({ at, refused: expect.stringContaining(why) as string })
  })
})

describe('what is written at a transition (14.2.4.8; events by 13.3.4)', () => {
  it.each([
    ['', { triggers: [] }],
    ['pay', { triggers: ['pay'] }],
    ['pay, cancel', { triggers: ['pay', 'cancel'] }],
    ['book(seats, on)', { triggers: ['book(seats, on)'] }],
    ['book(seats, on), pay', { triggers: ['book(seats, on)', 'pay'] }],
    ['[complete]', { triggers: [], guard: 'complete' }],
    ['/ notify', { triggers: [], effect: 'notify' }],
    ['submit [complete] / notify', { triggers: ['submit'], guard: 'complete', effect: 'notify' }],
    ['submit[complete]/notify', { triggers: ['submit'], guard: 'complete', effect: 'notify' }],
    ['after 5 min', { triggers: ['after 5 min'] }],
    ['at 12:00 / close', { triggers: ['at 12:00'], effect: 'close' }],
    ['when temperature > 30 [on]', { triggers: ['when temperature > 30'], guard: 'on' }],
    ['all', { triggers: ['all'] }],
    ['x [list[0] > 3]', { triggers: ['x'], guard: 'list[0] > 3' }],
    ['x / a := b / c', { triggers: ['x'], effect: 'a := b / c' }],
    ['[else]', { triggers: [], guard: 'else' }],
  ] as const)('“%s”', (text, meant) => {
    expect(readTransition(text)).toEqual(meant)
    expect(readTransition(transitionText(meant))).toEqual(meant)
  })
  it.each([
    ['x [', 2, 'closed'],
    ['x []', 3, 'condition'],
    ['x /', 3, 'what is done'],
    ['a,, b', 1, 'event'],
    ['after', 5, 'a duration'],
    ['when', 4, 'a condition'],
    ['x [a] b', 6, 'After the condition'],
  ] as const)('“%s” is refused at letter %i', (text, at, why) => {
    expect(readTransition(text)).toMatchObject({ at, refused: expect.stringContaining(why) as string })
  })
})

describe('any text', () => {
  const sign = fc.constantFrom(...'ab+-#~/:[](){}<>="\',.*012 ')
  it('is read or refused within it, and what is read is written to the same', () =>
    fc.assert(
      fc.property(fc.string({ unit: sign, maxLength: 24 }), (text) => {
        const read = readMember(text)
        if ('refused' in read) {
          expect(read.at).toBeGreaterThanOrEqual(0)
          expect(read.at).toBeLessThanOrEqual(text.length)
        } else expect(readMember(memberText(read))).toEqual(read)
      }),
      { numRuns: 4000, seed: 2026 },
    ))
})
