import { describe, expect, it } from 'vitest'
import { offersOf } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { handlings } from '../../src/core/notations/handling'

// The page has how facts are stated, the worker what is worked out of them: they have to speak of the same notations.
describe('the two halves of a notation', () => {
  it('name the same kinds, and the same pictures with the same choices', () => {
    expect(handlings.notations.map(({ id }) => id)).toEqual(registry.notations.map(({ id }) => id))
    expect([...handlings.kinds.keys()]).toEqual([...registry.kinds.keys()])
    expect([...handlings.relationKinds.keys()]).toEqual([...registry.relationKinds.keys()])
    for (const [at, handling] of handlings.notations.entries()) {
      const pictures = registry.notations[at]?.pictures ?? []
      // What is pulled is the worker’s: the page only asks it.
      expect(
        pictures.map(({ draw: _, turns: __, suits: ___, needs: ____, pull: _____, ...gestures }) => gestures),
      ).toEqual(handling.pictures.map(({ pull: _, ...gestures }) => gestures))
    }
  })

  it('offer every rule, number and format as plain data, which can travel', () => {
    const offers = offersOf(registry)
    expect(structuredClone(offers)).toEqual(offers)
    expect(Object.keys(offers.rules)).toEqual([...registry.rules.keys()])
    for (const { id, numbers, imports, files, exports } of registry.notations) {
      const offer = offers.notations[id]
      expect(offer?.numbers.map((one) => [one.id, one.leads])).toEqual(
        numbers.map((one) => [one.id, one.counted !== undefined]),
      )
      expect(offer?.imports.map((one) => [one.id, one.readers.map((reader) => reader.id)])).toEqual(
        imports.map((one) => [one.id, one.readers.map((reader) => reader.id)]),
      )
      expect(offer?.files.map((one) => one.extensions)).toEqual(files.map((one) => one.extensions))
      expect(offer?.exports.map((one) => [one.id, one.feed])).toEqual(exports.map((one) => [one.id, one.feed]))
    }
  })
})
