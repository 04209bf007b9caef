import dagre from '@dagrejs/dagre'
import ELK from 'elkjs/lib/elk.bundled.js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { nth } from '../../src/core/graph'
import { crossingsIn, type Point } from '../../src/core/layout'
import type { Model } from '../../src/core/model'
import { classes } from '../../src/core/notations/uml/pictures/classes'
import { classesOn } from '../../src/core/notations/uml/structure'
import { boxOf, type Box, type Link, type Scene } from '../../src/core/scene'
import { DAY } from '../facts'
import { classModelOf, classView } from '../classShapes'

const sceneOf = (model: Model, options: Record<string, boolean> = {}): Scene =>
  classes.draw(model, classView({ options }), DAY)

/** The way of a line: the first mark of it. */
function wayOf({ marks: [mark] }: Link): Point[] {
  if (mark?.tag !== 'path') throw new Error('a tie without a line')
  return [...mark.attrs.d.matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map(([, x, y]) => ({ x: Number(x), y: Number(y) }))
}

const meets = (a: Box, b: Box, by = 0): boolean =>
  a.x < b.x + b.width - by && b.x < a.x + a.width - by && a.y < b.y + b.height - by && b.y < a.y + a.height - by
const pieceBox = (a: Point, b: Point): Box => ({
  x: Math.min(a.x, b.x),
  y: Math.min(a.y, b.y),
  width: Math.abs(a.x - b.x),
  height: Math.abs(a.y - b.y),
})

/** What a picture of classes must never show. */
function faultsIn(model: Model): string[] {
  const scene = sceneOf(model)
  const all = classesOn(model, DAY)
  const boxes = scene.items.filter(({ id }) => all.byId.has(id))
  const faults: string[] = []
  boxes.forEach((a, at) => {
    for (const b of boxes.slice(at + 1)) if (meets(a.box, b.box)) faults.push(`${a.label} over ${b.label}`)
  })
  const lines = scene.links.map((link) => ({ link, way: wayOf(link) }))
  const words = scene.links.flatMap((link) =>
    link.marks.flatMap((mark) => (mark.tag === 'text' ? [{ link, box: boxOf(mark), text: mark.children[0] }] : [])),
  )
  for (const { link, way } of lines)
    way.slice(1).forEach((b, at) => {
      const a = nth(way, at)
      if (a.x !== b.x && Math.abs(a.y - b.y) > 0.01) faults.push(`a slanting piece of ${link.id}`)
      const piece = pieceBox(a, b)
      for (const { label, box } of boxes) if (meets(piece, box, 0.5)) faults.push(`${link.id} through ${label}`)
      for (const word of words)
        if (word.link !== link && meets(piece, word.box, 0.5)) faults.push(`${link.id} through “${word.text}”`)
    })
  words.forEach((word, at) => {
    for (const { label, box } of boxes) if (meets(word.box, box, 0.5)) faults.push(`“${word.text}” over ${label}`)
    for (const other of words.slice(at + 1))
      if (meets(word.box, other.box, 0.5)) faults.push(`“${word.text}” over “${other.text}”`)
  })
  // Everything of a package stands in its frame, and nothing else.
  for (const { id, box } of scene.items) {
    const home = all.packageById.get(id)
    if (!home) continue
    for (const one of boxes) {
      const isIn = all.byId.get(one.id)?.package === home
      const { x, y, width, height } = one.box
      const isWithin = x >= box.x && y >= box.y && x + width <= box.x + box.width && y + height <= box.y + box.height
      if (isIn ? !isWithin : meets(one.box, box)) faults.push(`${one.label} and package ${home.name}`)
    }
  }
  return faults
}

describe('classes', () => {
  it('let nothing meet anything else, over random models with packages and without', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 40 }),
        fc.integer({ min: 0, max: 60 }),
        fc.nat(7),
        fc.nat(10_000),
        (count, ties, packages, seed) => {
          const model = classModelOf({ classes: count, ties, packages: Math.min(packages, count), seed })
          expect(faultsIn(model)).toEqual([])
        },
      ),
      { numRuns: Number(process.env['RUNS'] ?? 24), seed: Number(process.env['SEED'] ?? 7) },
    ))
})

interface ElkEdge {
  readonly sections?: readonly {
    readonly startPoint: Point
    readonly bendPoints?: readonly Point[]
    readonly endPoint: Point
  }[]
}

interface Measured {
  readonly crossings: number
  readonly length: number
}

const measured = (ways: readonly (readonly Point[])[]): Measured => ({
  crossings: crossingsIn(ways),
  length: Math.round(
    ways.reduce(
      (sum, way) =>
        sum + way.slice(1).reduce((all, b, at) => all + Math.hypot(b.x - nth(way, at).x, b.y - nth(way, at).y), 0),
      0,
    ),
  ),
})

/** Ties as the others lay them out: what is general, or whole, above. */
function graphOf(model: Model, scene: Scene) {
  const all = classesOn(model, DAY)
  const sizes = new Map(scene.items.filter(({ id }) => all.byId.has(id)).map(({ id, box }) => [id, box]))
  const edges = all.ties.map(({ id, sort, a, b }) =>
    sort === 'generalization' || sort === 'realization' ? { id, from: b.id, to: a.id } : { id, from: a.id, to: b.id },
  )
  return { sizes, edges }
}

async function byElk(model: Model, scene: Scene): Promise<Measured> {
  const { sizes, edges } = graphOf(model, scene)
  const laid = (await new ELK().layout({
    id: 'root',
    layoutOptions: { 'elk.algorithm': 'layered', 'elk.direction': 'DOWN', 'elk.edgeRouting': 'ORTHOGONAL' },
    children: [...sizes].map(([id, { width, height }]) => ({ id, width, height })),
    edges: edges.map(({ id, from, to }) => ({ id, sources: [from], targets: [to] })),
  })) as { readonly edges?: readonly ElkEdge[] }
  return measured(
    (laid.edges ?? []).map(({ sections = [] }) =>
      sections.flatMap(({ startPoint, bendPoints = [], endPoint }) => [startPoint, ...bendPoints, endPoint]),
    ),
  )
}

function byDagre(model: Model, scene: Scene): Measured {
  const { sizes, edges } = graphOf(model, scene)
  const graph = new dagre.graphlib.Graph({ multigraph: true })
  graph.setGraph({ rankdir: 'TB' })
  graph.setDefaultEdgeLabel(() => ({}))
  for (const [id, { width, height }] of sizes) graph.setNode(id, { width, height })
  for (const { id, from, to } of edges) graph.setEdge(from, to, {}, id)
  dagre.layout(graph)
  return measured(graph.edges().map((edge) => (graph.edge(edge) as { points: Point[] }).points))
}

describe('against npm elkjs (layered) and @dagrejs/dagre, on the same graphs', () => {
  it('crosses no more lines than either on each, with shorter lines than both', { timeout: 60_000 }, async () => {
    const table: Record<string, number | string>[] = []
    for (const [count, ties, seed] of [
      [30, 45, 1],
      [100, 160, 1],
      [200, 350, 1],
    ] as const) {
      const model = classModelOf({ classes: count, ties, seed, named: false })
      const scene = sceneOf(model)
      const ours = measured(scene.links.map(wayOf))
      const [elk, other] = [await byElk(model, scene), byDagre(model, scene)]
      const name = `${count} classes, ${ties} ties, ${seed}`
      table.push({
        model: name,
        crossings: ours.crossings,
        elk: elk.crossings,
        dagre: other.crossings,
        length: ours.length,
        'length elk': elk.length,
        'length dagre': other.length,
      })
    }
    console.table(table)
    for (const row of table) {
      for (const other of ['elk', 'dagre'])
        expect.soft(row['crossings'], `${row['model']}, ${other}`).toBeLessThanOrEqual(Number(row[other]))
      for (const other of ['length elk', 'length dagre'])
        expect.soft(row['length'], `${row['model']}, ${other}`).toBeLessThanOrEqual(Number(row[other]))
    }
  })
})
