import { useEffect, useMemo, useState } from 'react'
import { trustedWorkspace, writeWorkspace } from '../../core/file'
import {
  difference,
  stepsBetween,
  wordsOf,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
} from '../../core/model'
import { handlings } from '../../core/notations/handling'
import { themeFor, type Scene } from '../../core/scene'
import { drawnOf } from '../store/asking'
import { make } from '../store/changes'
import { compareWithRevision } from '../store/shown'
import { notify, useParts, useWorkspace } from '../store/state'
import { Preview } from './Preview'
import { ApiError, ask, type LoadedWorkspace } from '../sync/api'
import { Dialog } from './Dialog'

interface HistoryEntry {
  readonly revision: number
  readonly id: string
  readonly label: string
  readonly author: string
  readonly at: string
}

interface Page {
  readonly entries: readonly HistoryEntry[]
  readonly more: boolean
}

/** All changes, the newest first: any revision is drawn, compared with now, and brought back. */
export function History() {
  const { id } = useParts('id')
  const [entries, setEntries] = useState<readonly HistoryEntry[]>([])
  const [more, setMore] = useState(false)
  const [fault, setFault] = useState<string | undefined>(undefined)
  const [shown, setShown] = useState<number | undefined>(undefined)
  const [before, setBefore] = useState<number | undefined>(undefined)
  const close = () => useWorkspace.setState({ dialog: undefined })

  useEffect(() => {
    ask<Page>(`/api/workspaces/${id}/history${before === undefined ? '' : `?before=${before}`}`).then(
      (page) => {
        setEntries((known) => (before === undefined ? page.entries : [...known, ...page.entries]))
        setMore(page.more)
        setShown((now) => now ?? page.entries[0]?.revision ?? 0)
      },
      (error: unknown) => setFault(error instanceof ApiError ? error.message : String(error)),
    )
  }, [id, before])

  const last = entries.at(-1)?.revision
  return (
    <Dialog title="History" width={900} onClose={close}>
      {fault && (
        <p role="alert" className="mb-2 text-error">
          ■ {fault}
        </p>
      )}
      <div className="grid h-[440px] grid-cols-[360px_1fr] gap-5 narrow:h-auto narrow:grid-cols-1">
        <ol
          className="overflow-y-auto border-r border-hairline pr-3 narrow:max-h-[180px] narrow:border-r-0"
          aria-label="Changes"
        >
          {entries.map((entry) => (
            <li key={entry.revision}>
              <button
                type="button"
                aria-pressed={shown === entry.revision}
                className="block w-full border-l-[3px] border-transparent px-2 py-1 text-left hover:bg-base-200 aria-pressed:border-primary aria-pressed:bg-wash"
                onClick={() => setShown(entry.revision)}
              >
                <span className="line-clamp-2">{entry.label}</span>
                <span className="text-[12px] text-quiet">
                  {entry.revision} · {inWords(entry.at)} · {entry.author}
                </span>
              </button>
            </li>
          ))}
          {!more && (
            <li>
              <button
                type="button"
                aria-pressed={shown === 0}
                className="block w-full border-l-[3px] border-transparent px-2 py-1 text-left hover:bg-base-200 aria-pressed:border-primary aria-pressed:bg-wash"
                onClick={() => setShown(0)}
              >
                As it began
              </button>
            </li>
          )}
          {more && last !== undefined && (
            <li>
              <button type="button" className="verb px-2" onClick={() => setBefore(last)}>
                Earlier changes
              </button>
            </li>
          )}
        </ol>
        {shown !== undefined && <Revision key={shown} revision={shown} onRestored={close} />}
      </div>
    </Dialog>
  )
}

/** A view of earlier facts, as the worker draws it. */
function useScene(then: Model | undefined, view: Id | undefined, day: Day, onFault: (words: string) => void) {
  const [scene, setScene] = useState<Scene | undefined>(undefined)
  useEffect(() => {
    let current = true
    if (then)
      drawnOf(writeWorkspace(then), view, day).then(
        (drawn) => current && setScene(drawn),
        (error: unknown) => current && onFault(`It could not be drawn: ${wordsOf(error)}.`),
      )
    return () => {
      current = false
    }
  }, [then, view, day, onFault])
  return scene
}

/** One revision: its picture, and what has changed since. */
function Revision({ revision, onRestored }: { revision: number; onRestored: () => void }) {
  const { id, model, day, viewId } = useParts('id', 'model', 'day', 'viewId')
  const [then, setThen] = useState<Model | undefined>(undefined)
  const [fault, setFault] = useState<string | undefined>(undefined)
  useEffect(() => {
    let current = true
    ask<LoadedWorkspace>(`/api/workspaces/${id}/revisions/${revision}`).then(
      ({ workspace }) => current && setThen(trustedWorkspace(workspace)),
      (error: unknown) => current && setFault(error instanceof ApiError ? error.message : String(error)),
    )
    return () => {
      current = false
    }
  }, [id, revision])
  const scene = useScene(then, viewId, day, setFault)
  const since = useMemo(() => (then ? changesInWords(then, model) : []), [then, model])
  if (fault) return <p className="text-error">■ {fault}</p>
  if (!then) return <p className="text-quiet">Reading …</p>
  const view = viewId === undefined ? undefined : then.views.get(viewId)
  const restore = () => {
    const steps = stepsBetween(model, then)
    if (make({ label: `Restore revision ${revision}`, steps }))
      notify(`Revision ${revision} is restored. Ctrl Z takes that back.`)
    onRestored()
  }
  const compare = async () => {
    await compareWithRevision({ revision, words: `revision ${revision}` }, writeWorkspace(then))
    onRestored()
  }
  return (
    <div className="flex min-h-0 flex-col gap-3">
      <div className="sheet relative h-[210px] shrink-0 border border-hairline">
        {scene && (
          <Preview
            scene={scene}
            theme={themeFor(model.settings, view?.look ?? {})}
            label={`The picture at revision ${revision}`}
          />
        )}
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto">
        <h3 className="caps">Changed since</h3>
        {since.length === 0 && <p className="text-quiet">Nothing: these are the facts of now.</p>}
        <ul className="text-[12px] leading-[18px]" data-testid="since">
          {since.slice(0, 200).map((line, index) => (
            <li key={index}>{line}</li>
          ))}
          {since.length > 200 && <li>… and {since.length - 200} more.</li>}
        </ul>
      </div>
      {since.length > 0 && (
        <div>
          <button type="button" className="btn btn-primary btn-sm" onClick={restore}>
            Restore this revision
          </button>
          <button type="button" className="verb ml-4" onClick={() => void compare()}>
            Compare it with now on the sheet
          </button>
        </div>
      )}
    </div>
  )
}

function changesInWords(then: Model, now: Model): string[] {
  const { entities, relations } = difference(then, now)
  const tie = (model: Model) => (relation: Relation) => {
    const [a, b] = [model.entities.get(relation.source)?.name, model.entities.get(relation.target)?.name]
    return `“${a ?? relation.source}” ${handlings.relationKinds.get(relation.kind)?.title ?? relation.kind} “${b ?? relation.target}”`
  }
  const kind = (entity: Entity) => handlings.kinds.get(entity.kind)?.title.toLowerCase() ?? entity.kind
  const fieldsOf = (paths: readonly string[]) => paths.map((path) => path.replace(/^fields\./, '')).join(', ')
  return [
    ...entities.added.map((entity) => `+ ${kind(entity)} “${entity.name}”`),
    ...entities.removed.map((entity) => `− ${kind(entity)} “${entity.name}”`),
    ...entities.altered
      .filter(({ paths }) => paths.some((path) => path !== 'fields.order'))
      .map(({ before, after, paths }) =>
        before.name === after.name
          ? `± “${after.name}”: ${fieldsOf(paths)}`
          : `± “${before.name}” is now “${after.name}”`,
      ),
    ...relations.added.map((relation) => `+ ${tie(now)(relation)}`),
    ...relations.removed.map((relation) => `− ${tie(then)(relation)}`),
    ...relations.altered.map(({ before, after }) => `± ${tie(then)(before)}: now ${tie(now)(after)}`),
  ]
}

function inWords(at: string): string {
  const when = new Date(at)
  return `${when.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${when.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}`
}
