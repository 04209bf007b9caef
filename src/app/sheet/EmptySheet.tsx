import { act, currentNotation, offered } from '../actions'
import { carryOut, wish } from '../store/changes'
import { useWorkspace } from '../store/state'

/** Nothing to draw on this day, and what to do about it. */
export function EmptySheet() {
  const total = useWorkspace((state) => state.model.entities.size)
  const view = useWorkspace((state) => (state.viewId === undefined ? undefined : state.model.views.get(state.viewId)))
  const lines = currentNotation()?.outline
  const hint = (view && lines?.hintFor?.(view)) ?? lines?.hint
  const begin = () => {
    useWorkspace.setState({ panel: 'outline' })
    requestAnimationFrame(() => {
      const first = document.querySelector<HTMLElement>('[data-testid=outline-empty]')
      if (first) return first.focus()
      const asked = wish()
      const outline = currentNotation()?.outline
      if (asked && outline) carryOut(outline.insert(asked, undefined, ''))
    })
  }
  return (
    <div className="absolute inset-0 z-10 grid place-items-center">
      <div className="max-w-[340px] text-center">
        <p className="text-[15px] font-semibold">
          {total > 0 ? 'Nothing to draw on this day.' : 'Nothing is stated yet.'}
        </p>
        <p className="mt-1 mb-4 text-[var(--sheet-quiet)]">
          Type one line each in the outline below: {hint}. The picture draws itself.
          {total > 0 && ' What begins or ended on another day is found with the date line above.'}
        </p>
        <div className="flex justify-center gap-2" onPointerDown={(event) => event.stopPropagation()}>
          <button type="button" className="btn btn-primary btn-sm" onClick={begin}>
            Write the first line
          </button>
          {offered()
            .filter(({ begins }) => begins)
            .map((action) => (
              <button key={action.id} type="button" className="btn btn-sm" onClick={() => act(action)}>
                {action.label}
              </button>
            ))}
        </div>
      </div>
    </div>
  )
}
