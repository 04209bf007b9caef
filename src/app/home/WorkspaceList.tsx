import { useEffect, useState } from 'react'
import { momentInWords, today } from '../clock'
import { Dialog } from '../shell/Dialog'
import { Tally } from '../shell/Tally'
import { ApiError, ask } from '../sync/api'
import type { Entry } from './entry'

const RETRY_MS = 3000

function Findings({ entry: { tally, trouble } }: { entry: Entry }) {
  if (!tally) return <span className="text-error">■ {trouble}</span>
  if (tally.error + tally.warning + tally.note > 0) return <Tally counts={tally} />
  return <span className="text-quiet">no findings</span>
}

/** All workspaces, the last changed first, with what is wrong in them. */
export function WorkspaceList({ onEmpty }: { onEmpty: () => void }) {
  const [entries, setEntries] = useState<readonly Entry[] | undefined>(undefined)
  const [trouble, setTrouble] = useState<string | undefined>(undefined)
  const [removing, setRemoving] = useState<Entry | undefined>(undefined)
  const [attempt, setAttempt] = useState(0)
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined
    ask<{ workspaces: Entry[] }>(`/api/workspaces?day=${today()}`).then(
      ({ workspaces }) => {
        setEntries(workspaces)
        setTrouble(undefined)
      },
      (error: unknown) => {
        setTrouble(error instanceof ApiError ? error.message : String(error))
        timer = setTimeout(() => setAttempt((count) => count + 1), RETRY_MS)
      },
    )
    return () => clearTimeout(timer)
  }, [attempt])

  const remove = async (entry: Entry) => {
    setRemoving(undefined)
    try {
      await ask(`/api/workspaces/${entry.id}`, { method: 'DELETE' })
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      setTrouble(error.message)
    }
    setAttempt((count) => count + 1)
  }
  return (
    <aside aria-label="Workspaces" className="overflow-y-auto border-l border-hairline bg-base-100 px-8 py-9">
      <h2 className="caps border-b border-hairline pb-2">Workspaces</h2>
      {trouble && (
        <p role="alert" className="border-b border-hairline py-3 text-error">
          ■ {trouble} Skivel tries again every few seconds.
        </p>
      )}
      {!entries && !trouble && <p className="py-3 text-quiet">Reading …</p>}
      <ul>
        {entries?.map((entry) => (
          <li key={entry.id} className="group relative border-b border-hairline">
            <a href={`/w/${entry.id}`} className="block py-3 hover:bg-wash">
              <span className="flex items-baseline justify-between gap-4">
                <span className="truncate text-[14px] font-semibold">{entry.name}</span>
                <span className="shrink-0">
                  <Findings entry={entry} />
                </span>
              </span>
              <span className="flex justify-between text-quiet">
                <span>{entry.chapters.join(', ') || 'No view yet'}</span>
                <span className="group-focus-within:invisible group-hover:invisible">
                  {momentInWords(entry.changedAt)}
                </span>
              </span>
            </a>
            <button
              type="button"
              className="verb absolute right-0 bottom-2.5 text-[12px] opacity-0 group-focus-within:opacity-100 group-hover:opacity-100"
              onClick={() => setRemoving(entry)}
            >
              Delete
            </button>
          </li>
        ))}
      </ul>
      <button type="button" className="verb mt-3" onClick={onEmpty}>
        Empty workspace
      </button>
      {removing && (
        <Dialog title={`Delete “${removing.name}”?`} onClose={() => setRemoving(undefined)}>
          <p className="mb-4">
            All its facts, views and history go. This cannot be taken back; save it as a file first if you may want it
            again.
          </p>
          <div className="flex items-center gap-4">
            <button type="button" className="btn btn-error btn-sm" onClick={() => void remove(removing)}>
              Delete it
            </button>
            <a className="verb" href={`/api/workspaces/${removing.id}/file`}>
              Save it as a file
            </a>
            <button type="button" className="verb" onClick={() => setRemoving(undefined)}>
              Leave it
            </button>
          </div>
        </Dialog>
      )}
    </aside>
  )
}
