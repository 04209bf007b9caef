import { useMemo } from 'react'
import type { Day, Model, View } from '../../core/model'
import { pictureOf } from '../../core/notation'
import { registry } from '../../core/notations'
import { layersOf, themeOf } from '../../core/scene'
import { Layers } from '../sheet/marks'

/** A view of a model, its first unless another is named, drawn as small as the place it is given: one with a label from its top on, as it is read. */
export function Preview({ model, day, label, view: chosen }: { model: Model; day: Day; label?: string; view?: View }) {
  const drawn = useMemo(() => {
    const view = chosen ?? [...model.views.values()][0]
    const picture = view && pictureOf(registry, view)
    return (
      view &&
      picture && {
        scene: picture.draw(model, view, day),
        theme: themeOf(view.look['theme']),
      }
    )
  }, [model, day, chosen])
  if (!drawn || drawn.scene.items.length === 0) return null
  const { scene, theme } = drawn
  const { x, y, width, height } = scene.bounds
  return (
    <svg
      {...(label ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
      viewBox={`${x} ${y} ${width} ${height}`}
      className="absolute inset-2 h-[calc(100%-16px)] w-[calc(100%-16px)]"
      preserveAspectRatio={`xMid${label ? 'YMin' : 'YMid'} meet`}
    >
      <Layers layers={layersOf(scene)} theme={theme} />
    </svg>
  )
}
