import { speak } from '../speak'
import { hold, stopLooking } from '../store/proposing'
import { useParts } from '../store/state'

/** Says that changes are kept aside for a proposal, or that the picture shows one; and how to end that. */
export function Lines() {
  const { proposing, looking } = useParts('proposing', 'looking')
  return (
    <>
      {proposing && <Proposing count={proposing.length} />}
      {looking && (
        <div role="status" className={LINE}>
          <span className="min-w-0 truncate">
            Shown as it would be: {looking.change.label}, which {looking.by} proposes.
          </span>
          <button type="button" className="verb whitespace-nowrap" onClick={() => void stopLooking()}>
            Stop looking
          </button>
        </div>
      )}
    </>
  )
}

const LINE = 'flex h-[30px] shrink-0 items-center gap-4 border-b border-hairline bg-wash px-4'

function Proposing({ count }: { count: number }) {
  return (
    <div role="status" className={LINE} data-testid="proposing">
      <span className="min-w-0 truncate">
        What you change now is a proposal: it is shown to you alone.{' '}
        {count === 0 ? 'Nothing is changed yet.' : count === 1 ? '1 change so far.' : `${count} changes so far.`}
      </span>
      <button type="button" className="verb whitespace-nowrap" disabled={count === 0} onClick={speak}>
        Say why, and propose it
      </button>
      <button type="button" className="verb whitespace-nowrap" onClick={() => hold(false)}>
        Drop it
      </button>
    </div>
  )
}
