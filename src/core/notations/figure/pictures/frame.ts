import type { Box } from '../../../scene'

/** Boxes and how they are parted: all that arrangements are put together of. In px. */

export const inset = ({ x, y, width, height }: Box, across: number, down = across): Box => ({
  x: x + across,
  y: y + down,
  width: Math.max(1, width - 2 * across),
  height: Math.max(1, height - 2 * down),
})

export const middleOf = ({ x, y, width, height }: Box) => ({ x: x + width / 2, y: y + height / 2 })

export const around = (x: number, y: number, width: number, height: number): Box => ({
  x: x - width / 2,
  y: y - height / 2,
  width,
  height,
})

/** What stays free between the parts of a frame. */
export const gapOf = ({ width, height }: Box): number => Math.max(5, Math.min(22, Math.min(width, height) * 0.032))

/** A length parted among what needs more and what needs less: each has its need, and what is left is parted so that all come as near to equal as they can. O(n²) */
export function shares(needs: readonly number[], whole: number): readonly number[] {
  const sum = needs.reduce((all, need) => all + need, 0)
  if (sum >= whole) return needs.map((need) => (need / Math.max(1e-9, sum)) * whole)
  let level = whole / needs.length
  for (let round = 0; round < needs.length; round++) {
    const over = needs.filter((need) => need > level)
    const next = (whole - over.reduce((all, need) => all + need, 0)) / Math.max(1, needs.length - over.length)
    if (Math.abs(next - level) < 1e-6) break
    level = next
  }
  return needs.map((need) => Math.max(need, level))
}

/** Boxes beside one another, as broad as each needs; or of equal breadth. */
export function across(frame: Box, count: number, gap: number, needs?: readonly number[]): readonly Box[] {
  const widths = needs
    ? shares(needs, frame.width - gap * (count - 1))
    : Array.from({ length: count }, () => (frame.width - gap * (count - 1)) / count)
  let x = frame.x
  return widths.map((width) => {
    const box = { ...frame, x, width: Math.max(1, width) }
    x += width + gap
    return box
  })
}

/** The same beneath one another. */
export function down(frame: Box, count: number, gap: number, needs?: readonly number[]): readonly Box[] {
  const turned = { x: frame.y, y: frame.x, width: frame.height, height: frame.width }
  return across(turned, count, gap, needs).map(({ x, y, width, height }) => ({
    x: y,
    y: x,
    width: height,
    height: width,
  }))
}

/** How many columns put so many boxes nearest to a shape, as width by height. */
export function columnsFor(frame: Box, count: number, shape: number): number {
  let [best, least] = [1, Infinity]
  for (let columns = 1; columns <= count; columns++) {
    const rows = Math.ceil(count / columns)
    const ratio = frame.width / columns / (frame.height / rows)
    const empty = columns * rows - count
    const cost = Math.abs(Math.log(ratio / shape)) + (empty / count) * 0.8
    if (cost < least) [best, least] = [columns, cost]
  }
  return best
}

/** The frame cut in two: what is above or to the left, and the rest. */
export const cutAcross = (frame: Box, width: number, gap: number): readonly [Box, Box] => [
  { ...frame, width },
  { ...frame, x: frame.x + width + gap, width: Math.max(1, frame.width - width - gap) },
]
export const cutDown = (frame: Box, height: number, gap: number): readonly [Box, Box] => [
  { ...frame, height },
  { ...frame, y: frame.y + height + gap, height: Math.max(1, frame.height - height - gap) },
]

/** Boxes row by row. */
export function cells(frame: Box, count: number, columnCount: number, gap: number): readonly Box[] {
  const rowCount = Math.ceil(count / columnCount)
  return down(frame, rowCount, gap).flatMap((row, at) =>
    across(row, columnCount, gap).slice(0, Math.min(columnCount, count - at * columnCount)),
  )
}
