import { lazy, Suspense, useState } from 'react'
import { registerCsv } from '../../core/tabular'
import { currentNotation } from '../actions'
import { save, slug } from '../picture'
import { carryOut, notify, useParts, useWorkspace, wish } from '../store'
import { Outline } from './Outline'

// The table's library is large: it comes when a table is first shown.
const Grid = lazy(() => import('./Grid').then((module) => ({ default: module.Grid })))

/** The facts as text and as tables, beneath the sheet. */
export function Registers() {
  const { panel, model, day } = useParts('panel', 'model', 'day')
  const view = useWorkspace((state) => (state.viewId === undefined ? undefined : state.model.views.get(state.viewId)))
  const [filter, setFilter] = useState('')
  const notation = currentNotation()
  if (!notation || !view) return <div className="h-full" />
  const register = notation.registers.find(({ id }) => id === panel)
  const { outline } = notation

  const add = () => {
    const asked = wish()
    if (asked && register) carryOut(register.add(asked))
  }
  const saveTable = () => {
    if (!register) return
    const csv = registerCsv(register, model, register.rows(model, view, day), day)
    const name = `${slug(model.name)}-${register.id}-${day}.csv`
    // The mark at the front tells spreadsheets that the text is UTF-8.
    save(new Blob(['\ufeff', csv], { type: 'text/csv' }), name)
    notify(`${name} is saved.`)
  }
  const copyOutline = () => {
    const lines = outline?.lines(model, view, day) ?? []
    void navigator.clipboard.writeText(lines.map(({ depth, text }) => `${'\t'.repeat(depth)}${text}`).join('\n')).then(
      () => notify(`${lines.length} lines copied.`),
      () => notify('The browser does not allow copying here.', 'refusal'),
    )
  }
  const tab = (id: string, label: string, count?: number) => (
    <button
      key={id}
      type="button"
      role="tab"
      aria-selected={panel === id || (id === 'outline' && !register)}
      className="-mb-px h-[32px] whitespace-nowrap border-b-2 border-transparent text-quiet aria-selected:border-primary aria-selected:font-semibold aria-selected:text-base-content"
      onClick={() => useWorkspace.setState({ panel: id })}
    >
      {label} {count !== undefined && <span className="tabular-nums">{count.toLocaleString('en')}</span>}
    </button>
  )
  return (
    <section aria-label="Registers" className="flex h-full flex-col bg-base-100" data-registers>
      <div className="flex h-[32px] shrink-0 items-center gap-4 border-b border-hairline px-4">
        <div role="tablist" aria-label="Registers" className="flex gap-4">
          {outline && tab('outline', 'Outline')}
          {notation.registers.map((one) => tab(one.id, one.title, model.ofKind(one.kind).length))}
        </div>
        <span className="flex-1" />
        {register ? (
          <>
            <input
              type="search"
              aria-label={`Filter ${register.title}`}
              placeholder="Filter…"
              className="h-[24px] w-[110px] min-w-0 border-b border-transparent bg-transparent px-1 text-[12px] placeholder:text-quiet hover:border-hairline focus:border-primary"
              value={filter}
              onChange={(event) => setFilter(event.target.value)}
            />
            <button type="button" className="verb whitespace-nowrap" onClick={add}>
              Add a row
            </button>
            <button type="button" className="verb whitespace-nowrap" onClick={saveTable}>
              Save as CSV
            </button>
          </>
        ) : (
          <button type="button" className="verb whitespace-nowrap" onClick={copyOutline}>
            Copy as text
          </button>
        )}
        {notation.imports.length > 0 && (
          <button
            type="button"
            className="verb whitespace-nowrap"
            onClick={() => useWorkspace.setState({ dialog: 'bring-in' })}
          >
            Bring in…
          </button>
        )}
      </div>
      {register ? (
        <Suspense fallback={<p className="p-4 text-quiet">The table is coming …</p>}>
          <Grid key={register.id} register={register} filter={filter} />
        </Suspense>
      ) : (
        outline && <Outline outline={outline} />
      )}
    </section>
  )
}
