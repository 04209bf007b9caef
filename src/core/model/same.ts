/** Deep equality of plain JSON. O(size) */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false
  if (Array.isArray(a) !== Array.isArray(b)) return false
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((entry, i) => same(entry, b[i]))
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>]
  const keys = Object.keys(x)
  return keys.length === Object.keys(y).length && keys.every((key) => Object.hasOwn(y, key) && same(x[key], y[key]))
}
