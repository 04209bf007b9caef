import { nth, componentsOf } from '../../../graph'

/** One unknown: a constant, and multiples of other unknowns by their index; all of them 0 or more. */
export interface Equation {
  readonly constant: number
  readonly terms: ReadonlyMap<number, number>
}

/** Unknowns that hang together in a circle and are solved at once; more of them are not solved, and count as without bound. */
const MOST_AT_ONCE = 1500

/**
 * The least solution of x = constant + Σ terms that is not negative; what grows without bound is Infinity. Circle by circle, each solved by
 * elimination: O(equations + Σ size of each circle³).
 */
export function leastSolution(equations: readonly Equation[]): number[] {
  const x = new Array<number>(equations.length).fill(Infinity)
  const termsOf = (index: number): Iterable<[number, number]> =>
    [...(equations[index]?.terms ?? [])].filter(([, factor]) => factor > 0)
  const next = (index: number) => [...termsOf(index)].map(([to]) => to)
  for (const circle of componentsOf(equations.keys(), next)) {
    const place = new Map(circle.map((index, row) => [index, row]))
    if (circle.length > MOST_AT_ONCE) continue
    const rows = circle.map((index, row) => {
      const line = new Float64Array(circle.length + 1)
      line[row] = 1
      let constant = nth(equations, index).constant
      for (const [to, factor] of termsOf(index)) {
        const at = place.get(to)
        if (at === undefined) constant += factor * nth(x, to)
        else line[at] = nth(line, at) - factor
      }
      line[circle.length] = constant
      return line
    })
    const bounded = rows.every((row) => Number.isFinite(row.at(-1)))
    const solved = bounded ? solve(rows) : []
    // A solution that is negative somewhere belongs to something that grows with each round.
    const sound = solved.length > 0 && solved.every((value) => Number.isFinite(value) && value > -1e-9)
    circle.forEach((index, row) => (x[index] = sound ? Math.max(0, nth(solved, row)) : Infinity))
  }
  return x
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
      for (let k = column; k <= n; k++) target[k] = nth(target, k) - factor * at(column, k)
    }
  }
  const x = new Array<number>(n).fill(0)
  for (let row = n - 1; row >= 0; row--) {
    let sum = at(row, n)
    for (let k = row + 1; k < n; k++) if (at(row, k) !== 0) sum -= at(row, k) * nth(x, k)
    x[row] = Math.abs(at(row, row)) < 1e-12 ? (Math.abs(sum) < 1e-12 ? 0 : Infinity) : sum / at(row, row)
  }
  return x
}
