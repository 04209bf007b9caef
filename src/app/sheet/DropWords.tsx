import type { Point } from '../../core/scene'
import type { Verdict } from './drag'

/** What follows the pointer while dragging: what is held, and what would come of letting go here, as facts. */
export function DropWords({
  at,
  verdict,
  resting,
  hint,
}: {
  at: Point
  verdict: Verdict | undefined
  /** Said while there is nothing to drop on. */
  resting: string
  hint?: string | undefined
}) {
  const tone = verdict?.sort === 'no' ? 'bg-[#a8322a]' : 'bg-[#1c2530]'
  const along = verdict?.sort === 'yes' ? verdict.along : undefined
  return (
    <div
      role="status"
      data-verdict={verdict?.sort}
      className={`pointer-events-none absolute max-w-[300px] rounded-[3px] px-2 py-1 text-[12px] leading-4 text-white ${tone}`}
      style={{ left: at.x + 14, top: at.y + 12 }}
    >
      {verdict ? `${verdict.sort === 'no' ? '■ ' : ''}${verdict.words}` : resting}
      {along && (
        <ul className="mt-1 border-t border-white/30 pt-1 text-[11px] leading-[15px]">
          {along.slice(0, 5).map((line) => (
            <li key={line}>{line}</li>
          ))}
          {along.length > 5 && <li>… and {along.length - 5} more.</li>}
          {hint && <li className="mt-0.5 opacity-80">{hint}</li>}
        </ul>
      )}
    </div>
  )
}
