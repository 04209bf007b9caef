import { useEffect, useRef, useState } from 'react'
import { writeWorkspace } from '../../core/file'
import { save, slug } from '../picture'
import type { Sides } from '../sync/api'
import { finish, settleClash } from '../store/changes'
import { useParts, useWorkspace } from '../store/state'
import { Dialog } from './Dialog'

/** A file that takes a while to read says so, and can be left. */
export function ReadingFile() {
  const { reading } = useParts('reading')
  const [isSlow, setSlow] = useState(false)
  useEffect(() => {
    setSlow(false)
    if (!reading) return
    const timer = setTimeout(() => setSlow(true), SLOW_MS)
    return () => clearTimeout(timer)
  }, [reading])
  if (!reading || !isSlow) return null
  return (
    <Dialog title={`Reading ${reading.name}`} onClose={reading.stop}>
      <p role="status" className="mb-4 flex items-center gap-3 text-quiet">
        Nothing is written before you agree. <progress className="progress progress-primary w-[120px]" />
      </p>
      <button type="button" data-first className="btn btn-sm" onClick={reading.stop}>
        Stop
      </button>
    </Dialog>
  )
}

const SLOW_MS = 300

/** Before anything that spreads: what will change, as facts. */
export function Confirm() {
  const { confirmation } = useParts('confirmation')
  if (!confirmation) return null
  const { change, spreads = [] } = confirmation.done
  const close = () => useWorkspace.setState({ confirmation: undefined })
  return (
    <Dialog title={`${change.label}?`} onClose={close}>
      <ul className="mb-4 max-h-[240px] list-disc space-y-0.5 overflow-y-auto pl-5">
        {spreads.slice(0, 100).map((line) => (
          <li key={line}>{line}</li>
        ))}
        {spreads.length > 100 && <li>… and {spreads.length - 100} more.</li>}
      </ul>
      <div className="flex items-center gap-4">
        <button
          type="button"
          data-first
          className="btn btn-primary btn-sm"
          onClick={() => {
            close()
            finish(confirmation.done)
          }}
        >
          {change.label.split(' ')[0]}
        </button>
        <button type="button" className="verb" onClick={close}>
          Leave as it is
        </button>
      </div>
    </Dialog>
  )
}

function saveWhatIsShown(): void {
  const { model } = useWorkspace.getState()
  save(
    new Blob([JSON.stringify(writeWorkspace(model), null, 1)], { type: 'application/json' }),
    `${slug(model.name)}.skivel.json`,
  )
}

const MOST_THEIRS = 6

/** Of each of the others what they did last, letter by letter being one thing. */
function newestOf(theirs: Sides['theirs']): Sides['theirs'] {
  const last = new Map(theirs.map((their) => [their.author, their]))
  return [...last.values()].slice(-MOST_THEIRS)
}

const LULL_MS = 700
const LOOK_MS = 100

/** Whether hands rest since something waits: a question that opened between two letters would take the second one for its answer. */
function useLull(isWaiting: boolean): boolean {
  const acted = useRef(-Infinity)
  const [isLull, setLull] = useState(false)
  useEffect(() => {
    const onAct = (event: Event) => {
      if (!(event instanceof PointerEvent) || event.buttons > 0) acted.current = event.timeStamp
    }
    for (const name of ACTS) window.addEventListener(name, onAct, true)
    return () => {
      for (const name of ACTS) window.removeEventListener(name, onAct, true)
    }
  }, [])
  useEffect(() => {
    if (!isWaiting) return
    let looked = performance.now()
    const timer = setInterval(() => {
      const now = performance.now()
      // Where the page was busy, what was typed meanwhile is heard only after that.
      if (now - looked > LULL_MS / 2) acted.current = now
      else if (now >= acted.current + LULL_MS) setLull(true)
      looked = now
    }, LOOK_MS)
    return () => {
      clearInterval(timer)
      setLull(false)
    }
  }, [isWaiting])
  return isLull
}

const ACTS = ['keydown', 'pointerdown', 'pointermove'] as const

/** Two people changed the same facts, or the server refused: both sides, and a choice. What is on the screen stays until it is made. */
export function ClashQuestion() {
  const { clash } = useParts('clash')
  const isLull = useLull(clash !== undefined)
  if (!clash || !isLull) return null
  const { pending, sides, message, fits } = clash
  // Nobody else has changed anything: what the server had is gone from it.
  const isLost = fits && sides?.theirs.length === 0
  const title = isLost
    ? 'The server has lost changes'
    : fits
      ? 'Two changes of the same facts'
      : 'A change could not be made'
  return (
    <Dialog title={title} key={pending.id} width={480} isUnasked>
      <dl className="mb-3 grid grid-cols-[max-content_1fr] gap-x-4 gap-y-1">
        <dt className="text-quiet">Yours</dt>
        <dd className="font-semibold">{pending.label}</dd>
        {newestOf(sides?.theirs ?? []).map((their) => (
          <div key={`${their.at} ${their.label}`} className="contents">
            <dt className="text-quiet">{their.author}</dt>
            <dd>{their.label}</dd>
          </div>
        ))}
      </dl>
      {(!fits || isLost) && <p className="mb-3 text-quiet">{message}</p>}
      <div className="flex items-center gap-4">
        <button type="button" className="btn btn-primary btn-sm" onClick={() => settleClash('send')}>
          {isLost ? 'Bring it back' : fits ? 'Make mine all the same' : 'Try again'}
        </button>
        <button type="button" className="verb" onClick={() => settleClash('drop')}>
          Drop mine
        </button>
        <button type="button" className="verb" onClick={saveWhatIsShown}>
          Save what is shown as a file
        </button>
      </div>
    </Dialog>
  )
}
