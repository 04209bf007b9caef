import ELK from 'elkjs/lib/elk.bundled.js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { nth } from '../../src/core/graph'
import { arrange, type Arranged } from '../../src/core/notations/network/pictures/zones/arrange'
import { boxesOf, type Area, type Box } from '../../src/core/notations/network/pictures/zones/boxes'
import { arranged } from '../../src/core/notations/network/pictures/zones/manners'
import { planOf } from '../../src/core/notations/network/pictures/zones/plan'
import type { Net } from '../../src/core/notations/network/structure'
import { topologyOf } from '../../src/core/notations/network/topology'
import { marramSoundFerries } from '../../src/demo'
import { netIn } from '../core/network/facts'
import { campusOf, networkOf } from '../networkShapes'

interface Point {
  readonly x: number
  readonly y: number
}

const MEASURES = { card: { width: 120, height: 44 }, stub: 30, above: 10, tap: 60, spacing: 0.75, named: true } as const

function laidOut(net: Net): { boxes: readonly Box[]; laid: Arranged } {
  return arranged(net, 'zone', topologyOf(net).cables, MEASURES, () => undefined)
}

const isMeeting = (a: Area, b: Area, by = 0): boolean =>
  a.x < b.x + b.width + by && b.x < a.x + a.width + by && a.y < b.y + b.height + by && b.y < a.y + a.height + by
const isWithin = (inner: Area, outer: Area): boolean =>
  inner.x >= outer.x &&
  inner.y >= outer.y &&
  inner.x + inner.width <= outer.x + outer.width &&
  inner.y + inner.height <= outer.y + outer.height

/** What a picture must never show. */
function faultsIn(net: Net): string[] {
  const { boxes, laid } = laidOut(net)
  const faults: string[] = []
  const devices = [...laid.devices]
  devices.forEach(([one, a], at) => {
    for (const [other, b] of devices.slice(at + 1)) if (isMeeting(a, b)) faults.push(`${one.name} over ${other.name}`)
  })
  boxes.forEach((box, at) => {
    const area = nth(laid.boxes, at)
    for (const [device, own] of devices)
      if (box.devices.includes(device) ? !isWithin(own, area) : isMeeting(own, area))
        faults.push(`${device.name} and box ${at}`)
    laid.boxes
      .slice(at + 1)
      .forEach((other, more) => isMeeting(area, other) && faults.push(`box ${at} over box ${at + 1 + more}`))
  })
  for (const [cable, { shared, own }] of laid.ways) {
    const way = [...shared, ...own]
    way.slice(1).forEach((b, i) => {
      const a = nth(way, i)
      if (Math.abs(a.x - b.x) > 0.01 && Math.abs(a.y - b.y) > 0.01)
        faults.push(`a slanting piece at ${cable.a.device.name}`)
      const piece = {
        x: Math.min(a.x, b.x),
        y: Math.min(a.y, b.y),
        width: Math.abs(a.x - b.x),
        height: Math.abs(a.y - b.y),
      }
      for (const [device, card] of devices) {
        const inner = { x: card.x + 1, y: card.y + 1, width: card.width - 2, height: card.height - 2 }
        if (isMeeting(piece, inner))
          faults.push(`the cable of ${cable.a.device.name} and ${cable.b.device.name} through ${device.name}`)
      }
    })
  }
  return faults
}

describe('zones', () => {
  it('let nothing meet anything else, over random networks', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 8, max: 70 }),
        fc.integer({ min: 1, max: 9 }),
        fc.nat(10_000),
        (devices, zones, seed) => {
          expect(faultsIn(netIn(networkOf({ devices, zones, seed })))).toEqual([])
        },
      ),
      { numRuns: Number(process.env['RUNS'] ?? 18), seed: Number(process.env['SEED'] ?? 7) },
    ))

  it('have a place for a zone that holds nothing, and for a device without a cable', () => {
    const net = netIn(networkOf({ devices: 12, zones: 2 }))
    const bare = { ...net, zones: [...net.zones, { ...nth(net.zones, 0), id: 'empty' as never, name: 'Empty' }] }
    const boxes = boxesOf(bare, net.devices, 'zone')
    const { boxes: areas } = arrange(planOf(boxes, [], MEASURES, () => undefined))
    expect(areas).toHaveLength(3)
    expect(areas.every(({ width, height }) => width > 60 && height > 40)).toBe(true)
  })
})

/** Crossings of polylines of different cables; those that run on top of each other do not cross. */
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

interface ElkNode {
  readonly id: string
  readonly x?: number
  readonly y?: number
  readonly children?: readonly ElkNode[]
  readonly edges?: readonly ElkEdge[]
}
interface ElkEdge {
  readonly id: string
  readonly container?: string
  readonly sections?: readonly {
    readonly startPoint: Point
    readonly bendPoints?: readonly Point[]
    readonly endPoint: Point
  }[]
}

/** The same network laid out by elk’s layered algorithm, zones as its containers. */
async function elkWays(net: Net): Promise<Point[][]> {
  const boxes = boxesOf(net, net.devices, 'zone')
  const laid = (await new ELK().layout({
    id: 'root',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'RIGHT',
      'elk.edgeRouting': 'ORTHOGONAL',
      'elk.hierarchyHandling': 'INCLUDE_CHILDREN',
    },
    children: boxes.map((box) => ({
      id: `box ${box.key}`,
      children: box.devices.map(({ id }) => ({ id, width: MEASURES.card.width, height: MEASURES.card.height })),
    })),
    edges: topologyOf(net).cables.map(({ id, a, b }) => ({ id, sources: [a.device.id], targets: [b.device.id] })),
  })) as ElkNode
  // Ways count from the container that elk says: all are led to one origin.
  const origins = new Map<string, Point>()
  const place = (node: ElkNode, at: Point) => {
    const own = { x: at.x + (node.x ?? 0), y: at.y + (node.y ?? 0) }
    origins.set(node.id, own)
    for (const child of node.children ?? []) place(child, own)
  }
  place(laid, { x: 0, y: 0 })
  return (laid.edges ?? []).map(({ sections = [], container = 'root' }) => {
    const { x, y } = origins.get(container) ?? { x: 0, y: 0 }
    return sections.flatMap(({ startPoint, bendPoints = [], endPoint }) =>
      [startPoint, ...bendPoints, endPoint].map((point) => ({ x: point.x + x, y: point.y + y })),
    )
  })
}

describe('against npm elkjs, layered, with zones as its containers', () => {
  it('crosses no more lines on each of the same networks, and both are told', { timeout: 120_000 }, async () => {
    const table: Record<string, number | string>[] = []
    const compare = async (name: string, net: Net) => {
      const ours = crossingsOf([...laidOut(net).laid.ways.values()].map(({ shared, own }) => [...shared, ...own]))
      const elk = crossingsOf(await elkWays(net))
      table.push({ network: name, ours, elk })
      expect.soft(ours, name).toBeLessThanOrEqual(elk)
    }
    await compare('Marram Sound Ferries', netIn(marramSoundFerries()))
    for (const [devices, zones, seeds] of [
      [40, 4, [1, 2, 3]],
      [120, 6, [1, 2]],
      [300, 8, [1, 2]],
    ] as const)
      for (const seed of seeds)
        await compare(`${devices} devices in ${zones} zones, ${seed}`, netIn(networkOf({ devices, zones, seed })))
    for (const [twice, more, seed] of [
      [0.15, 2, 1],
      [0.4, 8, 3],
    ] as const) {
      const name = `300 devices at switches in stars, ${Math.round(100 * twice)} % at two of them`
      await compare(name, netIn(campusOf({ devices: 300, zones: 8, seed, twice, more })))
    }
    console.table(table)
  })
})
