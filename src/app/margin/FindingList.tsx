import { useState, type FormEvent } from 'react'
import { acceptanceOf, isOpen, keyOf } from '../../core/findings'
import { dayInWords } from '../../core/model'
import { readDay, type Finding } from '../../core/notation'
import { useRule } from '../offers'
import { SIGNS } from '../signs'
import { make } from '../store/changes'
import { play, select } from '../store/shown'
import { notify } from '../store/state'
import { Limit } from './Limit'

const MOST = 60

/** Findings in words: what, why, whose rule, and what mends it. Those that are accepted stay listed, apart. */
export function FindingList({ findings, all }: { findings: readonly Finding[]; all: readonly Finding[] }) {
  const open = findings.filter(isOpen)
  const accepted = findings.filter((finding) => !isOpen(finding))
  return (
    <>
      {open.length === 0 && <p className="mt-1 text-quiet">Nothing contradicts anything here.</p>}
      {open.length > 0 && (
        <ul className="mt-1.5 space-y-3" data-testid="findings">
          {open.slice(0, MOST).map((finding) => (
            <FindingNote key={keyOf(finding)} finding={finding} number={all.indexOf(finding) + 1} />
          ))}
          {open.length > MOST && <li className="text-quiet">… and {open.length - MOST} more.</li>}
        </ul>
      )}
      {accepted.length > 0 && (
        <details className="mt-2" data-testid="accepted">
          <summary className="cursor-pointer text-quiet">{accepted.length} accepted</summary>
          <ul className="mt-1 space-y-2">
            {accepted.map((finding) => (
              <AcceptedNote key={keyOf(finding)} finding={finding} />
            ))}
          </ul>
        </details>
      )}
    </>
  )
}

function FindingNote({ finding, number }: { finding: Finding; number: number }) {
  const [open, setOpen] = useState(false)
  const [accepting, setAccepting] = useState(false)
  const rule = useRule(finding.rule)
  const { sign, word, text } = SIGNS[finding.severity]
  const [subject] = finding.subjects
  const verb = 'verb text-left text-[12px] leading-[20px]'
  return (
    <li className="grid grid-cols-[20px_1fr]" data-rule={finding.rule}>
      <span className={`${text} tabular-nums`}>
        <span aria-hidden>{sign}</span>
        <span className="sr-only">
          {word} {number}
        </span>
      </span>
      <div className="min-w-0">
        <button
          type="button"
          className="block w-full text-left font-semibold hover:underline"
          onClick={() => subject !== undefined && select([subject], { reveal: true })}
        >
          {rule?.title ?? finding.rule} <span className="ml-1 font-normal text-quiet tabular-nums">{number}</span>
        </button>
        <p className="text-[12px] leading-[17px] break-words text-quiet">{finding.message}</p>
        {open && rule && (
          <div className="mt-1 border-l-2 border-hairline pl-2 text-[12px] leading-[17px] text-quiet">
            <p>{rule.why}</p>
            <p>Source: {rule.source}.</p>
            <p className="numeric">{finding.rule}</p>
            <Limit rule={rule} />
          </div>
        )}
        <p className="mt-0.5 flex flex-wrap gap-x-4">
          {finding.trace && (
            <button type="button" className={verb} onClick={() => play(finding.trace ?? [])}>
              Play it
            </button>
          )}
          {finding.fixes.map((fix) => (
            <button
              key={fix.label}
              type="button"
              className={verb}
              onClick={() => {
                if (make(fix.change)) notify(fix.change.label)
              }}
            >
              {fix.label}
            </button>
          ))}
          <button type="button" aria-expanded={accepting} className={verb} onClick={() => setAccepting(!accepting)}>
            Accept…
          </button>
          <button type="button" aria-expanded={open} className={verb} onClick={() => setOpen(!open)}>
            {open ? 'Less' : 'Why'}
          </button>
        </p>
        {accepting && <AcceptForm finding={finding} onEnd={() => setAccepting(false)} />}
      </div>
    </li>
  )
}

/** A reason, and for how long: without a day for good. */
function AcceptForm({ finding, onEnd }: { finding: Finding; onEnd: () => void }) {
  const [fault, setFault] = useState<string | undefined>(undefined)
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const form = new FormData(event.currentTarget)
    const reason = String(form.get('reason')).trim()
    const typed = String(form.get('until')).trim()
    const until = typed === '' ? undefined : readDay(typed)
    if (reason === '') return setFault('Say why it may stand.')
    if (typed !== '' && until === undefined) return setFault('Write the day as 2026-11-24.')
    make(acceptanceOf(finding, { reason: reason.slice(0, 400), ...(until ? { until } : {}) }))
    onEnd()
  }
  const field =
    'h-[24px] w-full border-b border-hairline bg-transparent text-[12px] focus:border-primary focus:outline-none'
  return (
    <form className="mt-1 space-y-1 border-l-2 border-primary pl-2" onSubmit={submit}>
      <input
        name="reason"
        autoFocus
        aria-label="Reason"
        placeholder="Why it may stand"
        maxLength={400}
        className={field}
      />
      <input name="until" aria-label="Until" placeholder="Until which day (empty: for good)" className={field} />
      {fault && (
        <p role="alert" className="text-[12px] text-error">
          ■ {fault}
        </p>
      )}
      <button type="submit" className="verb text-[12px]">
        Accept it
      </button>
    </form>
  )
}

function AcceptedNote({ finding }: { finding: Finding }) {
  const { sign, word } = SIGNS[finding.severity]
  return (
    <li className="grid grid-cols-[20px_1fr] text-[12px] leading-[17px] text-quiet">
      <span>
        <span aria-hidden>{sign}</span>
        <span className="sr-only">accepted {word}</span>
      </span>
      <div>
        <p>{finding.message}</p>
        <p className="text-base-content">
          {finding.accepted?.reason}
          {finding.accepted?.until ? `, until ${dayInWords(finding.accepted.until)}` : ''}
        </p>
        <button type="button" className="verb" onClick={() => make(acceptanceOf(finding, null))}>
          Count it again
        </button>
      </div>
    </li>
  )
}
