import { useCallback, useEffect, useRef, useState } from 'react'
import { wordsOf } from '../../core/model'
import { bestFirst } from '../../core/notation/search'
import { today } from '../clock'
import { startEngine } from '../engine'
import { pastedText } from '../pasted'
import type { DrawnList } from '../../worker/contract'
import { Mark } from '../shell/Mark'
import { ApiError, ask } from '../sync/api'
import { WorkspaceList } from './WorkspaceList'

/** A starter as it is drawn. */
interface StarterSample {
  readonly path: string
  readonly title: string
  readonly summary: string
  readonly words: string
  /** Of the first of each chapter: the others are fetched when they are shown. */
  readonly svg?: string
}

export interface Example {
  readonly list: string
  readonly svg: string
  /** What the example reads as, and what it may be read as. */
  readonly as?: string | undefined
  readonly ways: DrawnList['ways']
}

/** Where everybody comes in: state facts and see them drawn, or go on with what is there. */
export function Home({ starters, example }: { starters: readonly StarterSample[]; example: Example }) {
  const [list, setList] = useState(example.list)
  const [busy, setBusy] = useState(false)
  // A second press comes before the button is seen to be busy.
  const beginning = useRef(false)
  const isLeaving = useRef(false)
  const [fault, setFault] = useState<string | undefined>(undefined)
  const file = useRef<HTMLInputElement>(null)
  const area = useRef<HTMLTextAreaElement>(null)
  const [as, setAs] = useState<string | undefined>(undefined)
  const { typed, getReady } = useDrawnList(list, as, example)
  const ways = list.trim() === '' ? [] : (typed.ways ?? [])
  const readsAs = ways.find(({ id }) => id === typed.as)
  /** Reads the list as what stands beside what it is read as. */
  const readBeside = (by: -1 | 1) => {
    const at = ways.findIndex(({ id }) => id === typed.as)
    setAs(ways.at((at + by) % ways.length)?.id)
  }

  /** Begins with a list, a starter, or a file, whose text goes to the server as it is. */
  const begin = async (body: { list: string; as?: string } | { starter: string } | { file: string }) => {
    if (beginning.current) return
    beginning.current = true
    setBusy(true)
    setFault(undefined)
    try {
      const sent = 'file' in body ? `{"day":${JSON.stringify(today())},"file":${body.file}}` : { ...body, day: today() }
      const { id } = await ask<{ id: string }>('/api/workspaces', { method: 'POST', body: sent })
      window.location.assign(`/w/${id}`)
    } catch (error) {
      beginning.current = false
      setBusy(false)
      setFault(inWords(error))
    }
  }
  const open = async (chosen: File | undefined) => {
    if (!chosen) return
    if (file.current) file.current.value = ''
    setFault(undefined)
    setBusy(true)
    try {
      const { factsIn } = await import('../factsIn')
      const text = await factsIn(chosen)
      if (text === undefined) throw new Error(`“${chosen.name}” carries no facts.`)
      if (!text.trimStart().startsWith('{')) throw new Error(`“${chosen.name}” is not a workspace file.`)
      await begin({ file: text })
    } catch (error) {
      setFault(wordsOf(error))
    } finally {
      setBusy(false)
    }
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
      <div className="grid min-h-0 flex-1 grid-cols-[1fr_420px] narrow:block narrow:overflow-y-auto">
        <main className="overflow-y-auto bg-leaf px-12 py-9 narrow:overflow-visible narrow:px-4 narrow:py-6">
          <h1 className="mb-5 text-[26px] leading-8 font-bold">State the facts. The drawing follows.</h1>
          <div className="grid h-[232px] grid-cols-[minmax(0,1fr)_minmax(0,1fr)] narrow:h-[380px] narrow:grid-cols-1 narrow:grid-rows-2 overflow-hidden rounded-[3px] border border-hairline">
            <textarea
              ref={area}
              aria-label="A list of people, steps, tasks or dated events, one line each"
              aria-describedby="leaving"
              className="numeric resize-none bg-base-100 px-4 py-3 text-[13px] outline-none focus-visible:shadow-[inset_2px_0_0_var(--color-primary)]"
              spellCheck={false}
              placeholder={PLACEHOLDER}
              value={list}
              onFocus={getReady}
              onChange={(event) => {
                if (event.target.value.trim() === '') setAs(undefined)
                setList(event.target.value)
              }}
              onPaste={(event) => {
                const text = pastedText(event.clipboardData)
                if (text === event.clipboardData.getData('text/plain')) return
                event.preventDefault()
                // Typed for the person, so that it can be taken back as what is typed can.
                document.execCommand('insertText', false, text)
              }}
              onKeyDown={(event) => {
                // After Escape the Tab key leads on, as everywhere else.
                if (event.key === 'Escape') isLeaving.current = true
                else if (event.key !== 'Tab') isLeaving.current = false
                if (event.altKey && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
                  event.preventDefault()
                  readBeside(event.key === 'ArrowLeft' ? -1 : 1)
                  return
                }
                if (event.key !== 'Tab' || event.shiftKey || isLeaving.current) return
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
            <div
              className="sheet relative border-l border-hairline narrow:border-t narrow:border-l-0"
              data-testid="preview"
            >
              {typed.svg !== undefined && <Drawing svg={typed.svg} fromTop />}
              {typed.refused !== undefined && <p className="p-3 text-[#a8322a]">■ {typed.refused}</p>}
              {typed.svg === undefined && typed.refused === undefined && (
                <p className="p-3 text-[#5a6472]">What you type on the left is drawn here.</p>
              )}
            </div>
          </div>
          <div className="mt-2.5 flex flex-wrap items-start gap-4" data-testid="reads-as">
            {readsAs ? (
              <div
                role="radiogroup"
                aria-label="What the list is read as"
                className="flex flex-wrap items-baseline gap-x-3.5 pt-1"
              >
                <span className="text-quiet">Reads as</span>
                {ways.map(({ id, word }) => (
                  <button
                    key={id}
                    type="button"
                    role="radio"
                    aria-checked={id === readsAs.id}
                    className="border-b-2 border-transparent whitespace-nowrap hover:text-primary aria-checked:border-primary aria-checked:font-semibold first-letter:uppercase"
                    onClick={() => setAs(id)}
                  >
                    {word}
                  </button>
                ))}
              </div>
            ) : (
              <p className="pt-1 text-quiet">People, steps, tasks or dated events: what it reads as is said here.</p>
            )}
            <span className="flex-1" />
            <button
              type="button"
              className="btn btn-primary btn-sm"
              disabled={busy || typed.refused !== undefined}
              onClick={() =>
                void begin(list.trim() === '' ? { list } : { list, ...(typed.as ? { as: typed.as } : {}) })
              }
            >
              {busy ? 'Making it …' : 'Begin with this'}
            </button>
          </div>
          <div className="mt-1 flex flex-wrap items-start gap-x-6 gap-y-2">
            <button type="button" className="verb" onClick={startOver}>
              Paste a list of your own
            </button>
            <button type="button" className="verb" onClick={() => file.current?.click()}>
              Open a file
            </button>
            <input
              ref={file}
              type="file"
              accept=".json,.skivel.json,application/json,.png,.svg,.pdf"
              className="hidden"
              aria-label="A workspace file"
              onChange={(event) => void open(event.target.files?.[0])}
            />
            <span className="flex-1" />
            <span id="leaving" className="text-[12px] text-quiet">
              Alt ← → reads it otherwise · Tab indents · Esc, then Tab leads on
            </span>
          </div>
          {fault && (
            <p role="alert" className="mt-3 text-error">
              ■ {fault} Nothing was changed.
            </p>
          )}
          <Starters starters={starters} onBegin={(starter) => void begin({ starter })} />
        </main>
        <WorkspaceList onEmpty={() => void begin({ list: '' })} />
      </div>
    </div>
  )
}

/** So many are shown of those that fit what is looked for. */
const MOST_FOUND = 12

function Starters({ starters, onBegin }: { starters: readonly StarterSample[]; onBegin: (path: string) => void }) {
  const [query, setQuery] = useState('')
  const [isAll, setAll] = useState(false)
  const isSought = query.trim() !== ''
  const found = isSought
    ? bestFirst(starters, query).slice(0, MOST_FOUND)
    : isAll
      ? starters
      : starters.filter(({ svg }) => svg !== undefined)
  return (
    <section aria-labelledby="starters-title" className="mt-9">
      <div className="mb-2 flex flex-wrap items-end justify-between gap-4">
        <h2 id="starters-title" className="caps">
          Starters
        </h2>
        <input
          type="search"
          aria-label="Look for a starter"
          placeholder="onboarding, escalation, rack …"
          className="h-[26px] w-[240px] border-b border-hairline bg-transparent outline-none focus:border-primary"
          value={query}
          onChange={({ target }) => setQuery(target.value)}
          onKeyDown={({ key }) => {
            const [first] = found
            if (key === 'Enter' && isSought && first) onBegin(first.path)
          }}
        />
      </div>
      <ul className="grid grid-cols-3 gap-4 narrow:grid-cols-2 max-sm:grid-cols-1">
        {found.map((starter, at) => (
          <li key={starter.path}>
            <button type="button" className="group block w-full text-left" onClick={() => onBegin(starter.path)}>
              <span
                aria-hidden
                className={`sheet relative block h-[124px] rounded-[3px] border group-hover:border-primary ${isSought && at === 0 ? 'border-primary' : 'border-hairline'}`}
              >
                <StarterDrawing starter={starter} />
              </span>
              <span className="mt-1.5 block font-semibold group-hover:underline">{starter.title}</span>
              <span className="block text-quiet">{starter.summary}</span>
            </button>
          </li>
        ))}
      </ul>
      {starters.length === 0 && <p className="text-quiet">The starters are not there just now. Begin with a list.</p>}
      {starters.length > 0 && found.length === 0 && (
        <p className="text-quiet">No starter fits “{query.trim()}”. Try another word, or begin with a list.</p>
      )}
      {!isSought && !isAll && found.length < starters.length && (
        <button type="button" className="verb mt-4" onClick={() => setAll(true)}>
          All {starters.length} starters
        </button>
      )}
    </section>
  )
}

const fetched = new Map<string, string>()

/** A starter as it is drawn: one that did not come with the page is fetched, and its place stays empty where that fails. */
function StarterDrawing({ starter: { path, svg } }: { starter: StarterSample }) {
  const [drawn, setDrawn] = useState(svg ?? fetched.get(path))
  useEffect(() => {
    if (drawn !== undefined) return
    let current = true
    fetch(`/api/starters/${path}.svg`)
      .then(async (answer) => {
        if (!answer.ok) return
        const text = await answer.text()
        fetched.set(path, text)
        if (current) setDrawn(text)
      })
      .catch(() => undefined)
    return () => {
      current = false
    }
  }, [path, drawn])
  return drawn === undefined ? null : <Drawing svg={drawn} />
}

/** A picture that came as SVG from our own core, as large as its place lets it be: from its top on where it is read. */
function Drawing({ svg, fromTop = false }: { svg: string; fromTop?: boolean }) {
  const placed = fromTop ? svg.replace('<svg ', '<svg preserveAspectRatio="xMidYMin meet" ') : svg
  return (
    <span
      className="absolute inset-2 block [&>svg]:h-full [&>svg]:w-full"
      // Written by the core, which escapes every text in it.
      dangerouslySetInnerHTML={{ __html: placed }}
    />
  )
}

const PLACEHOLDER = `One line each, all of one sort:

Ada Holm, Head of operations
Check the request @ Desk
Dig the trench  5d
1887  The first ferry`

interface Typed extends Partial<Omit<DrawnList, 'svg'>> {
  readonly svg?: string
  readonly refused?: string
}

/** What is typed, drawn in a thread that is begun when it is first needed; of what is typed meanwhile only the newest. */
function useDrawnList(list: string, as: string | undefined, example: Example): { typed: Typed; getReady: () => void } {
  const [typed, setTyped] = useState<Typed>({
    svg: example.svg,
    ways: example.ways,
    ...(example.as ? { as: example.as } : {}),
  })
  const engine = useRef<ReturnType<typeof startEngine> | undefined>(undefined)
  const wanted = useRef<{ list: string; as: string | undefined }>({ list: example.list, as: undefined })
  const drawing = useRef(false)
  const getReady = useCallback(() => {
    engine.current ??= startEngine()
  }, [])
  useEffect(() => {
    if (wanted.current.list === list && wanted.current.as === as) return
    wanted.current = { list, as }
    getReady()
    const draw = async () => {
      if (drawing.current) return
      drawing.current = true
      try {
        for (let asked: typeof wanted.current | undefined; asked !== wanted.current;) {
          asked = wanted.current
          const { list: text, as: way } = asked
          const drawn = (await engine.current?.drawList(text, today(), way)) ?? {}
          // A list that cannot be read in one way may still be read in another.
          setTyped(({ ways }) => ({ ...(ways && { ways }), ...(way === undefined ? {} : { as: way }), ...drawn }))
        }
      } catch (error) {
        setTyped({ refused: `This could not be drawn: ${wordsOf(error)}.` })
      } finally {
        drawing.current = false
      }
    }
    void draw()
  }, [list, as, getReady])
  return { typed, getReady }
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
