import type { Drag } from './drag'

/** What follows the pointer while dragging: what is held, and what would come of dropping it here, as facts. */
export function DropWords({ drag, count, label }: { drag: Drag; count: number; label: string }) {
  const { verdict } = drag
  const tone = verdict?.sort === 'no' ? 'bg-[#a8322a]' : 'bg-[#1c2530]'
  const along = verdict?.sort === 'yes' ? verdict.along : undefined
  return (
    <div
      role="status"
      data-verdict={verdict?.sort}
      className={`pointer-events-none absolute max-w-[300px] rounded-[3px] px-2 py-1 text-[12px] leading-4 text-white ${tone}`}
      style={{ left: drag.x + 14, top: drag.y + 12 }}
    >
      {verdict ? `${verdict.sort === 'no' ? '■ ' : ''}${verdict.words}` : count > 1 ? `${count} items` : label}
      {along && (
        <ul className="mt-1 border-t border-white/30 pt-1 text-[11px] leading-[15px]">
          {along.slice(0, 5).map((line) => (
            <li key={line}>{line}</li>
          ))}
          {along.length > 5 && <li>… and {along.length - 5} more.</li>}
          {!drag.alone && <li className="mt-0.5 opacity-80">With Alt held: only this one.</li>}
        </ul>
      )}
    </div>
  )
}
