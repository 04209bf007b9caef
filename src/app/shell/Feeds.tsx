import { useEffect, useState } from 'react'
import type { View } from '../../core/model'
import { copyText } from '../clipboard'
import { momentInWords } from '../clock'
import { useOffer } from '../offers'
import { notify } from '../store/state'
import { ApiError, ask } from '../sync/api'

interface Share {
  readonly id: string
  readonly format: string
  readonly madeAt: string
  readonly readAt: string | null
}

/** Secret addresses at which other programs subscribe to a view: made, copied once, withdrawn. */
export function Feeds({ workspace, view }: { workspace: string; view: View }) {
  const formats = useOffer().exports.filter(({ feed }) => feed)
  const [shares, setShares] = useState<readonly Share[] | undefined>(undefined)
  const [fresh, setFresh] = useState<{ readonly id: string; readonly address: string } | undefined>(undefined)
  const [fault, setFault] = useState<string | undefined>(undefined)
  const [busy, setBusy] = useState(false)
  const path = `/api/workspaces/${workspace}/shares`
  const any = formats.length > 0

  useEffect(() => {
    if (!any) return
    ask<{ shares: Share[] }>(`${path}?view=${encodeURIComponent(view.id)}`).then(
      ({ shares: known }) => setShares(known),
      (error: unknown) => setFault(said(error)),
    )
  }, [any, path, view.id])

  /** One request at a time; what it answers with a fault is said and changes nothing. */
  const during = (work: Promise<void>) => {
    setBusy(true)
    setFault(undefined)
    work.catch((error: unknown) => setFault(said(error))).finally(() => setBusy(false))
  }
  const add = (format: string) =>
    during(
      ask<{ share: Share; path: string }>(path, { method: 'POST', body: { view: view.id, format } }).then((made) => {
        setShares((known) => [...(known ?? []), made.share])
        setFresh({ id: made.share.id, address: new URL(made.path, window.location.href).href })
      }),
    )
  const withdraw = (id: string) =>
    during(
      ask(`${path}/${encodeURIComponent(id)}`, { method: 'DELETE' }).then(() => {
        setShares((known) => known?.filter((one) => one.id !== id))
        setFresh((known) => (known?.id === id ? undefined : known))
        notify('The address is withdrawn: nothing is read there any more.')
      }),
    )

  if (!any) return null
  return (
    <section aria-label="Subscribe" className="mt-4 border-t border-hairline pt-3">
      {formats.map(({ id, feed, title }) => (
        <div key={id} className="flex items-baseline gap-3">
          <h3 className="font-semibold">{feed} to subscribe to</h3>
          <span className="text-quiet">{title}</span>
          <button type="button" className="verb ml-auto" disabled={busy} onClick={() => add(id)}>
            Make an address
          </button>
        </div>
      ))}
      <p className="mt-1 text-quiet">
        Other programs read this view there, always as it then is. Whoever has the address can read it, until it is
        withdrawn.
      </p>
      {fault && (
        <p role="alert" className="mt-1 text-error">
          ■ {fault}
        </p>
      )}
      <ul className="mt-2">
        {shares?.map(({ id, madeAt, readAt }) => (
          <li key={id} className="border-t border-hairline py-1.5">
            <span className="flex items-baseline gap-3 tabular-nums">
              <span>Made {momentInWords(madeAt)}</span>
              <span className="text-quiet">
                {readAt === null ? 'not read yet' : `last read ${momentInWords(readAt)}`}
              </span>
              <button type="button" className="verb ml-auto" disabled={busy} onClick={() => withdraw(id)}>
                Withdraw
              </button>
            </span>
            {fresh?.id === id && (
              <>
                <span className="mt-1 flex items-center gap-2">
                  <input
                    readOnly
                    aria-label="Address"
                    className="h-[24px] min-w-0 grow border-b border-hairline bg-transparent font-mono text-[12px] outline-none focus:border-primary"
                    value={fresh.address}
                    onFocus={(event) => event.target.select()}
                  />
                  <button
                    type="button"
                    className="verb"
                    onClick={() => void copyText(fresh.address, 'The address is copied.')}
                  >
                    Copy
                  </button>
                </span>
                <span className="text-quiet">It is shown this once only: keep it now.</span>
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

const said = (error: unknown): string => (error instanceof ApiError ? error.message : String(error))
