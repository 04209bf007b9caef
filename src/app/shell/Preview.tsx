import { layersOf, themeOf, type Box, type Scene, type Size } from '../../core/scene'
import { Layers } from '../sheet/marks'

/** A picture that would be drawn smaller than this is shown by its beginning alone. */
const LEAST = 0.3

/**
 * A scene as small as the place it is given: one with a label from its top on, as it is read. Where the room is known, a picture
 * too large for it is shown by its beginning.
 */
export function Preview({ scene, theme, label, room }: { scene: Scene; theme?: unknown; label?: string; room?: Size }) {
  if (scene.items.length === 0) return null
  const { x, y, width, height } = room ? beginningOf(scene, room) : scene.bounds
  return (
    <svg
      {...(label ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
      viewBox={`${x} ${y} ${width} ${height}`}
      className="absolute inset-2 h-[calc(100%-16px)] w-[calc(100%-16px)]"
      preserveAspectRatio={`xMid${label ? 'YMin' : 'YMid'} meet`}
    >
      <Layers layers={layersOf(scene)} theme={themeOf(theme)} />
    </svg>
  )
}

/** What of a scene is shown in so little room: all of it, or what is around its first item; of one with heads, its corner. */
function beginningOf({ bounds, frozen, items, paper }: Scene, room: Size): Box {
  // What is on paper is known by its shape.
  if (paper || Math.min(room.width / bounds.width, room.height / bounds.height) >= LEAST) return bounds
  const [width, height] = [Math.min(bounds.width, room.width / LEAST), Math.min(bounds.height, room.height / LEAST)]
  const first = frozen ? undefined : items.find(({ ground }) => !ground)?.box
  const centred = first ? first.x + first.width / 2 - width / 2 : bounds.x
  return {
    x: Math.max(bounds.x, Math.min(bounds.x + bounds.width - width, centred)),
    y: bounds.y,
    width,
    height,
  }
}
