import { describe, expect, it } from 'vitest'
import { findingsOf, keyOf, mendAll, timeOf } from '../../src/core/findings'
import { apply, type Model } from '../../src/core/model'
import { addEntity, COMMON, fix, setEntity, type Rule } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { DAY, day, facts, id, position, reports } from '../facts'

const ruleOf = (key: string): Rule => {
  const rule = registry.rules.get(key)
  if (!rule) throw new RangeError(key)
  return rule
}
const keysOf = (model: Model, rule: string) =>
  new Set(
    findingsOf(registry, model, DAY)
      .filter((one) => one.rule === rule)
      .map((one) => keyOf(one)),
  )

describe('mending all findings of a rule', () => {
  // Twenty positions report to a manager whose position ends before theirs do, and the manager to somebody who stays.
  const many = facts(
    position('top'),
    position('ends', { to: day('2026-12-31') }),
    reports('ends', 'top'),
    ...Array.from({ length: 20 }, (_, i) => [position(`r${i}`), reports(`r${i}`, 'ends')]).flat(),
  )
  const rule = 'org/manager-not-in-force'

  it('takes the first fix of each, as steps that can be made as one change', () => {
    const keys = keysOf(many, rule)
    expect(keys.size).toBe(20)
    const { steps, lines, left } = mendAll(ruleOf(rule), keys, many, DAY)
    expect([lines.length, left]).toEqual([20, 0])
    expect(lines[0]).toContain('Hand over to')
    expect(keysOf(apply(many, { label: '', steps }).model, rule).size).toBe(0)
  })

  it('leaves those alone that were not asked about, and those that somebody lets stand', () => {
    const keys = [...keysOf(many, rule)]
    const { lines } = mendAll(ruleOf(rule), new Set(keys.slice(0, 3)), many, DAY)
    expect(lines).toHaveLength(3)
    const accepted = apply(many, {
      label: '',
      steps: [{ do: 'set-workspace', path: `accepted.${keys[0]}`, value: { reason: 'Known.' } }],
    }).model
    expect(mendAll(ruleOf(rule), new Set(keys), accepted, DAY).lines).toHaveLength(19)
  })

  it('makes no fix to what an earlier one has mended, and says what nothing mends', () => {
    const shared: Rule = {
      id: 'test/shared',
      severity: 'note',
      title: '',
      why: '',
      source: COMMON,
      check: (model) =>
        model.entities.get(id('a'))?.name === 'Mended'
          ? []
          : ['b', 'c', 'd'].map((key) => ({
              message: key,
              subjects: [id('a'), id(key)],
              fixes: key === 'd' ? [] : [fix(`Mend by ${key}`, setEntity(id('a'), 'name', 'Mended'))],
            })),
    }
    const model = facts(position('a'), position('b'), position('c'), position('d'))
    const keys = new Set(['b', 'c', 'd'].map((key) => `test/shared a ${key}`))
    expect(mendAll(shared, keys, model, DAY)).toMatchObject({ lines: ['Mend by b'], left: 0 })
    const only = mendAll(shared, new Set(['test/shared a d']), model, DAY)
    expect([only.lines, only.left]).toEqual([[], 1])
  })

  it('makes those that can be made, where one of them cannot', () => {
    const twins: Rule = {
      id: 'test/twins',
      severity: 'note',
      title: '',
      why: '',
      source: COMMON,
      check: (model) =>
        ['a', 'b'].flatMap((key) =>
          model.entities.get(id(key))?.name === 'Mended'
            ? []
            : [
                {
                  message: key,
                  subjects: [id(key)],
                  // Both would make a fact of one identity.
                  fixes: [fix(`Mend ${key}`, setEntity(id(key), 'name', 'Mended'), addEntity(position('twin')))],
                },
              ],
        ),
    }
    const model = facts(position('a'), position('b'))
    const mended = mendAll(twins, new Set(['test/twins a', 'test/twins b']), model, DAY)
    expect([mended.lines, mended.left]).toEqual([['Mend a'], 1])
  })

  it('mends five thousand in a few rounds', () => {
    const all = facts(
      position('top'),
      position('ends', { to: day('2026-12-31') }),
      reports('ends', 'top'),
      ...Array.from({ length: 5000 }, (_, i) => [position(`r${i}`), reports(`r${i}`, 'ends')]).flat(),
    )
    const { lines, left } = mendAll(ruleOf(rule), keysOf(all, rule), all, DAY)
    expect([lines.length, left]).toEqual([5000, 0])
  })
})

describe('when a finding comes about', () => {
  it('is told by the days of all its facts', () => {
    const model = facts(
      position('a'),
      position('b', { from: day('2027-01-01') }),
      position('c', { to: day('2026-01-01') }),
      reports('a', 'b', { to: day('2027-06-30') }),
    )
    const [line] = model.relations.keys()
    const at = (...subjects: string[]) => timeOf({ subjects: subjects.map(id) }, model, DAY)
    expect([at('a'), at('a', 'b'), at('a', 'c'), at('b', 'c'), at('gone')]).toEqual([
      ...['now', 'later', 'earlier', 'earlier', 'now'],
    ])
    const ofLine = (on: string) => timeOf({ subjects: line === undefined ? [] : [line] }, model, day(on))
    expect([ofLine('2027-06-30'), ofLine('2027-07-01')]).toEqual(['now', 'earlier'])
  })
})
