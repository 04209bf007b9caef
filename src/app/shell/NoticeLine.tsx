import { useEffect, useState } from 'react'
import { useParts } from '../store/state'

/** What just happened, or why it did not, for a few seconds. */
export function NoticeLine() {
  const { notice } = useParts('notice')
  const [hidden, setHidden] = useState<number | undefined>(undefined)
  useEffect(() => {
    if (!notice) return
    const timer = setTimeout(() => setHidden(notice.id), Math.min(12_000, 3000 + notice.text.length * 40))
    return () => clearTimeout(timer)
  }, [notice])
  return (
    <div aria-live="polite" className="pointer-events-none fixed inset-x-0 bottom-4 z-40 flex justify-center">
      {notice && hidden !== notice.id && (
        <div
          data-testid="notice"
          className={`pointer-events-auto max-w-[560px] rounded-[3px] px-4 py-2 whitespace-pre-line ${notice.tone === 'refusal' ? 'bg-error text-error-content' : 'bg-neutral text-neutral-content'}`}
        >
          {notice.tone === 'refusal' && <span aria-hidden>■ </span>}
          {notice.text}
          <button type="button" className="ml-4 opacity-75 hover:opacity-100" onClick={() => setHidden(notice.id)}>
            Close
          </button>
        </div>
      )}
    </div>
  )
}
