import { useEffect, useRef, useState } from 'react'
import { cut } from '../../core/model'
import { momentInWords } from '../clock'
import { Tally } from '../shell/Tally'
import { ApiError, ask } from '../sync/api'
import { authorName } from '../sync/author'
import { Bin } from './Bin'
import type { Entry } from './entry'

const RETRY_MS = 3000
const LOOK_AGAIN_MS = 1500
/** So often the list is read again by itself. */
const MOST_LOOKS = 40
const MOST_NAME = 200
/** While somebody types on, the list waits. */
const SEARCH_AFTER_MS = 150

function Findings({ entry: { tally, trouble, isLookedAt } }: { entry: Entry }) {
  if (!tally && trouble === undefined && isLookedAt) return <span className="text-quiet">is looked at …</span>
  if (!tally) return <span className="text-error">■ {trouble}</span>
  if (tally.error + tally.warning + tally.note > 0) return <Tally counts={tally} />
  return <span className="text-quiet">no findings</span>
}

/** All workspaces, the last changed first, with what is wrong in them: found by name, renamed, copied, and put into the bin. */
export function WorkspaceList({ onEmpty }: { onEmpty: () => void }) {
  const [entries, setEntries] = useState<readonly Entry[] | undefined>(undefined)
  const [named, setNamed] = useState('')
  const [trouble, setTrouble] = useState<string | undefined>(undefined)
  const [said, setSaid] = useState<{ words: string; back?: () => void } | undefined>(undefined)
  const [renaming, setRenaming] = useState<string | undefined>(undefined)
  const [binOpen, setBinOpen] = useState(false)
  const [attempt, setAttempt] = useState(0)
  // A second press comes before the list is read again.
  const busy = useRef(false)
  const looks = useRef(0)
  useEffect(() => {
    let current = true
    let timer: ReturnType<typeof setTimeout> | undefined
    const read = () =>
      ask<{ workspaces: Entry[] }>(`/api/workspaces?${new URLSearchParams({ named })}`).then(
        ({ workspaces }) => {
          if (!current) return
          setEntries(workspaces)
          setTrouble(undefined)
          // What is being looked at is told when it is known.
          if (workspaces.some(({ isLookedAt }) => isLookedAt) && looks.current++ < MOST_LOOKS)
            timer = setTimeout(() => void read(), LOOK_AGAIN_MS)
        },
        (error: unknown) => {
          if (!current) return
          setTrouble(error instanceof ApiError ? error.message : String(error))
          timer = setTimeout(() => setAttempt((count) => count + 1), RETRY_MS)
        },
      )
    timer = setTimeout(() => void read(), named === '' ? 0 : SEARCH_AFTER_MS)
    return () => {
      current = false
      clearTimeout(timer)
    }
  }, [attempt, named])

  /** Asks the server for something, and reads the list again whatever it answers. */
  const doing = async (work: () => Promise<unknown>, done: { words: string; back?: () => void } | undefined) => {
    if (busy.current) return
    busy.current = true
    try {
      await work()
      setSaid(done)
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      setSaid({ words: `■ ${error.message} Nothing was changed.` })
    } finally {
      busy.current = false
    }
    setAttempt((count) => count + 1)
  }
  const takeBack = ({ id, name }: Pick<Entry, 'id' | 'name'>) =>
    void doing(() => ask(`/api/bin/${id}`, { method: 'POST' }), { words: `“${name}” is back.` })
  const remove = (entry: Entry) =>
    void doing(() => ask(`/api/workspaces/${entry.id}`, { method: 'DELETE' }), {
      words: `“${entry.name}” lies in the bin for 30 days.`,
      back: () => takeBack(entry),
    })
  const copy = ({ id, name }: Entry) =>
    void doing(() => ask(`/api/workspaces/${id}/copy`, { method: 'POST' }), { words: `“${name}” was copied.` })
  const rename = ({ id, name, revision }: Entry, typed: string) => {
    setRenaming(undefined)
    const value = cut(typed.trim(), MOST_NAME)
    if (value === '' || value === name) return
    const body = {
      id: crypto.randomUUID(),
      base: revision,
      label: `Rename the workspace to “${value}”`,
      author: authorName(),
      steps: [{ do: 'set-workspace', path: 'name', value }],
    }
    void doing(() => ask(`/api/workspaces/${id}/changes`, { method: 'POST', body }), undefined)
  }
  return (
    <aside
      aria-label="Workspaces"
      className="overflow-y-auto border-l border-hairline bg-base-100 px-8 py-9 narrow:overflow-visible narrow:border-t narrow:border-l-0 narrow:px-4 narrow:py-6"
    >
      <div className="flex items-baseline justify-between gap-4 border-b border-hairline pb-1.5">
        <h2 className="caps">Workspaces</h2>
        <input
          type="search"
          aria-label="Find a workspace by its name"
          placeholder="Find by name"
          maxLength={MOST_NAME}
          className="h-[24px] w-[170px] border-b border-hairline bg-transparent outline-none focus:border-primary"
          value={named}
          onChange={(event) => setNamed(event.target.value)}
        />
      </div>
      {trouble && (
        <p role="alert" className="border-b border-hairline py-3 text-error">
          ■ {trouble} Skivel tries again every few seconds.
        </p>
      )}
      <p
        role="status"
        className={said ? 'flex justify-between gap-4 border-b border-hairline bg-wash px-2 py-1.5' : ''}
      >
        {said?.words}
        {said?.back && (
          <button type="button" className="verb shrink-0" onClick={said.back}>
            Take it back
          </button>
        )}
      </p>
      {!entries && !trouble && <p className="py-3 text-quiet">Reading …</p>}
      {entries?.length === 0 && (
        <p className="py-3 text-quiet">
          {named === '' ? 'None yet. Begin with the list on the left.' : `No workspace is called “${named}”.`}
        </p>
      )}
      <ul>
        {entries?.map((entry) => (
          <li key={entry.id} className="group relative border-b border-hairline">
            {renaming === entry.id ? (
              <NewName entry={entry} onName={(name) => rename(entry, name)} />
            ) : (
              <a href={`/w/${entry.id}`} className="block py-3 hover:bg-wash">
                <span className="flex items-baseline justify-between gap-4">
                  <span className="truncate text-[14px] font-semibold">{entry.name}</span>
                  <span className="shrink-0">
                    <Findings entry={entry} />
                  </span>
                </span>
                <span className="flex justify-between text-quiet">
                  <span>{entry.chapters.join(', ') || (entry.tally && 'No view yet')}</span>
                  <span className="group-focus-within:invisible group-hover:invisible">
                    {momentInWords(entry.changedAt)}
                  </span>
                </span>
              </a>
            )}
            {renaming !== entry.id && (
              <span className="absolute right-0 bottom-2.5 flex gap-3 text-[12px] opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
                <button type="button" className="verb" onClick={() => setRenaming(entry.id)}>
                  Rename
                </button>
                <button type="button" className="verb" onClick={() => copy(entry)}>
                  Copy
                </button>
                <button type="button" className="verb" onClick={() => remove(entry)}>
                  Delete
                </button>
              </span>
            )}
          </li>
        ))}
      </ul>
      {entries && entries.length >= MOST_LISTED && (
        <p className="py-2 text-quiet">The last {MOST_LISTED} are shown. Find others by their names.</p>
      )}
      <div className="mt-3 flex gap-5">
        <button type="button" className="verb" onClick={onEmpty}>
          Empty workspace
        </button>
        <button type="button" className="verb" onClick={() => setBinOpen(true)}>
          Bin
        </button>
      </div>
      {binOpen && <Bin onClose={() => setBinOpen(false)} onBack={takeBack} />}
    </aside>
  )
}

/** As many as the server lists. */
const MOST_LISTED = 500

function NewName({ entry, onName }: { entry: Entry; onName: (name: string) => void }) {
  const [name, setName] = useState(entry.name)
  const field = useRef<HTMLInputElement>(null)
  const left = useRef(false)
  useEffect(() => field.current?.select(), [])
  const leave = (typed: string) => {
    if (left.current) return
    left.current = true
    onName(typed)
  }
  return (
    <input
      ref={field}
      aria-label={`New name of ${entry.name}`}
      maxLength={MOST_NAME}
      className="my-3 h-[40px] w-full border-b border-primary bg-transparent text-[14px] font-semibold outline-none"
      value={name}
      onChange={(event) => setName(event.target.value)}
      onBlur={() => leave(name)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') leave(name)
        else if (event.key === 'Escape') leave(entry.name)
      }}
    />
  )
}
