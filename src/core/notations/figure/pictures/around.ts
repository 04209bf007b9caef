import { kit } from '../../../scene'
import { across, down, gapOf, inset, middleOf } from './frame'
import { aroundMiddle, centred, titleSays } from './middle'
import {
  leading,
  leaves,
  onEllipse,
  oval,
  paintOf,
  polygon,
  round,
  saysOf,
  told,
  type Arrange,
  type Piece,
} from './shape'

/** What hangs on one thing: plates around it, each tied to it. */
export const spokes: Arrange = (shown, frame) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const centre = centred(shown, frame, frame.width * 0.24, frame.height * 0.2)
  const boxes = aroundMiddle(frame, parts.length, 2.2, centre.box, gap * 1.6)
  const middle = middleOf(frame)
  return {
    centre: {
      ...centre,
      marks: [kit.rect(centre.box, { fill: 'head', stroke: 'ink', 'stroke-width': 1.5, rx: 3 })],
      slot: { ...centre.slot, box: inset(centre.box, 8) },
    },
    backdrop: boxes.map((box) => {
      const [a, b] = [leaves(centre.box, middleOf(box)), leaves(box, middle)]
      return kit.path(`M${round(a.x)} ${round(a.y)}L${round(b.x)} ${round(b.y)}`, {
        fill: 'none',
        stroke: 'line',
        'stroke-width': 1.5,
      })
    }),
    pieces: parts.map((part, at) => told(shown, part, boxes[at] ?? frame)),
  }
}

/** The same as discs on a ring. */
export const orbit: Arrange = (shown, frame) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const centre = centred(
    shown,
    frame,
    Math.min(frame.width, frame.height) * 0.3,
    Math.min(frame.width, frame.height) * 0.3,
  )
  const boxes = aroundMiddle(
    frame,
    parts.length,
    Math.max(0.8, Math.min(1.5, frame.width / frame.height)),
    centre.box,
    gap,
  )
  const [first = frame] = boxes
  const middle = middleOf(frame)
  const path = Array.from({ length: 65 }, (_, at) =>
    onEllipse(middle, (frame.width - first.width) / 2, (frame.height - first.height) / 2, at / 64),
  )
  return {
    centre: {
      ...centre,
      marks: [kit.path(oval(centre.box), { fill: 'head', stroke: 'ink', 'stroke-width': 1.5 })],
      slot: { ...centre.slot, box: inset(centre.box, centre.box.width * 0.16, centre.box.height * 0.16) },
    },
    backdrop: [kit.path(polygon(path), { fill: 'none', stroke: 'hairline', 'stroke-width': 1.5 })],
    pieces: parts.map((part, at): Piece => {
      const box = boxes[at] ?? frame
      return {
        part,
        box,
        marks: [kit.path(oval(box), paintOf(shown, part))],
        slots: [{ box: inset(box, box.width * 0.16, box.height * 0.16), says: saysOf(part), align: 'middle' }],
      }
    }),
  }
}

/** Several lead to one, or one to several. */
const sided =
  (isInwards: boolean): Arrange =>
  (shown, frame) => {
    const { parts } = shown
    const gap = gapOf(frame)
    const isUpright = frame.height > frame.width * 1.2
    const run = Math.max(18, (isUpright ? frame.height : frame.width) * 0.1)
    const own = isUpright ? frame.height * 0.2 : frame.width * 0.26
    const core = isUpright
      ? {
          ...frame,
          y: isInwards ? frame.y + frame.height - own : frame.y,
          height: own,
          x: frame.x + frame.width * 0.2,
          width: frame.width * 0.6,
        }
      : {
          ...frame,
          x: isInwards ? frame.x + frame.width - own : frame.x,
          width: own,
          y: frame.y + frame.height * 0.3,
          height: frame.height * 0.4,
        }
    const rest = isUpright
      ? { ...frame, y: isInwards ? frame.y : frame.y + own + run, height: frame.height - own - run }
      : { ...frame, x: isInwards ? frame.x : frame.x + own + run, width: frame.width - own - run }
    const boxes = isUpright ? across(rest, parts.length, gap) : down(rest, parts.length, gap)
    return {
      centre: {
        box: core,
        marks: [kit.rect(core, { fill: 'head', stroke: 'ink', 'stroke-width': 1.5, rx: 3 })],
        slot: { box: inset(core, 8), says: [titleSays(shown)], align: 'middle' },
      },
      backdrop: boxes.flatMap((box, at) => {
        const share = (at + 0.5) / boxes.length
        const near = isUpright
          ? { x: box.x + box.width / 2, y: isInwards ? box.y + box.height : box.y }
          : { x: isInwards ? box.x + box.width : box.x, y: box.y + box.height / 2 }
        const far = isUpright
          ? { x: core.x + core.width * share, y: isInwards ? core.y : core.y + core.height }
          : { x: isInwards ? core.x : core.x + core.width, y: core.y + core.height * share }
        return leading(isInwards ? [near, far] : [far, near], Math.min(9, run / 4), 'ink')
      }),
      pieces: parts.map((part, at) => told(shown, part, boxes[at] ?? frame)),
    }
  }
export const converging = sided(true)
export const diverging = sided(false)
