import { currentNotation } from '../actions'
import { carryOut, useWorkspace, wish } from '../store'

/** Nothing to draw on this day, and what to do about it. */
export function EmptySheet() {
  const total = useWorkspace((state) => state.model.entities.size)
  const begin = () => {
    const asked = wish()
    const outline = currentNotation()?.outline
    if (asked && outline) carryOut(outline.insert(asked, undefined, ''))
    useWorkspace.setState({ panel: 'outline' })
  }
  return (
    <div className="absolute inset-0 grid place-items-center">
      <div className="max-w-[340px] text-center">
        <p className="text-[15px] font-semibold">
          {total > 0 ? 'Nothing is in force on this day.' : 'Nothing is stated yet.'}
        </p>
        <p className="mt-1 mb-4 text-[#5a6472]">
          {total > 0
            ? 'Choose another day above, or write a line.'
            : `Type one line each in the outline below: ${currentNotation()?.outline?.hint ?? ''}. The picture draws itself.`}
        </p>
        <button
          type="button"
          className="btn btn-primary btn-sm"
          onClick={begin}
          onPointerDown={(event) => event.stopPropagation()}
        >
          Write the first line
        </button>
      </div>
    </div>
  )
}
