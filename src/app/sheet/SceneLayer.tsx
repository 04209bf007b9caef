import { memo } from 'react'
import { overlaps, type Box, type Scene, type Theme } from '../../core/scene'
import { Marks } from './marks'

/** The part of a scene that lies within a window of it, as SVG. */
export const SceneLayer = memo(function SceneLayer({
  scene,
  theme,
  window,
}: {
  scene: Scene
  theme: Theme
  window: Box
}) {
  return (
    <>
      <Marks marks={scene.backdrop} theme={theme} />
      {scene.links.map((link) =>
        overlaps(link.bounds, window) ? <Marks key={link.id} marks={link.marks} theme={theme} /> : null,
      )}
      {scene.items.map((item) =>
        overlaps(item.box, window) ? (
          <g key={item.id} data-item={item.id} transform={`translate(${item.box.x} ${item.box.y})`}>
            <Marks marks={item.marks} theme={theme} />
          </g>
        ) : null,
      )}
    </>
  )
})
