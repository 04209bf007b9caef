import { useState } from 'react'
import { isDay, wordsOf } from '../../core/model'
import { makeBook } from '../handOut'
import { notify } from '../store/state'
import { Drawing } from './Drawing'

/** All of the workspace as one document. */
export function Book() {
  const [since, setSince] = useState('')
  const [busy, setBusy] = useState<{ readonly since: number } | undefined>(undefined)
  const isDated = since === '' || isDay(since)
  const make = (format: 'pdf' | 'html') => {
    if (busy || !isDated) return
    setBusy({ since: Date.now() })
    makeBook(format, since)
      .then((words) => notify(words))
      .catch((error: unknown) => notify(wordsOf(error), 'refusal'))
      .finally(() => setBusy(undefined))
  }
  return (
    <section
      aria-label="The book"
      className="mt-4 flex items-baseline gap-4 narrow:flex-wrap narrow:gap-y-1 border-t border-hairline pt-3"
    >
      <h3 className="font-semibold">The book</h3>
      <span className="text-quiet">All views with what is said of them, registers, findings</span>
      <label className="ml-auto text-quiet narrow:ml-0">
        and what changed since{' '}
        <input
          aria-label="Changed since"
          placeholder="2026-01-31"
          className="numeric w-[92px] border-b border-hairline bg-transparent outline-none focus:border-primary aria-invalid:border-error"
          aria-invalid={!isDated}
          value={since}
          onChange={({ target }) => setSince(target.value.trim())}
        />
      </label>
      {busy ? (
        <span className="text-quiet">
          <Drawing since={busy.since} />
        </span>
      ) : (
        (['pdf', 'html'] as const).map((format) => (
          <button key={format} type="button" className="verb" disabled={!isDated} onClick={() => make(format)}>
            As {format.toUpperCase()}
          </button>
        ))
      )}
    </section>
  )
}
