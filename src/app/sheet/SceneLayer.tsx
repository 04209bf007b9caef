import { memo, useMemo } from 'react'
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
  const links = useMemo(() => scene.links.filter((link) => overlaps(link.bounds, window)), [scene, window])
  const items = useMemo(() => scene.items.filter((item) => overlaps(item.box, window)), [scene, window])
  return (
    <>
      <Marks marks={scene.backdrop} theme={theme} />
      {links.map((link) => (
        <Marks key={link.id} marks={link.marks} theme={theme} />
      ))}
      {items.map((item) => (
        <g key={item.id} data-item={item.id} transform={`translate(${item.box.x} ${item.box.y})`}>
          <Marks marks={item.marks} theme={theme} />
        </g>
      ))}
    </>
  )
})
