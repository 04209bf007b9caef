import { describe, expect, it } from 'vitest'
import type { SharedChange } from '../../src/app/sync/api'
import { wayFrom } from '../../src/app/sync/astray'
import type { Step } from '../../src/core/model'
import { id } from '../facts'

const rename = (key: string, value: string): Step => ({ do: 'set-entity', id: id(key), path: 'name', value })
const heard = (revision: number, key: string): SharedChange => ({
  ...{ revision, lineage: `m${revision}`, id: `c${revision}`, label: `Change ${revision}`, author: 'A', at: '' },
  steps: [rename(key, `${revision}`)],
})
const pending = (key: string) => ({ id: key, label: key, base: 5, steps: [rename(key, 'mine')] })
const known = {
  lineages: new Map([3, 4, 5].map((revision) => [revision, `m${revision}`])),
  heard: [heard(4, 'a'), heard(5, 'b')],
  pending: [pending('a'), pending('b'), pending('c')],
}
const entry = (revision: number, lineage = `m${revision}`) => ({ revision, lineage })

describe('the way of a page whose server has lost changes', () => {
  it('goes on from the last state that both know, with what touches nothing of what was lost', () => {
    const { lost, free, doubtful } = wayFrom(known, [entry(6, 'x6'), entry(5, 'x5'), entry(4), entry(3)])
    expect([lost?.label, lost?.steps]).toEqual(['Change 5', [rename('b', '5')]])
    expect([free.map((one) => one.id), doubtful.map((one) => one.id)]).toEqual([['a', 'c'], ['b']])
  })
  it('has lost all that lies behind it, as one change', () => {
    const { lost, doubtful } = wayFrom(known, [entry(4, 'x4'), entry(3)])
    expect([lost?.label, lost?.steps.length]).toEqual(['2 changes, the last: Change 5', 2])
    expect(doubtful.map((one) => one.id)).toEqual(['a', 'b'])
    expect(wayFrom(known, []).lost?.steps).toHaveLength(2)
  })
  it('has lost nothing that lies before what the history reaches', () => {
    expect(wayFrom(known, [entry(7, 'x7'), entry(6, 'x6')]).lost).toBeUndefined()
    expect(wayFrom(known, [entry(6, 'x6'), entry(5, 'x5')]).lost?.label).toBe('Change 5')
  })
})
