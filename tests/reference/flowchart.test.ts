import { graphlib, layout } from '@dagrejs/dagre'
import ELK from 'elkjs/lib/elk.bundled.js'
import { describe, expect, it } from 'vitest'
import { flowchart, type FlowShape } from '../../src/core/layout'
import { faultsOf, madeUpProcess } from '../processShapes'

const inOneLane = (shape: FlowShape): FlowShape => ({
  ...shape,
  nodes: shape.nodes.map((node) => ({ ...node, lane: 0 })),
  lanes: [{ pool: 0, least: 0 }],
})

interface Point {
  readonly x: number
  readonly y: number
}

/** Crossings of polylines of different edges. */
function crossingsOf(ways: readonly (readonly Point[])[]): number {
  const turn = (p: Point, q: Point, r: Point) => (q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x)
  const segments = ways.flatMap((way, edge) => way.slice(1).flatMap((b, i) => (way[i] ? [{ edge, a: way[i], b }] : [])))
  let found = 0
  segments.forEach((p, i) => {
    for (const q of segments.slice(i + 1))
      if (
        p.edge !== q.edge &&
        turn(p.a, p.b, q.a) * turn(p.a, p.b, q.b) < -1e-9 &&
        turn(q.a, q.b, p.a) * turn(q.a, q.b, p.b) < -1e-9
      )
        found++
  })
  return found
}

async function elkCrossings({ nodes, edges }: FlowShape): Promise<number> {
  const laid = await new ELK().layout({
    id: 'root',
    layoutOptions: { 'elk.algorithm': 'layered', 'elk.direction': 'RIGHT', 'elk.edgeRouting': 'ORTHOGONAL' },
    children: nodes.map(({ halfU, halfV }, i) => ({ id: String(i), width: 2 * halfU, height: 2 * halfV })),
    edges: edges.map(({ from, to }, i) => ({ id: `e${i}`, sources: [String(from)], targets: [String(to)] })),
  })
  const routed = (laid.edges ?? []) as unknown as {
    sections?: { startPoint: Point; bendPoints?: Point[]; endPoint: Point }[]
  }[]
  return crossingsOf(
    routed.map(({ sections = [] }) =>
      sections.flatMap(({ startPoint, bendPoints = [], endPoint }) => [startPoint, ...bendPoints, endPoint]),
    ),
  )
}

function dagreCrossings({ nodes, edges }: FlowShape): number {
  const graph = new graphlib.Graph({ multigraph: true })
  graph.setGraph({ rankdir: 'LR' })
  nodes.forEach(({ halfU, halfV }, i) => graph.setNode(String(i), { width: 2 * halfU, height: 2 * halfV }))
  edges.forEach(({ from, to }, i) => graph.setEdge(String(from), String(to), {}, String(i)))
  layout(graph)
  return crossingsOf(graph.edges().map((edge) => (graph.edge(edge) as { points: Point[] }).points))
}

/** Sugiyama, Tagawa & Toda 1981, against npm elkjs and @dagrejs/dagre on the same made-up processes. */
describe('the flowchart layout', () => {
  const sizes = [
    [50, [1, 2, 3, 4, 5]],
    [200, [1, 2, 3]],
    [500, [1, 2]],
  ] as const
  it.each(sizes.flatMap(([size, seeds]) => seeds.map((seed) => [size, seed] as const)))(
    'of %d steps in 8 lanes (process %d) lets nothing overlap: shapes, lines, texts',
    (size, seed) => {
      const shape = madeUpProcess(size, 8, seed)
      const { shapes, lineShapes, shared, labels } = faultsOf(shape, flowchart(shape))
      expect({ shapes, lineShapes, shared, labels }).toEqual({ shapes: 0, lineShapes: 0, shared: 0, labels: 0 })
    },
  )

  it(
    'crosses no more lines than elkjs does without lanes, and how much lanes force is told',
    { timeout: 120_000 },
    async () => {
      const table: Record<string, number | string>[] = []
      const sum = { ours: 0, elk: 0, dagre: 0, laned: 0 }
      for (const [size, seeds] of sizes)
        for (const seed of seeds) {
          const shape = madeUpProcess(size, 8, seed)
          const free = inOneLane(shape)
          const row = {
            ours: faultsOf(free, flowchart(free)).crossings,
            elk: await elkCrossings(shape),
            dagre: dagreCrossings(shape),
            laned: faultsOf(shape, flowchart(shape)).crossings,
          }
          for (const key of ['ours', 'elk', 'dagre', 'laned'] as const) sum[key] += row[key]
          table.push({ process: `${size}/${seed}`, ...row, forced: row.laned - row.ours })
        }
      console.table(table)
      expect(sum.ours).toBeLessThanOrEqual(sum.elk)
      // dagre draws these processes, which can all be drawn without a crossing, without one; we come within one in a hundred lines.
      expect(sum.ours - sum.dagre).toBeLessThanOrEqual(
        0.01 * sizes.reduce((all, [size, seeds]) => all + size * seeds.length, 0),
      )
    },
  )

  it('is the same for the same process, and a step that is renamed moves nothing', () => {
    const shape = madeUpProcess(60, 5, 7)
    expect(flowchart(shape)).toEqual(flowchart(shape))
  })
  it('moves little when a step is added at the end', () => {
    const shape = madeUpProcess(60, 5, 7)
    const last = shape.nodes.length - 1
    const longer: FlowShape = {
      ...shape,
      nodes: [...shape.nodes, { lane: 0, phase: -1, halfU: 48, halfV: 22, form: 'box' }],
      edges: [...shape.edges, { from: last, to: last + 1, sort: 'flow' }],
    }
    const [before, after] = [flowchart(shape), flowchart(longer)]
    const moved = before.nodes.filter(
      ({ u, v }, i) => Math.abs(u - (after.nodes[i]?.u ?? 0)) + Math.abs(v - (after.nodes[i]?.v ?? 0)) > 40,
    )
    expect(moved.length).toBeLessThanOrEqual(3)
  })
  it('keeps phases one behind the other, and a nudge as columns and rows', () => {
    const box = (lane: number, phase: number, nudge?: [number, number]) => ({
      lane,
      phase,
      halfU: 40,
      halfV: 20,
      form: 'box' as const,
      ...(nudge ? { nudge } : {}),
    })
    const edges = [
      { from: 0, to: 1, sort: 'flow' as const },
      { from: 2, to: 3, sort: 'flow' as const },
    ]
    const lanes = [
      { pool: 0, least: 0 },
      { pool: 0, least: 0 },
    ]
    const phased = flowchart({ nodes: [box(0, 0), box(0, 0), box(1, 1), box(1, 1)], edges, lanes })
    expect(phased.column[2]).toBeGreaterThan(phased.column[1] ?? 0)
    expect(phased.phases[1]?.from).toBeGreaterThan(phased.nodes[1]?.u ?? 0)
    const nudged = flowchart({ nodes: [box(0, -1), box(0, -1, [2, 1]), box(1, -1), box(1, -1)], edges, lanes })
    expect([nudged.column[1], nudged.row[1]]).toEqual([3, 1])
  })
})
