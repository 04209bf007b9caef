/** What waits for a free thread, and whose turn it is in. */
export interface Waiting {
  /** Those who work, those who read, and what the server does by itself when nobody else wants anything. */
  readonly rank: Rank
  /** What it is about, and who asks: each workspace has its turn, and within it each address. */
  readonly workspace: string
  readonly address: string
}
export type Rank = 'people' | 'readers' | 'chores'
const RANKS: readonly Rank[] = ['people', 'readers', 'chores']

/** So many may wait in all, of one workspace and of one address. */
export interface Room {
  readonly all: number
  readonly workspace: number
  readonly address: number
}

/**
 * Waits in turns: of a rank one workspace after another, and of a workspace one address after another, so that nobody who asks for much keeps
 * others waiting longer than for one errand. Each step O(workspaces and addresses that wait).
 */
export class Queue<T extends Waiting> {
  /** Who waits by rank, workspace and address; a key that has had its turn moves to the end. */
  readonly #ranks = new Map<Rank, Map<string, Map<string, T[]>>>(RANKS.map((rank) => [rank, new Map()]))

  constructor(private readonly rooms: Readonly<Record<Rank, Room>>) {}

  /** Takes one in, or answers false where there is no room for it. */
  add(one: T): boolean {
    const room = this.rooms[one.rank]
    const turns = this.#turnsOf(one.rank)
    const own = turns.get(one.workspace)
    const ofWorkspace = own ? lengthOf(own) : 0
    const ofAddress = sum([...turns.values()].map((addresses) => addresses.get(one.address)?.length ?? 0))
    if (this.length(one.rank) >= room.all || ofWorkspace >= room.workspace || ofAddress >= room.address) return false
    const addresses = own ?? new Map<string, T[]>()
    turns.set(one.workspace, addresses)
    const list = addresses.get(one.address)
    if (list) list.push(one)
    else addresses.set(one.address, [one])
    return true
  }

  /** Whoever's turn it is among these ranks, the first of them first. */
  next(ranks: readonly Rank[]): T | undefined {
    for (const rank of ranks) {
      const turns = this.#turnsOf(rank)
      const [first] = turns
      if (!first) continue
      const [workspace, addresses] = first
      const [turn] = addresses
      turns.delete(workspace)
      if (!turn) continue
      const [address, list] = turn
      const one = list.shift()
      addresses.delete(address)
      if (list.length > 0) addresses.set(address, list)
      if (addresses.size > 0) turns.set(workspace, addresses)
      if (one) return one
    }
    return undefined
  }

  /** Takes one out that does not wait any more; answers whether it was waiting still. */
  remove(one: T): boolean {
    const turns = this.#turnsOf(one.rank)
    const addresses = turns.get(one.workspace)
    const list = addresses?.get(one.address)
    const at = list?.indexOf(one) ?? -1
    if (!addresses || !list || at < 0) return false
    list.splice(at, 1)
    if (list.length === 0) addresses.delete(one.address)
    if (addresses.size === 0) turns.delete(one.workspace)
    return true
  }

  /** All that wait, who wait no longer. */
  drain(): readonly T[] {
    const all = RANKS.flatMap((rank) => [...this.#turnsOf(rank).values()].flatMap((own) => [...own.values()].flat()))
    for (const rank of RANKS) this.#turnsOf(rank).clear()
    return all
  }

  length(rank?: Rank): number {
    const ranks = rank === undefined ? RANKS : [rank]
    return sum(ranks.flatMap((one) => [...this.#turnsOf(one).values()].map(lengthOf)))
  }

  #turnsOf(rank: Rank): Map<string, Map<string, T[]>> {
    const turns = this.#ranks.get(rank)
    if (!turns) throw new RangeError(`there is no rank ${rank}`)
    return turns
  }
}

const lengthOf = (addresses: ReadonlyMap<string, readonly unknown[]>): number =>
  sum([...addresses.values()].map(({ length }) => length))
const sum = (numbers: readonly number[]): number => numbers.reduce((all, one) => all + one, 0)
