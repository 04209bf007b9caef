import { overlaps, type Box, type Item, type Link, type Mark, type Scene } from './mark'

/** Where marks stay when the rest is moved; those of the ground do not. */
export type Side = 'ground' | 'left' | 'top' | 'corner'

/** Marks that are painted together, from an origin in the scene. */
export interface Layer {
  readonly side: Side
  readonly marks: readonly Mark[]
  readonly x: number
  readonly y: number
  readonly item?: Item
  readonly link?: Link
}

/** The sides from the ground up. Heads cover what is moved beneath them, and the corner covers both. */
export const SIDES: readonly Side[] = ['ground', 'left', 'top', 'corner']

/**
 * What is painted, in the order in which it is: the one order of every painter. With a window only what may be seen in it, in the
 * scene’s px; heads reach as far along their side as the scene does. O(scene)
 */
export function layersOf(scene: Scene, side?: Side, window?: Box): readonly Layer[] {
  if (side === undefined) return SIDES.flatMap((one) => layersOf(scene, one, window))
  const own = side === 'ground' ? scene.backdrop : (scene.frozen?.[side] ?? [])
  const seen = window && stretched(window, scene.bounds, side)
  const layers: Layer[] = own.length > 0 ? [{ side, marks: own, x: 0, y: 0 }] : []
  if (side === 'ground')
    for (const link of scene.links)
      if (!seen || overlaps(link.bounds, seen)) layers.push({ side, marks: link.marks, x: 0, y: 0, link })
  // Some items only say where something is: the picture’s ground shows it.
  for (const item of scene.items)
    if ((item.stays ?? 'ground') === side && item.marks.length > 0 && (!seen || overlaps(item.box, seen)))
      layers.push({ side, marks: item.marks, x: item.box.x, y: item.box.y, item })
  return layers
}

function stretched(window: Box, bounds: Box, side: Side): Box {
  if (side === 'left') return { ...window, x: bounds.x, width: bounds.width }
  if (side === 'top') return { ...window, y: bounds.y, height: bounds.height }
  return window
}
