import { afterEach, describe, expect, it, vi } from 'vitest'
import { asDay } from '../../src/core/model'

/** A crew of the test's own, which has not begun yet. */
const crew = () => {
  vi.resetModules()
  return import('../../src/server/threads/crew')
}
const wish = { beginning: { list: 'Ada Holm — Head' }, day: asDay('2026-11-24') }

afterEach(() => {
  delete process.env['SKIVEL_ROOT']
  vi.restoreAllMocks()
})

describe('a crew that begins', () => {
  it('does not count the loading of its program against the first task', async () => {
    const { carryOut } = await crew()
    const began = performance.now()
    const [one, two] = await Promise.all([
      carryOut('begin', wish, undefined, { limit: 600 }),
      carryOut('begin', wish, undefined, { limit: 600 }),
    ])
    expect([one.model.entities.size, two.model.entities.size]).toEqual([2, 2])
    // Else this would show nothing: loading takes longer than the task may.
    expect(performance.now() - began).toBeGreaterThan(600)
  })
  it('tells those who wait when it cannot begin, and does not begin for ever', async () => {
    process.env['SKIVEL_ROOT'] = '/nowhere/at/all'
    vi.spyOn(console, 'error').mockReturnValue()
    const { carryOut } = await crew()
    await expect(carryOut('begin', wish)).rejects.toThrow()
  })
})
