import { Gone, Overload } from '../services/errors'
import { OURSELVES, whoAsks, type Asking } from './asking'
import { Hand, type Errand, type Facts } from './hand'
import { unpacked, type Parcel } from './parcel'
import { Queue, type Rank } from './queue'
import type { Tasks } from './tasks'

/** How long a task may take, from when it begins. */
const LIMIT_MS = Number(process.env['SKIVEL_LIMIT_MS'] ?? 20_000)
const HANDS = 2
/** Errands that may wait for a free hand. */
const ROOMS = {
  people: { all: 200, workspace: 60, address: 60 },
  readers: { all: 60, workspace: 30, address: 30 },
  chores: { all: 1000, workspace: 4, address: 1000 },
} as const

let hands: Hand[] = []
const waiting = new Queue<Errand>(ROOMS)

/** Has the threads ready before they are needed: loading their program takes a moment. */
export function call(): void {
  while (hands.length < HANDS) {
    const hand: Hand = new Hand(next, (failure) => {
      hands = hands.filter((one) => one !== hand)
      // A thread that cannot begin at all would not begin the next time either: those that wait are told.
      if (failure) for (const errand of waiting.drain()) errand.refuse(failure)
      next()
    })
    hands.push(hand)
  }
}

/** What is not for those who work never has the last hand. */
const isForOthers = (hand: Hand): boolean => hand.errand !== undefined && hand.errand.rank !== 'people'
const ALL: readonly Rank[] = ['people', 'readers', 'chores']
const PEOPLE: readonly Rank[] = ['people']

function next(): void {
  if (waiting.length() > 0) call()
  for (const hand of hands) {
    if (!hand.isFree) continue
    const errand = waiting.next(hands.length > 1 && !hands.some(isForOthers) ? ALL : PEOPLE)
    if (!errand) return
    hand.take(errand)
  }
}

type Wish<T extends keyof Tasks> = Parameters<Tasks[T]>[1]
type Answer<T extends keyof Tasks> = Awaited<ReturnType<Tasks[T]>>

interface How {
  /** In ms, from when it begins. */
  readonly limit?: number
  /** Nobody waits for it: it is done when there is nothing else to do. */
  readonly isChore?: true
  /** Who waits for it; whoever asks now unless it is said. */
  readonly who?: Asking
}

/**
 * Has a task carried out in a thread of its own, within a limit of time and memory, when its turn has come.
 * @throws TooLong where it is stopped, Overload where too much is waiting, Gone where nobody waits for it any more; whatever the task throws in words; Error when it fails.
 */
export async function carryOut<T extends keyof Tasks>(
  task: T,
  wish: Wish<T>,
  facts?: Facts,
  { limit = LIMIT_MS, isChore, who = isChore ? OURSELVES : whoAsks() }: How = {},
): Promise<Answer<T>> {
  const { address, isReader, signal } = who
  const rank: Rank = isChore ? 'chores' : isReader ? 'readers' : 'people'
  const done = await new Promise<unknown>((tell, refuse) => {
    if (signal?.aborted) return refuse(new Gone())
    // What has begun is finished: others may wait for it too.
    const leave = () => {
      if (waiting.remove(errand)) refuse(new Gone())
    }
    const settled =
      <A>(settle: (answer: A) => void) =>
      (answer: A) => {
        signal?.removeEventListener('abort', leave)
        settle(answer)
      }
    const workspace = facts?.id ?? ''
    const errand: Errand = {
      ...{ rank, workspace, address, job: { task, wish }, facts, limit },
      tell: settled(tell),
      refuse: settled(refuse),
    }
    if (!waiting.add(errand)) return refuse(new Overload())
    signal?.addEventListener('abort', leave, { once: true })
    next()
  })
  if (typeof done === 'object' && done !== null && 'model' in done)
    return { ...done, model: unpacked(done.model as Parcel) } as Answer<T>
  return done as Answer<T>
}
