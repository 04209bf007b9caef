import { Suspense, useEffect, useState } from 'react'
import { flushSync } from 'react-dom'
import { wordsOf } from '../../core/model'
import { currentNotation, offered } from '../actions'
import { DateLine } from '../dateline/DateLine'
import { later } from '../later'
import { Sheet } from '../sheet/Sheet'
import { SheetHead } from '../sheet/SheetHead'
import { useCamera } from '../sheet/camera'
import { redo, undo } from '../store/changes'
import { EDGES, fold, foldAll } from '../store/folds'
import { openWorkspace } from '../store/open'
import { followAddress, toFindings } from '../store/shown'
import { currentView, notify, useWorkspace } from '../store/state'
import { speak } from '../speak'
import { ApiError } from '../sync/api'
import { AgainstLine } from './AgainstLine'
import { Banner } from './Banner'
import { Contents } from './Contents'
import { Dialogs } from './Dialogs'
import { Edge, EDGE_NAMES, Foldable, Parts } from './Foldable'
import { Masthead } from './Masthead'
import { NoticeLine } from './NoticeLine'
import { ClashQuestion, Confirm, ReadingFile } from './Questions'
import { Region } from './Region'
import { SightFilters } from './SightFilters'
import { Tally } from './Tally'

// What stands around the picture comes while it is drawn.
const Registers = later(() => import('../registers/Registers').then(({ Registers }) => Registers), { isSoon: true })
const Margin = later(() => import('../margin/Margin').then(({ Margin }) => Margin), { isSoon: true })
const Lines = later(() => import('../comments/Lines').then(({ Lines }) => Lines))

/** The page: contents, sheet with the registers beneath, margin. */
export function Workspace({ id }: { id: string }) {
  const opened = useOpening(id)
  const counts = useWorkspace(({ notes }) => notes?.counts.view)
  const isAside = useWorkspace(({ proposing, looking }) => proposing !== undefined || looking !== undefined)
  useKeys()
  useFailures()
  useTabTitle()
  useFirstPicture(opened.state === 'failed')
  if (opened.state === 'failed') return <Failure message={opened.message} again={opened.again} final={opened.final} />
  if (opened.state === 'opening') return <p className="p-8 text-quiet">Opening …</p>
  return (
    <div className="flex h-dvh flex-col overflow-hidden">
      <Masthead />
      <Region name="date line">
        <DateLine />
      </Region>
      <Banner />
      <AgainstLine />
      {isAside && (
        <Suspense>
          <Lines />
        </Suspense>
      )}
      <div className="relative flex min-h-0 flex-1">
        <Foldable edge="contents">
          <Region name="contents">
            <Contents />
          </Region>
        </Foldable>
        <main aria-label="Picture and registers" className="flex min-w-0 flex-1 md:min-w-[380px]">
          <Edge edge="contents" />
          <div className="flex min-w-0 flex-1 flex-col">
            <div className="flex min-h-[160px] flex-1 flex-col">
              <SheetHead />
              <Region name="sheet">
                <Sheet />
              </Region>
            </div>
            <Edge edge="registers" />
            <Foldable edge="registers">
              <Region name="registers">
                <Suspense>
                  <Registers />
                </Suspense>
              </Region>
            </Foldable>
          </div>
          <Edge edge="margin" />
        </main>
        <Foldable edge="margin">
          <Region name="margin">
            <Suspense>
              <Margin />
            </Suspense>
          </Region>
        </Foldable>
      </div>
      <Parts told={counts && <Tally counts={counts} worstOnly />} />
      <SightFilters />
      <Dialogs />
      <Confirm />
      <ReadingFile />
      <ClashQuestion />
      <NoticeLine />
    </div>
  )
}

/** The browser’s tab is called after what is shown. */
function useTabTitle() {
  const name = useWorkspace(({ model, id }) => (id === '' ? '' : model.name))
  const view = useWorkspace((state) => currentView(state)?.title ?? '')
  useEffect(() => {
    document.title = [view, name, 'Skivel'].filter((part) => part !== '').join(' · ')
  }, [view, name])
}

/** The picture that came with the page goes when the live one is there, or another is wanted. */
function useFirstPicture(failed: boolean) {
  const shown = useWorkspace(({ scene, failure }) => scene !== undefined || failure !== undefined)
  useEffect(() => {
    const first = document.querySelector<HTMLElement>('#first-picture')
    const wanted = new URLSearchParams(window.location.hash.slice(1)).get('view')
    if (first && (failed || shown || (wanted !== null && wanted !== first.dataset['view']))) first.remove()
  }, [failed, shown])
}

type Opening =
  | { readonly state: 'opening' | 'open' }
  | { readonly state: 'failed'; readonly message: string; readonly final: boolean; readonly again: () => void }

function useOpening(id: string): Opening {
  const [attempt, setAttempt] = useState(0)
  const [opened, setOpened] = useState<Opening>({ state: 'opening' })
  useEffect(() => {
    let current = true
    const failed = (error: unknown) => {
      if (!current) return
      const message = error instanceof Error ? error.message : String(error)
      const final = error instanceof ApiError && error.status === 404
      setOpened({ state: 'failed', message, final, again: () => setAttempt((count) => count + 1) })
    }
    openWorkspace(id).then(() => {
      if (!current) return
      setOpened({ state: 'open' })
      window.addEventListener('popstate', followAddress)
    }, failed)
    return () => {
      current = false
      window.removeEventListener('popstate', followAddress)
    }
  }, [id, attempt])
  return opened
}

const RETRY_MS = 3000

function Failure({ message, again, final }: { message: string; again: () => void; final: boolean }) {
  useEffect(() => {
    if (final) return
    const timer = setTimeout(again, RETRY_MS)
    return () => clearTimeout(timer)
  }, [again, final])
  return (
    <main className="grid h-dvh place-items-center">
      <div className="max-w-[400px] text-center">
        <p className="text-[15px] font-semibold">{message}</p>
        <p className="mt-1 mb-4 text-quiet">
          {final
            ? 'It may have been removed, or the address is not complete.'
            : 'Nothing that was confirmed is lost. Skivel tries again every few seconds.'}
        </p>
        {final ? (
          <a className="btn btn-primary btn-sm" href="/">
            All workspaces
          </a>
        ) : (
          <button type="button" className="btn btn-primary btn-sm" onClick={again}>
            Try now
          </button>
        )}
      </div>
    </main>
  )
}

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || target.matches('input, textarea, select'))

/** Printing is a document: the browser would print the page around the picture. */
function toPrint(): void {
  import('../handOut').then(
    ({ remember, remembered }) => {
      remember({ ...remembered(), format: 'pdf' })
      useWorkspace.setState({ dialog: 'hand-out' })
    },
    (error: unknown) => notify(`This could not be opened: ${wordsOf(error)}. Try again.`, 'refusal'),
  )
}

/** Keys that work wherever nothing is typed. */
function useKeys(): void {
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      const control = event.ctrlKey || event.metaKey
      const key = event.key.toLowerCase()
      if (control && key === 'k') {
        event.preventDefault()
        useWorkspace.setState({ dialog: 'go-to', pick: undefined })
      } else if (control && key === 'p') {
        event.preventDefault()
        if (!document.querySelector('dialog[open]')) toPrint()
      } else if (control && key === 'z') {
        event.preventDefault()
        if (event.shiftKey) redo()
        else undo()
      } else if (control && key === 'y') {
        event.preventDefault()
        redo()
      } else if (!control && !event.altKey && !isTyping(event.target) && !document.querySelector('dialog[open]'))
        general(event)
    }
    window.addEventListener('keydown', onKeyDown)
    return () => window.removeEventListener('keydown', onKeyDown)
  }, [])
}

/** A failure that nobody has caught is said: something was not done, and the person must not have to guess. */
function useFailures() {
  useEffect(() => {
    const tell = (error: unknown) =>
      notify(`Something failed that was not foreseen: ${wordsOf(error)}. The facts are safe.`, 'refusal')
    const onError = (event: ErrorEvent) => tell(event.error ?? event.message)
    const onRejection = (event: PromiseRejectionEvent) => tell(event.reason)
    window.addEventListener('error', onError)
    window.addEventListener('unhandledrejection', onRejection)
    return () => {
      window.removeEventListener('error', onError)
      window.removeEventListener('unhandledrejection', onRejection)
    }
  }, [])
}

/** Unfolds a part at once, so that something in it can take the keyboard. */
const unfold = (edge: (typeof EDGES)[number]) => flushSync(() => fold(edge, false))

function general(event: KeyboardEvent): void {
  const focus = (selector: string) => {
    event.preventDefault()
    document.querySelector<HTMLElement>(selector)?.focus()
  }
  const inGrid = event.target instanceof HTMLElement && event.target.closest('.ag-root') !== null
  if (inGrid) return
  const edge = EDGES.find((one) => EDGE_NAMES[one].key === event.key)
  if (edge) fold(edge)
  else if (event.key === 'z') foldAll()
  else if (event.key === 'd') {
    unfold('dateline')
    focus('[data-dateline]')
  } else if (event.key === 'r') {
    unfold('registers')
    focus('[data-registers] [role=tab][aria-selected=true]')
  } else if (event.key === 'f') toFindings()
  else if (event.key === '"') {
    event.preventDefault()
    speak()
  } else if (event.key === '0') useCamera.getState().fit()
  else if (event.key === '?') useWorkspace.setState({ dialog: 'keys' })
  else if (event.target === document.body) {
    // Nothing has the focus: keys of the picture go to the sheet.
    const belongs =
      event.key.startsWith('Arrow') ||
      currentNotation()?.actions.some((action) => action.key === event.key && offered().includes(action))
    const sheet = document.querySelector<HTMLElement>('[data-testid=sheet]')
    if (belongs && sheet) {
      sheet.focus()
      sheet.dispatchEvent(new KeyboardEvent('keydown', { key: event.key, bubbles: true }))
    }
  }
}
