import { graphlib, layout } from '@dagrejs/dagre'
import ELK from 'elkjs/lib/elk.bundled.js'
import { describe, expect, it } from 'vitest'
import { flowchart, type FlowShape } from '../../src/core/layout'
import { anyProcess, faultsOf, madeUpProcess, upright } from '../processShapes'

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

/** Along both axes: dagre draws slanting lines, the others right-angled ones. */
const lengthOf = (ways: readonly (readonly Point[])[]): number =>
  ways
    .flatMap((way) =>
      way.slice(1).map((b, i) => Math.abs(b.x - (way[i]?.x ?? b.x)) + Math.abs(b.y - (way[i]?.y ?? b.y))),
    )
    .reduce((sum, length) => sum + length, 0)

/** The least gap between columns, the same for all three. */
const GAP = 30

async function elkWays({ nodes, edges }: FlowShape): Promise<Point[][]> {
  const laid = await new ELK().layout({
    id: 'root',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'RIGHT',
      'elk.edgeRouting': 'ORTHOGONAL',
      'elk.layered.spacing.nodeNodeBetweenLayers': String(GAP),
    },
    children: nodes.map(({ halfU, halfV }, i) => ({ id: String(i), width: 2 * halfU, height: 2 * halfV })),
    edges: edges.map(({ from, to }, i) => ({ id: `e${i}`, sources: [String(from)], targets: [String(to)] })),
  })
  const routed = (laid.edges ?? []) as unknown as {
    sections?: { startPoint: Point; bendPoints?: Point[]; endPoint: Point }[]
  }[]
  return routed.map(({ sections = [] }) =>
    sections.flatMap(({ startPoint, bendPoints = [], endPoint }) => [startPoint, ...bendPoints, endPoint]),
  )
}

function dagreWays({ nodes, edges }: FlowShape): Point[][] {
  const graph = new graphlib.Graph({ multigraph: true })
  graph.setGraph({ rankdir: 'LR', ranksep: GAP })
  nodes.forEach(({ halfU, halfV }, i) => graph.setNode(String(i), { width: 2 * halfU, height: 2 * halfV }))
  edges.forEach(({ from, to }, i) => graph.setEdge(String(from), String(to), {}, String(i)))
  layout(graph)
  return graph.edges().map((edge) => (graph.edge(edge) as { points: Point[] }).points)
}

/** The bare graph, as the others lay it out: no texts that ask for room. */
function ourWays({ nodes, edges, lanes }: FlowShape): Point[][] {
  const bare = {
    nodes: nodes.map(({ lane, phase, halfU, halfV, form }) => ({ lane, phase, halfU, halfV, form })),
    edges: edges.map(({ from, to, sort }) => ({ from, to, sort })),
    lanes,
  }
  return flowchart(bare).ways.map((way) => way.map(({ u, v }) => ({ x: u, y: v })))
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
    'lets nothing overlap in four hundred and fifty processes without any plan, to the right and down, tight and airy',
    { timeout: 120_000 },
    () => {
      const faulty = Array.from({ length: 150 }, (_, i) => i + 1).flatMap((seed) =>
        [
          anyProcess(seed),
          upright(anyProcess(seed)),
          upright(madeUpProcess(12 + (seed % 30), 1 + (seed % 5), seed)),
        ].flatMap((usual, way) => {
          // As near to each other as views may set them, as usual, and as far apart.
          const shape = { ...usual, spacing: [0.4, 1, 1.8][(seed + way) % 3] ?? 1 }
          const { shapes, lineShapes, shared, labels } = faultsOf(shape, flowchart(shape))
          return shapes + lineShapes + shared + labels > 0 ? [`${seed}/${way}`] : []
        }),
      )
      expect(faulty).toEqual([])
    },
  )
  it('can be cut before each column: lines lead straight on there, and nothing else is', () => {
    for (let seed = 1; seed <= 90; seed++) {
      const shape = { ...anyProcess(seed), spacing: [0.4, 1, 1.8][seed % 3] ?? 1 }
      const { cuts, nodes, names, labels, ways } = flowchart(shape)
      const spans = [
        ...nodes.map(({ u }, i) => [u - (shape.nodes[i]?.halfU ?? 0), u + (shape.nodes[i]?.halfU ?? 0)] as const),
        ...[...names, ...labels].flatMap((area) => (area ? [[area.u, area.u + area.du] as const] : [])),
        ...ways.flatMap((way) =>
          way.flatMap(({ u, v }, i) => (way[i + 1] && way[i + 1]?.v !== v ? [[u, u] as const] : [])),
        ),
      ]
      for (const cut of cuts)
        expect([seed, cut, spans.filter(([from, to]) => from < cut + 0.5 && to > cut - 0.5)]).toEqual([seed, cut, []])
    }
  })
  it('finds a way for every line, however many lead from one shape to another', () => {
    const box = { lane: 0, phase: -1, halfU: 56, halfV: 22, form: 'box' as const }
    const messages = Array.from({ length: 40 }, () => ({ from: 0, to: 1, sort: 'message' as const }))
    const flows = Array.from({ length: 40 }, () => ({ from: 0, to: 1, sort: 'flow' as const }))
    const shape: FlowShape = { nodes: [box, box], edges: [...flows, ...messages], lanes: [{ pool: 0, least: 60 }] }
    const { ways } = flowchart(shape)
    expect(ways.every((way) => way.length >= 2)).toBe(true)
  })
  it('stops looking for fewer crossings at a bound, and says so', { timeout: 60_000 }, () => {
    // Everything leads to everything: no order has few crossings.
    const nodes = Array.from({ length: 200 }, (_, i) => ({
      lane: i % 4,
      phase: -1,
      halfU: 48,
      halfV: 22,
      form: 'box' as const,
    }))
    const edges = Array.from({ length: 600 }, (_, i) => ({
      from: (i * 7) % 200,
      to: (i * 61 + Math.floor(i / 200) * 13 + 1) % 200,
      sort: 'flow' as const,
    })).filter(({ from, to }) => from !== to)
    const began = performance.now()
    const places = flowchart({ nodes, edges, lanes: Array.from({ length: 4 }, () => ({ pool: 0, least: 60 })) })
    expect(places.plain).toBe(true)
    // A promise to the user, and a wide one: without the bound it takes minutes.
    expect(performance.now() - began).toBeLessThan(30_000)
    expect(flowchart(madeUpProcess(50, 4, 1)).plain).toBe(false)
  })

  it(
    'crosses no more lines than elkjs and dagre do without lanes, on no longer ways; and how much lanes force is told',
    { timeout: 120_000 },
    async () => {
      const table: Record<string, number | string>[] = []
      const total = { ours: 0, elk: 0, dagre: 0 }
      for (const [size, seeds] of sizes)
        for (const seed of seeds) {
          const shape = madeUpProcess(size, 8, seed)
          const free = inOneLane(shape)
          const ways = { ours: ourWays(free), elk: await elkWays(shape), dagre: dagreWays(shape) }
          const ours = faultsOf(free, flowchart(free)).crossings
          const laned = faultsOf(shape, flowchart(shape)).crossings
          const [elk, dagre] = [crossingsOf(ways.elk), crossingsOf(ways.dagre)]
          const lengths = {
            ours: Math.round(lengthOf(ways.ours)),
            elk: Math.round(lengthOf(ways.elk)),
            dagre: Math.round(lengthOf(ways.dagre)),
          }
          for (const key of ['ours', 'elk', 'dagre'] as const) total[key] += lengths[key]
          expect.soft(ours, `crossings in ${size}/${seed}`).toBeLessThanOrEqual(Math.min(elk, dagre))
          table.push({
            process: `${size}/${seed}`,
            ours,
            elk,
            dagre,
            laned,
            forced: laned - ours,
            'our length': lengths.ours,
            'elk length': lengths.elk,
            'dagre length': lengths.dagre,
          })
        }
      console.table(table)
      expect(total.ours).toBeLessThanOrEqual(total.elk)
      expect(total.ours).toBeLessThanOrEqual(total.dagre)
    },
  )

  it('crosses nothing without lanes where blocks lie within blocks', { timeout: 60_000 }, () => {
    // These can all be drawn without a crossing: splits and their joins, loops and shortcuts, one within another.
    const crossed = [50, 100, 200].flatMap((size) =>
      Array.from({ length: 10 }, (_, i) => i + 1).flatMap((seed) => {
        const free = inOneLane(madeUpProcess(size, 8, seed))
        const { crossings } = faultsOf(free, flowchart(free))
        return crossings > 0 ? [`${size}/${seed}: ${crossings}`] : []
      }),
    )
    expect(crossed).toEqual([])
  })

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
