import { Suspense, useEffect, useMemo, useState } from 'react'
import { dayInWords, wordsOf, type Day } from '../../core/model'
import type { OfferedSheet, SheetRow } from '../../core/notation'
import { later } from '../later'
import { countedBy, numbersOn } from '../store/asking'
import { select } from '../store/shown'
import { notify, useParts } from '../store/state'
import type { Pair } from './pair'

// The charts' library is large: it comes when a chart is first shown.
const Chart = later(() => import('./Chart').then(({ Chart }) => Chart))

/** What the facts amount to: a chart and the table beneath it, of one day or of two. A row that is clicked selects what it counts. */
export function Numbers({ notation, sheets }: { notation: string; sheets: readonly OfferedSheet[] }) {
  const { model, day, compared } = useParts('model', 'day', 'compared')
  const [chosen, setChosen] = useState<string | undefined>(undefined)
  const [measure, setMeasure] = useState<string | undefined>(undefined)
  const sheet = sheets.find(({ id }) => id === chosen) ?? sheets[0]
  const path = `${notation}/${sheet?.id ?? ''}`
  const now = useRows(path, day, model)
  const then = useRows(path, sheet?.chart?.sort === 'line' ? undefined : compared, model)
  const pairs = useMemo(() => (sheet && now ? pairsOf(sheet, now, then) : undefined), [sheet, now, then])
  if (!sheet) return <p className="p-4 text-quiet">There is nothing to count here.</p>
  const { chart } = sheet
  const value = chart?.values.find((id) => id === measure) ?? chart?.values[0]
  const labelOf = (id: string) => sheet.columns.find((column) => column.id === id)?.label ?? id
  const pick = async (row: SheetRow | undefined) => {
    if (row && sheet.leads) select(await countedBy(path, day, row), { reveal: true })
  }
  return (
    <div className="flex min-h-0 flex-1" data-testid="numbers-panel">
      <div
        className="w-[104px] shrink-0 overflow-y-auto border-r border-hairline py-2"
        role="group"
        aria-label="Sheets"
      >
        {sheets.map(({ id, title }) => (
          <button
            key={id}
            type="button"
            aria-pressed={id === sheet.id}
            className="block h-[24px] w-full pl-4 text-left text-quiet hover:text-base-content aria-pressed:bg-wash aria-pressed:font-semibold aria-pressed:text-base-content"
            onClick={() => setChosen(id)}
          >
            {title}
          </button>
        ))}
      </div>
      {chart && value && (
        <div className="flex w-[270px] shrink-0 flex-col border-r border-hairline">
          <div className="flex shrink-0 items-center gap-3 px-4 pt-1.5">
            {chart.values.map((id) => (
              <button
                key={id}
                type="button"
                aria-pressed={id === value}
                className="text-[12px] text-quiet aria-pressed:font-semibold aria-pressed:text-primary"
                onClick={() => setMeasure(id)}
              >
                {labelOf(id)}
              </button>
            ))}
            <span className="flex-1" />
            {then && compared && <Days now={day} then={compared} />}
          </div>
          <Suspense fallback={<p className="p-4 text-quiet">The chart is coming …</p>}>
            {pairs && (
              <Chart
                pairs={pairs}
                value={value}
                label={labelOf(value)}
                sort={chart.sort}
                day={day}
                days={then && compared ? [day, compared] : [day]}
                onPick={(pair) => void pick(pair.now)}
              />
            )}
          </Suspense>
        </div>
      )}
      <div className="min-w-0 flex-1 overflow-auto">
        {pairs ? (
          <RowTable sheet={sheet} pairs={pairs} comparing={then !== undefined} onPick={(row) => void pick(row)} />
        ) : (
          <p role="status" className="p-4 text-quiet">
            Counting …
          </p>
        )}
      </div>
    </div>
  )
}

const Days = ({ now, then }: { now: Day; then: Day }) => (
  <span className="text-[12px] text-quiet">
    ■ {dayInWords(now)} &ensp; □ {dayInWords(then)}
  </span>
)

function useRows(path: string, day: Day | undefined, model: unknown): readonly SheetRow[] | undefined {
  const [rows, setRows] = useState<{ path: string; rows: readonly SheetRow[] } | undefined>(undefined)
  useEffect(() => {
    let current = true
    if (day === undefined) setRows(undefined)
    else
      numbersOn(path, day).then(
        (found) => current && setRows({ path, rows: found }),
        (error: unknown) => {
          if (current) setRows({ path, rows: [] })
          notify(`These numbers could not be computed: ${wordsOf(error)}.`, 'refusal')
        },
      )
    return () => {
      current = false
    }
  }, [path, day, model])
  return rows?.path === path ? rows.rows : undefined
}

function pairsOf(
  { chart, columns }: OfferedSheet,
  now: readonly SheetRow[],
  then: readonly SheetRow[] | undefined,
): Pair[] {
  const key = chart?.key ?? columns[0]?.id ?? ''
  const label = chart?.label ?? key
  const keyOf = (row: SheetRow) => String(row[key] ?? '')
  const before = new Map((then ?? []).map((row) => [keyOf(row), row]))
  const pairs = now.map((row): Pair => ({
    key: keyOf(row),
    label: String(row[label] ?? ''),
    now: row,
    then: before.get(keyOf(row)),
  }))
  const known = new Set(pairs.map((pair) => pair.key))
  const gone = (then ?? []).filter((row) => !known.has(keyOf(row)))
  return [
    ...pairs,
    ...gone.map((row): Pair => ({ key: keyOf(row), label: String(row[label] ?? ''), now: undefined, then: row })),
  ]
}

function RowTable({
  sheet,
  pairs,
  comparing,
  onPick,
}: {
  sheet: OfferedSheet
  pairs: readonly Pair[]
  comparing: boolean
  onPick: (row: SheetRow | undefined) => void
}) {
  const columns = sheet.columns.filter(({ id }) => id !== 'id')
  const isNumber = (id: string) => pairs.some(({ now, then }) => typeof (now ?? then)?.[id] === 'number')
  const numeric = new Set(columns.filter(({ id }) => isNumber(id)).map(({ id }) => id))
  return (
    <table className="w-full text-[12px]">
      <thead className="sticky top-0 bg-base-100">
        <tr>
          {columns.map(({ id, label, unit }) => (
            <th
              key={id}
              title={unit ?? undefined}
              className={`border-b border-hairline px-2 py-1 font-normal whitespace-nowrap text-quiet ${numeric.has(id) ? 'text-right' : 'text-left'}`}
            >
              {label}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {pairs.map(({ key, now, then }) => (
          <tr
            key={key}
            className={`h-[24px] border-b border-hairline/50 ${sheet.leads ? 'cursor-pointer hover:bg-wash' : ''} ${now ? '' : 'text-quiet line-through'}`}
            onClick={() => onPick(now)}
          >
            {columns.map(({ id }, index) => (
              <td
                key={id}
                className={`px-2 ${numeric.has(id) ? 'numeric text-right whitespace-nowrap' : 'max-w-[180px] truncate'}`}
              >
                {index === 0 && sheet.leads && now ? (
                  <button type="button" className="text-left" onClick={() => onPick(now)}>
                    {shown(now[id])}
                  </button>
                ) : (
                  shown((now ?? then)?.[id])
                )}
                {comparing && numeric.has(id) && now && <Difference now={now[id]} then={then?.[id] ?? 0} />}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function shown(value: SheetRow[string] | undefined): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  return typeof value === 'number' ? Number(value.toFixed(2)).toLocaleString('en') : (value ?? '')
}

function Difference({ now, then }: { now: SheetRow[string] | undefined; then: SheetRow[string] }) {
  if (typeof now !== 'number' || typeof then !== 'number' || now === then) return null
  const by = Number((now - then).toFixed(2))
  return <span className="ml-1.5 text-quiet">({`${by > 0 ? '+' : '−'}${Math.abs(by).toLocaleString('en')}`})</span>
}
