/**
 * The nodes 0 to `count` − 1 so that each stands behind all that leads to it (Kahn 1962). What stands on a circle, or behind one, is
 * missing. O(nodes + edges)
 */
export function topological(count: number, next: (node: number) => Iterable<number>): number[] {
  const waiting = new Int32Array(count)
  for (let node = 0; node < count; node++) for (const to of next(node)) waiting[to] = nth(waiting, to) + 1
  const order: number[] = []
  for (let node = 0; node < count; node++) if (waiting[node] === 0) order.push(node)
  for (const node of order)
    for (const to of next(node)) {
      const left = nth(waiting, to) - 1
      waiting[to] = left
      if (left === 0) order.push(to)
    }
  return order
}

/** An entry of a list. @throws RangeError where there is none: an index that is wrong must not pass for a zero. */
export function nth<T>(list: ArrayLike<T>, index: number): T {
  const entry = list[index]
  if (entry === undefined) throw new RangeError(`no entry ${index} of ${list.length}`)
  return entry
}
