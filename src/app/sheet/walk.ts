import type { Box, Item } from '../../core/scene'

export type Direction = 'ArrowUp' | 'ArrowDown' | 'ArrowLeft' | 'ArrowRight'

export const isDirection = (key: string): key is Direction => key.startsWith('Arrow')

/** The item an arrow key leads to: the nearest one that way, where an item tied to this one counts as nearer. O(items). */
export function neighbour(items: readonly Item[], from: Item, direction: Direction): Item | undefined {
  let best: Item | undefined
  let least = Infinity
  for (const item of items) {
    if (item === from || item.stays !== from.stays) continue
    const [along, across] = offset(from.box, item.box, direction)
    if (along <= 0) continue
    const tied =
      item.parent === from.id || from.parent === item.id || (item.parent !== undefined && item.parent === from.parent)
    const cost = (along + 2.5 * across) * (tied ? 0.5 : 1)
    if (cost < least) {
      least = cost
      best = item
    }
  }
  return best
}

/** How far `b` lies from `a` that way (between the facing edges), and how far beside it. */
function offset(a: Box, b: Box, direction: Direction): readonly [number, number] {
  const vertical = direction === 'ArrowUp' || direction === 'ArrowDown'
  const [start, length, side, breadth] = vertical
    ? (['y', 'height', 'x', 'width'] as const)
    : (['x', 'width', 'y', 'height'] as const)
  const forward = direction === 'ArrowDown' || direction === 'ArrowRight'
  const along = forward ? b[start] - a[start] - a[length] : a[start] - b[start] - b[length]
  const beside = Math.abs(b[side] + b[breadth] / 2 - a[side] - a[breadth] / 2)
  const overlapping = b[side] < a[side] + a[breadth] && a[side] < b[side] + b[breadth]
  return [along + (along > -1 ? 1 : 0), overlapping ? beside * 0.2 : beside]
}
