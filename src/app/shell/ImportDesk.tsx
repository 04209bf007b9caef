import { useEffect, useMemo, useState, type ReactNode } from 'react'
import type { Finding, ImportPlan, OfferedImport, Table } from '../../core/notation'
import { guessMapping, mappedRows } from '../../core/tabular'
import { keepSpare } from '../engine'
import { useOffer } from '../offers'
import { make } from '../store/changes'
import { planImport, readTableFile } from '../store/readings'
import { notify, useWorkspace } from '../store/state'
import { ApiError, ask } from '../sync/api'
import { Dialog } from './Dialog'

const PREVIEW_ROWS = 5
const MOST_LINES = 200
const TABLES = ['.csv', '.tsv', '.txt', '.xlsx']

const close = () => useWorkspace.setState({ dialog: undefined })

/** A pasted or opened table or directory file: which column is which, what it would change, and what is wrong with it, before anything is written. */
export function ImportDesk() {
  const [sort] = useOffer().imports
  const [table, setTable] = useState<Table | undefined>(undefined)
  const [fault, setFault] = useState<string | undefined>(undefined)
  const [reading, setReading] = useState<{ name: string; stop: () => void } | undefined>(undefined)
  useEffect(keepSpare, [table])
  const take = (result: Table | { readonly refused: string }) => {
    if ('refused' in result) setFault(result.refused)
    else setTable(result)
  }
  const read = (text: string) => {
    if (text.trim() !== '') void open(new File([text], 'what was pasted'))
  }
  const open = async (file: File | undefined) => {
    if (!file) return
    if (!sort) return
    setFault(undefined)
    const { result, stop } = readTableFile(sort.id, file)
    setReading({ name: file.name, stop })
    take(await result)
    setReading(undefined)
  }
  const others = sort?.readers.map(({ title }) => title) ?? []
  const accepted = [...TABLES, ...(sort?.readers.flatMap(({ extensions }) => extensions) ?? [])]
  return (
    <Dialog title="Bring in a table" width={900} onClose={close}>
      {sort && table ? (
        <Desk sort={sort} table={table} again="Another table" onAgain={() => setTable(undefined)} />
      ) : (
        <>
          <p className="mb-2 text-quiet">
            {sort?.title}. Copy the cells with their heading from a spreadsheet and paste them here, or open a file:{' '}
            {['CSV', 'XLSX', ...others].join(', ')}.
          </p>
          <textarea
            data-first
            aria-label="Cells of a table"
            className="numeric h-[220px] w-full resize-none rounded-[3px] border border-hairline bg-transparent p-3 text-[12px] outline-none focus:border-primary"
            placeholder={'Id\tName\tTitle\tManager id\n1\tAda Holm\tHead\t\n2\tBen Aas\tClerk\t1'}
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

/** The staff directory’s people as a table, and what a synchronisation would change. */
export function DirectoryDesk() {
  const { id } = useWorkspace.getState()
  const [sort] = useOffer().imports
  const [table, setTable] = useState<Table | undefined>(undefined)
  const [fault, setFault] = useState<string | undefined>(undefined)
  const [attempt, setAttempt] = useState(0)
  useEffect(() => {
    let current = true
    setFault(undefined)
    ask<Table>('/api/directory/users').then(
      (read) => current && setTable(read),
      (error: unknown) => current && setFault(error instanceof ApiError ? error.message : String(error)),
    )
    return () => {
      current = false
    }
  }, [id, attempt])
  return (
    <Dialog title="Bring in from the directory" width={900} onClose={close}>
      {sort && table ? (
        <Desk
          sort={sort}
          table={table}
          source="dir-"
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
        <Waiting words="Asking the directory" />
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

const Waiting = ({ words, children }: { words: string; children?: ReactNode }) => (
  <p role="status" className="flex items-center gap-3 text-quiet">
    {words} … <progress className="progress progress-primary w-[120px]" /> {children}
  </p>
)

interface Planned {
  readonly plan: ImportPlan
  readonly errors: readonly Finding[]
}

function Desk({
  sort,
  table,
  source,
  again,
  onAgain,
}: {
  sort: OfferedImport
  table: Table
  source?: string
  again: string
  onAgain: () => void
}) {
  const [mapping, setMapping] = useState(() => guessMapping(table.heading, sort.columns))
  const [leaveOutFaulty, setLeaveOut] = useState(false)
  const [endGone, setEndGone] = useState(false)
  const [planned, setPlanned] = useState<Planned | undefined>(undefined)
  const [phase, setPhase] = useState<string | undefined>(undefined)
  const [stop, setStop] = useState<(() => void) | undefined>(undefined)
  const rows = useMemo(() => mappedRows(table, mapping), [table, mapping])
  useEffect(() => {
    let current = true
    setPlanned(undefined)
    setPhase('Handing over the rows')
    const options = { leaveOutFaulty, endGone, ...(source === undefined ? {} : { source }) }
    const planning = planImport(sort.id, rows, options, (words) => current && setPhase(words))
    const halt = () => {
      current = false
      planning.stop()
    }
    setStop(() => () => {
      halt()
      setPhase(undefined)
    })
    void planning.result.then((result) => {
      if (!current) return
      setPlanned(result)
      setPhase(undefined)
    })
    return halt
  }, [sort, rows, source, leaveOutFaulty, endGone])

  const choose = (index: number, column: string) =>
    setMapping(mapping.map((now, i) => (i === index ? column || undefined : now === column ? undefined : now)))
  const bringIn = () => {
    if (!planned || planned.plan.change.steps.length === 0) return
    if (!make(planned.plan.change)) return
    close()
    notify(`${planned.plan.change.label}: ${planned.plan.added.length} new, ${planned.plan.altered.length} changed.`)
  }
  return (
    <div className="space-y-3">
      <div className="overflow-x-auto border border-hairline">
        <table className="w-full text-[12px]">
          <thead>
            <tr>
              {table.heading.map((heading, index) => (
                <th key={index} className="border-b border-hairline px-2 py-1 text-left font-normal">
                  <span className="block truncate text-quiet">{heading || '(no heading)'}</span>
                  <select
                    aria-label={`What “${heading}” is`}
                    className="h-[24px] w-full min-w-[90px] border-b border-hairline bg-base-100 font-semibold"
                    value={mapping[index] ?? ''}
                    onChange={(event) => choose(index, event.target.value)}
                  >
                    <option value="">left out</option>
                    {sort.columns.map(({ id, label }) => (
                      <option key={id} value={id}>
                        {label}
                      </option>
                    ))}
                  </select>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.rows.slice(0, PREVIEW_ROWS).map((cells, row) => (
              <tr key={row}>
                {table.heading.map((_, index) => (
                  <td
                    key={index}
                    className={`max-w-[200px] truncate px-2 py-0.5 ${mapping[index] ? '' : 'text-quiet'}`}
                  >
                    {cells[index]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="text-quiet">
        {table.rows.length.toLocaleString('en')} {table.rows.length === 1 ? 'row' : 'rows'}.{' '}
        {table.rows.length > PREVIEW_ROWS ? `The first ${PREVIEW_ROWS} are shown.` : ''}
        {table.notes?.map((note) => ` ${note}`)}
      </p>
      {planned ? (
        <Outcome
          planned={planned}
          leaveOut={leaveOutFaulty}
          onLeaveOut={setLeaveOut}
          endGone={endGone}
          onEndGone={setEndGone}
        />
      ) : phase ? (
        <Waiting words={phase}>
          <button type="button" className="verb" onClick={() => stop?.()}>
            Stop
          </button>
        </Waiting>
      ) : (
        <p className="text-quiet">
          Stopped. Nothing was changed. Choose what a column is, or another table, to begin anew.
        </p>
      )}
      <div className="flex items-center gap-4">
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={!planned || planned.plan.change.steps.length === 0}
          onClick={bringIn}
        >
          Bring it in
        </button>
        <button type="button" className="verb" onClick={onAgain}>
          {again}
        </button>
      </div>
    </div>
  )
}

function Outcome({
  planned: { plan, errors },
  leaveOut,
  onLeaveOut,
  endGone,
  onEndGone,
}: {
  planned: Planned
  leaveOut: boolean
  onLeaveOut: (on: boolean) => void
  endGone: boolean
  onEndGone: (on: boolean) => void
}) {
  const { added, altered, gone, faults, change } = plan
  const faultyRows = new Set(faults.map(({ row }) => row)).size
  return (
    <div className="max-h-[220px] space-y-2 overflow-y-auto" data-testid="import-outcome">
      {faults.length > 0 && (
        <section>
          <p className="font-semibold text-error">
            ■ {faultyRows} {faultyRows === 1 ? 'row does' : 'rows do'} not fit
            {leaveOut ? ' and will be left out' : '; nothing is brought in'}.
          </p>
          <Lines lines={faults.map(({ row, column, message }) => `Row ${row}, ${column}: ${message}`)} />
        </section>
      )}
      {(faults.length > 0 || leaveOut) && (
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={leaveOut}
            onChange={(event) => onLeaveOut(event.target.checked)}
          />
          Leave them out and bring in the rest
        </label>
      )}
      {change.steps.length === 0 && faults.length === 0 && <p>The facts are as the table says already.</p>}
      <p className="tabular-nums">
        {added.length.toLocaleString('en')} new, {altered.length.toLocaleString('en')} changed,{' '}
        {gone.length.toLocaleString('en')} no longer in the table.
      </p>
      {added.length > 0 && <Fold title="New" lines={added} />}
      {altered.length > 0 && <Fold title="Changed" lines={altered} />}
      {gone.length > 0 && (
        <>
          <Fold title="No longer in the table" lines={gone.map(({ name }) => name)} />
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={endGone}
              onChange={(event) => onEndGone(event.target.checked)}
            />
            End them on the day shown
          </label>
        </>
      )}
      {errors.length > 0 && (
        <section>
          <p className="font-semibold text-error">
            ■ It would bring {errors.length.toLocaleString('en')} new contradiction{errors.length === 1 ? '' : 's'}.
          </p>
          <Lines lines={errors.map(({ message }) => message)} />
        </section>
      )}
    </div>
  )
}

const Fold = ({ title, lines }: { title: string; lines: readonly string[] }) => (
  <details>
    <summary className="cursor-pointer text-quiet">{title}</summary>
    <Lines lines={lines} />
  </details>
)

const Lines = ({ lines }: { lines: readonly string[] }) => (
  <ul className="pl-4 text-[12px] leading-[18px]">
    {lines.slice(0, MOST_LINES).map((line, index) => (
      <li key={index}>{line}</li>
    ))}
    {lines.length > MOST_LINES && <li>… and {(lines.length - MOST_LINES).toLocaleString('en')} more.</li>}
  </ul>
)
