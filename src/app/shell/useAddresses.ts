import { useEffect, useState } from 'react'
import { notify } from '../store/state'
import { ApiError, ask } from '../sync/api'

export interface Address {
  readonly id: string
  readonly madeAt: string
  readonly readAt: string | null
}

/** Where secret addresses are kept, and by which names their list and one of them are told. */
interface Place {
  readonly path: string
  readonly query?: string
  readonly many: string
  readonly one: string
}

/** Secret addresses of a sort: listed, made, shown once, withdrawn; one request at a time. */
export function useAddresses<T extends Address>({ path, query = '', many, one }: Place, isWanted = true) {
  const [known, setKnown] = useState<readonly T[] | undefined>(undefined)
  const [fresh, setFresh] = useState<{ readonly id: string; readonly address: string } | undefined>(undefined)
  const [fault, setFault] = useState<string | undefined>(undefined)
  const [busy, setBusy] = useState(false)

  useEffect(() => {
    if (!isWanted) return
    ask<Record<string, readonly T[]>>(path + query).then(
      (answer) => setKnown(answer[many]),
      (error: unknown) => setFault(said(error)),
    )
  }, [isWanted, path, query, many])

  /** What is answered with a fault is said and changes nothing. */
  const during = (work: Promise<void>) => {
    setBusy(true)
    setFault(undefined)
    work.catch((error: unknown) => setFault(said(error))).finally(() => setBusy(false))
  }
  const add = (body: object) =>
    during(
      ask<Record<string, unknown> & { readonly path: string }>(path, { method: 'POST', body }).then((answer) => {
        const made = answer[one] as T
        setKnown((all) => [...(all ?? []), made])
        setFresh({ id: made.id, address: new URL(answer.path, window.location.href).href })
      }),
    )
  const withdraw = (id: string) =>
    during(
      ask(`${path}/${encodeURIComponent(id)}`, { method: 'DELETE' }).then(() => {
        setKnown((all) => all?.filter((address) => address.id !== id))
        setFresh((now) => (now?.id === id ? undefined : now))
        notify('The address is withdrawn: nothing is read there any more.')
      }),
    )
  const alter = (id: string, parts: Partial<T>) =>
    during(
      ask(`${path}/${encodeURIComponent(id)}`, { method: 'PATCH', body: parts }).then(() =>
        setKnown((all) => all?.map((one) => (one.id === id ? { ...one, ...parts } : one))),
      ),
    )
  return { known, fresh, fault, busy, add, alter, withdraw }
}

const said = (error: unknown): string => (error instanceof ApiError ? error.message : String(error))
