import { layersOf, themeOf, type Scene } from '../../core/scene'
import { Layers } from '../sheet/marks'

/** A scene as small as the place it is given: one with a label from its top on, as it is read. */
export function Preview({ scene, theme, label }: { scene: Scene; theme?: unknown; label?: string }) {
  if (scene.items.length === 0) return null
  const { x, y, width, height } = scene.bounds
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
