import { type KeyboardEvent, type PointerEvent, type ReactNode } from 'react'
import { create } from 'zustand'
import { fold, isFolded, useFolds, type Edge } from '../store/folds'

/** A part of the page that folds to its edge: how it is called, the key that folds it, and its sizes in px. */
interface Part {
  readonly name: string
  readonly key: string
  readonly folded: number
  readonly usual: number
  readonly least: number
  readonly most: number
  /** Where its edge has to be pulled for it to grow. */
  readonly grows: { readonly x: -1 | 0 | 1; readonly y: -1 | 0 | 1 }
}

type Sized = Exclude<Edge, 'dateline'>
const PARTS: Readonly<Record<Sized, Part>> = {
  contents: { name: 'contents', key: 'C', folded: 48, usual: 208, least: 150, most: 360, grows: { x: 1, y: 0 } },
  registers: { name: 'registers', key: 'R', folded: 32, usual: 214, least: 96, most: 2000, grows: { x: 0, y: -1 } },
  margin: { name: 'margin', key: 'F', folded: 40, usual: 288, least: 220, most: 480, grows: { x: -1, y: 0 } },
}
export const EDGE_NAMES: Readonly<Record<Edge, Pick<Part, 'name' | 'key'>>> = {
  ...PARTS,
  dateline: { name: 'date line', key: 'D' },
}

/** How large each part is while it is not folded. */
const useSizes = create<Readonly<Record<Sized, number>>>()(() => ({
  contents: PARTS.contents.usual,
  registers: PARTS.registers.usual,
  margin: PARTS.margin.usual,
}))

const isAcross = (edge: Sized): boolean => PARTS[edge].grows.y !== 0

/** A part of the page that folds to its edge: by its key, by a click on the edge, or pulled there. The sheet has what the others leave. */
export function Foldable({ edge, children }: { edge: Sized; children: ReactNode }) {
  const folded = useFolds((state) => state.folded.has(edge))
  const size = useSizes((sizes) => sizes[edge])
  const isNarrow = useFolds((state) => state.isNarrow)
  const part = PARTS[edge]
  if (isNarrow && !isAcross(edge))
    return folded ? null : (
      <>
        <button
          type="button"
          aria-label={`Fold the ${part.name}`}
          className="absolute inset-0 z-30 bg-[#1c2530]/25"
          onClick={() => fold(edge)}
        />
        <div
          id={`${edge}-panel`}
          className={`absolute inset-y-0 z-40 w-[min(320px,calc(100%-48px))] overflow-hidden border-hairline bg-base-100 ${edge === 'contents' ? 'left-0 border-r' : 'right-0 border-l'}`}
        >
          {children}
        </div>
      </>
    )
  const style = folded
    ? { flex: `0 0 ${part.folded}px` }
    : { flex: `0 1 ${size}px`, [isAcross(edge) ? 'minHeight' : 'minWidth']: part.least }
  return (
    <div id={`${edge}-panel`} className="min-h-0 min-w-0 overflow-hidden" style={style}>
      {children}
    </div>
  )
}

const LINE =
  "relative z-10 shrink-0 touch-none bg-hairline hover:bg-quiet active:bg-primary focus-visible:bg-primary outline-none after:absolute after:content-['']"
const UPRIGHT = 'w-px cursor-ew-resize after:inset-y-0 after:-left-[3px] after:-right-[3px]'
const ACROSS = 'h-px cursor-ns-resize after:inset-x-0 after:-top-[3px] after:-bottom-[3px]'
/** A press that moves no further is a click. */
const CLICK_PX = 3
const STEP_PX = 16

/** Sets a part’s size; pulled to less than half of its least, it folds. */
function resize(edge: Sized, wanted: number): void {
  const { least, most } = PARTS[edge]
  fold(edge, wanted < least / 2)
  if (wanted >= least / 2) useSizes.setState({ [edge]: Math.min(most, Math.max(least, wanted)) })
}

const sizeNow = (edge: Sized): number => (isFolded(edge) ? PARTS[edge].folded : useSizes.getState()[edge])

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

/** What folds and unfolds the parts of a narrow page, beneath everything, each as large as a finger. */
export function Parts({ told }: { told: ReactNode }) {
  const { folded, isNarrow } = useFolds()
  if (!isNarrow) return null
  return (
    <nav aria-label="Parts of the page" className="flex h-[44px] shrink-0 border-t border-hairline bg-base-100">
      {(['contents', 'registers', 'margin'] as const).map((edge) => (
        <button
          key={edge}
          type="button"
          aria-expanded={!folded.has(edge)}
          aria-controls={`${edge}-panel`}
          className="flex-1 border-t-2 border-transparent font-semibold text-quiet aria-expanded:border-primary aria-expanded:text-base-content"
          onClick={() => fold(edge)}
        >
          {capital(PARTS[edge].name)}
          {edge === 'margin' && told && <span className="ml-1.5">{told}</span>}
        </button>
      ))}
    </nav>
  )
}

/** The edge of a part: pulled or moved by arrows, it sets its size; clicked or by Enter, it folds or unfolds it. */
export function Edge({ edge }: { edge: Sized }) {
  const { name, key, grows, folded, most } = PARTS[edge]
  const size = useSizes((sizes) => sizes[edge])
  const isNow = useFolds((state) => state.folded.has(edge))
  const isNarrow = useFolds((state) => state.isNarrow)
  if (isNarrow && !isAcross(edge)) return null
  const press = (down: PointerEvent<HTMLElement>) => {
    if (down.button !== 0) return
    down.preventDefault()
    const line = down.currentTarget
    line.setPointerCapture(down.pointerId)
    const before = sizeNow(edge)
    let pulled = false
    const move = ({ clientX, clientY }: globalThis.PointerEvent) => {
      const [x, y] = [clientX - down.clientX, clientY - down.clientY]
      pulled ||= Math.hypot(x, y) > CLICK_PX
      if (pulled) resize(edge, before + x * grows.x + y * grows.y)
    }
    const end = ({ type }: globalThis.PointerEvent) => {
      line.removeEventListener('pointermove', move)
      line.removeEventListener('pointerup', end)
      line.removeEventListener('pointercancel', end)
      if (!pulled && type === 'pointerup') fold(edge)
    }
    line.addEventListener('pointermove', move)
    line.addEventListener('pointerup', end)
    line.addEventListener('pointercancel', end)
  }
  const onKey = (event: KeyboardEvent) => {
    const along = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
    const by = along ? STEP_PX * ((along[0] ?? 0) * grows.x + (along[1] ?? 0) * grows.y) : 0
    if (event.key === 'Enter') fold(edge)
    else if (by !== 0)
      resize(edge, isFolded(edge) ? (by > 0 ? PARTS[edge].least : 0) : Math.max(sizeNow(edge) + by, PARTS[edge].least))
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <div
      role="separator"
      tabIndex={0}
      className={`${LINE} ${isAcross(edge) ? ACROSS : UPRIGHT}`}
      aria-label={`Edge of the ${name}`}
      aria-orientation={isAcross(edge) ? 'horizontal' : 'vertical'}
      aria-controls={`${edge}-panel`}
      aria-valuenow={Math.round(isNow ? folded : size)}
      aria-valuemin={folded}
      aria-valuemax={most}
      title={`Pull, or click to fold or unfold the ${name} (${key})`}
      onPointerDown={press}
      onKeyDown={onKey}
    />
  )
}
