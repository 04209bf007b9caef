import { beginningOf, colourOf, layersOf, themeOf, type Scene, type Size, type Theme } from '../../core/scene'
import { Layers } from '../sheet/marks'

/**
 * A scene as small as the place it is given: one with a label from its top on, as it is read. Where the room is known, a picture
 * too large for it is shown by its beginning.
 */
export function Preview({
  scene,
  theme = themeOf(undefined),
  label,
  room,
}: {
  scene: Scene
  theme?: Theme
  label?: string
  room?: Size
}) {
  if (scene.items.length === 0) return null
  const { x, y, width, height } = room ? beginningOf(scene, room) : scene.bounds
  return (
    <svg
      {...(label ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
      viewBox={`${x} ${y} ${width} ${height}`}
      style={{ background: colourOf(theme, 'sheet') }}
      className="absolute inset-2 h-[calc(100%-16px)] w-[calc(100%-16px)]"
      preserveAspectRatio={`xMid${label ? 'YMin' : 'YMid'} meet`}
    >
      <Layers layers={layersOf(scene)} theme={theme} />
    </svg>
  )
}
