import { kit, type Box } from '../../../scene'
import { cutAcross, down, gapOf, inset } from './frame'
import { detailsOf, headOf, numbered, padOf, paintOf, polygon, saysOf, type Arrange, type Piece } from './shape'
import { heightOf } from './type'

/** How broad the narrow end is, as a share of the broad one. */
const TOP = 0.24

/** A band of a pyramid, its corners by where it begins and ends. */
function band({ x, y, width, height }: Box, whole: Box, widthAt: (y: number) => number) {
  const middle = whole.x + whole.width / 2
  const [upper, lower] = [widthAt(y), widthAt(y + height)]
  return {
    shape: polygon([
      { x: middle - upper / 2, y },
      { x: middle + upper / 2, y },
      { x: middle + lower / 2, y: y + height },
      { x: middle - lower / 2, y: y + height },
    ]),
    inner: { x: middle - Math.min(upper, lower) / 2, y, width: Math.min(upper, lower), height },
    box: { x: middle - Math.max(upper, lower) / 2, y, width: Math.max(upper, lower), height },
    x,
    width,
  }
}

const stacked =
  (isTurned: boolean): Arrange =>
  (shown, frame, type) => {
    const { parts } = shown
    const gap = Math.min(4, gapOf(frame) / 2)
    const share = (y: number) => (y - frame.y) / frame.height
    const widthAt = (y: number) => frame.width * (TOP + (1 - TOP) * (isTurned ? 1 - share(y) : share(y)))
    // What has more to say, or less room to say it, is higher.
    const plain = down(frame, parts.length, gap)
    const needs = parts.map((part, at) => {
      const { y, height } = plain[at] ?? frame
      const width = Math.min(widthAt(y), widthAt(y + height)) - 2 * padOf({ ...frame, height })
      return heightOf(saysOf(part), Math.max(1, width), type) + 4
    })
    const boxes = down(frame, parts.length, gap, needs)
    return {
      pieces: parts.map((part, at): Piece => {
        const { shape, inner, box } = band(boxes[at] ?? frame, frame, widthAt)
        return {
          part,
          box,
          marks: [kit.path(shape, paintOf(shown, part))],
          slots: [{ box: inset(inner, padOf(inner), 1), says: saysOf(part), align: 'middle' }],
        }
      }),
    }
  }

/** Few stand on many. */
export const pyramid = stacked(false)
/** Many stand on few. */
export const pyramidTurned = stacked(true)

/** A pyramid of numbers, what each level is beside it. */
export const pyramidBeside: Arrange = (shown, frame) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const [left, right] = cutAcross(frame, Math.min(frame.width * 0.42, frame.height * 1.1), gap)
  const widthAt = (y: number) => left.width * Math.max(0.02, (y - left.y) / left.height)
  const boxes = down(left, parts.length, Math.min(4, gap / 2))
  return {
    pieces: parts.map((part, at): Piece => {
      const own = boxes[at] ?? left
      const { shape, inner } = band(own, left, widthAt)
      const middle = left.x + left.width / 2
      const r = Math.min(16, own.height * 0.26, Math.max(3, (inner.width + 20) * 0.3))
      const says = { ...right, y: own.y, height: own.height }
      const edge = middle + widthAt(own.y + own.height * 0.62) / 2
      return {
        part,
        box: { x: left.x, y: own.y, width: frame.width, height: own.height },
        marks: [
          kit.path(shape, paintOf(shown, part)),
          kit.path(`M${edge} ${own.y + own.height / 2}H${right.x - gap * 0.3}`, {
            fill: 'none',
            stroke: 'hairline',
            'stroke-width': 1,
          }),
          ...numbered({ x: middle, y: own.y + own.height * 0.62 }, r, at + 1, paintOf(shown, part).stroke),
        ],
        slots: [{ box: says, says: [headOf(part), ...detailsOf(part)] }],
      }
    }),
  }
}
