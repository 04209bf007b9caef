import { useMemo } from 'react'
import { beginningOf, colourOf, type Scene, type Theme } from '../../core/scene'
import { CanvasLayer } from '../sheet/CanvasLayer'

/** Drawn so small, its letters are letters still. */
const LEGIBLE = 0.45

/** A scene in a theme, painted into so much room: all of it, or its beginning where that would be too small. */
export function Painted({
  scene,
  theme,
  width,
  height,
  filter,
}: {
  scene: Scene
  theme: Theme
  width: number
  height: number
  filter?: string
}) {
  const size = useMemo(() => ({ width, height }), [width, height])
  const camera = useMemo(() => {
    const box = beginningOf(scene, size, LEGIBLE)
    const k = Math.min(width / box.width, height / box.height)
    return { k, x: (width - box.width * k) / 2 - box.x * k, y: (height - box.height * k) / 2 - box.y * k }
  }, [scene, size, width, height])
  return (
    <span
      aria-hidden
      className="relative block overflow-hidden"
      style={{ width, height, background: colourOf(theme, 'sheet'), ...(filter ? { filter } : {}) }}
    >
      <CanvasLayer scene={scene} theme={theme} camera={camera} size={size} />
    </span>
  )
}
