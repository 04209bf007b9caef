import { proxy, type Remote } from 'comlink'
import { writeWorkspace } from '../../core/file'
import { wordsOf, type Id, type Model } from '../../core/model'
import type { Finding, ImportOptions, ImportPlan, ImportedFile, Refusal, Table } from '../../core/notation'
import type { Understood } from '../../core/tabular'
import type { ChosenFile, Engine, MappedColumns, TableSketch } from '../../worker/contract'
import { startStoppable } from '../engine'
import { useWorkspace } from './state'

const get = useWorkspace.getState

export interface Reading<T> {
  readonly result: Promise<T | Refusal>
  /** Ends it at once, wherever it is. */
  readonly stop: () => void
}

/** How long a file may be read for. */
const READING_MS = 30_000
const MOST_BYTES = 30_000_000

const tooLarge = ({ name }: File): Refusal => ({ refused: `“${name}” is larger than 30 MB. Bring it in in parts.` })
const tooSlow = (name: string): string => `“${name}” takes longer than 30 seconds to read, and was stopped.`

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
    if (file.size > MOST_BYTES) return tooLarge(file)
    await stopped.engine.load(writeWorkspace(model))
    return read(stopped.engine, viewId, { name: file.name, bytes: await file.arrayBuffer() })
  }
  const late = new Promise<Refusal>((resolve) => {
    tooLong = resolve
    timer = setTimeout(() => end(tooSlow(file.name)), READING_MS)
  })
  const result = Promise.race([work(), late])
    .catch((error: unknown): Refusal => ({ refused: `“${file.name}” could not be read: ${wordsOf(error)}.` }))
    .finally(() => {
      clearTimeout(timer)
      stopped.stop()
    })
  return { result, stop: () => end('Reading was stopped. Nothing was changed.') }
}

/** A file that is read as a whole: what it would bring. */
export const readWholeFile = (sort: string, file: File): Reading<ImportedFile> =>
  reading(file, async (reader, view, chosen) => await reader.readFile(view, get().day, sort, chosen))

/** A table that is to be brought in, kept in a thread of its own, which can be ended at any moment and begins anew with what is next asked. */
export interface TableDesk {
  readonly sketch: () => Promise<TableSketch | Refusal>
  readonly understand: (columns: MappedColumns) => Promise<readonly (Understood | undefined)[]>
  /** What it would do. */
  readonly plan: (
    columns: MappedColumns,
    options: ImportOptions,
    onPhase: (phase: string) => void,
  ) => Promise<{ plan: ImportPlan; errors: Finding[] } | undefined>
  readonly stop: () => void
}

/** A chosen file, or a table that is one already, on the desk. */
export function openTable(sort: string, source: File | Table): TableDesk {
  let thread:
    { engine: Remote<Engine>; stop: () => void; opened: Promise<TableSketch | Refusal>; holds: Model } | undefined
  let reading: ((refusal: Refusal) => void) | undefined
  const stop = (refused = 'Reading was stopped. Nothing was changed.') => {
    reading?.({ refused })
    thread?.stop()
    thread = undefined
  }
  const open = async ({ engine }: { engine: Remote<Engine> }, model: Model): Promise<TableSketch | Refusal> => {
    const { viewId: view } = get()
    if (view === undefined) return { refused: 'There is no view to bring anything into.' }
    if (source instanceof File && source.size > MOST_BYTES) return tooLarge(source)
    await engine.load(writeWorkspace(model))
    return source instanceof File
      ? engine.readTable(view, sort, { name: source.name, bytes: await source.arrayBuffer() })
      : engine.takeTable(view, sort, source)
  }
  const begun = () => {
    if (thread) return thread
    const { model } = get()
    const stoppable = startStoppable()
    const name = source instanceof File ? source.name : 'The table'
    const late = new Promise<Refusal>((resolve) => (reading = resolve))
    const timer = setTimeout(() => stop(tooSlow(name)), READING_MS)
    const opened = Promise.race([open(stoppable, model), late])
      .catch((error: unknown): Refusal => ({ refused: `“${name}” could not be read: ${wordsOf(error)}.` }))
      .finally(() => {
        clearTimeout(timer)
        reading = undefined
      })
    return (thread = { ...stoppable, opened, holds: model })
  }
  return {
    sketch: () => begun().opened,
    understand: async (columns) => {
      const { engine, opened } = begun()
      await opened
      return engine.understand(columns)
    },
    plan: async (columns, options, onPhase) => {
      const at = begun()
      const { viewId: view, day, model } = get()
      await at.opened
      if (view === undefined) return undefined
      // Others may have changed the facts since.
      if (at.holds !== model) {
        await at.engine.load(writeWorkspace(model))
        at.holds = model
      }
      return at.engine.planImport({ view, day, ...columns, options }, proxy(onPhase))
    },
    stop: () => stop(),
  }
}
