import type { Drag } from './drag'

/** What follows the pointer while dragging: what is held, and what would come of dropping it here. */
export function DropWords({ drag, count, label }: { drag: Drag; count: number; label: string }) {
  const { verdict } = drag
  const tone = verdict?.sort === 'no' ? 'bg-[#a8322a]' : 'bg-[#1c2530]'
  return (
    <div
      role="status"
      data-verdict={verdict?.sort}
      className={`pointer-events-none absolute max-w-[300px] rounded-[3px] px-2 py-1 text-[12px] leading-4 text-white ${tone}`}
      style={{ left: drag.x + 14, top: drag.y + 12 }}
    >
      {verdict ? `${verdict.sort === 'no' ? '■ ' : ''}${verdict.words}` : count > 1 ? `${count} items` : label}
    </div>
  )
}
