import type { Severity } from '../../core/notation'
import type { Tally as Counts } from '../../core/findings/findings'
import { SIGNS } from '../signs'

const ORDER: readonly Severity[] = ['error', 'warning', 'note']

/** How many findings of each severity, each with its sign: it reads without colour. */
export function Tally({
  counts,
  worstOnly = false,
  stacked = false,
}: {
  counts: Counts
  worstOnly?: boolean
  /** One beneath the other. */
  stacked?: boolean
}) {
  const present = ORDER.filter((severity) => counts[severity] > 0)
  const shown = worstOnly ? present.slice(0, 1) : present
  return (
    <>
      {shown.map((severity) => (
        <span
          key={severity}
          className={`${SIGNS[severity].text} inline-flex items-baseline gap-1 tabular-nums ${stacked ? 'text-[12px]' : 'ml-3 first:ml-0'}`}
        >
          <span aria-hidden>{SIGNS[severity].sign}</span>
          <span>{counts[severity]}</span>
          <span className="sr-only">
            {SIGNS[severity].word}
            {counts[severity] === 1 ? '' : 's'}
          </span>
        </span>
      ))}
    </>
  )
}
