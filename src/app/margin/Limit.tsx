import { useId, useState } from 'react'
import { readEntry, thresholdOf, type OfferedRule } from '../../core/notation'
import { carryOut, make } from '../store/changes'
import { useParts } from '../store/state'

/** The number from which a rule speaks up, for this workspace. Empty goes back to the usual one. */
export function Limit({ rule }: { rule: OfferedRule }) {
  const { model } = useParts('model')
  const [typed, setTyped] = useState<string | undefined>(undefined)
  const id = useId()
  const { threshold } = rule
  if (!threshold) return null
  const keep = () => {
    if (typed === undefined) return
    setTyped(undefined)
    const entry = readEntry({ label: threshold.label, type: 'number', min: 0 }, typed)
    if ('refused' in entry) return void carryOut(entry)
    if (entry.value === thresholdOf(model, rule)) return
    const label = `${threshold.label}: ${entry.value === null ? threshold.initial : String(entry.value)}`
    make({ label, steps: [{ do: 'set-workspace', path: `thresholds.${rule.id}`, value: entry.value }] })
  }
  return (
    <span className="flex items-center justify-between gap-3">
      <label htmlFor={id}>{threshold.label}</label>
      <input
        id={id}
        data-limit={rule.id}
        inputMode="decimal"
        className="numeric h-[24px] w-[64px] border-b border-hairline bg-transparent text-right focus:border-primary focus:outline-none"
        value={typed ?? String(thresholdOf(model, rule))}
        placeholder={String(threshold.initial)}
        onChange={(event) => setTyped(event.target.value)}
        onFocus={(event) => event.target.select()}
        onBlur={keep}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      />
    </span>
  )
}
