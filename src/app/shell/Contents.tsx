import { useMemo, useState } from 'react'
import { viewsInOrder } from '../../core/file'
import type { View } from '../../core/model'
import { copyView, offerAsStarter, saveView } from '../portion'
import { fold, useFolds } from '../store/folds'
import { showView } from '../store/shown'
import { useParts, useWorkspace } from '../store/state'
import { chooseView, chaptersOf, type Chapter, duplicateView, moveView, removeView, renameView } from '../views'
import { Menu } from './Menu'
import { Tally } from './Tally'

/** Numbered chapters like a book’s, each with its views. */
export function Contents() {
  const { model, viewId } = useParts('model', 'viewId')
  const chapters = useMemo(() => chaptersOf(viewsInOrder(model)), [model])
  const folded = useFolds((state) => state.folded.has('contents'))
  if (folded) return <Numbered chapters={chapters} />
  return (
    <nav aria-label="Contents" className="h-full overflow-y-auto bg-base-100 py-2.5">
      {chapters.map(({ number, notation, views }) => (
        <section key={notation.id} className="mb-3" aria-label={notation.chapter}>
          <div className="group flex items-center px-4 pb-0.5">
            <h2 className="caps">
              {number}&ensp;{notation.chapter}
            </h2>
            <button type="button" className="verb ml-auto text-[12px]" onClick={() => chooseView(notation)}>
              New view
            </button>
          </div>
          <ul>
            {views.map((view, index) => (
              <ViewLine key={view.id} view={view} number={`${number}.${index + 1}`} current={view.id === viewId} />
            ))}
          </ul>
          {views.length === 0 && <p className="px-4 text-quiet">No view yet.</p>}
        </section>
      ))}
    </nav>
  )
}

/** The contents folded to their numbers. */
function Numbered({ chapters }: { chapters: readonly Chapter[] }) {
  const { viewId } = useParts('viewId')
  return (
    <nav aria-label="Contents" className="h-full overflow-x-hidden overflow-y-auto bg-base-100 py-2.5">
      {chapters.map(({ number, notation, views }) => (
        <ul key={notation.id} aria-label={notation.chapter} className="mb-3">
          {views.map((view, index) => (
            <li key={view.id}>
              <button
                type="button"
                title={view.title}
                aria-current={view.id === viewId ? 'page' : undefined}
                className="numeric block h-[26px] w-full border-l-[3px] border-transparent text-center text-[12px] text-quiet hover:bg-base-200 aria-[current]:border-primary aria-[current]:bg-wash aria-[current]:font-semibold aria-[current]:text-base-content"
                onClick={() => showView(view.id)}
              >
                {number}.{index + 1}
                <span className="sr-only"> {view.title}</span>
              </button>
            </li>
          ))}
        </ul>
      ))}
      <button
        type="button"
        className="block h-[26px] w-full text-center text-quiet hover:bg-base-200"
        title="Unfold the contents (C)"
        onClick={() => fold('contents', false)}
      >
        <span aria-hidden>»</span>
        <span className="sr-only">Unfold the contents</span>
      </button>
    </nav>
  )
}

function ViewLine({ view, number, current }: { view: View; number: string; current: boolean }) {
  const counts = useWorkspace((state) => (current ? state.notes?.counts.view : undefined))
  const [naming, setNaming] = useState(false)
  return (
    <li
      className={`group relative flex items-start border-l-[3px] py-[3px] pr-2 pl-[13px] ${current ? 'border-primary bg-wash font-semibold' : 'border-transparent hover:bg-base-200'}`}
    >
      <span className="numeric min-w-[34px] shrink-0 pr-[4px] text-[12px] font-normal text-quiet">{number}</span>
      {naming ? (
        <input
          autoFocus
          aria-label="Title of the view"
          className="min-w-0 flex-1 border-b border-primary bg-transparent outline-none"
          defaultValue={view.title}
          onFocus={(event) => event.target.select()}
          onBlur={(event) => {
            renameView(view, event.target.value)
            setNaming(false)
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter') event.currentTarget.blur()
            if (event.key === 'Escape') setNaming(false)
          }}
        />
      ) : (
        <button
          type="button"
          aria-current={current ? 'page' : undefined}
          className="min-w-0 flex-1 text-left break-words"
          onClick={() => showView(view.id)}
          onDoubleClick={() => setNaming(true)}
        >
          {view.title}
        </button>
      )}
      {counts && (
        <span className="ml-1 whitespace-nowrap group-focus-within:invisible group-hover:invisible">
          <Tally counts={counts} worstOnly />
        </span>
      )}
      <Menu
        label={`More about ${view.title}`}
        className={`absolute top-[3px] right-1 w-[24px] text-quiet opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 ${current ? 'bg-wash' : 'bg-base-200'}`}
        trigger="···"
        entries={[
          { label: 'Rename', run: () => setNaming(true) },
          { label: 'Duplicate', run: () => duplicateView(view) },
          { label: 'Copy with its facts', run: () => void copyView(view) },
          { label: 'Save with its facts', run: () => void saveView(view) },
          view.look['starter'] === undefined
            ? { label: 'Offer as a starter', run: () => offerAsStarter(view, true) }
            : { label: 'No longer a starter', run: () => offerAsStarter(view, false) },
          null,
          { label: 'Move up', run: () => moveView(view, -1) },
          { label: 'Move down', run: () => moveView(view, 1) },
          null,
          { label: 'Delete the view', run: () => removeView(view) },
        ]}
      />
    </li>
  )
}
