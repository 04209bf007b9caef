import type { Box, Mark, Scene } from './mark'

/** Where a sheet is looked at: screen = scene × k + (x, y). */
export interface Camera {
  readonly x: number
  readonly y: number
  readonly k: number
}

export interface Size {
  readonly width: number
  readonly height: number
}

export const LEAST_SCALE = 0.04
/** Text of so many px on the screen can still be read: a picture opens as a whole if none of its texts is smaller. */
const LEGIBLE_PX = 7
/** A picture that is too large for that opens with its smallest text of this size. */
const READABLE_PX = 8.5
/** What a picture without any text is taken to be written in. */
const USUAL_PX = 11
/** What stays empty around a picture that is fitted, in px of the screen. */
export const SHEET_MARGIN = 20

/** Everything in view, no larger than life. */
export function fitting(bounds: Box, size: Size): Camera {
  const k = Math.max(
    LEAST_SCALE,
    Math.min(1, (size.width - SHEET_MARGIN) / bounds.width, (size.height - SHEET_MARGIN) / bounds.height),
  )
  return {
    k,
    x: (size.width - bounds.width * k) / 2 - bounds.x * k,
    y: Math.max(0, Math.min(SHEET_MARGIN, (size.height - bounds.height * k) / 2)) - bounds.y * k,
  }
}

/**
 * How a picture is first shown: as a whole when its smallest text, of this size at 100 %, can be read then, else at a readable size with its first item in
 * view: from the top where that shows it.
 */
export function opening(bounds: Box, first: Box | undefined, size: Size, smallest: number): Camera {
  const whole = fitting(bounds, size)
  if (whole.k * smallest >= LEGIBLE_PX || !first) return whole
  const k = Math.min(1, Math.max(whole.k, READABLE_PX / smallest))
  const least = size.width - (bounds.x + bounds.width) * k
  const most = -bounds.x * k
  const centred = size.width / 2 - (first.x + first.width / 2) * k
  const middle = (size.width - bounds.width * k) / 2 - bounds.x * k
  const x = bounds.width * k <= size.width ? middle : Math.min(most, Math.max(least, centred))
  const top = SHEET_MARGIN - 8 - bounds.y * k
  const lowest = size.height - SHEET_MARGIN - (bounds.y + bounds.height) * k
  const isSeen = (first.y + first.height) * k + top <= size.height - SHEET_MARGIN
  const y = isSeen ? top : Math.max(Math.min(top, lowest), size.height / 3 - (first.y + first.height / 2) * k)
  return { k, x, y }
}

/** The same of a scene: one with heads that stay in view begins at its corner, any other with its first item in view. */
export function openingOf(scene: Scene, size: Size): Camera {
  const { bounds, frozen, items, links } = scene
  const { x, y } = bounds
  const lines = new Set(links.map(({ id }) => id))
  // What others stand on, and lines, may be as large as the picture.
  const begins = items.find(({ id, ground }) => !ground && !lines.has(id)) ?? items[0]
  const first = frozen ? { x, y, width: 0, height: 0 } : begins?.box
  const place = opening(bounds, first, size, smallestText(scene))
  return frozen ? { ...place, x: -x * place.k, y: -y * place.k } : place
}

/** So many marks tell how small the texts of a picture are. */
const MOST_ASKED = 4000

/** The size of the smallest text of a scene in px at 100 %, among its first marks. O(1). */
export function smallestText(scene: Scene): number {
  let [smallest, asked] = [Infinity, 0]
  const look = (marks: readonly Mark[]) => {
    for (const mark of marks) {
      if (++asked > MOST_ASKED) return
      if (mark.tag === 'text') smallest = Math.min(smallest, mark.attrs['font-size'])
      else if (mark.tag === 'g') look(mark.children)
    }
  }
  for (const { marks } of scene.items) look(marks)
  look(scene.backdrop)
  return smallest === Infinity ? USUAL_PX : smallest
}

/** A picture that would be drawn smaller than this is shown by its beginning alone. */
const LEAST_PREVIEW = 0.3

/** What of a scene is shown in so little room: all of it, or what is around its first item; of one with heads, its corner. */
export function beginningOf({ bounds, frozen, items, paper }: Scene, room: Size, least = LEAST_PREVIEW): Box {
  // What is on paper is known by its shape.
  if (paper || Math.min(room.width / bounds.width, room.height / bounds.height) >= least) return bounds
  const [width, height] = [Math.min(bounds.width, room.width / least), Math.min(bounds.height, room.height / least)]
  const first = frozen ? undefined : items.find(({ ground }) => !ground)?.box
  const centred = first ? first.x + first.width / 2 - width / 2 : bounds.x
  return {
    x: Math.max(bounds.x, Math.min(bounds.x + bounds.width - width, centred)),
    y: bounds.y,
    width,
    height,
  }
}
