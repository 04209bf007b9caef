import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { packed, type Packed } from '../../../src/core/layout'

interface Nest {
  readonly width: number
  readonly inner: readonly Nest[]
}

const shape = {
  inner: ({ inner }: Nest) => inner,
  least: ({ width }: Nest) => ({ width, head: 20 }),
  pad: 6,
  gap: 4,
  ratio: 1.5,
}
const { nest } = fc.letrec<{ nest: Nest }>((tie) => ({
  nest: fc.record({
    width: fc.integer({ min: 10, max: 200 }),
    inner: fc.oneof({ depthSize: 'small' }, fc.constant([]), fc.array(tie('nest'), { maxLength: 4 })),
  }),
}))
const meet = ({ box: a }: Packed<Nest>, { box: b }: Packed<Nest>, gap: number) =>
  a.x < b.x + b.width + gap && b.x < a.x + a.width + gap && a.y < b.y + b.height + gap && b.y < a.y + a.height + gap

describe('boxes in boxes', () => {
  it('stand apart by the gap, each within its own and beneath its head', () =>
    fc.assert(
      fc.property(fc.array(nest, { minLength: 1, maxLength: 6 }), (tops) => {
        const { places, width, height } = packed(tops, shape)
        places.forEach((one, i) =>
          places.slice(i + 1).forEach((other) => {
            if (one.parent === other.parent) expect(meet(one, other, shape.gap - 0.01)).toBe(false)
          }),
        )
        for (const { node, parent, box } of places) {
          const around = places.find((one) => one.node === parent)?.box ?? { x: 0, y: 0, width, height }
          const [pad, head] = parent ? [shape.pad, 20] : [0, 0]
          expect(box.x).toBeGreaterThanOrEqual(around.x + pad)
          expect(box.y).toBeGreaterThanOrEqual(around.y + head)
          expect(box.x + box.width).toBeLessThanOrEqual(around.x + around.width - pad)
          expect(box.y + box.height).toBeLessThanOrEqual(around.y + around.height - pad)
          expect(box.width).toBeGreaterThanOrEqual(node.width)
        }
      }),
      { seed: 2026 },
    ))
  it('keep their order and break into rows near the ratio aimed at', () => {
    const tops = Array.from({ length: 12 }, () => ({ width: 40, inner: [] }))
    const { places, width, height } = packed(tops, shape)
    const rows = [...new Set(places.map(({ box }) => box.y))]
    expect(places.map(({ node }) => node)).toEqual(tops)
    expect(places.map(({ box }) => box.y)).toEqual(places.map(({ box }) => box.y).sort((a, b) => a - b))
    expect(rows.length).toBeGreaterThan(1)
    expect(Math.abs(Math.log(width / height / 1.5))).toBeLessThan(0.7)
  })
  it('are nothing where there is nothing', () => {
    expect(packed([], shape)).toEqual({ places: [], width: 0, height: 0 })
  })
})
