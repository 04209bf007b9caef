import { useContext, useEffect, useMemo, useRef, useState } from 'react'
import {
  brushOf,
  colourOf,
  layersOf,
  overlaps,
  type Box,
  type Camera,
  type Layer,
  type Scene,
  type Theme,
} from '../../core/scene'
import { Assets } from './marks'

/** At this size a box is a few pixels: its strongest colour is all that can be seen of it. */
const AS_BLOTS_BELOW = 0.12

/** Many boxes too small to be read: the same marks in the same order as elements would be, painted much faster. */
export function CanvasLayer({
  scene,
  theme,
  camera,
  size,
}: {
  scene: Scene
  theme: Theme
  camera: Camera
  size: { width: number; height: number }
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const picture = usePictures()
  const layers = useMemo(
    () =>
      layersOf(scene, 'ground').map((layer) => ({
        layer,
        bounds: layer.item?.box ?? layer.link?.bounds,
        tint: layer.item && tintOf(layer, theme),
        paint: layer.marks.map((mark) =>
          brushOf(mark, theme, { path: (d) => new Path2D(d), picture, sizeOf: (one) => one }),
        ),
      })),
    [scene, theme, picture],
  )

  useEffect(() => {
    const context = canvas.current?.getContext('2d')
    if (!canvas.current || !context) return
    const ratio = window.devicePixelRatio || 1
    const [width, height] = [Math.round(size.width * ratio), Math.round(size.height * ratio)]
    if (canvas.current.width !== width || canvas.current.height !== height) {
      canvas.current.width = width
      canvas.current.height = height
    }
    const { x, y, k } = camera
    context.setTransform(1, 0, 0, 1, 0, 0)
    context.clearRect(0, 0, width, height)
    context.setTransform(k * ratio, 0, 0, k * ratio, x * ratio, y * ratio)
    const seen: Box = { x: -x / k, y: -y / k, width: size.width / k, height: size.height / k }
    for (const { layer, bounds, tint, paint } of layers) {
      if (bounds && !overlaps(bounds, seen)) continue
      if (tint !== undefined && bounds && k < AS_BLOTS_BELOW) {
        context.fillStyle = tint
        context.fillRect(bounds.x, bounds.y, bounds.width, bounds.height)
        continue
      }
      context.translate(layer.x, layer.y)
      for (const stroke of paint) stroke(context, k * ratio)
      context.translate(-layer.x, -layer.y)
    }
  }, [layers, camera, size])

  return <canvas ref={canvas} className="absolute inset-0 h-full w-full" aria-hidden />
}

function tintOf({ marks }: Layer, theme: Theme): string {
  const fills = marks.flatMap((mark) =>
    'fill' in mark.attrs && mark.tag !== 'text' && mark.attrs.fill !== 'none' ? [mark.attrs.fill] : [],
  )
  return colourOf(theme, fills.at(-1) ?? 'line')
}

/** The pictures of assets, fetched when one is first painted; another function as soon as there are more of them. */
function usePictures(): (asset: string) => HTMLImageElement | undefined {
  const address = useContext(Assets)
  const [loaded, setLoaded] = useState(0)
  const images = useRef(new Map<string, HTMLImageElement>())
  return useMemo(
    () => (asset: string) => {
      const known = images.current.get(asset)
      if (known) return known.complete && known.naturalWidth > 0 ? known : undefined
      const src = address(asset)
      if (src === undefined) return undefined
      const image = new Image()
      images.current.set(asset, image)
      image.onload = () => setLoaded((count) => count + 1)
      image.src = src
      return undefined
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what has come since is painted
    [address, loaded],
  )
}
