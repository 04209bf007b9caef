import ELK from 'elkjs/lib/elk.bundled.js'
import { describe, expect, it } from 'vitest'
import { nth } from '../../src/core/graph'
import { crossingsIn, type Point } from '../../src/core/layout'
import { figure } from '../../src/core/notations/figure'
import { mapOn } from '../../src/core/notations/figure/maps/structure'
import { DAY } from '../facts'
import { figureView, mapOf } from '../figureShapes'

const VIEW = figureView('concepts', { paper: 'A3', across: true })

interface Laid {
  readonly children?: readonly { readonly id: string; readonly x?: number; readonly y?: number }[]
  readonly edges?: readonly {
    readonly sections?: readonly {
      readonly startPoint: Point
      readonly bendPoints?: readonly Point[]
      readonly endPoint: Point
    }[]
  }[]
}

describe('a concept map of 60 concepts and 90 links', () => {
  it(
    'crosses no more lines than npm elkjs, layered or by stress, whichever crosses fewer',
    { timeout: 60_000 },
    async () => {
      const model = mapOf(60, 90)
      const map = mapOn(model, VIEW, DAY)
      const scene = figure.pictures.find(({ id }) => id === 'concepts')?.draw(model, VIEW, DAY)
      if (!scene) throw new Error('no scene')
      const ours = crossingsIn(
        scene.links.map(({ marks: [mark] }) =>
          mark?.tag === 'path'
            ? [...mark.attrs.d.matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map(([, x, y]) => ({
                x: Number(x),
                y: Number(y),
              }))
            : [],
        ),
      )
      const graph = (algorithm: string) => ({
        id: 'root',
        layoutOptions: { 'elk.algorithm': algorithm, 'elk.direction': 'DOWN', 'elk.edgeRouting': 'ORTHOGONAL' },
        children: map.concepts.map(({ id }) => ({ id, width: 100, height: 36 })),
        edges: map.links.map(({ relation, from, to }) => ({ id: relation.id, sources: [from.id], targets: [to.id] })),
      })
      const layered = (await new ELK().layout(graph('layered'))) as Laid
      const stressed = (await new ELK().layout(graph('stress'))) as Laid
      const ways = (layered.edges ?? []).map(({ sections = [] }) =>
        sections.flatMap(({ startPoint, bendPoints = [], endPoint }) => [startPoint, ...bendPoints, endPoint]),
      )
      const at = new Map((stressed.children ?? []).map(({ id, x = 0, y = 0 }) => [id, { x: x + 50, y: y + 18 }]))
      const straight = map.links.map(({ from, to }) => [
        at.get(from.id) ?? { x: 0, y: 0 },
        at.get(to.id) ?? { x: 0, y: 0 },
      ])
      const theirs = [crossingsIn(ways), crossingsIn(straight)]
      console.log(`crossings of a concept map: ours ${ours}, elkjs layered ${nth(theirs, 0)}, stress ${nth(theirs, 1)}`)
      expect(ours).toBeLessThanOrEqual(Math.min(...theirs))
    },
  )
})
