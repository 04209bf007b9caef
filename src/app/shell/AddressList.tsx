import type { ReactNode } from 'react'
import { copyText } from '../clipboard'
import { momentInWords } from '../clock'
import type { Address, useAddresses } from './useAddresses'

type Shown<T extends Address> = Pick<
  ReturnType<typeof useAddresses<T>>,
  'known' | 'fresh' | 'fault' | 'busy' | 'withdraw'
>

/** Addresses with when they were read last; one that was just made with what is to be kept of it. */
export function AddressList<T extends Address>({
  known,
  fresh,
  fault,
  busy,
  withdraw,
  words,
  verbs,
  more,
}: Shown<T> & {
  /** What an address is of. */
  words?: (one: T) => string
  /** What else can be done with an address. */
  verbs?: (one: T) => ReactNode
  /** What else can be copied of an address. */
  more?: (address: string) => ReactNode
}) {
  return (
    <>
      {fault && (
        <p role="alert" className="mt-1 text-error">
          ■ {fault}
        </p>
      )}
      <ul className="mt-2">
        {known?.map((one) => (
          <li key={one.id} className="border-t border-hairline py-1.5">
            <span className="flex items-baseline gap-3 tabular-nums">
              {words && <span>{words(one)}</span>}
              <span className={words ? 'text-quiet' : ''}>Made {momentInWords(one.madeAt)}</span>
              <span className="text-quiet">
                {one.readAt === null ? 'not read yet' : `last read ${momentInWords(one.readAt)}`}
              </span>
              <span className="ml-auto flex gap-3 whitespace-nowrap">
                {verbs?.(one)}
                <button type="button" className="verb" disabled={busy} onClick={() => withdraw(one.id)}>
                  Withdraw
                </button>
              </span>
            </span>
            {fresh?.id === one.id && (
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
                  {more?.(fresh.address)}
                </span>
                <span className="text-quiet">It is shown this once only: keep it now.</span>
              </>
            )}
          </li>
        ))}
      </ul>
    </>
  )
}
