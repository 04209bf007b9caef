import { bringIn } from '../portion'
import { showView } from '../store/shown'
import { useParts, useWorkspace } from '../store/state'
import { Dialog } from './Dialog'
import { TOLD } from './told'

const MOST_TOLD = 60

/** A picture of a view that is here: what has changed since it was drawn. */
export function BroughtBack() {
  const { returned } = useParts('returned')
  const close = () => useWorkspace.setState({ dialog: undefined, returned: undefined })
  if (!returned) return null
  const { title, told, view, text, name } = returned
  const count = told.length
  return (
    <Dialog title={`A picture of “${title}”`} width={560} onClose={close}>
      <p className="mb-2">
        {count === 0
          ? `All that “${name}” shows is still so.`
          : `${count.toLocaleString('en')} ${count === 1 ? 'fact is' : 'facts are'} newer than “${name}”:`}
      </p>
      {count > 0 && (
        <ul className="max-h-[280px] overflow-y-auto border-y border-hairline py-1.5" data-testid="newer">
          {told.slice(0, MOST_TOLD).map(({ what, sort, id, kind, name: of, was }) => (
            <li key={`${sort} ${id} ${what}`} className="grid grid-cols-[20px_1fr] py-0.5">
              <span className="numeric text-quiet" aria-hidden>
                {TOLD[what][0]}
              </span>
              <span>
                {kind} “{of}” <span className="text-quiet">{was.length > 0 ? was.join('; ') : TOLD[what][1]}</span>
              </span>
            </li>
          ))}
          {count > MOST_TOLD && <li className="pl-5 text-quiet">and {count - MOST_TOLD} more</li>}
        </ul>
      )}
      <div className="mt-4 flex items-center gap-4">
        <button
          type="button"
          data-first
          className="btn btn-primary btn-sm"
          onClick={() => {
            close()
            showView(view)
          }}
        >
          Show it as it is now
        </button>
        <button
          type="button"
          className="verb"
          onClick={() => {
            close()
            void bringIn(text)
          }}
        >
          Bring it in as it was, as a view of its own
        </button>
        <button type="button" className="verb ml-auto" onClick={close}>
          Cancel
        </button>
      </div>
    </Dialog>
  )
}
