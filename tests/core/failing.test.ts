import { describe, expect, it } from 'vitest'
import { findingsOf, keyOf, newErrors } from '../../src/core/findings'
import { Model } from '../../src/core/model'
import { makeRegistry, type Rule } from '../../src/core/notation'
import { DAY } from '../facts'

const rule = (id: string, check: Rule['check']): Rule => ({
  id,
  severity: 'error',
  title: id,
  why: 'Because.',
  source: 'Common practice',
  check,
})
const fails = (message: string) => (): never => {
  throw new RangeError(message)
}
const registry = makeRegistry(
  [],
  [
    rule('x/first', fails('Maximum call stack size exceeded.')),
    rule('x/second', () => [{ message: 'Wrong.', subjects: [], fixes: [] }]),
    rule('x/third', fails('no such thing')),
  ],
)

describe('a rule that fails', () => {
  it('stops no other, and says itself that it failed', () => {
    const findings = findingsOf(registry, Model.empty, DAY)
    expect(findings.map(({ rule: id, severity, failed }) => [id, severity, failed])).toEqual([
      ['x/second', 'error', undefined],
      ['x/first', 'warning', true],
      ['x/third', 'warning', true],
    ])
    expect(findings[1]?.message).toBe(
      'This could not be checked, because the rule failed: Maximum call stack size exceeded.',
    )
    expect(new Set(findings.map(keyOf)).size).toBe(3)
  })
  it('hides no error that a change would add', () => {
    expect(newErrors(registry, Model.empty, { label: 'x', steps: [] }, DAY)).toEqual([])
  })
})
