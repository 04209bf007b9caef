import { useEffect, type PointerEvent, type ReactNode } from 'react'
import { Panel, Separator, usePanelRef } from 'react-resizable-panels'
import { fold, useFolds, type Edge } from '../store/folds'

/** How a part of the page is called, and the key that folds it. */
export const EDGE_NAMES: Readonly<Record<Edge, { readonly name: string; readonly key: string }>> = {
  contents: { name: 'contents', key: 'C' },
  registers: { name: 'registers', key: 'R' },
  margin: { name: 'margin', key: 'F' },
  dateline: { name: 'date line', key: 'D' },
}

interface Sizes {
  readonly folded: number
  readonly usual: number
  readonly least: number
  readonly most?: number
}

/** A part of the page that folds to its edge: by its key, by a click on the edge, or pulled there. */
export function Foldable({ edge, sizes, children }: { edge: Edge; sizes: Sizes; children: ReactNode }) {
  const panel = usePanelRef()
  const folded = useFolds((state) => state.folded.has(edge))
  useEffect(() => {
    if (folded) panel.current?.collapse()
    else panel.current?.expand()
  }, [folded, panel])
  return (
    <Panel
      id={`${edge}-panel`}
      panelRef={panel}
      collapsible
      collapsedSize={sizes.folded}
      defaultSize={sizes.usual}
      minSize={sizes.least}
      {...(sizes.most === undefined ? {} : { maxSize: sizes.most })}
      groupResizeBehavior="preserve-pixel-size"
      onResize={(_size, _id, before) => {
        const isNow = panel.current?.isCollapsed()
        if (before !== undefined && isNow !== undefined) fold(edge, isNow)
      }}
    >
      {children}
    </Panel>
  )
}

const LINE =
  "relative z-10 bg-hairline data-[separator=active]:bg-primary data-[separator=hover]:bg-quiet after:absolute after:content-['']"
const ACROSS = 'w-px after:inset-y-0 after:-left-[3px] after:-right-[3px]'
const ALONG = 'h-px after:inset-x-0 after:-top-[3px] after:-bottom-[3px]'
/** A press that moves no further is a click. */
const CLICK_PX = 3

/** The edge of a part: pulled, it sets its size; clicked, it folds or unfolds it. */
export function Edge({ edge, across = false }: { edge: Edge; across?: boolean }) {
  const { name, key } = EDGE_NAMES[edge]
  // While an edge is held, the pointer’s events do not come to it: where it is let go is asked of the window.
  const press = (down: PointerEvent) => {
    const click = ({ clientX, clientY }: globalThis.PointerEvent) => {
      if (Math.hypot(clientX - down.clientX, clientY - down.clientY) <= CLICK_PX) fold(edge)
    }
    window.addEventListener('pointerup', click, { once: true })
  }
  return (
    <Separator
      className={`${LINE} ${across ? ALONG : ACROSS}`}
      aria-label={`Edge of the ${name}`}
      title={`Pull, or click to fold or unfold the ${name} (${key})`}
      disableDoubleClick
      onPointerDownCapture={press}
    />
  )
}
