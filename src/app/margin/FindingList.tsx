import { useMemo, useState, type FormEvent } from 'react'
import { acceptanceOf, acceptanceOfAll, isOpen, keyOf } from '../../core/findings/findings'
import { timeOf, TIMES, type Time } from '../../core/findings/time'
import { dayInWords, grouped, type Acceptance, type Id } from '../../core/model'
import { readDay, type Finding, type Severity } from '../../core/notation'
import { useRule } from '../offers'
import { SIGNS } from '../signs'
import { mendingOf } from '../store/asking'
import { carryOut, make } from '../store/changes'
import { play, select, showView } from '../store/shown'
import { notify, useParts, useWorkspace } from '../store/state'
import { Limit } from './Limit'

/** So many of a group are shown at once. */
const MOST = 60
/** Findings of one rule, or of one fact, are told one by one up to so many; beyond, they are one line that opens. */
const FEW = 3
const SEVERITIES: readonly Severity[] = ['error', 'warning', 'note']

/** Findings in words: what, why, whose rule, and what mends it. Those that are accepted stay listed, apart. */
export function FindingList({
  findings,
  numbers,
  of,
}: {
  findings: readonly Finding[]
  numbers: Numbers
  /** What nothing contradicts where there are none. */
  of: string
}) {
  const { offers, model, day } = useParts('offers', 'model', 'day')
  const [by, setBy] = useState<'rule' | 'fact'>('rule')
  const [hidden, setHidden] = useState<ReadonlySet<Severity>>(new Set())
  const [chapter, setChapter] = useState('')
  const [time, setTime] = useState<Time | ''>('')
  const open = useMemo(() => findings.filter(isOpen), [findings])
  const accepted = findings.filter((finding) => !isOpen(finding))
  const groups = useMemo(() => {
    const shown = open.filter(
      (finding) =>
        !hidden.has(finding.severity) &&
        (chapter === '' || (offers?.rules[finding.rule]?.chapter ?? ANY) === chapter) &&
        (time === '' || timeOf(finding, model, day) === time),
    )
    return [...grouped(shown, (one) => (by === 'rule' ? one.rule : (one.subjects[0] ?? one.rule)))]
  }, [open, hidden, by, chapter, time, offers, model, day])
  const chapters = [...new Set([...open.map(({ rule }) => offers?.rules[rule]?.chapter ?? ANY), chapter])].filter(
    Boolean,
  )
  // While something is left out, what leaves it out is there to be undone.
  const isFiltered = hidden.size > 0 || chapter !== '' || time !== ''
  const present = SEVERITIES.filter((severity) => open.some((finding) => finding.severity === severity))
  const titleOf = (key: string) =>
    by === 'rule' ? (offers?.rules[key]?.title ?? key) : (model.entities.get(key as Id)?.name ?? key)
  return (
    <>
      {open.length === 0 && <p className="mt-1 text-quiet">Nothing contradicts {of}.</p>}
      {(open.length > FEW || isFiltered) && (
        <p className="mt-1 flex flex-wrap items-baseline gap-x-3 text-[12px]" data-testid="finding-filter">
          <button type="button" className="verb h-[24px]" onClick={() => setBy(by === 'rule' ? 'fact' : 'rule')}>
            {by === 'rule' ? 'By fact' : 'By rule'}
          </button>
          {(present.length > 1 || hidden.size > 0) &&
            present.map((severity) => (
              <button
                key={severity}
                type="button"
                aria-pressed={!hidden.has(severity)}
                aria-label={`Show ${SIGNS[severity].word}s`}
                className={`${SIGNS[severity].text} h-[24px] min-w-[24px] tabular-nums aria-[pressed=false]:line-through aria-[pressed=false]:opacity-50`}
                onClick={() => setHidden(toggled(hidden, severity))}
              >
                {SIGNS[severity].sign} {count(open.filter((finding) => finding.severity === severity).length)}
              </button>
            ))}
          {(chapters.length > 1 || chapter !== '') && (
            <Choice label="Chapter of the findings" value={chapter} onChoose={setChapter}>
              {[['', 'all chapters'], ...chapters.map((one) => [one, one])]}
            </Choice>
          )}
          <Choice label="Days of the findings" value={time} onChoose={(one) => setTime(one as Time | '')}>
            {[['', 'any day'], ...TIMES.map((one) => [one, TIME_WORDS[one]])]}
          </Choice>
        </p>
      )}
      {groups.length === 0 && open.length > 0 && <p className="mt-1 text-quiet">None of them is such a finding.</p>}
      {groups.length > 0 && (
        <ul className="mt-1.5 space-y-3" data-testid="findings">
          {groups.flatMap(([key, list]) =>
            list.length > FEW
              ? [<Group key={`${by} ${key}`} title={titleOf(key)} findings={list} numbers={numbers} />]
              : list.map((one) => <FindingNote key={keyOf(one)} finding={one} number={numbers.get(one) ?? 0} />),
          )}
        </ul>
      )}
      {accepted.length > 0 && (
        <details className="mt-2" data-testid="accepted">
          <summary className="cursor-pointer text-quiet">{count(accepted.length)} accepted</summary>
          <ul className="mt-1 space-y-2">
            {accepted.slice(0, MOST).map((finding) => (
              <AcceptedNote key={keyOf(finding)} finding={finding} />
            ))}
            {accepted.length > MOST && <li className="text-quiet">… and {count(accepted.length - MOST)} more.</li>}
          </ul>
        </details>
      )}
    </>
  )
}

/** The chapter of rules about any fact. */
const ANY = 'Any fact'
const TIME_WORDS: Readonly<Record<Time, string>> = {
  now: 'on the day shown',
  later: 'later',
  earlier: 'earlier',
}

function Choice({
  label,
  value,
  onChoose,
  children,
}: {
  label: string
  value: string
  onChoose: (value: string) => void
  children: readonly (readonly string[])[]
}) {
  return (
    <select
      aria-label={label}
      className="h-[24px] max-w-[120px] bg-transparent text-quiet"
      value={value}
      onChange={(event) => onChoose(event.target.value)}
    >
      {children.map(([id = '', words]) => (
        <option key={id} value={id}>
          {words}
        </option>
      ))}
    </select>
  )
}

/** The number by which the sheet and the margin know a finding. */
export type Numbers = ReadonlyMap<Finding, number>

const count = (value: number): string => value.toLocaleString('en')

function toggled<T>(set: ReadonlySet<T>, one: T): ReadonlySet<T> {
  const next = new Set(set)
  if (!next.delete(one)) next.add(one)
  return next
}

/** Many findings alike are one line that opens, and are mended or accepted together. */
function Group({ title, findings, numbers }: { title: string; findings: readonly Finding[]; numbers: Numbers }) {
  const [open, setOpen] = useState(false)
  const [most, setMost] = useState(MOST)
  const [accepting, setAccepting] = useState(false)
  const [worst] = findings
  if (!worst) return null
  const { sign, word, text } = SIGNS[worst.severity]
  const rules = [...new Set(findings.map(({ rule }) => rule))]
  const [rule] = rules
  const canMend = rules.length === 1 && findings.some(({ fixes }) => fixes.length > 0)
  const mend = async () => {
    if (rule === undefined) return
    const outcome = await mendingOf(
      rule,
      findings.map((finding) => keyOf(finding)),
    )
    carryOut(outcome)
  }
  return (
    <li
      className="grid grid-cols-[20px_1fr]"
      data-testid="finding-group"
      data-group={rules.length === 1 ? rule : title}
    >
      <span className={text}>
        <span aria-hidden>{sign}</span>
        <span className="sr-only">{word}</span>
      </span>
      <div className="min-w-0">
        <button
          type="button"
          aria-expanded={open}
          className="flex w-full items-baseline gap-2 text-left font-semibold hover:underline"
          onClick={() => setOpen(!open)}
        >
          <span className="min-w-0 flex-1 break-words">{title}</span>
          <span className="tabular-nums">{count(findings.length)}</span>
          <span aria-hidden className="w-[10px] text-quiet">
            {open ? '▾' : '▸'}
          </span>
        </button>
        <p className="flex flex-wrap gap-x-4">
          {canMend && (
            <button type="button" className="verb text-[12px] leading-[20px]" onClick={() => void mend()}>
              Mend all…
            </button>
          )}
          <button
            type="button"
            aria-expanded={accepting}
            className="verb text-[12px] leading-[20px]"
            onClick={() => setAccepting(!accepting)}
          >
            Accept all…
          </button>
        </p>
        {accepting && (
          <AcceptForm
            onAccept={(acceptance) => make(acceptanceOfAll(findings, acceptance))}
            onEnd={() => setAccepting(false)}
          />
        )}
        {open && (
          <ul className="mt-1.5 space-y-3">
            {findings.slice(0, most).map((finding) => (
              <FindingNote key={keyOf(finding)} finding={finding} number={numbers.get(finding) ?? 0} />
            ))}
            {findings.length > most && (
              <li>
                <button type="button" className="verb" onClick={() => setMost(most + MOST)}>
                  … {count(findings.length - most)} more
                </button>
              </li>
            )}
          </ul>
        )}
      </div>
    </li>
  )
}

/** What a finding is about: a fact on the sheet, or a view. */
function toSubject(subject: Id): void {
  if (useWorkspace.getState().model.views.has(subject)) showView(subject)
  else select([subject], { reveal: true })
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
          onClick={() => subject !== undefined && toSubject(subject)}
        >
          {finding.title ?? rule?.title ?? finding.rule}{' '}
          <span className="ml-1 font-normal text-quiet tabular-nums">{number}</span>
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
        {accepting && (
          <AcceptForm
            onAccept={(acceptance) => make(acceptanceOf(finding, acceptance))}
            onEnd={() => setAccepting(false)}
          />
        )}
      </div>
    </li>
  )
}

/** A reason, and for how long: without a day for good. */
function AcceptForm({ onAccept, onEnd }: { onAccept: (acceptance: Acceptance) => void; onEnd: () => void }) {
  const [fault, setFault] = useState<string | undefined>(undefined)
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const form = new FormData(event.currentTarget)
    const reason = String(form.get('reason')).trim()
    const typed = String(form.get('until')).trim()
    const until = typed === '' ? undefined : readDay(typed)
    if (reason === '') return setFault('Say why it may stand.')
    if (typed !== '' && until === undefined) return setFault('Write the day as 2026-11-24.')
    onAccept({ reason: reason.slice(0, 400), ...(until ? { until } : {}) })
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
