import type { Point } from '../../../../layout'
import type { Classifier, Package } from '../../structure'

export interface Size {
  readonly width: number
  readonly height: number
}
export type Area = Point & Size

export const FRAME = { pad: 14, tab: 21, step: 9 } as const

/** The frame of each package around all that is in it, inner frames and their tabs included. */
export function framesOf(
  packages: readonly Package[],
  laid: ReadonlyMap<Classifier, Area>,
  emptyPlace: (one: Package) => Area | undefined,
): Map<Package, Area> {
  const frames = new Map<Package, Area>()
  const frame = (one: Package): Area | undefined => {
    const known = frames.get(one)
    if (known) return known
    const areas: Area[] = []
    for (const [inner, area] of laid) if (inner.package === one) areas.push(padded(area, FRAME.pad))
    for (const inner of packages) {
      const area = inner.parent === one ? frame(inner) : undefined
      if (area) areas.push(padded({ ...area, y: area.y - FRAME.tab, height: area.height + FRAME.tab }, FRAME.step))
    }
    const empty = emptyPlace(one)
    if (empty) areas.push(empty)
    if (areas.length === 0) return undefined
    const around = bounding(areas)
    frames.set(one, around)
    return around
  }
  for (const one of packages) frame(one)
  return frames
}

const padded = ({ x, y, width, height }: Area, by: number): Area => ({
  x: x - by,
  y: y - by,
  width: width + 2 * by,
  height: height + 2 * by,
})

export function bounding(areas: readonly Area[]): Area {
  const [x, y] = [Math.min(...areas.map((one) => one.x)), Math.min(...areas.map((one) => one.y))]
  const right = Math.max(...areas.map((one) => one.x + one.width))
  const bottom = Math.max(...areas.map((one) => one.y + one.height))
  return { x, y, width: right - x, height: bottom - y }
}
