import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { pictures } from '../../../src/core/notations/figure/pictures'
import { DAY } from '../../facts'
import { drawsSoundly } from '../../figureFaults'
import { figureOf, figureView } from '../../figureShapes'

const arranged = pictures.filter(({ arranges }) => arranges)

describe('every arrangement of the first half', () => {
  drawsSoundly(arranged.slice(0, arranged.length / 2))
  it('draws figures of any shape, and of very many parts says how many it draws', () =>
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 130 }), fc.constantFrom(...pictures), (count, picture) => {
        const model = figureOf(Array.from({ length: count }, (_, at) => ({ text: `Part ${at}` })))
        const scene = picture.draw(model, figureView(picture.id), DAY)
        expect(Number.isFinite(scene.bounds.width)).toBe(true)
        if (count > 60 && picture.arranges) expect(scene.headline).toContain(`the first 60 of ${count} parts`)
      }),
      { numRuns: 60, seed: 4 },
    ))
})
