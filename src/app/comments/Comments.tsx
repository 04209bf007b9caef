import { useState, type ReactNode } from 'react'
import type { Id, Model } from '../../core/model'
import { nameIn } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import { speak, spokenOf } from '../speak'
import { select, showView } from '../store/shown'
import { useParts } from '../store/state'
import { bringBack, threadsHere, useTalk, useThreads, type Thread } from './comments'
import { Say } from './Say'
import { ThreadNote } from './ThreadNote'

/** What was said of what is selected, or of what the view shows: open threads first, then those elsewhere, then what is resolved. */
export function Comments() {
  const { model, viewId, selection } = useParts('model', 'viewId', 'selection')
  const { fault, isKnown, hidden, shown } = useTalk()
  const threads = useThreads()
  const about = selection.length === 1 ? selection[0] : undefined
  const { here, elsewhere } = threadsHere(threads, viewId, about)
  const what = about === undefined ? 'this view' : 'what is selected'
  const [opened, setOpened] = useState<string>()
  const place = spokenOf({ viewId, selection })
  const open = here.filter(({ resolved }) => !resolved)
  // One that was asked for on the sheet is among those that are shown.
  const asked = open.findIndex(({ id }) => id === shown?.thread)
  const most = opened === place || asked >= FEW ? Math.max(MOST, asked + 1) : FEW
  const resolved = here.filter((one) => one.resolved)
  if (viewId === undefined) return null
  return (
    <section aria-labelledby="comments-title" className="border-b border-hairline px-4 py-2.5" data-testid="comments">
      <div className="flex items-baseline justify-between">
        <h3 id="comments-title" className="caps">
          Comments{open.length > 0 && ` · ${open.length.toLocaleString('en')} open`}
        </h3>
        <button type="button" className="verb text-[12px]" title={`Say something about ${what} (")`} onClick={speak}>
          Say something
        </button>
      </div>
      <Say key={place} view={viewId} about={about} />
      {fault && (
        <p role="alert" className="mt-1 text-error">
          ■ {isKnown ? 'These may not be the newest' : 'What was said is not known'}: {fault}
        </p>
      )}
      {open.length > 0 && (
        <ul className="mt-1.5 space-y-3">
          {open.slice(0, most).map((thread) => (
            <ThreadNote
              key={thread.id}
              thread={thread}
              about={about === undefined ? subjectOf(model, thread) : undefined}
            />
          ))}
        </ul>
      )}
      {open.length > most && most === FEW && (
        <button type="button" className="verb mt-1.5" onClick={() => setOpened(place)}>
          {(open.length - most).toLocaleString('en')} more ▸
        </button>
      )}
      {open.length > most && most > FEW && (
        <p className="mt-1.5 text-quiet">
          and {(open.length - most).toLocaleString('en')} more: select what they are about.
        </p>
      )}
      {hidden && (
        <p className="mt-1 truncate text-[12px] text-quiet">
          <button type="button" className="verb" onClick={() => void bringBack()}>
            Bring back
          </button>{' '}
          “{hidden.words}”
        </p>
      )}
      {elsewhere.length > 0 && (
        <Folding title={`${elsewhere.length.toLocaleString('en')} elsewhere`}>
          {elsewhere.slice(0, MOST).map((thread) =>
            !model.views.has(thread.view) ? (
              <ThreadNote key={thread.id} thread={thread} about={{ words: 'a view that is gone' }} />
            ) : (
              <li key={thread.id}>
                <button
                  type="button"
                  className="block w-full truncate text-left hover:underline"
                  onClick={() => {
                    showView(thread.view)
                    select(thread.fact === undefined ? [] : [thread.fact], { reveal: true })
                  }}
                >
                  {thread.comments[0]?.words}
                </button>
                <span className="block truncate text-[12px] text-quiet">
                  {thread.comments[0]?.author} in “{model.views.get(thread.view)?.title}”
                </span>
              </li>
            ),
          )}
        </Folding>
      )}
      {resolved.length > 0 && (
        <Folding title={`${resolved.length.toLocaleString('en')} resolved`}>
          {resolved.slice(-MOST).map((thread) => (
            <ThreadNote
              key={thread.id}
              thread={thread}
              about={about === undefined ? subjectOf(model, thread) : undefined}
            />
          ))}
        </Folding>
      )}
    </section>
  )
}

/** So many open threads are shown until the others are asked for: findings stand beneath. */
const FEW = 3
/** So many are shown of what is folded. */
const MOST = 60

/** What is shown of few words, and opens. */
function Folding({ title, children }: { title: string; children: ReactNode }) {
  const [isOpen, setOpen] = useState(false)
  return (
    <div className="mt-1.5">
      <button type="button" className="verb" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {title} {isOpen ? '▾' : '▸'}
      </button>
      {isOpen && <ul className="mt-1 space-y-2.5">{children}</ul>}
    </div>
  )
}

/** What a thread of a view is about, besides the view. */
function subjectOf(model: Model, { fact, place }: Thread): { readonly words: string; readonly fact?: Id } {
  if (fact === undefined) return { words: place ? 'a place' : 'the view' }
  const entity = model.entities.get(fact)
  if (entity) return { words: nameIn(handlings, entity), fact }
  const tie = model.relations.get(fact)
  if (!tie) return { words: 'what is gone' }
  return { words: `a tie: ${handlings.relationKinds.get(tie.kind)?.title ?? tie.kind}`, fact }
}
