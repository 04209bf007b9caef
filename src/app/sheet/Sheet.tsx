import {
  Suspense,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
} from 'react'
import type { Id } from '../../core/model'
import { pictureOf } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import {
  factOf,
  openingOf,
  overlaps,
  type Camera,
  type Handle,
  type Item,
  type Point,
  type Size,
} from '../../core/scene'
import { pasteOnSheet } from '../registers/becoming'
import { act, offered } from '../actions'
import { takingImages } from '../images'
import { later } from '../later'
import { pastedText } from '../pasted'
import { select } from '../store/shown'
import { useParts, useWorkspace } from '../store/state'
import { Badges } from './Badges'
import { groundOf, useTheme } from './ground'
import { assetAddress } from '../picture'
import { CanvasLayer } from './CanvasLayer'
import { frozenAt, revealing, useDrawnWindow, useZoom } from './camera'
import { Assets } from './marks'
import { DropWords } from './DropWords'
import { useDrag } from './drag'
import { EmptySheet } from './EmptySheet'
import { EmphasisBar } from './EmphasisBar'
import { FailedSheet } from './FailedSheet'
import { Gestures } from './Gestures'
import { follow, linkAt } from '../follow'
import { placeNote } from '../frame'
import { InPlace } from './InPlace'
import { onSheetKey, writeAhead } from './keys'
import { Overview } from './Overview'
import { PaperEdge } from './PaperEdge'
import { PlayBar, PlayedMarks } from './Playing'
import { SceneLayer } from './SceneLayer'
import { SelectedInWords } from './SelectedInWords'
import { Verbs } from './Verbs'
import { cameraOf, edgeOfHeads, holdAt, inScene, itemAt, typedIn } from './places'
import { usePull } from './pull'

const Signs = later(() => import('../comments/Signs').then(({ Signs }) => Signs))

/** With more boxes than this in view, and too small to be read, they are painted on a canvas. */
const MOST_ELEMENTS = 350
const CANVAS_BELOW = 0.5
const DRAG_PX = 5

export function Sheet() {
  const { scene, isBehind, selection, editing, findings, proof, viewId, reveal } = useParts(
    'scene',
    'isBehind',
    'selection',
    'editing',
    'findings',
    'proof',
    'viewId',
    'reveal',
  )
  const emphasising = useWorkspace((state) => state.emphasising)
  const view = useWorkspace((state) => (state.viewId === undefined ? undefined : state.model.views.get(state.viewId)))
  const picture = view && pictureOf(handlings, view)
  const theme = useTheme(view)
  const workspace = useWorkspace((state) => state.id)
  const address = useCallback((asset: string) => assetAddress(workspace, asset), [workspace])
  const frame = useRef<HTMLDivElement>(null)
  const size = useSize(frame)
  const spaceHeld = useSpaceKey()

  const onScreen = useCallback((event: { clientX: number; clientY: number }): Point => {
    const corner = frame.current?.getBoundingClientRect()
    return { x: event.clientX - (corner?.left ?? 0), y: event.clientY - (corner?.top ?? 0) }
  }, [])
  const cameraNow = useRef({ x: 0, y: 0, k: 1 })
  const taken = useCallback(
    (event: { clientX: number; clientY: number }): { item?: Item | undefined; handle?: Handle | undefined } => {
      if (!scene) return {}
      return holdAt(scene, cameraNow.current, onScreen(event))
    },
    [scene, onScreen],
  )
  const pans = useCallback(
    (event: MouseEvent) => {
      const { item, handle } = taken(event)
      return spaceHeld.current || !item || (item.ground === true && !handle)
    },
    [taken, spaceHeld],
  )
  const { camera, moveTo, moved } = useZoom(frame, scene?.bounds, scene?.frozen, size, pans)
  useEffect(() => {
    cameraNow.current = camera
  }, [camera])
  const drawn = useDrawnWindow(camera, size)
  const { drag, move, drop, cancel } = useDrag(picture)
  const pull = usePull()
  const { pulling } = pull
  const [hovered, setHovered] = useState<Handle['pulls']>()
  const pressed = useRef<{ x: number; y: number; items: readonly Id[]; only: Id } | undefined>(undefined)

  // A view that is opened finds its place once its scene is there, and again while the sheet grows and nobody has looked elsewhere.
  const placed = useRef<{ view: string | undefined; size: Size } | undefined>(undefined)
  useEffect(() => {
    if (!scene || scene.items.length === 0 || size.width === 0) return
    const opens = placed.current?.view !== viewId
    if (!opens && (placed.current?.size === size || moved.current)) return
    placed.current = { view: viewId, size }
    moved.current = false
    // What is to be brought into view is brought there from where the picture opens, not from where the view before was looked at.
    cameraNow.current = openingOf(scene, size)
    moveTo(cameraNow.current)
  }, [scene, size, viewId, moveTo, moved])

  const revealed = useRef(0)
  useEffect(() => {
    if (revealed.current === reveal) return
    const wanted = (item: Item) => selection.some((one) => one === item.id || item.facts.includes(one))
    const item = scene?.items.find((one) => !one.stays && wanted(one)) ?? scene?.items.find(wanted)
    if (!item || size.width === 0) return
    revealed.current = reveal
    const next = revealing(item.box, cameraNow.current, size)
    if (next.x === cameraNow.current.x && next.y === cameraNow.current.y) return
    moved.current = true
    moveTo(next)
  }, [reveal, scene, selection, size, moveTo, moved])

  const chosen = useMemo(() => {
    const wanted = new Set(selection)
    return scene?.items.filter(({ facts }) => facts.some((fact) => wanted.has(fact))) ?? []
  }, [scene, selection])
  const seenCount = useMemo(
    () => scene?.items.filter(({ box, stays }) => stays === undefined && overlaps(box, drawn)).length ?? 0,
    [scene, drawn],
  )
  const asCanvas = camera.k < CANVAS_BELOW && seenCount > MOST_ELEMENTS
  const verbs = chosen.length > 0 && !drag && !editing ? offered().filter(({ verb }) => verb) : []
  // A fact that is drawn twice is one selection: its own item comes first.
  const only =
    new Set(chosen.map(factOf)).size === 1 ? (chosen.find(({ id, facts }) => id === facts[0]) ?? chosen[0]) : undefined

  const edited = scene && editing && typedIn(scene, editing)
  // What this view does not draw cannot be typed into, though what was typed for it meanwhile is kept.
  useEffect(() => {
    if (!editing || edited || isBehind) return
    writeAhead(editing, picture)
    useWorkspace.setState({ editing: undefined })
  }, [editing, edited, isBehind, picture])

  const onPointerDown = (event: PointerEvent) => {
    if (event.button !== 0 || spaceHeld.current) return
    frame.current?.focus({ preventScroll: true })
    if (scene && view && placeNote(view, scene, inScene(scene, camera, onScreen(event)))) return
    const { item, handle } = taken(event)
    const link = item && (event.ctrlKey || event.metaKey) ? linkAt(item) : undefined
    if (link !== undefined) return follow(link)
    if (!item || !scene) {
      if (!event.shiftKey) select([])
      return
    }
    const fact = factOf(item)
    if (handle && !event.shiftKey) {
      select([fact])
      frame.current?.setPointerCapture(event.pointerId)
      const at = onScreen(event)
      pull.begin(item, handle, inScene(scene, camera, at), at)
      return
    }
    if (item.ground && !event.shiftKey) {
      select([fact])
      return
    }
    const ids = [...new Set(chosen.map(factOf))]
    const among = ids.includes(fact)
    const items = event.shiftKey ? (among ? ids.filter((id) => id !== fact) : [...ids, fact]) : among ? ids : [fact]
    if (!among || event.shiftKey) select(items)
    pressed.current = { x: event.clientX, y: event.clientY, items, only: fact }
  }
  const onPointerMove = (event: PointerEvent) => {
    if (pulling && scene) {
      const at = onScreen(event)
      const over = itemAt(scene, camera, at)
      pull.move(inScene(scene, camera, at), at, over && factOf(over))
      return
    }
    const start = pressed.current
    if (!start && event.buttons === 0) setHovered(taken(event).handle?.pulls)
    if (!start || !picture?.drop) return
    if (!drag && Math.hypot(event.clientX - start.x, event.clientY - start.y) < DRAG_PX) return
    if (!drag) frame.current?.setPointerCapture(event.pointerId)
    const { item: over } = taken(event)
    const { x, y } = onScreen(event)
    move(start.items, x, y, over && factOf(over), event.altKey)
  }
  const onPointerUp = (event: PointerEvent) => {
    const start = pressed.current
    pressed.current = undefined
    if (pulling) void pull.drop()
    else if (drag) void drop()
    else if (start && !event.shiftKey && start.items.length > 1) select([start.only])
  }
  const editAt = (event: { clientX: number; clientY: number }) => {
    const { item } = taken(event)
    if (!item || !scene) return
    const at = inScene(scene, camera, onScreen(event))
    const [x, y] = [at.x - item.box.x, at.y - item.box.y]
    const text =
      item.texts.find(({ box }) => x >= box.x && x < box.x + box.width && y < box.y + box.height) ??
      item.texts.find(({ box }) => y < box.y + box.height) ??
      item.texts[0]
    if (text) useWorkspace.setState({ selection: [factOf(item)], editing: { item: item.id, part: text.part } })
  }
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.target !== frame.current) return
    const leave = () => {
      if (pulling) pull.cancel()
      else if (drag) cancel()
      else select([])
    }
    onSheetKey(event, scene, only, picture, leave, pull.nudge)
  }

  const frozen = scene && edgeOfHeads(scene, camera)
  const target = drag?.target === undefined ? undefined : scene?.items.find((item) => factOf(item) === drag.target)
  return (
    <div
      ref={frame}
      tabIndex={0}
      role="group"
      aria-label={`${view?.title ?? 'No view'}. ${scene?.summary ?? ''} Arrow keys walk along it; the outline holds the same facts as text.`}
      data-testid="sheet"
      style={groundOf(theme, proof)}
      className={`sheet relative min-h-0 flex-1 overflow-hidden select-none outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--color-primary)] ${proof ? 'sheet-proof' : ''} ${drag ? 'cursor-grabbing' : CURSORS[pulling?.handle.pulls ?? hovered ?? 'none']}`}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={() => {
        cancel()
        pull.cancel()
      }}
      onDoubleClick={editAt}
      onKeyDown={onKeyDown}
      {...takingImages((event) => taken(event).item)}
      onPaste={(event) => {
        if (event.target !== frame.current) return
        event.preventDefault()
        pasteOnSheet(pastedText(event.clipboardData))
      }}
    >
      {scene && scene.items.length === 0 && <EmptySheet />}
      <FailedSheet />
      {scene && <PaperEdge scene={scene} camera={camera} />}
      <Assets value={address}>
        {scene && asCanvas && <CanvasLayer scene={scene} theme={theme} camera={camera} size={size} />}
        {scene && !asCanvas && (
          <svg className="absolute inset-0 h-full w-full" aria-hidden>
            <g transform={transformOf(camera)}>
              <SceneLayer scene={scene} theme={theme} side="ground" window={drawn} />
            </g>
          </svg>
        )}
        {scene?.frozen && (
          <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden>
            {(['left', 'top', 'corner'] as const).map((side) => (
              <g key={side} transform={transformOf(frozenAt(scene.bounds, camera)[side])}>
                <SceneLayer scene={scene} theme={theme} side={side} window={drawn} />
              </g>
            ))}
          </svg>
        )}
      </Assets>
      {scene && (
        <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden>
          <g transform={transformOf(camera)}>
            <Gestures pulling={pulling} target={target} isRefused={drag?.verdict?.sort === 'no'} />
          </g>
          {frozen && (
            <clipPath id="beside-heads">
              <rect x={frozen.x} y={frozen.y} width={size.width} height={size.height} />
            </clipPath>
          )}
          {chosen.map(
            (item) => item.stays && <Outlined key={item.id} item={item} camera={cameraOf(item, scene, camera)} />,
          )}
          <g {...(frozen ? { clipPath: 'url(#beside-heads)' } : {})}>
            {chosen.map((item) => !item.stays && <Outlined key={item.id} item={item} camera={camera} />)}
            {only?.handles
              ?.filter(({ pulls, isDotted }) => pulls === 'line' || isDotted)
              .map(({ id, box }) => (
                <circle
                  key={id}
                  cx={(only.box.x + box.x + box.width / 2) * camera.k + camera.x}
                  cy={(only.box.y + box.y + box.height / 2) * camera.k + camera.y}
                  r={4}
                  fill="#fff"
                  stroke="var(--sheet-mark, #12565e)"
                  strokeWidth={1.5}
                />
              ))}
            <PlayedMarks scene={scene} camera={camera} />
            <g className="pointer-events-auto">
              <Suspense>
                <Signs scene={scene} camera={camera} size={size} />
              </Suspense>
              <Badges
                items={scene.items}
                findings={findings}
                camera={camera}
                size={size}
                onPick={(id) => select([id])}
              />
            </g>
          </g>
        </svg>
      )}
      {only && scene && verbs.length > 0 && !pulling && !emphasising && (
        <Verbs
          item={only}
          actions={verbs}
          camera={cameraOf(only, scene, camera)}
          size={size}
          heads={frozen}
          beside={scene.items.some((item) => item.stays === 'left' && factOf(item) === factOf(only) && item !== only)}
          onAct={act}
        />
      )}
      {!editing && !drag && <EmphasisBar theme={theme} />}
      {edited && scene && picture && editing && (
        <InPlace
          item={edited}
          part={editing.part}
          ahead={editing.ahead}
          picture={picture}
          camera={cameraOf(edited, scene, camera)}
          onEnd={() => frame.current?.focus({ preventScroll: true })}
        />
      )}
      {drag && (
        <DropWords
          at={drag}
          verdict={drag.verdict}
          resting={
            drag.items.length > 1
              ? `${drag.items.length} items`
              : (scene?.items.find((item) => factOf(item) === drag.items[0])?.label ?? '')
          }
          hint={drag.alone ? undefined : 'With Alt held: only this one.'}
        />
      )}
      {pulling?.verdict && <DropWords at={pulling.screen} verdict={pulling.verdict} resting="" />}
      {scene && scene.items.length > 0 && (
        <Overview
          scene={scene}
          camera={camera}
          size={size}
          onMove={(next) => {
            moved.current = true
            moveTo(next)
          }}
        />
      )}
      <PlayBar />
      <p className="sr-only" aria-live="polite">
        <SelectedInWords label={only?.label} />
      </p>
    </div>
  )
}

const CURSORS = {
  none: '',
  along: 'cursor-ew-resize',
  across: 'cursor-ns-resize',
  freely: 'cursor-grab',
  line: 'cursor-crosshair',
} as const

/** What is selected has a line around it. */
const Outlined = ({ item: { id, box }, camera }: { item: Item; camera: Camera }) => (
  <rect
    data-selected={id}
    transform={transformOf(camera)}
    x={box.x - 1}
    y={box.y - 1}
    width={box.width + 2}
    height={box.height + 2}
    rx={4}
    fill="none"
    stroke="var(--sheet-mark, #12565e)"
    strokeWidth={2}
    vectorEffect="non-scaling-stroke"
  />
)

const transformOf = ({ x, y, k }: Camera): string => `translate(${x} ${y}) scale(${k})`

function useSize(frame: React.RefObject<HTMLDivElement | null>): Size {
  const [size, setSize] = useState<Size>({ width: 0, height: 0 })
  useEffect(() => {
    const element = frame.current
    if (!element) return
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }))
    observer.observe(element)
    return () => observer.disconnect()
  }, [frame])
  return size
}

/** Whether Space is held: then dragging moves the sheet, wherever it begins. */
function useSpaceKey() {
  const held = useRef(false)
  useEffect(() => {
    const down = (event: globalThis.KeyboardEvent) => {
      if (event.code === 'Space' && !(event.target instanceof HTMLInputElement)) held.current = true
    }
    const up = (event: globalThis.KeyboardEvent) => {
      if (event.code === 'Space') held.current = false
    }
    window.addEventListener('keydown', down)
    window.addEventListener('keyup', up)
    return () => {
      window.removeEventListener('keydown', down)
      window.removeEventListener('keyup', up)
    }
  }, [])
  return held
}
