import { Suspense, useEffect, useMemo, useRef, useState } from 'react'
import { isOpen } from '../../core/findings/findings'
import { counted, type Model, type Relation } from '../../core/model'
import { nameIn, type Finding } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import { findingsHere } from '../../worker/reading'
import { Tally } from '../shell/Tally'
import { later } from '../later'
import { useOffer } from '../offers'
import { fold, useFolds } from '../store/folds'
import { select } from '../store/shown'
import { currentView, useParts, useWorkspace } from '../store/state'
import { Facts, RelationFacts } from './Facts'
import { FindingList, type Numbers } from './FindingList'
import { ReaderNotes } from './ReaderNotes'
import { Trial } from './Trial'

const Comments = later(() => import('../comments/Comments').then(({ Comments }) => Comments), { isSoon: true })

/** Notes beside the page: the facts of what is selected, what is wrong with it, and what it adds up to. */
export function Margin() {
  const { model, selection, findings, notes, toFindings } = useParts(
    'model',
    'selection',
    'findings',
    'notes',
    'toFindings',
  )
  const [id] = selection
  const entity = id === undefined ? undefined : model.entities.get(id)
  const relation = id === undefined || selection.length > 1 ? undefined : model.relations.get(id)
  const chosen = selection.length > 0
  const { here, others } = useMemo(() => findingsHere(findings, notes), [findings, notes])
  const numbers = useMemo(() => new Map(findings.map((finding, at) => [finding, at + 1])), [findings])
  const view = useWorkspace(currentView)
  const folded = useFolds((state) => state.folded.has('margin'))
  const offer = useOffer()
  const measured = notes?.measures
  const list = useRef<HTMLElement>(null)
  useEffect(() => {
    // Before there are any, and where there are none, to their heading.
    if (toFindings > 0) (list.current?.querySelector<HTMLElement>('button') ?? list.current)?.focus()
  }, [toFindings])

  if (folded) return <Folded />
  return (
    <aside
      aria-label="Margin"
      tabIndex={-1}
      className="flex h-full flex-col overflow-y-auto bg-base-100 outline-none"
      data-testid="margin"
    >
      <header className="border-b border-hairline px-4 pt-3.5 pb-3">
        <h2 className="text-[15px] leading-5 font-semibold break-words">
          {selection.length > 1
            ? `${selection.length} selected`
            : entity
              ? nameIn(handlings, entity)
              : relation
                ? relationTitle(relation)
                : model.name}
        </h2>
        <p className="text-quiet">
          {selection.length > 1
            ? 'Verbs act on all of them.'
            : relation
              ? relationEnds(model, relation)
              : entity && id !== undefined
                ? (notes?.described ?? '')
                : `${counted(model.entities.size, 'fact')}, ${counted(model.relations.size, 'tie')}`}
        </p>
      </header>
      {entity && selection.length === 1 && <Facts entity={entity} />}
      {relation && <RelationFacts relation={relation} />}
      {view && <ReaderNotes key={view.id} view={view} />}
      <Suspense>
        <Comments />
      </Suspense>
      <section
        ref={list}
        tabIndex={-1}
        aria-labelledby="findings-title"
        className="border-b border-hairline px-4 py-2.5 outline-none"
      >
        <div className="flex justify-between">
          <h3 id="findings-title" className="caps">
            Findings
          </h3>
          {notes && (
            <span className="caps">
              {here.filter(isOpen).length.toLocaleString('en')} {chosen ? 'of what is selected' : 'in this view'}
            </span>
          )}
        </div>
        {notes ? (
          <FindingList findings={here} numbers={numbers} of={chosen ? 'what is selected' : 'anything in this view'} />
        ) : (
          // Before it is known, nothing is said to be right.
          <p className="mt-1 text-quiet">Looking …</p>
        )}
        {chosen ? <OfAll shown={here.filter(isOpen).length} /> : <Others findings={others} numbers={numbers} />}
      </section>
      {measured && (
        <section aria-labelledby="numbers-title" className="px-4 py-2.5">
          <div className="flex justify-between gap-4">
            <h3 id="numbers-title" className="caps">
              Numbers
            </h3>
            <span className="caps min-w-0 truncate" title={measured.of}>
              {measured.of}
            </span>
          </div>
          <dl className="mt-1 grid grid-cols-[96px_1fr] gap-y-[3px]" data-testid="numbers">
            {measured.list.map(({ label, value }) => (
              <div key={label} className="contents">
                <dt className="text-quiet">{label}</dt>
                <dd className="numeric text-[12px]">{value}</dd>
              </div>
            ))}
          </dl>
        </section>
      )}
      {offer.trials.map((trial) => (
        <Trial key={trial.id} trial={trial} />
      ))}
    </aside>
  )
}

/** What stands in other views is one line, which opens. */
function Others({ findings, numbers }: { findings: readonly Finding[]; numbers: Numbers }) {
  const [open, setOpen] = useState(false)
  const count = findings.filter(isOpen).length
  if (count === 0) return null
  return (
    <div className="mt-2.5" data-testid="elsewhere">
      <button type="button" className="verb" aria-expanded={open} onClick={() => setOpen(!open)}>
        {count.toLocaleString('en')} elsewhere {open ? '▾' : '▸'}
      </button>
      {open && <FindingList findings={findings} numbers={numbers} of="anything elsewhere" />}
    </div>
  )
}

/** What stands beside the findings of what is selected: all of the view, once nothing is selected. */
function OfAll({ shown }: { shown: number }) {
  const counts = useWorkspace((state) => state.notes?.counts.view)
  const all = counts ? counts.error + counts.warning + counts.note : 0
  if (all <= shown) return null
  return (
    <button type="button" className="verb mt-2" onClick={() => select([])}>
      {all.toLocaleString('en')} in this view
    </button>
  )
}

/** The margin folded to its tally. */
function Folded() {
  const counts = useWorkspace((state) => state.notes?.counts.view)
  return (
    <aside aria-label="Margin" className="h-full bg-base-100" data-testid="margin">
      <button
        type="button"
        className="flex h-full w-full flex-col items-center gap-2 pt-3 hover:bg-base-200"
        title="Unfold the margin (F)"
        onClick={() => fold('margin', false)}
      >
        <span aria-hidden className="text-quiet">
          «
        </span>
        {counts && <Tally counts={counts} stacked />}
        <span className="sr-only">Unfold the margin</span>
      </button>
    </aside>
  )
}

const relationTitle = ({ kind }: Relation): string => {
  const title = handlings.relationKinds.get(kind)?.title ?? kind
  return title.charAt(0).toUpperCase() + title.slice(1)
}

const relationEnds = (model: Model, { source, target }: Relation): string =>
  [source, target].map((id) => `“${model.entities.get(id)?.name ?? id}”`).join(' → ')
