import { proxy, type Remote } from 'comlink'
import { writeWorkspace } from '../../core/file'
import { wordsOf, type Id } from '../../core/model'
import type { Finding, ImportOptions, ImportPlan, ImportRow, ImportedFile, Refusal, Table } from '../../core/notation'
import type { ChosenFile, Engine } from '../../worker/contract'
import { startStoppable } from '../engine'
import { useWorkspace } from './state'

const get = useWorkspace.getState

interface Planning {
  readonly result: Promise<{ plan: ImportPlan; errors: Finding[] } | undefined>
  /** Ends it at once, wherever it is. */
  readonly stop: () => void
}

export interface Reading<T> {
  readonly result: Promise<T | Refusal>
  /** Ends it at once, wherever it is. */
  readonly stop: () => void
}

/** How long a file may be read for. */
const READING_MS = 30_000
const MOST_BYTES = 30_000_000

/** Reads a chosen file in a thread of its own, which is ended when it takes too long. */
function reading<T>(
  file: File,
  read: (reader: Remote<Engine>, view: Id, chosen: ChosenFile) => Promise<T | Refusal>,
): Reading<T> {
  const { viewId, model } = get()
  const stopped = startStoppable()
  let timer: ReturnType<typeof setTimeout> | undefined
  let tooLong: (refusal: Refusal) => void = () => undefined
  const end = (refused: string) => {
    stopped.stop()
    tooLong({ refused })
  }
  const work = async (): Promise<T | Refusal> => {
    if (viewId === undefined) return { refused: 'There is no view to bring anything into.' }
    if (file.size > MOST_BYTES) return { refused: `“${file.name}” is larger than 30 MB. Bring it in in parts.` }
    await stopped.engine.load(writeWorkspace(model))
    return read(stopped.engine, viewId, { name: file.name, bytes: await file.arrayBuffer() })
  }
  const late = new Promise<Refusal>((resolve) => {
    tooLong = resolve
    timer = setTimeout(() => end(`“${file.name}” takes longer than 30 seconds to read, and was stopped.`), READING_MS)
  })
  const result = Promise.race([work(), late])
    .catch((error: unknown): Refusal => ({ refused: `“${file.name}” could not be read: ${wordsOf(error)}.` }))
    .finally(() => {
      clearTimeout(timer)
      stopped.stop()
    })
  return { result, stop: () => end('Reading was stopped. Nothing was changed.') }
}

/** A file as a table of a sort that the view’s notation takes. */
export const readTableFile = (sort: string, file: File): Reading<Table> =>
  reading(file, async (reader, view, chosen) => await reader.readTable(view, sort, chosen))

/** A file that is read as a whole: what it would bring. */
export const readWholeFile = (sort: string, file: File): Reading<ImportedFile> =>
  reading(file, async (reader, view, chosen) => await reader.readFile(view, get().day, sort, chosen))

/** What bringing rows of a table in would do, computed in a thread of its own, so that it can be stopped at any moment. */
export function planImport(
  sort: string,
  rows: readonly ImportRow[],
  options: ImportOptions,
  onPhase: (phase: string) => void,
): Planning {
  const { viewId: view, day, model } = get()
  if (view === undefined) return { result: Promise.resolve(undefined), stop: () => undefined }
  const { engine: planner, stop } = startStoppable()
  const work = async () => {
    await planner.load(writeWorkspace(model))
    return planner.planImport({ view, day, sort, rows, options }, proxy(onPhase))
  }
  const result = work().finally(stop)
  return { result, stop }
}
