import { memo, useMemo } from 'react'
import { overlaps, type Box, type Item, type Scene, type Theme } from '../../core/scene'
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
  const items = useMemo(
    () => scene.items.filter((item) => item.stays === undefined && isDrawn(item) && overlaps(item.box, window)),
    [scene, window],
  )
  return (
    <>
      <Marks marks={scene.backdrop} theme={theme} />
      {links.map((link) => (
        <Marks key={link.id} marks={link.marks} theme={theme} />
      ))}
      {items.map((item) => (
        <Drawn key={item.id} item={item} theme={theme} />
      ))}
    </>
  )
})

/** The items among the heads of one side, as far as they are in view. */
export const HeadItems = memo(function HeadItems({
  scene,
  theme,
  side,
  window,
}: {
  scene: Scene
  theme: Theme
  side: 'left' | 'top'
  window: Box
}) {
  const items = useMemo(() => {
    const seen =
      side === 'left'
        ? { ...window, x: scene.bounds.x, width: scene.bounds.width }
        : { ...window, y: scene.bounds.y, height: scene.bounds.height }
    return scene.items.filter((item) => item.stays === side && isDrawn(item) && overlaps(item.box, seen))
  }, [scene, side, window])
  return (
    <>
      {items.map((item) => (
        <Drawn key={item.id} item={item} theme={theme} />
      ))}
    </>
  )
})

/** Some items only say where something is: the picture's ground shows it. */
const isDrawn = ({ marks }: Item): boolean => marks.length > 0

const Drawn = ({ item, theme }: { item: Item; theme: Theme }) => (
  <g data-item={item.id} transform={`translate(${item.box.x} ${item.box.y})`}>
    <Marks marks={item.marks} theme={theme} />
  </g>
)
