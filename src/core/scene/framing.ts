import type { Box, Scene } from './mark'

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
/** Below this the names on cards are hard to read: a large picture opens at this size instead of as a whole. */
const LEGIBLE = 0.8
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

/** How a picture is first shown: as a whole when that can be read, else at a legible size with its first item at the top. */
export function opening(bounds: Box, first: Box | undefined, size: Size): Camera {
  const whole = fitting(bounds, size)
  if (whole.k >= LEGIBLE || !first) return whole
  const k = LEGIBLE
  const least = size.width - (bounds.x + bounds.width) * k
  const most = -bounds.x * k
  const centred = size.width / 2 - (first.x + first.width / 2) * k
  const x = bounds.width * k <= size.width ? whole.x : Math.min(most, Math.max(least, centred))
  return { k, x, y: SHEET_MARGIN - 8 - bounds.y * k }
}

/** The same of a scene: one with heads that stay in view begins at its corner, any other with its first item in view. */
export function openingOf({ bounds, frozen, items }: Scene, size: Size): Camera {
  const { x, y } = bounds
  const place = opening(bounds, frozen ? { x, y, width: 0, height: 0 } : items[0]?.box, size)
  return frozen ? { ...place, x: -x * place.k, y: -y * place.k } : place
}
