import { describe, expect, it } from 'vitest'
import { readEntry, type Field } from '../../src/core/notation'

const read = (field: Pick<Field, 'type'> & Partial<Field>, text: string) => readEntry({ label: 'It', ...field }, text)

describe('what is typed into a field', () => {
  it('keeps between its least and its most, both included', () => {
    const share = { type: 'number', min: 0, max: 100 } as const
    expect(read(share, '100')).toEqual({ value: 100 })
    expect(read(share, '100.5')).toEqual({ refused: 'It is at most 100.' })
    expect(read(share, '0')).toEqual({ value: 0 })
    expect(read(share, '-1')).toEqual({ refused: 'It is at least 0.' })
  })
  it('is a whole number where that is asked for', () => {
    expect(read({ type: 'integer' }, '3')).toEqual({ value: 3 })
    expect(read({ type: 'integer' }, '3.5')).toEqual({ refused: 'It is a whole number.' })
  })
  it.each([
    ['1 250,5', 1250.5],
    ['1’250', 1250],
    ['1,250', 1250],
    ['2,5', 2.5],
    ['-0.25', -0.25],
  ])('reads %s as a number', (text, value) => expect(read({ type: 'number' }, text)).toEqual({ value }))
  it.each([
    ['24 Nov 2026', '2026-11-24'],
    ['24.11.2026', '2026-11-24'],
    ['Tue, 24 November 2026', '2026-11-24'],
  ])('reads %s as a day', (text, value) => expect(read({ type: 'day' }, text)).toEqual({ value }))
  it('refuses a day that no calendar has', () => {
    expect(read({ type: 'day' }, '31.02.2026')).toHaveProperty('refused')
    expect(read({ type: 'day' }, '24 Xyz 2026')).toHaveProperty('refused')
  })
  it('takes a choice in any spelling, and yes and no', () => {
    expect(read({ type: 'choice', choices: ['Row', 'Column'] }, 'column')).toEqual({ value: 'Column' })
    expect(read({ type: 'choice', choices: ['Row'] }, 'Rows')).toHaveProperty('refused')
    expect([read({ type: 'flag' }, 'Yes'), read({ type: 'flag' }, 'off')]).toEqual([{ value: true }, { value: null }])
    expect(read({ type: 'flag' }, 'perhaps')).toHaveProperty('refused')
  })
  it('takes a pair, a list and a text as long as it is not too long', () => {
    expect(read({ type: 'pair' }, '1, -2')).toEqual({ value: [1, -2] })
    expect(read({ type: 'pair' }, '1')).toHaveProperty('refused')
    expect(read({ type: 'pair' }, '1 2 3')).toHaveProperty('refused')
    expect(read({ type: 'list' }, 'a, b;c')).toEqual({ value: ['a', 'b', 'c'] })
    expect(read({ type: 'text' }, 'x'.repeat(400))).toEqual({ value: 'x'.repeat(400) })
    expect(read({ type: 'text' }, 'x'.repeat(401))).toHaveProperty('refused')
  })
})
