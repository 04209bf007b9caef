import { useState } from 'react'
import type { Finding } from '../../core/notation'
import { ruleOf, SIGNS } from '../findings'
import { make, notify, select } from '../store'

const MOST = 60

/** Findings in words: what, why, whose rule, and what mends it. */
export function FindingList({ findings, all }: { findings: readonly Finding[]; all: readonly Finding[] }) {
  if (findings.length === 0) return <p className="mt-1 text-quiet">Nothing contradicts anything here.</p>
  return (
    <ul className="mt-1.5 space-y-3" data-testid="findings">
      {findings.slice(0, MOST).map((finding) => (
        <FindingNote
          key={`${finding.rule} ${finding.subjects.join(' ')}`}
          finding={finding}
          number={all.indexOf(finding) + 1}
        />
      ))}
      {findings.length > MOST && <li className="text-quiet">… and {findings.length - MOST} more.</li>}
    </ul>
  )
}

function FindingNote({ finding, number }: { finding: Finding; number: number }) {
  const [open, setOpen] = useState(false)
  const rule = ruleOf(finding)
  const { sign, word, text } = SIGNS[finding.severity]
  const [subject] = finding.subjects
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
          <p className="mt-1 border-l-2 border-hairline pl-2 text-[12px] leading-[17px] text-quiet">
            {rule.why} <span className="block">Source: {rule.source}.</span>{' '}
            <span className="numeric block">{finding.rule}</span>
          </p>
        )}
        <p className="mt-0.5 flex flex-wrap gap-x-4">
          {finding.fixes.map((fix) => (
            <button
              key={fix.label}
              type="button"
              className="verb text-left text-[12px] leading-[17px]"
              onClick={() => {
                if (make(fix.change)) notify(fix.change.label)
              }}
            >
              {fix.label}
            </button>
          ))}
          <button
            type="button"
            aria-expanded={open}
            className="verb text-[12px] leading-[17px]"
            onClick={() => setOpen(!open)}
          >
            {open ? 'Less' : 'Why'}
          </button>
        </p>
      </div>
    </li>
  )
}
