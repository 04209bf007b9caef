import { AsyncLocalStorage } from 'node:async_hooks'

/** Who asks for something now: what is done for it waits in their turn, and not at all once they have gone. */
export interface Asking {
  /** The address that the request came from. */
  readonly address: string
  /** They may only read: those who work go before them. */
  readonly isReader: boolean
  /** Says that nobody waits for the answer any more. */
  readonly signal?: AbortSignal | undefined
}

const asking = new AsyncLocalStorage<Asking>()

/** Does something for whoever asks; all that comes of it knows for whom. */
export const askedBy = <T>(who: Asking, work: () => T): T => asking.run(who, work)

/** Nobody: what the server does by itself, or for whoever comes by. */
export const OURSELVES: Asking = { address: '', isReader: false }

export const whoAsks = (): Asking => asking.getStore() ?? OURSELVES
