import { useDeferredValue, useMemo, useRef, useState } from 'react'
import type { Tally as Counts } from '../../core/findings'
import { apply, asId, Model, type Day } from '../../core/model'
import { registry } from '../../core/notations'
import { today } from '../clock'
import { Mark } from '../shell/Mark'
import { ApiError, ask } from '../sync/api'
import { Preview } from './Preview'
import { WorkspaceList } from './WorkspaceList'

export interface Entry {
  readonly id: string
  readonly name: string
  readonly changedAt: string
  readonly chapters: readonly string[]
  /** Absent where the facts could not be checked; `trouble` says why. */
  readonly tally?: Counts
  readonly trouble?: string
}

const EXAMPLE = `Wilma Thorne — Harbour master
  Idris Vance — Assistant (assistant)
  Maren Foss — Quay lead
    Oskar Lind — Crane operator
    vacant — Linesman
  Petra Dale — Office lead
    Sunniva Hart — Clerk`

const numbering = () => {
  let count = 0
  return () => asId(`p${++count}`)
}

/** Where everybody comes in: state facts and see them drawn, or go on with what is there. */
export function Home() {
  const day = today()
  const [list, setList] = useState(EXAMPLE)
  const [busy, setBusy] = useState(false)
  const [fault, setFault] = useState<string | undefined>(undefined)
  const file = useRef<HTMLInputElement>(null)
  const area = useRef<HTMLTextAreaElement>(null)
  const deferred = useDeferredValue(list)
  const typed = useMemo(() => drawnFrom(deferred, day), [deferred, day])

  const begin = async (body: object) => {
    if (busy) return
    setBusy(true)
    setFault(undefined)
    try {
      const { id } = await ask<{ id: string }>('/api/workspaces', { method: 'POST', body: { ...body, day } })
      window.location.assign(`/w/${id}`)
    } catch (error) {
      setBusy(false)
      setFault(inWords(error))
    }
  }
  const open = async (chosen: File | undefined) => {
    if (!chosen) return
    if (file.current) file.current.value = ''
    let content: unknown
    try {
      content = JSON.parse(await chosen.text())
    } catch (error) {
      if (!(error instanceof SyntaxError)) throw error
      return setFault(`“${chosen.name}” is not a workspace file: it is not JSON (${error.message}).`)
    }
    if (typeof content !== 'object' || content === null || Array.isArray(content))
      return setFault(`“${chosen.name}” is not a workspace file.`)
    await begin({ file: content })
  }
  const startOver = () => {
    setList('')
    area.current?.focus()
  }

  return (
    <div className="flex h-dvh flex-col">
      <header className="flex h-[44px] shrink-0 items-center border-b border-hairline px-4">
        <a href="/" className="flex items-center gap-2.5 text-[15px] font-semibold">
          <Mark /> Skivel
        </a>
      </header>
      <div className="grid min-h-0 flex-1 grid-cols-[1fr_420px]">
        <main className="overflow-y-auto bg-leaf px-12 py-9">
          <h1 className="mb-5 text-[26px] leading-8 font-bold">State the facts. The drawing follows.</h1>
          <div className="grid h-[232px] grid-cols-[minmax(0,1fr)_minmax(0,1fr)] overflow-hidden rounded-[3px] border border-hairline">
            <textarea
              ref={area}
              aria-label="A list: one line a position, name and title, indented by who reports to whom"
              className="numeric resize-none bg-base-100 px-4 py-3 text-[13px] outline-none focus-visible:shadow-[inset_2px_0_0_var(--color-primary)]"
              spellCheck={false}
              placeholder={'Name — Title\n  Name — Title, one level down'}
              value={list}
              onChange={(event) => setList(event.target.value)}
              onKeyDown={(event) => {
                if (event.key !== 'Tab' || event.shiftKey) return
                event.preventDefault()
                event.currentTarget.setRangeText(
                  '  ',
                  event.currentTarget.selectionStart,
                  event.currentTarget.selectionEnd,
                  'end',
                )
                setList(event.currentTarget.value)
              }}
            />
            <div className="sheet relative border-l border-hairline" data-testid="preview">
              {typed.model && <Preview model={typed.model} day={day} label="The list, drawn" />}
              {typed.refused && <p className="p-3 text-[#a8322a]">■ {typed.refused}</p>}
              {!typed.model && !typed.refused && (
                <p className="p-3 text-[#5a6472]">What you type on the left is drawn here.</p>
              )}
            </div>
          </div>
          <div className="mt-3 flex items-start gap-6">
            <button type="button" className="verb" onClick={startOver}>
              Paste a list of your own
            </button>
            <button type="button" className="verb" onClick={() => file.current?.click()}>
              Open a file
            </button>
            <input
              ref={file}
              type="file"
              accept=".json,.skivel.json,application/json"
              className="hidden"
              aria-label="A workspace file"
              onChange={(event) => void open(event.target.files?.[0])}
            />
            <span className="flex-1" />
            <button
              type="button"
              className="btn btn-primary btn-sm"
              disabled={busy || typed.refused !== undefined}
              onClick={() => void begin({ list, name: 'New organisation' })}
            >
              {busy ? 'Making it …' : 'Begin with this'}
            </button>
          </div>
          {fault && (
            <p role="alert" className="mt-3 text-error">
              ■ {fault} Nothing was changed.
            </p>
          )}
          <Starters day={day} onBegin={(starter) => void begin({ starter })} />
        </main>
        <WorkspaceList onEmpty={() => void begin({ list: '', name: 'New organisation' })} />
      </div>
    </div>
  )
}

function Starters({ day, onBegin }: { day: Day; onBegin: (path: string) => void }) {
  const starters = useMemo(
    () =>
      registry.notations.flatMap((notation) =>
        notation.starters.map((starter) => ({
          starter,
          path: `${notation.id}/${starter.id}`,
          chapter: notation.chapter,
          model: starter.make(numbering(), day),
        })),
      ),
    [day],
  )
  return (
    <section aria-labelledby="starters-title" className="mt-9">
      <h2 id="starters-title" className="caps mb-2">
        Starters
      </h2>
      <ul className="grid grid-cols-3 gap-4">
        {starters.map(({ starter, path, chapter, model }) => (
          <li key={path}>
            <button type="button" className="group block w-full text-left" onClick={() => onBegin(path)}>
              <span className="sheet relative block h-[124px] rounded-[3px] border border-hairline group-hover:border-primary">
                <Preview model={model} day={day} />
              </span>
              <span className="mt-1.5 block font-semibold group-hover:underline">{starter.title}</span>
              <span className="block text-quiet">
                {chapter}: {starter.summary}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** The typed list as facts. */
function drawnFrom(list: string, day: Day): { model?: Model; refused?: string } {
  const notation = registry.notations.find(({ outline }) => outline)
  if (!notation?.outline || list.trim() === '') return {}
  const newId = numbering()
  const view = notation.view(newId, 'Typed')
  const empty = Model.of({ views: [view] })
  const outcome = notation.outline.paste({ model: empty, view, day, selection: [], newId }, undefined, list)
  return 'refused' in outcome ? outcome : { model: apply(empty, outcome.change).model }
}

export function inWords(error: unknown): string {
  if (!(error instanceof ApiError)) throw error
  const [first, ...more] = error.faults
  if (!first) return error.message
  return `${error.message}${
    more.length > 0
      ? ` Further: ${more
          .slice(0, 4)
          .map(({ path, message }) => `${path} ${message}`)
          .join('; ')}.`
      : ''
  }`
}
