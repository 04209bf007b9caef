import { useEffect, useState } from 'react'
import type { Table } from '../../core/notation'
import type { TableSketch } from '../../worker/contract'
import { keepSpare } from '../engine'
import { useOffer } from '../offers'
import { openTable, type TableDesk as Opened } from '../store/readings'
import { useWorkspace } from '../store/state'
import { ApiError, ask } from '../sync/api'
import { Dialog } from './Dialog'
import { TableDesk } from './TableDesk'
import { Waiting } from './Waiting'

const TABLES = ['.csv', '.tsv', '.txt', '.xlsx']

const close = () => useWorkspace.setState({ dialog: undefined })

/** A table on the desk, once its first rows are known. */
interface OnDesk {
  readonly desk: Opened
  readonly sketch: TableSketch
}

/** A pasted or opened table or directory file: which column is which, what it would change, and what is wrong with it, before anything is written. */
export function ImportDesk() {
  const sorts = useOffer().imports
  const [wanted, setWanted] = useState<string | undefined>(undefined)
  const sort = sorts.find(({ id }) => id === wanted) ?? sorts[0]
  const [table, setTable] = useState<OnDesk | undefined>(undefined)
  const [fault, setFault] = useState<string | undefined>(undefined)
  const [reading, setReading] = useState<{ name: string; stop: () => void } | undefined>(undefined)
  useEffect(keepSpare, [table])
  useEffect(() => table?.desk.stop, [table])
  // Whoever closes the desk waits for no file.
  useEffect(() => reading?.stop, [reading])
  const read = (text: string) => {
    if (text.trim() !== '') void open(new File([text], 'what was pasted'))
  }
  const open = async (file: File | undefined) => {
    if (!file) return
    if (!sort) return
    setFault(undefined)
    const desk = openTable(sort.id, file)
    setReading({ name: file.name, stop: desk.stop })
    const sketch = await desk.sketch()
    setReading(undefined)
    if ('refused' in sketch) {
      setFault(sketch.refused)
      desk.stop()
    } else setTable({ desk, sketch })
  }
  const others = sort?.readers.map(({ title }) => title) ?? []
  const accepted = [...TABLES, ...(sort?.readers.flatMap(({ extensions }) => extensions) ?? [])]
  return (
    <Dialog title="Bring in a table" width={940} onClose={close}>
      {sort && table ? (
        <TableDesk sort={sort} {...table} again="Another table" onAgain={() => setTable(undefined)} />
      ) : (
        <>
          {sorts.length > 1 && (
            <fieldset className="mb-2 flex gap-5">
              <legend className="sr-only">What the table holds</legend>
              {sorts.map(({ id, title }) => (
                <label key={id} className="flex items-center gap-1.5">
                  <input type="radio" name="sort" checked={id === sort?.id} onChange={() => setWanted(id)} />
                  {title}
                </label>
              ))}
            </fieldset>
          )}
          <p className="mb-2 text-quiet">
            {sorts.length > 1 ? '' : `${sort?.title ?? ''}. `}Copy the cells with their heading from a spreadsheet and
            paste them here, or open a file: {['CSV', 'XLSX', ...others].join(', ')}.
          </p>
          <textarea
            data-first
            aria-label="Cells of a table"
            className="numeric h-[220px] w-full resize-none rounded-[3px] border border-hairline bg-transparent p-3 text-[12px] outline-none focus:border-primary"
            placeholder={sort?.columns
              .slice(0, 5)
              .map(({ label }) => label)
              .join('\t')}
            onPaste={(event) => {
              event.preventDefault()
              read(event.clipboardData.getData('text/plain'))
            }}
            onBlur={(event) => read(event.target.value)}
          />
          <Fault words={fault} />
          {reading && (
            <div className="mt-2">
              <Waiting words={`Reading ${reading.name}`}>
                <button type="button" className="verb" onClick={reading.stop}>
                  Stop
                </button>
              </Waiting>
            </div>
          )}
          <label className="verb mt-3 inline-block cursor-pointer">
            Open a file
            <input
              type="file"
              accept={accepted.join(',')}
              className="sr-only"
              onChange={(event) => {
                void open(event.target.files?.[0])
                event.target.value = ''
              }}
            />
          </label>
        </>
      )}
    </Dialog>
  )
}

/** Where programs that are asked answer, and before what is brought in from them. */
const ASKED = {
  directory: { path: '/api/directory/users', source: 'dir-' },
  network: { path: '/api/network/neighbours', source: 'net-' },
} as const

/** What another program answers, such as the staff directory, as a table, and what a synchronisation would change. */
export function DirectoryDesk() {
  const { id } = useWorkspace.getState()
  const sort = useOffer().imports.find(({ readers }) => readers.some(({ asked }) => asked))
  const whom = sort?.readers.find(({ asked }) => asked)?.asked ?? 'directory'
  const [table, setTable] = useState<OnDesk | undefined>(undefined)
  const [fault, setFault] = useState<string | undefined>(undefined)
  const [attempt, setAttempt] = useState(0)
  const kind = sort?.id
  useEffect(() => {
    if (kind === undefined) return undefined
    let current = true
    setFault(undefined)
    const read = async () => {
      const desk = openTable(kind, await ask<Table>(ASKED[whom].path))
      const sketch = await desk.sketch()
      if (!current || 'refused' in sketch) desk.stop()
      if (!current) return
      if ('refused' in sketch) setFault(sketch.refused)
      else setTable({ desk, sketch })
    }
    read().catch((error: unknown) => {
      if (current) setFault(error instanceof ApiError ? error.message : String(error))
    })
    return () => {
      current = false
    }
  }, [id, attempt, kind, whom])
  useEffect(() => table?.desk.stop, [table])
  return (
    <Dialog title={`Bring in from the ${whom}`} width={940} onClose={close}>
      {sort && table ? (
        <TableDesk
          sort={sort}
          {...table}
          source={ASKED[whom].source}
          again="Ask it again"
          onAgain={() => {
            setTable(undefined)
            setAttempt(attempt + 1)
          }}
        />
      ) : fault ? (
        <>
          <Fault words={fault} />
          <button type="button" className="verb mt-3" onClick={() => setAttempt(attempt + 1)}>
            Try again
          </button>
        </>
      ) : (
        <Waiting words={`Asking the ${whom}`} />
      )}
    </Dialog>
  )
}

const Fault = ({ words }: { words: string | undefined }) =>
  words ? (
    <p role="alert" className="mt-2 text-error">
      ■ {words}
    </p>
  ) : null
