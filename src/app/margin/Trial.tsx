import { useEffect, useId, useState } from 'react'
import type { Offer, Refusal, TrialAnswer } from '../../core/notation'
import { answerTo } from '../store/asking'
import { select } from '../store/shown'
import { useParts } from '../store/state'

type Asked = Offer['trials'][number]

/** A question to the facts of the view: some fields, a button, and the answer in words. It is asked again when the facts change. */
export function Trial({ trial }: { trial: Asked }) {
  const { model, day, selection, viewId } = useParts('model', 'day', 'selection', 'viewId')
  const [values, setValues] = useState<Readonly<Record<string, string>>>({})
  const [answer, setAnswer] = useState<TrialAnswer | Refusal>()
  const [asked, setAsked] = useState<Readonly<Record<string, string>>>()
  const id = useId()
  const [selected] = selection
  const name = selected === undefined ? undefined : model.entities.get(selected)
  const offered = name && trial.fields.find(({ names }) => names?.includes(name.kind)) ? name.name : undefined

  useEffect(() => {
    if (!asked || viewId === undefined) return
    let current = true
    void answerTo(viewId, trial.id, asked).then((told) => current && setAnswer(told))
    return () => {
      current = false
    }
  }, [asked, model, day, viewId, trial.id])

  const put = (field: string, value: string) => setValues((now) => ({ ...now, [field]: value }))
  return (
    <section
      aria-labelledby={`${id}-title`}
      className="border-t border-hairline px-4 py-2.5"
      data-testid={`trial-${trial.id}`}
    >
      <h3 id={`${id}-title`} className="caps">
        {trial.title}
      </h3>
      <form
        className="mt-1 grid grid-cols-[96px_1fr] items-center gap-y-px"
        onSubmit={(event) => {
          event.preventDefault()
          setAsked({ ...values })
        }}
      >
        {trial.fields.map(({ id: field, label, choices, names }) => (
          <div key={field} className="contents">
            <label htmlFor={`${id}-${field}`} className="text-quiet">
              {label}
            </label>
            {choices ? (
              <select
                id={`${id}-${field}`}
                className="h-[24px] border-b border-hairline bg-base-100"
                value={values[field] ?? choices[0]}
                onChange={(event) => put(field, event.target.value)}
              >
                {choices.map((choice) => (
                  <option key={choice}>{choice}</option>
                ))}
              </select>
            ) : (
              <input
                id={`${id}-${field}`}
                list={names ? `${id}-${field}-names` : undefined}
                className="numeric h-[24px] w-full border-b border-hairline bg-transparent text-[12px] focus:border-primary focus:outline-none"
                value={values[field] ?? ''}
                placeholder={
                  names && offered && Object.values(values).every((value) => value !== offered) ? offered : '–'
                }
                maxLength={200}
                onChange={(event) => put(field, event.target.value)}
                onFocus={(event) => {
                  if (
                    names &&
                    offered &&
                    event.target.value === '' &&
                    Object.values(values).every((value) => value !== offered)
                  ) {
                    put(field, offered)
                    requestAnimationFrame(() => event.target.select())
                  }
                }}
              />
            )}
            {names && (
              <datalist id={`${id}-${field}-names`}>
                {names
                  .flatMap((kind) => model.ofKind(kind))
                  .slice(0, MOST_OFFERED)
                  .map((one) => (
                    <option key={one.id} value={one.name} />
                  ))}
              </datalist>
            )}
          </div>
        ))}
        <button type="submit" className="verb col-start-2 mt-1 justify-self-start">
          {trial.button}
        </button>
      </form>
      {answer && (
        <div role="status" className="mt-1.5">
          {'refused' in answer ? <p className="text-error">■ {answer.refused}</p> : <Answered answer={answer} />}
        </div>
      )}
    </section>
  )
}

const MOST_OFFERED = 500

function Answered({ answer }: { answer: TrialAnswer }) {
  return (
    <>
      <p className="font-semibold">{answer.words}</p>
      {answer.lines.map((line) => (
        <p key={line} className="text-[12px] break-words text-quiet">
          {line}
        </p>
      ))}
      {answer.facts.length > 0 && (
        <button type="button" className="verb text-[12px]" onClick={() => select(answer.facts, { reveal: true })}>
          Show it
        </button>
      )}
    </>
  )
}
