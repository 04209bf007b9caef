import type { Entity, Id, Step } from '../model'
import { setField } from './edit'
import type { Refusal } from './wish'

/** The order of siblings is a number of each, in its field `order`. */

/** Numbers siblings 1, 2, 3 … and leaves room for `count` more at an index; what stands right already is left. O(siblings) */
export const roomAt = (siblings: readonly Entity[], index: number, count = 1): Step[] =>
  siblings.flatMap(({ id, fields }, at) => {
    const order = at < index ? at + 1 : at + count + 1
    return fields['order'] === order ? [] : [setField(id, 'order', order)]
  })

/**
 * Ascending orders for `count` more among siblings at an index, and the steps that number the siblings anew where their own
 * numbers leave no room. O(siblings + count)
 */
export function placesAmong(siblings: readonly Entity[], index: number, count: number) {
  const orders = siblings.map(({ fields }) => fields['order'])
  const ascend = orders.every((order, at) => typeof order === 'number' && (at === 0 || Number(orders[at - 1]) < order))
  const before = index > 0 ? Number(orders[index - 1]) : Number(orders[0] ?? 1) - count - 1
  const after = index < siblings.length ? Number(orders[index]) : before + count + 1
  const between = Array.from({ length: count }, (_, at) => before + ((after - before) * (at + 1)) / (count + 1))
  if (ascend && between.every((order, at) => order > (between[at - 1] ?? before) && order < after))
    return { orders: between, steps: [] }
  return { orders: between.map((_, at) => index + at + 1), steps: roomAt(siblings, index, count) }
}

/** Puts one right after one of some siblings; nothing where that is none of them. O(siblings) */
export function placedAfter(siblings: readonly Entity[], above: Id | undefined, one: Id): Step[] {
  const others = siblings.filter(({ id }) => id !== one)
  const at = others.findIndex(({ id }) => id === above)
  if (at < 0) return []
  const { orders, steps } = placesAmong(others, at + 1, 1)
  return [...steps, ...orders.map((order) => setField(one, 'order', order))]
}

/** Lets one of the siblings change places with its neighbour. O(siblings) */
export function moved(siblings: readonly Entity[], one: Entity, by: -1 | 1): Step[] | Refusal {
  const at = siblings.findIndex(({ id }) => id === one.id)
  if (at < 0 || !siblings[at + by]) return { refused: by < 0 ? 'It is the first.' : 'It is the last.' }
  const { orders, steps } = placesAmong(siblings.toSpliced(at, 1), at + by, 1)
  return [...steps, ...orders.map((order) => setField(one.id, 'order', order))]
}
