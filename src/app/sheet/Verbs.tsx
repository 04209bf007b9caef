import type { Action } from '../../core/notation'
import { follow } from '../follow'
import { useWorkspace } from '../store/state'
import type { Camera, Item, Point, Size } from '../../core/scene'

const ROW = 30
/** Between them and heads that stay in view. */
const GAP = 8

/** What can be done with the selected item, in a row beneath it. */
export function Verbs({
  item,
  actions,
  camera,
  size,
  heads,
  beside,
  onAct,
}: {
  item: Item
  /** In rows that lie close, they stand at the item's right, where they hide no other row. */
  beside: boolean
  actions: readonly Action[]
  camera: Camera
  size: Size
  /** Where heads that stay in view end: they are not covered. */
  heads: Point | undefined
  onAct: (action: Action) => void
}) {
  const width = actions.reduce((sum, { label }) => sum + label.length * 6.4 + 30, item.link === undefined ? 88 : 180)
  const { link } = item
  const right = (item.box.x + item.box.width) * camera.k + camera.x + 26
  const before = item.box.x * camera.k + camera.x - width - 26
  const after = right + width < size.width
  const fits = beside && (after || before > (heads?.x ?? 0) + GAP)
  const left = !fits ? item.box.x * camera.k + camera.x : after ? right : before
  const middle = (item.box.y + item.box.height / 2) * camera.k + camera.y
  const under = (item.box.y + item.box.height) * camera.k + camera.y + 5
  const above = item.box.y * camera.k + camera.y - ROW - 4
  // Where there is no room beside it, they stand at the edge of the sheet that is further off.
  const edge = middle < size.height / 2 ? size.height - ROW : (heads?.y ?? 0) + GAP
  const top = fits ? middle - 12 : beside ? edge : under + ROW > size.height ? above : under
  return (
    <div
      role="toolbar"
      aria-label={`What can be done with ${item.label}`}
      className="absolute flex h-[24px] items-stretch divide-x divide-white/25 rounded-[3px] bg-[#1c2530] text-[12px] whitespace-nowrap text-white"
      style={{ left: Math.max(4, Math.min(left, size.width - width)), top }}
      onPointerDown={(event) => event.stopPropagation()}
    >
      {actions.map((action) => (
        <button key={action.id} type="button" className="px-2 hover:bg-white/15" onClick={() => onAct(action)}>
          {action.label} {action.key && <span className="ml-0.5 text-white/65">{action.key}</span>}
        </button>
      ))}
      {link !== undefined && (
        <button type="button" className="px-2 hover:bg-white/15" onClick={() => follow(link)}>
          Follow <span className="ml-0.5 text-white/65">Ctrl ↵</span>
        </button>
      )}
      <button
        type="button"
        className="px-2 hover:bg-white/15"
        onClick={() => useWorkspace.setState({ emphasising: 'view' })}
      >
        Emphasis <span className="ml-0.5 text-white/65">*</span>
      </button>
    </div>
  )
}
