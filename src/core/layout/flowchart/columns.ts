import { nth, reach, topological } from '../../graph'
import type { FlowShape } from './shape'

export interface Columns {
  readonly column: Int32Array
  readonly count: number
  /** Edges that run against the flow. */
  readonly back: Uint8Array
}

/**
 * The column of every node: right of everything that leads to it, the way that was stated first running forward. Circles are broken at the
 * edge that closes them on a walk from the beginning (Sugiyama, Tagawa & Toda 1981, with the layering by longest path).
 * O(nodes + edges), times the number of phases.
 */
export function columnsOf(shape: FlowShape): Columns {
  const { nodes, edges } = shape
  const back = backEdges(shape)
  const forward: number[] = []
  edges.forEach(({ sort }, index) => {
    if (sort === 'flow' && back[index] === 0) forward.push(index)
  })
  const into: number[][] = nodes.map(() => [])
  const out: number[][] = nodes.map(() => [])
  for (const [from, to] of [
    ...forward.map((edge) => [nth(edges, edge).from, nth(edges, edge).to] as const),
    ...(shape.after ?? []),
  ]) {
    into[to]?.push(from)
    out[from]?.push(to)
  }
  // Every forward edge leads onwards.
  const order = topological(nodes.length, (node) => nth(out, node))
  const messages = harmless(shape, forward)
  const messagesInto = lists(nodes.length, messages, (edge) => nth(edges, edge).to)
  const phases = Math.max(-1, ...nodes.map(({ phase }) => phase)) + 1
  const column = new Int32Array(nodes.length)
  const begins = new Int32Array(phases)
  for (let round = 0; round <= phases; round++) {
    // A message may point back to what stands later in the order: a second pass settles it.
    for (let pass = 0; pass < 2; pass++)
      for (const node of order) {
        const { phase, nudge, column: first = 0 } = nth(nodes, node)
        let least = (phase < 0 ? 0 : nth(begins, phase)) + first
        for (const from of nth(into, node)) least = Math.max(least, nth(column, from) + 1)
        for (const edge of nth(messagesInto, node)) least = Math.max(least, nth(column, nth(edges, edge).from))
        column[node] = Math.max(0, least + Math.max(0, nudge?.[0] ?? 0))
      }
    let changed = false
    for (let phase = 1; phase < phases; phase++) {
      let end = 0
      nodes.forEach((node, index) => {
        if (node.phase >= 0 && node.phase < phase) end = Math.max(end, nth(column, index) + 1)
      })
      if (end > nth(begins, phase)) {
        begins[phase] = end
        changed = true
      }
    }
    if (!changed) break
  }
  pullRight(shape, forward, column)
  beside(shape, column)
  return { column, count: Math.max(0, ...column) + 1, back }
}

function backEdges({ nodes, edges }: FlowShape): Uint8Array {
  const back = new Uint8Array(edges.length)
  const flows = edges.flatMap(({ sort }, index) => (sort === 'flow' ? [index] : []))
  const out = lists(nodes.length, flows, (edge) => nth(edges, edge).from)
  const reached = new Uint8Array(nodes.length)
  for (const edge of flows) reached[nth(edges, edge).to] = 1
  // 0: not seen, 1: on the walk, 2: done
  const state = new Uint8Array(nodes.length)
  const begin = (start: number) => {
    if (state[start] !== 0) return
    const walk: { node: number; next: number }[] = [{ node: start, next: 0 }]
    state[start] = 1
    for (let at = walk.at(-1); at; at = walk.at(-1)) {
      const edge = out[at.node]?.[at.next++]
      if (edge === undefined) {
        state[at.node] = 2
        walk.pop()
        continue
      }
      const to = nth(edges, edge).to
      const [a, b] = [nth(nodes, at.node).phase, nth(nodes, to).phase]
      if (state[to] === 1 || to === at.node || (b >= 0 && a > b)) back[edge] = 1
      else if (state[to] === 0) {
        state[to] = 1
        walk.push({ node: to, next: 0 })
      }
    }
  }
  nodes.forEach((_, node) => reached[node] === 0 && begin(node))
  nodes.forEach((_, node) => begin(node))
  return back
}

/** Messages that ask for no circle: each is taken when its receiver does not lead back to its sender. */
function harmless({ nodes, edges }: FlowShape, forward: readonly number[]): number[] {
  const taken: number[] = []
  const out = lists(nodes.length, forward, (edge) => nth(edges, edge).from)
  edges.forEach(({ sort, from, to }, index) => {
    if (sort !== 'message' || to < 0) return
    const next = (node: number) =>
      nth(out, node).flatMap((edge) => (nth(edges, edge).to < 0 ? [] : nth(edges, edge).to))
    if (reach([to], next).has(from)) return
    taken.push(index)
    out[from]?.push(index)
  })
  return taken
}

/** What nothing leads to stands right before what it leads to. */
function pullRight({ nodes, edges }: FlowShape, forward: readonly number[], column: Int32Array): void {
  const into = new Uint8Array(nodes.length)
  for (const edge of forward) into[nth(edges, edge).to] = 1
  const first = new Map<number, number>()
  for (const edge of forward) {
    const { from, to } = nth(edges, edge)
    first.set(from, Math.min(first.get(from) ?? Infinity, nth(column, to)))
  }
  nodes.forEach(({ phase }, node) => {
    const next = first.get(node)
    if (into[node] === 0 && next !== undefined && next > 0 && phase < 0) column[node] = next - 1
  })
}

/** What is tied to a step stands in its column. */
function beside({ edges }: FlowShape, column: Int32Array): void {
  const placed = new Set<number>()
  for (const { sort, from, to } of edges)
    if (sort === 'tie' && !placed.has(to)) {
      placed.add(to)
      column[to] = nth(column, from)
    }
}

export function lists(count: number, edges: readonly number[], end: (edge: number) => number): number[][] {
  const all: number[][] = Array.from({ length: count }, () => [])
  for (const edge of edges) all[end(edge)]?.push(edge)
  return all
}
