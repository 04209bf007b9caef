import { memo, useMemo } from 'react'
import { layersOf, type Box, type Scene, type Side, type Theme } from '../../core/scene'
import { Layers } from './marks'

/** One side of a scene, as far as it lies within a window of it, as SVG. */
export const SceneLayer = memo(function SceneLayer({
  scene,
  theme,
  side,
  window,
}: {
  scene: Scene
  theme: Theme
  side: Side
  window: Box
}) {
  const layers = useMemo(() => layersOf(scene, side, window), [scene, side, window])
  return <Layers layers={layers} theme={theme} />
})
