import type { Id, Relation } from '../../../model'
import type { FlowNode, Process } from '../structure'

/** How often a case passes each element and each line, on average. */
export interface Visits {
  readonly nodes: ReadonlyMap<Id, number>
  readonly flows: ReadonlyMap<Id, number>
}

/** Of a decision’s ways, the share of each: as stated, and what is left divided among the others. */
export function sharesOf({ out }: FlowNode): ReadonlyMap<Id, number> {
  const stated = out.map(({ fields }) => (typeof fields['share'] === 'number' ? fields['share'] : undefined))
  const sum = stated.reduce<number>((total, share) => total + (share ?? 0), 0)
  const open = stated.filter((share) => share === undefined).length
  const rest = open > 0 ? Math.max(0, 1 - sum) / open : 0
  return new Map(out.map(({ id }, index) => [id, stated[index] ?? rest]))
}

/** Whether only one of the ways out is taken. */
export const choosesOne = ({ kind, type }: FlowNode): boolean =>
  kind === 'gateway' && type !== 'parallel' && type !== 'inclusive'

/** How much of an element’s visits goes on along each way out. Of an inclusive gateway every way is taken as often as its share says; without shares, always. */
export function portionsOf(node: FlowNode): ReadonlyMap<Id, number> {
  if (choosesOne(node)) return sharesOf(node)
  const inclusive = node.kind === 'gateway' && node.type === 'inclusive'
  return new Map(
    node.out.map(({ id, fields }) => [id, inclusive && typeof fields['share'] === 'number' ? fields['share'] : 1]),
  )
}

const waitsForAll = ({ kind, type, into }: FlowNode): boolean =>
  kind === 'gateway' && type === 'parallel' && into.length > 1

/**
 * Expected visits of every element: those of a start are 1 (of several, shared), each line carries its portion, a merge adds its lines up, and a
 * parallel join is passed once for all of them. It is the fundamental matrix of an absorbing Markov chain where there is nothing parallel
 * (Kemeny & Snell 1960). O(elements³).
 */
export function visitsOf({ nodes, flows }: Process): Visits {
  const list = [...nodes.values()].filter(({ kind }) => kind !== 'data')
  const index = new Map(list.map(({ id }, i) => [id, i]))
  const starts = list.filter(({ kind, type, into }) => into.length === 0 || (kind === 'event' && type === 'start'))
  const begun = starts.some(({ kind, type }) => kind === 'event' && type === 'start')
    ? starts.filter(({ kind, type }) => kind === 'event' && type === 'start')
    : starts
  const portions = new Map(list.flatMap((node) => [...portionsOf(node)]))
  const matrix = list.map((node, i) => {
    const row = new Float64Array(list.length + 1)
    row[i] = 1
    const weight = waitsForAll(node) ? 1 / node.into.length : 1
    for (const line of node.into) {
      const from = index.get(line.source)
      if (from !== undefined) row[from] = (row[from] ?? 0) - weight * (portions.get(line.id) ?? 0)
    }
    if (begun.includes(node)) row[list.length] = 1 / begun.length
    return row
  })
  const solved = solve(matrix)
  const visits = new Map(list.map(({ id }, i) => [id, solved[i] ?? Infinity]))
  return {
    nodes: visits,
    flows: new Map(
      flows.map((line: Relation) => [line.id, (visits.get(line.source) ?? 0) * (portions.get(line.id) ?? 0)]),
    ),
  }
}

/** Solves linear equations by elimination with the largest pivot; the last entry of a row is its right side. What is not determined is Infinity. O(n³). */
export function solve(rows: readonly Float64Array[]): number[] {
  const n = rows.length
  const m = rows.map((row) => Float64Array.from(row))
  const at = (row: number, column: number): number => m[row]?.[column] ?? 0
  for (let column = 0; column < n; column++) {
    let pivot = column
    for (let row = column + 1; row < n; row++) if (Math.abs(at(row, column)) > Math.abs(at(pivot, column))) pivot = row
    if (Math.abs(at(pivot, column)) < 1e-12) continue
    const [a, b] = [m[column], m[pivot]]
    if (!a || !b) continue
    m[column] = b
    m[pivot] = a
    for (let row = column + 1; row < n; row++) {
      const factor = at(row, column) / at(column, column)
      const target = m[row]
      if (factor === 0 || !target) continue
      for (let k = column; k <= n; k++) target[k] = (target[k] ?? 0) - factor * at(column, k)
    }
  }
  const x = new Array<number>(n).fill(0)
  for (let row = n - 1; row >= 0; row--) {
    let sum = at(row, n)
    for (let k = row + 1; k < n; k++) if (at(row, k) !== 0) sum -= at(row, k) * (x[k] ?? 0)
    x[row] = Math.abs(at(row, row)) < 1e-12 ? (Math.abs(sum) < 1e-12 ? 0 : Infinity) : sum / at(row, row)
  }
  return x
}
