import { useEffect, useMemo, useRef } from 'react'
import { colourOf, overlaps, type Box, type Mark, type Scene, type Theme } from '../../core/scene'
import type { Camera } from './camera'

/** At this size a box is a few pixels: its strongest colour is all that can be seen of it. */
const AS_BLOTS_BELOW = 0.12

interface Shape {
  readonly path: Path2D
  readonly fill: string | undefined
  readonly stroke: string | undefined
  readonly dash: readonly number[]
}

/** Shapes without their texts, which cannot be read at this size: many boxes are drawn much faster than as elements. */
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
  const shapes = useMemo(
    () =>
      scene.items.map((item) => {
        const list = shapesOf(item.marks, theme)
        return { box: item.box, list, tint: list.findLast(({ fill }) => fill)?.fill ?? colourOf(theme, 'line') }
      }),
    [scene, theme],
  )
  const links = useMemo(
    () => scene.links.map((link) => ({ bounds: link.bounds, list: shapesOf(link.marks, theme) })),
    [scene, theme],
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
    context.lineWidth = Math.max(1, 0.75 / k)
    const seen: Box = { x: -x / k, y: -y / k, width: size.width / k, height: size.height / k }
    for (const { bounds, list } of links) if (overlaps(bounds, seen)) for (const shape of list) paint(context, shape)
    for (const { box, list, tint } of shapes) {
      if (!overlaps(box, seen)) continue
      if (k < AS_BLOTS_BELOW) {
        context.fillStyle = tint
        context.fillRect(box.x, box.y, box.width, box.height)
        continue
      }
      context.translate(box.x, box.y)
      for (const shape of list) paint(context, shape)
      context.translate(-box.x, -box.y)
    }
  }, [shapes, links, camera, size])

  return <canvas ref={canvas} className="absolute inset-0 h-full w-full" aria-hidden />
}

function paint(context: CanvasRenderingContext2D, { path, fill, stroke, dash }: Shape): void {
  if (fill) {
    context.fillStyle = fill
    context.fill(path)
  }
  if (stroke) {
    context.strokeStyle = stroke
    context.setLineDash([...dash])
    context.stroke(path)
  }
}

function shapesOf(marks: readonly Mark[], theme: Theme): Shape[] {
  return marks.flatMap((mark): Shape[] => {
    const path = pathOf(mark)
    if (!path) return []
    const colour = (name: string) => {
      const role = mark.attrs[name]
      return role === undefined || role === 'none' ? undefined : colourOf(theme, String(role))
    }
    const dash = String(mark.attrs['stroke-dasharray'] ?? '')
    return [{ path, fill: colour('fill'), stroke: colour('stroke'), dash: dash ? dash.split(' ').map(Number) : [] }]
  })
}

function pathOf({ tag, attrs }: Mark): Path2D | undefined {
  if (tag === 'path') return new Path2D(String(attrs['d']))
  if (tag !== 'rect') return undefined
  const path = new Path2D()
  path.rect(Number(attrs['x']), Number(attrs['y']), Number(attrs['width']), Number(attrs['height']))
  return path
}
