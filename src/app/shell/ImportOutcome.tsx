import type { Finding, ImportPlan } from '../../core/notation'
import { Check } from './Check'

const MOST_LINES = 200

export interface Planned {
  readonly plan: ImportPlan
  readonly errors: readonly Finding[]
}

/** What bringing a table in would change, what does not fit, and what it would contradict. */
export function ImportOutcome({
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
        <Check checked={leaveOut} onCheck={onLeaveOut}>
          Leave them out and bring in the rest
        </Check>
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
          <Check checked={endGone} onCheck={onEndGone}>
            End them on the day shown
          </Check>
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
