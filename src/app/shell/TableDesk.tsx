import { useEffect, useState } from 'react'
import type { OfferedImport } from '../../core/notation'
import type { Understood } from '../../core/tabular'
import type { TableSketch } from '../../worker/contract'
import { make } from '../store/changes'
import type { TableDesk as Opened } from '../store/readings'
import { notify, useWorkspace } from '../store/state'
import { ImportOutcome, type Planned } from './ImportOutcome'
import { Waiting } from './Waiting'

const close = () => useWorkspace.setState({ dialog: undefined })

/** A table before it is brought in: what each column is, how its cells are read, and what would come of it. */
export function TableDesk({
  sort,
  desk,
  sketch,
  source,
  again,
  onAgain,
}: {
  sort: OfferedImport
  desk: Opened
  sketch: TableSketch
  source?: string
  again: string
  onAgain: () => void
}) {
  const [mapping, setMapping] = useState(sketch.mapping)
  const [ways, setWays] = useState<readonly (string | undefined)[]>([])
  const [understood, setUnderstood] = useState<readonly (Understood | undefined)[]>([])
  const [leaveOutFaulty, setLeaveOut] = useState(false)
  const [endGone, setEndGone] = useState(false)
  const [planned, setPlanned] = useState<Planned | undefined>(undefined)
  const [phase, setPhase] = useState<string | undefined>(undefined)
  useEffect(() => {
    let current = true
    setPlanned(undefined)
    setPhase('Reading the columns')
    const options = { leaveOutFaulty, endGone, ...(source === undefined ? {} : { source }) }
    const work = async () => {
      const columns = await desk.understand({ mapping, ways })
      if (current) setUnderstood(columns)
      const found = await desk.plan({ mapping, ways }, options, (words) => current && setPhase(words))
      if (!current) return
      setPlanned(found)
      setPhase(undefined)
    }
    void work()
    return () => {
      current = false
    }
  }, [desk, mapping, ways, source, leaveOutFaulty, endGone])

  const choose = (index: number, column: string) => {
    setMapping(mapping.map((now, i) => (i === index ? column || undefined : now === column ? undefined : now)))
    setWays(ways.map((way, i) => (i === index ? undefined : way)))
  }
  const readAs = (index: number, way: string) => setWays(sketch.heading.map((_, i) => (i === index ? way : ways[i])))
  const stop = () => {
    desk.stop()
    setPhase(undefined)
  }
  const asked = sketch.heading.flatMap((heading, index) => {
    const column = understood[index]
    return column?.doubtful && ways[index] === undefined ? [{ heading, index, column }] : []
  })
  const ready = planned !== undefined && planned.plan.change.steps.length > 0 && asked.length === 0
  const bringIn = () => {
    if (!ready || !make(planned.plan.change)) return
    close()
    notify(`${planned.plan.change.label}: ${planned.plan.added.length} new, ${planned.plan.altered.length} changed.`)
  }
  return (
    <div className="space-y-3">
      <div className="overflow-x-auto border border-hairline">
        <table className="w-full text-[12px]">
          <thead>
            <tr className="align-top">
              {sketch.heading.map((heading, index) => (
                <th key={index} className="border-b border-hairline px-2 py-1 text-left font-normal">
                  <span className="block max-w-[220px] truncate text-quiet">{heading || '(no heading)'}</span>
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
                  <HowRead heading={heading} understood={understood[index]} onChoose={(way) => readAs(index, way)} />
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sketch.rows.map((cells, row) => (
              <tr key={row}>
                {sketch.heading.map((_, index) => (
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
        {sketch.count.toLocaleString('en')} {sketch.count === 1 ? 'row' : 'rows'}.{' '}
        {sketch.count > sketch.rows.length ? `The first ${sketch.rows.length} are shown.` : ''}
        {sketch.notes.map((note) => ` ${note}`)}
      </p>
      {asked.map(({ heading, index, column }) => (
        <fieldset key={index} className="border-l-2 border-warning pl-3">
          <legend className="sr-only">How “{heading}” is meant</legend>
          <p className="font-semibold">▲ Nothing in “{heading}” tells how it is meant.</p>
          <div className="flex flex-wrap gap-x-4">
            {column.ways.map(({ id, label }) => (
              <button key={id} type="button" className="verb" onClick={() => readAs(index, id)}>
                {label}
              </button>
            ))}
          </div>
        </fieldset>
      ))}
      {planned ? (
        <ImportOutcome
          planned={planned}
          leaveOut={leaveOutFaulty}
          onLeaveOut={setLeaveOut}
          endGone={endGone}
          onEndGone={setEndGone}
        />
      ) : phase ? (
        <Waiting words={phase}>
          <button type="button" className="verb" onClick={stop}>
            Stop
          </button>
        </Waiting>
      ) : (
        <p className="text-quiet">
          Stopped. Nothing was changed. Choose what a column is, or another table, to begin anew.
        </p>
      )}
      <div className="flex items-center gap-4">
        <button type="button" className="btn btn-primary btn-sm" disabled={!ready} onClick={bringIn}>
          Bring it in
        </button>
        <button type="button" className="verb" onClick={onAgain}>
          {again}
        </button>
      </div>
    </div>
  )
}

/** What was guessed of a column’s cells, and the other ways in which they can be read. */
function HowRead({
  heading,
  understood,
  onChoose,
}: {
  heading: string
  understood: Understood | undefined
  onChoose: (way: string) => void
}) {
  if (!understood) return null
  const others = understood.doubtful ? [] : understood.ways.filter(({ id }) => id !== understood.way)
  return (
    <span className="block max-w-[220px] py-0.5 leading-[16px] text-quiet">
      {understood.said}
      {others.map(({ id, label }) => (
        <button
          key={id}
          type="button"
          className="verb block"
          aria-label={`Read “${heading}” ${label}`}
          title={label}
          onClick={() => onChoose(id)}
        >
          or {id}
        </button>
      ))}
    </span>
  )
}
