import { useState } from 'react'
import { cut, type Change } from '../../core/model'
import type { Told } from '../../core/notation'
import { TOLD } from '../shell/told'
import { SIGNS } from '../signs'
import { make } from '../store/changes'
import { lookAt, stopLooking } from '../store/proposing'
import { notify, useParts } from '../store/state'
import { ApiError } from '../sync/api'
import { proposalOf, type Thread } from './comments'

/** The change that a thread proposes: looked at on the sheet and in words, and taken over in one step. */
export function ProposalNote({ thread }: { thread: Thread }) {
  const { looking, proposing } = useParts('looking', 'proposing')
  const [fault, setFault] = useState<string>()
  const [isBusy, setBusy] = useState(false)
  const isLooked = looking?.thread === thread.id
  const by = thread.comments[0]?.author ?? 'somebody'
  const withChange = async (then: (change: Change) => Promise<void>) => {
    setBusy(true)
    setFault(undefined)
    try {
      await then(isLooked ? looking.change : await proposalOf(thread.id))
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      setFault(error.message)
    } finally {
      setBusy(false)
    }
  }
  const take = () =>
    withChange(async ({ label, steps }) => {
      await stopLooking()
      if (make({ label: cut(`${label}, as ${by} proposed`, 1000), steps }, undefined, thread.id))
        notify('It is taken over. Ctrl Z takes that back.')
    })
  return (
    <div className="mt-1 rounded-[3px] border border-hairline bg-leaf px-2 py-1" data-testid="proposal">
      <p className="leading-[18px] break-words">
        <span className="caps">Proposes </span>
        {thread.proposal}
      </p>
      {isLooked && <Judgement />}
      {fault && (
        <p role="alert" className="text-error">
          ■ {fault}
        </p>
      )}
      <p className="flex gap-3 text-[12px]">
        <button
          type="button"
          className="verb"
          disabled={isBusy}
          onClick={() =>
            isLooked
              ? void stopLooking()
              : void withChange((change) => lookAt(thread.view, { thread: thread.id, by, change }))
          }
        >
          {isLooked ? 'Stop looking' : 'Look at it'}
        </button>
        {!thread.resolved?.taken && (
          <button
            type="button"
            className="verb"
            disabled={isBusy || proposing !== undefined}
            title={proposing ? 'First propose what you have changed, or drop it' : undefined}
            onClick={() => void take()}
          >
            Take it over
          </button>
        )}
      </p>
    </div>
  )
}

const MOST = 12

/** What the proposal that is looked at would change, contradict and mend. */
function Judgement() {
  const { looking } = useParts('looking')
  const judged = looking?.judged
  if (!judged) return <p className="text-[12px] text-quiet">Working out what it comes to …</p>
  if ('refused' in judged) return <p className="text-[12px] text-error">■ {judged.refused}</p>
  const { told, added, mended } = judged
  return (
    <div className="text-[12px] leading-[18px]" role="status">
      {told.length === 0 && <p className="text-quiet">It would change nothing any more.</p>}
      <ul>
        {told.slice(0, MOST).map((one) => (
          <ToldLine key={`${one.sort} ${one.id} ${one.what}`} told={one} />
        ))}
        {told.length > MOST && <li className="text-quiet">and {(told.length - MOST).toLocaleString('en')} more</li>}
      </ul>
      {added.length === 0 && told.length > 0 && <p className="text-success">✓ It would contradict nothing.</p>}
      {added.slice(0, MOST).map(({ rule, subjects, severity, message }) => (
        <p key={`${rule} ${subjects.join(' ')} ${message}`} className={SIGNS[severity].text}>
          {SIGNS[severity].sign} {message}
        </p>
      ))}
      {added.length > MOST && <p className="text-error">■ and {(added.length - MOST).toLocaleString('en')} more</p>}
      {mended.slice(0, MOST).map(({ rule, subjects, message }) => (
        <p key={`${rule} ${subjects.join(' ')} ${message}`} className="text-success">
          ✓ mends: {message}
        </p>
      ))}
    </div>
  )
}

const ToldLine = ({ told: { what, kind, name, was } }: { told: Told }) => (
  <li className="break-words">
    <span className="numeric text-quiet" aria-hidden>
      {TOLD[what][0]}{' '}
    </span>
    {kind} “{name}” <span className="text-quiet">{was.length > 0 ? was.join('; ') : TOLD[what][1]}</span>
  </li>
)
