import { useEffect, useMemo, useRef, type PointerEvent } from 'react'
import type { Camera, Scene, Size } from '../../core/scene'
import { foldOverview, useFolds } from '../store/folds'

const MOST = { width: 184, height: 120 }
/** More boxes than this are not told apart here: then every second one, or fewer, is painted. */
const MOST_BOXES = 6000
/** A picture of which so much is in view needs no overview. */
const NEARLY_ALL = 0.97

/** A small picture of all that there is, with a frame around what is in view, which can be pulled along. */
export function Overview({
  scene,
  camera,
  size,
  onMove,
}: {
  scene: Scene
  camera: Camera
  size: Size
  onMove: (camera: Camera) => void
}) {
  const folded = useFolds((state) => state.overviewFolded)
  const { bounds } = scene
  const across = Math.min(1, size.width / camera.k / bounds.width)
  const along = Math.min(1, size.height / camera.k / bounds.height)
  const scale = Math.min(MOST.width / bounds.width, MOST.height / bounds.height)
  const [width, height] = [Math.max(24, bounds.width * scale), Math.max(24, bounds.height * scale)]
  if (size.width < 3 * MOST.width || across * along >= NEARLY_ALL) return null
  if (folded)
    return (
      <button
        type="button"
        className="narrow:hidden absolute right-2.5 bottom-2.5 h-[24px] rounded-[3px] border border-hairline bg-base-100 px-2 text-[12px] text-quiet hover:text-base-content"
        onPointerDown={(event) => event.stopPropagation()}
        onClick={() => foldOverview(false)}
      >
        Overview
      </button>
    )
  const move = (event: PointerEvent<HTMLElement>) => {
    event.stopPropagation()
    if (event.type === 'pointermove' && event.buttons !== 1) return
    const corner = event.currentTarget.getBoundingClientRect()
    const at = {
      x: bounds.x + (event.clientX - corner.left) / scale,
      y: bounds.y + (event.clientY - corner.top) / scale,
    }
    onMove({ k: camera.k, x: size.width / 2 - at.x * camera.k, y: size.height / 2 - at.y * camera.k })
  }
  const seen = {
    x: (-camera.x / camera.k - bounds.x) * scale,
    y: (-camera.y / camera.k - bounds.y) * scale,
    width: (size.width / camera.k) * scale,
    height: (size.height / camera.k) * scale,
  }
  return (
    <div
      className="narrow:hidden absolute right-2.5 bottom-2.5 overflow-hidden rounded-[3px] border border-hairline bg-base-100"
      style={{ width: width + 2, height: height + 2 }}
      data-testid="overview"
      aria-hidden
      onDoubleClick={(event) => event.stopPropagation()}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        move(event)
      }}
      onPointerMove={move}
    >
      <Boxes scene={scene} width={width} height={height} scale={scale} />
      <svg width={width} height={height} className="absolute inset-0">
        <rect {...seen} fill="var(--sheet-mark, #12565e)" fillOpacity={0.08} stroke="#12565e" strokeWidth={1.5} />
      </svg>
      <button
        type="button"
        tabIndex={-1}
        title="Fold the overview"
        className="absolute top-0 right-0 h-[18px] w-[18px] bg-base-100/80 leading-[16px] text-quiet hover:text-base-content"
        onPointerDown={(event) => event.stopPropagation()}
        onClick={() => foldOverview(true)}
      >
        −
      </button>
    </div>
  )
}

interface Drawn {
  readonly scene: Scene
  readonly width: number
  readonly height: number
  readonly scale: number
}

/** The boxes of a scene as small areas. */
function Boxes({ scene, width, height, scale }: Drawn) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const boxes = useMemo(() => {
    const all = scene.items.filter(({ ground, stays, box }) => !ground && !stays && box.width > 0)
    const every = Math.ceil(all.length / MOST_BOXES)
    return all.filter((_, at) => at % every === 0).map(({ box }) => box)
  }, [scene])
  useEffect(() => {
    const context = canvas.current?.getContext('2d')
    if (!canvas.current || !context) return
    const ratio = window.devicePixelRatio || 1
    canvas.current.width = Math.round(width * ratio)
    canvas.current.height = Math.round(height * ratio)
    context.scale(ratio * scale, ratio * scale)
    context.translate(-scene.bounds.x, -scene.bounds.y)
    context.fillStyle = '#7d8590'
    const least = 1 / scale
    for (const { x, y, width: w, height: h } of boxes) context.fillRect(x, y, Math.max(least, w), Math.max(least, h))
  }, [boxes, scene.bounds, width, height, scale])
  return <canvas ref={canvas} style={{ width, height }} />
}
