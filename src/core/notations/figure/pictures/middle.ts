import { overlaps, type Box, type Mark } from '../../../scene'
import { around, inset, middleOf } from './frame'
import { onEllipse, type Shown } from './shape'
import type { Saying } from './type'

/** The title of a figure as a text. */
export const titleSays = ({ title, root }: Shown): Saying => ({ part: root, text: title, rank: 'title' })

/** As large as boxes of one size can be that stand around a middle without meeting one another or what is there. O(n²) times sizes tried */
export function aroundMiddle(
  frame: Box,
  count: number,
  shape: number,
  free: Box | undefined,
  gap: number,
): readonly Box[] {
  const centre = middleOf(frame)
  const at = (share: number) => {
    const width = Math.min(frame.width * share, frame.height * share * shape)
    const height = width / shape
    const [rx, ry] = [(frame.width - width) / 2, (frame.height - height) / 2]
    return Array.from({ length: count }, (_, index) => {
      const { x, y } = onEllipse(centre, rx, ry, index / count)
      return around(x, y, width, height)
    })
  }
  const isFree = (boxes: readonly Box[]) => {
    const wide = boxes.map((box) => inset(box, -gap / 2))
    return !wide.some(
      (box, index) => (free && overlaps(box, free)) || wide.slice(index + 1).some((other) => overlaps(box, other)),
    )
  }
  let [low, high] = [0.001, 0.44]
  if (isFree(at(high))) return at(high)
  for (let round = 0; round < 9; round++) {
    const middle = (low + high) / 2
    if (isFree(at(middle))) low = middle
    else high = middle
  }
  return at(low)
}

const CENTRE = { width: 0.26, height: 0.2 } as const

/** Where the title stands in the middle. */
export function centred(
  shown: Shown,
  frame: Box,
  width = frame.width * CENTRE.width,
  height = frame.height * CENTRE.height,
) {
  const { x, y } = middleOf(frame)
  const box = around(x, y, width, height)
  return {
    box,
    marks: [] as readonly Mark[],
    slot: { box: inset(box, 4), says: [titleSays(shown)], align: 'middle' as const },
  }
}
