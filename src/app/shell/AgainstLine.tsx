import { compareWithRevision } from '../store/shown'
import { useParts } from '../store/state'

/** Says that the picture is compared with an earlier revision, and how to end that. */
export function AgainstLine() {
  const { against } = useParts('against')
  if (!against) return null
  return (
    <div role="status" className="flex h-[30px] shrink-0 items-center gap-3 border-b border-hairline bg-wash px-4">
      <span>Compared with {against.words}.</span>
      <button type="button" className="verb" onClick={() => void compareWithRevision(undefined, undefined)}>
        Stop comparing
      </button>
    </div>
  )
}
