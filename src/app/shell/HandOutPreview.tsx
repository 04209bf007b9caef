import { useMemo } from 'react'
import { captionRoom, colourOf, type Box, type Scene, type Theme } from '../../core/scene'
import type { Measured } from '../handOut'
import { CanvasLayer } from '../sheet/CanvasLayer'

const ROOM = { width: 440, height: 320 } as const

/** A picture as it will lie on its paper, or on the sheets that it is cut into. */
export function HandOutPreview({
  scene,
  theme,
  caption,
  size: measured,
  isSeeThrough,
}: {
  scene: Scene
  theme: Theme
  caption: string | undefined
  /** Nothing where it has no room. */
  size: Measured | undefined
  isSeeThrough: boolean
}) {
  const plan = useMemo(() => planOf(scene, caption, measured), [scene, caption, measured])
  const { paper, camera, cuts } = plan
  const size = useMemo(() => ({ width: paper.width, height: paper.height }), [paper.width, paper.height])
  return (
    <span
      aria-hidden
      className="relative block overflow-hidden rounded-[3px] border border-hairline bg-base-200"
      style={ROOM}
      data-testid="hand-out-preview"
    >
      <span
        className="absolute block overflow-hidden"
        style={{
          left: paper.x,
          top: paper.y,
          ...size,
          background: isSeeThrough
            ? 'repeating-conic-gradient(#e4e0d6 0 25%, #ffffff 0 50%) 0 0 / 14px 14px'
            : colourOf(theme, 'sheet'),
          outline: '1px solid rgb(28 37 48 / 18%)',
        }}
      >
        <CanvasLayer scene={scene} theme={theme} camera={camera} size={size} />
      </span>
      {cuts.map(({ x, y, width, height }, at) => (
        <span
          key={at}
          className="absolute block border border-primary/60"
          style={{ left: x, top: y, width, height, background: 'rgb(18 86 94 / 4%)' }}
        />
      ))}
    </span>
  )
}

interface Plan {
  readonly paper: Box
  readonly camera: { readonly k: number; readonly x: number; readonly y: number }
  readonly cuts: readonly Box[]
}

const MARGIN = 14

/** Where the paper lies in the room, and the scene on it. */
function planOf(scene: Scene, caption: string | undefined, measured: Measured | undefined): Plan {
  const { bounds } = scene
  const whole = { ...bounds, height: bounds.height + captionRoom(scene, caption) }
  const fit = (width: number, height: number): Box & { readonly k: number } => {
    const k = Math.min((ROOM.width - 2 * MARGIN) / width, (ROOM.height - 2 * MARGIN) / height)
    return {
      k,
      x: (ROOM.width - width * k) / 2,
      y: (ROOM.height - height * k) / 2,
      width: width * k,
      height: height * k,
    }
  }
  const sheets = measured && 'sheets' in measured ? measured.sheets : []
  const [first, second] = sheets
  if (first && second && first.scene === second.scene) {
    // The scene as a whole, under all its sheets.
    const right = Math.max(...sheets.map(({ box }) => box.x + box.width))
    const bottom = Math.max(...sheets.map(({ box }) => box.y + box.height))
    const paper = fit(right - whole.x, bottom - whole.y)
    const { k } = paper
    const cuts = sheets.map(({ box }) => ({
      x: paper.x + (box.x - whole.x) * k,
      y: paper.y + (box.y - whole.y) * k,
      width: box.width * k,
      height: box.height * k,
    }))
    return { paper, camera: { k, x: -whole.x * k, y: -whole.y * k }, cuts }
  }
  if (first) {
    const paper = fit(first.width, first.height)
    const k = first.scale * paper.k
    const at = { x: first.at.x * paper.k, y: first.at.y * paper.k }
    return { paper, camera: { k, x: at.x - first.box.x * k, y: at.y - first.box.y * k }, cuts: [] }
  }
  const { width, height, border } = measured && 'pixels' in measured ? measured.pixels : { ...whole, border: 0 }
  const paper = fit(width, height)
  const inner = Math.min(Math.max(1, width - 2 * border) / whole.width, Math.max(1, height - 2 * border) / whole.height)
  const k = inner * paper.k
  return {
    paper,
    camera: {
      k,
      x: (paper.width - whole.width * k) / 2 - whole.x * k,
      y: (paper.height - whole.height * k) / 2 - whole.y * k,
    },
    cuts: [],
  }
}
