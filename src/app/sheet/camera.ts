import { select } from 'd3-selection'
import { zoom, zoomIdentity, type ZoomBehavior } from 'd3-zoom'
import { useEffect, useMemo, useRef, useState, type RefObject } from 'react'
import { create } from 'zustand'
import { fitting, LEAST_SCALE, SHEET_MARGIN, type Box, type Camera, type Size } from '../../core/scene'

const MOST = 4
/** So much of a picture stays in view, however far it is moved, in px of the screen. */
const KEPT = 120

/** What the sheet's header shows and asks for. */
export const useCamera = create<{ k: number; zoomBy: (factor: number) => void; fit: () => void }>()(() => ({
  k: 1,
  zoomBy: () => {},
  fit: () => {},
}))

/** Zoom with the wheel, pan by dragging where `pans` allows it, and moves asked for by the program. */
export function useZoom(
  frame: RefObject<HTMLDivElement | null>,
  bounds: Box | undefined,
  heads: Size | undefined,
  size: Size,
  pans: (event: PointerEvent | MouseEvent) => boolean,
) {
  const [camera, setCamera] = useState<Camera>({ x: 0, y: 0, k: 1 })
  // Whether somebody has looked elsewhere than where a picture opens.
  const moved = useRef(false)
  const behaviour = useRef<ZoomBehavior<HTMLDivElement, unknown> | undefined>(undefined)
  const allowed = useRef(pans)
  const picture = useRef({ bounds, heads, size })
  useEffect(() => {
    allowed.current = pans
    picture.current = { bounds, heads, size }
  }, [pans, bounds, heads, size])

  useEffect(() => {
    const element = frame.current
    if (!element) return
    const zooming = zoom<HTMLDivElement, unknown>()
      .scaleExtent([LEAST_SCALE, MOST])
      .filter((event: MouseEvent | WheelEvent) => {
        if (event.type === 'wheel') return true
        if (event.type === 'dblclick') return false
        return !event.button && allowed.current(event)
      })
      .wheelDelta((event) => -event.deltaY * (event.deltaMode === 1 ? 0.05 : event.deltaMode ? 1 : 0.0018))
      .constrain((transform) => {
        const { bounds: box, heads: frozen, size: view } = picture.current
        if (!box) return transform
        const { x, y, k } = keeping(box, frozen, transform, view)
        return zoomIdentity.translate(x, y).scale(k)
      })
      .on('zoom', ({ transform, sourceEvent }: { transform: Camera; sourceEvent: unknown }) => {
        if (sourceEvent) moved.current = true
        setCamera({ x: transform.x, y: transform.y, k: transform.k })
        if (useCamera.getState().k !== transform.k) useCamera.setState({ k: transform.k })
      })
    behaviour.current = zooming
    const selection = select(element)
    selection.call(zooming)
    return () => void selection.on('.zoom', null)
  }, [frame])

  const moves = useMemo(() => {
    const moveTo = ({ x, y, k }: Camera) => {
      if (frame.current && behaviour.current)
        select(frame.current).call(behaviour.current.transform, zoomIdentity.translate(x, y).scale(k))
    }
    return { moveTo }
  }, [frame])

  useEffect(() => {
    useCamera.setState({
      zoomBy: (factor) => {
        moved.current = true
        if (frame.current && behaviour.current) select(frame.current).call(behaviour.current.scaleBy, factor)
      },
      fit: () => {
        moved.current = true
        if (bounds) moves.moveTo(fitting(bounds, size))
      },
    })
  }, [bounds, size, moves, frame])

  return { camera, moveTo: moves.moveTo, moved }
}

/** A camera that keeps part of the picture in view, beside the heads that stay there. */
export function keeping(bounds: Box, heads: Size | undefined, { x, y, k }: Camera, size: Size): Camera {
  const within = (at: number, low: number, high: number, head: number, length: number) => {
    const kept = Math.min(KEPT, (high - low) * k)
    return Math.min(length - kept - low * k, Math.max(head * k + kept - high * k, at))
  }
  return {
    k,
    x: within(x, bounds.x, bounds.x + bounds.width, heads?.width ?? 0, size.width),
    y: within(y, bounds.y, bounds.y + bounds.height, heads?.height ?? 0, size.height),
  }
}

/** Where heads that stay in view are drawn: with the scene, but never beyond the sheet's edge. */
export function frozenAt(bounds: Box, { x, y, k }: Camera): { top: Camera; left: Camera; corner: Camera } {
  const [left, top] = [Math.max(x, -bounds.x * k), Math.max(y, -bounds.y * k)]
  return { top: { k, x, y: top }, left: { k, x: left, y }, corner: { k, x: left, y: top } }
}

/** The least move that brings a box into view. */
export function revealing(box: Box, camera: Camera, size: Size): Camera {
  const { x, y, k } = camera
  const shift = (low: number, high: number, length: number) =>
    low < SHEET_MARGIN
      ? SHEET_MARGIN - low
      : high > length - SHEET_MARGIN
        ? Math.max(length - SHEET_MARGIN - high, SHEET_MARGIN - low)
        : 0
  const left = box.x * k + x
  const top = box.y * k + y
  return {
    k,
    x: x + shift(left, left + box.width * k, size.width),
    y: y + shift(top, top + box.height * k + 36, size.height),
  }
}

/** A box around what is seen, which changes only when the view leaves it: what lies in it is drawn. */
export function useDrawnWindow(camera: Camera, size: Size): Box {
  const [drawn, setDrawn] = useState<{ box: Box; k: number }>({ box: { x: 0, y: 0, width: 0, height: 0 }, k: 0 })
  const seen = {
    x: -camera.x / camera.k,
    y: -camera.y / camera.k,
    width: size.width / camera.k,
    height: size.height / camera.k,
  }
  const inside =
    seen.x >= drawn.box.x &&
    seen.y >= drawn.box.y &&
    seen.x + seen.width <= drawn.box.x + drawn.box.width &&
    seen.y + seen.height <= drawn.box.y + drawn.box.height
  const near = drawn.k > 0 && camera.k / drawn.k < 2 && drawn.k / camera.k < 2
  if (inside && near) return drawn.box
  const [dx, dy] = [seen.width * 0.5, seen.height * 0.5]
  const box = { x: seen.x - dx, y: seen.y - dy, width: seen.width + 2 * dx, height: seen.height + 2 * dy }
  if (size.width > 0) setDrawn({ box, k: camera.k })
  return box
}
