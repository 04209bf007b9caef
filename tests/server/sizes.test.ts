import { describe, expect, it } from 'vitest'
import { scriptSizes } from '../../scripts/lib/sizes.mjs'

// What is loaded before a page can begin, in kB as it is compressed: a library that slips in shows here.
describe('the scripts of a page', () => {
  const sizes = scriptSizes()
  it.each([
    ['home', 120],
    ['workspace', 350],
    ['worker', 467],
    ['reader', 150],
  ] as const)('of the %s are no more than %i kB', (name, most) => {
    expect(sizes[name]).toBeGreaterThan(5)
    expect(sizes[name]).toBeLessThanOrEqual(most)
  })
})
