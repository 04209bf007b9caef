import { finish, settleClash, useParts, useWorkspace } from '../store'
import { Dialog } from './Dialog'

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

/** Two people changed the same facts: both sides, and a choice. What is on the screen stays until it is made. */
export function ClashQuestion() {
  const { clash } = useParts('clash')
  if (!clash) return null
  const { pending, sides, message, fits } = clash
  return (
    <Dialog
      title={fits ? 'Two changes of the same facts' : 'A change could not be made'}
      onClose={() => settleClash('drop')}
    >
      <dl className="mb-3 grid grid-cols-[64px_1fr] gap-y-1">
        <dt className="text-quiet">Yours</dt>
        <dd className="font-semibold">{pending.label}</dd>
        {sides?.theirs.map((their) => (
          <div key={`${their.at} ${their.label}`} className="contents">
            <dt className="text-quiet">{their.author}</dt>
            <dd>{their.label}</dd>
          </div>
        ))}
      </dl>
      {!fits && <p className="mb-3 text-quiet">{message}</p>}
      <div className="flex items-center gap-4">
        {fits && (
          <button type="button" className="btn btn-primary btn-sm" onClick={() => settleClash('send')}>
            Make mine all the same
          </button>
        )}
        <button type="button" className={fits ? 'verb' : 'btn btn-primary btn-sm'} onClick={() => settleClash('drop')}>
          Drop mine
        </button>
      </div>
    </Dialog>
  )
}
