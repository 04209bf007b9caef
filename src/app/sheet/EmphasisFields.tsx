import { useId, useState } from 'react'
import type { View } from '../../core/model'
import { rulesOf, wordsToAsk } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import { meaningsOf, setLetters, setMeaning, writeRule } from '../emphasis'

/** What stands out in a view: its rules, and what its own marks mean. */
export function EmphasisFields({ view }: { view: View }) {
  const rules = rulesOf(view)
  const meanings = meaningsOf(view)
  const list = useId()
  const [goesOn, setGoesOn] = useState(false)
  return (
    <fieldset className="mt-2 border-t border-hairline pt-2">
      <legend className="caps float-left mb-1 w-full">What stands out</legend>
      <div className="clear-both">
        {[...rules, ''].map((rule, at) => (
          <RuleField
            key={`${at} ${rule}`}
            view={view}
            at={at}
            rule={rule}
            list={list}
            isNext={goesOn && rule === ''}
            onEnter={() => setGoesOn(true)}
          />
        ))}
        <datalist id={list}>
          {wordsToAsk(handlings, view).map((word) => (
            <option key={word} value={`colour by ${word.toLowerCase()}`} />
          ))}
        </datalist>
        {rules.some((rule) => /^colou?r by/i.test(rule)) && (
          <label className="mt-1 flex h-[22px] items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={view.look['letters'] === true}
              onChange={(event) => setLetters(view, event.target.checked)}
            />
            Letters beside the colours
          </label>
        )}
        {meanings.map(({ word, means }) => (
          <MeaningField key={`${word} ${means}`} view={view} word={word} means={means} />
        ))}
      </div>
    </fieldset>
  )
}

interface RuleProps {
  readonly view: View
  readonly at: number
  readonly rule: string
  readonly list: string
  /** The one before was just entered: this one takes the keys. */
  readonly isNext: boolean
  readonly onEnter: () => void
}

function RuleField({ view, at, rule, list, isNext, onEnter }: RuleProps) {
  const [typed, setTyped] = useState(rule)
  const [refused, setRefused] = useState<string>()
  const write = () => setRefused(writeRule(view, at, typed))
  return (
    <div>
      <div className="flex items-center">
        <input
          className="h-[24px] min-w-0 flex-1 border-b border-hairline bg-base-100 focus:border-primary focus:outline-none"
          aria-label={rule === '' ? 'Add a rule' : `Rule: ${rule}`}
          placeholder={at === 0 ? 'colour by unit, strong where late' : 'another rule'}
          value={typed}
          list={typed === rule ? undefined : list}
          aria-invalid={refused !== undefined}
          autoFocus={isNext}
          onChange={(event) => {
            setTyped(event.target.value)
            setRefused(undefined)
          }}
          onBlur={write}
          onKeyDown={(event) => {
            if (event.key === 'Enter') {
              onEnter()
              write()
            }
            if (event.key === 'Escape' && typed !== rule) {
              event.stopPropagation()
              setTyped(rule)
              setRefused(undefined)
            }
          }}
        />
        {rule !== '' && (
          <button
            type="button"
            className="px-1.5 text-quiet hover:text-error"
            aria-label={`Take the rule away: ${rule}`}
            onClick={() => writeRule(view, at, '')}
          >
            ×
          </button>
        )}
      </div>
      {refused !== undefined && (
        <p role="alert" className="text-[11px] text-error">
          {refused}
        </p>
      )}
    </div>
  )
}

function MeaningField({ view, word, means }: { view: View; word: string; means: string }) {
  const [typed, setTyped] = useState(means)
  const keep = () => typed.trim() !== means && setMeaning(view, word, typed)
  return (
    <label className="grid grid-cols-[96px_1fr] items-center">
      <span className="text-quiet capitalize">{word}</span>
      <input
        className="h-[24px] w-full border-b border-hairline bg-base-100 focus:border-primary focus:outline-none"
        placeholder="what it means"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === 'Enter' && keep()}
      />
    </label>
  )
}
