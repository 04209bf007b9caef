import { nth } from '../../graph'
import type { Board, Way } from './board'

/** How many others may have to yield to a way that is to cross fewer. */
const YIELDING = 3
/** What a way has to save to be taken instead of another one. */
const WORTH = 0.01

interface Priced {
  readonly way: Way
  readonly cost: number
}

/** Lines being laid on a board: which way each has taken, of those that it may take, and how it finds a better one. */
export class Laying {
  readonly ways: Way[] = []
  /** The ways that each edge may take, the cheapest by themselves first. */
  readonly #choices: Way[][] = []
  /** Crossings that could not be helped, as the two ways that cross, and ways that nobody yielded to: not tried again as long as they are there. */
  readonly #hopeless = new Map<Way, Set<Way | undefined>>()

  /** @param most what the search for fewer crossings may cost, in places and lines looked at. */
  constructor(
    private readonly board: Board,
    private readonly most: number,
  ) {}

  get isSpent(): boolean {
    return this.board.looked > this.most
  }

  offer(edge: number, ways: readonly Way[]): void {
    this.#choices[edge] = [...(this.#choices[edge] ?? []), ...ways].sort((a, b) => a.base - b.base)
  }

  /** Lays the cheapest way that is free, and answers its cost. */
  lay(edge: number): number {
    const best = this.#cheapest(edge, Infinity)
    if (!best) throw new RangeError('an edge found no way')
    this.#put(edge, best.way)
    return best.cost
  }

  /** Lays an edge anew: by itself, and with `together` with what it crosses as well. Answers whether that helped. */
  again(edge: number, together: boolean): boolean {
    const now = nth(this.ways, edge)
    this.board.lift(edge)
    const before = this.board.cost(now)
    const crosses = before > now.base
    if (this.lay(edge) < before - WORTH) return true
    return together && crosses && (this.#exchange(edge) || this.#makeWay(edge))
  }

  /** Two ways that cross, neither of which can yield alone: both are taken up, and the cheapest pair of ways is laid. */
  #exchange(edge: number): boolean {
    const now = nth(this.ways, edge)
    const crossed = new Set<number>()
    this.board.crossings(now, crossed)
    for (const other of crossed) {
      const then = nth(this.ways, other)
      // Each pair is looked at once, from its first edge.
      if (other < edge || this.#hopeless.get(now)?.has(then) || this.isSpent) continue
      const best = this.#bestPair(edge, other)
      const [first, second] = best ?? [now, then]
      this.#put(edge, first)
      this.#put(other, second)
      if (best) return true
      this.#giveUp(now, then)
    }
    return false
  }

  /** Takes up two ways, and answers the pair that costs less than the two do, if there is one. */
  #bestPair(edge: number, other: number): readonly [Way, Way] | undefined {
    const { board } = this
    board.lift(edge)
    let least = board.cost(nth(this.ways, edge)) - WORTH
    board.lift(other)
    least += board.cost(nth(this.ways, other))
    let best: readonly [Way, Way] | undefined
    // With the first way laid, the second costs as much as without it, or more.
    const cheapest = this.#free(other, least)[0]?.cost ?? Infinity
    for (const one of this.#free(edge, least - cheapest)) {
      if (one.cost + cheapest >= least || this.isSpent) break
      board.lay(one.way, edge)
      const two = this.#cheapest(other, least - one.cost)
      if (two) {
        least = one.cost + two.cost
        best = [one.way, two.way]
      }
      board.lift(edge)
    }
    return best
  }

  /** A way that others lie on is taken all the same when they find other ways and all of them together cost less. */
  #makeWay(edge: number): boolean {
    const { board } = this
    const now = nth(this.ways, edge)
    if (this.#hopeless.get(now)?.has(undefined)) return false
    board.lift(edge)
    const own = board.cost(now)
    for (const way of nth(this.#choices, edge)) {
      if (way.base >= own || this.isSpent) break
      const holders = [...(board.holders(way) ?? [])]
      if (holders.length === 0 || holders.length > YIELDING) continue
      const saved = own - board.cost(way)
      if (saved > 0 && this.#yielded(edge, way, holders, saved - WORTH)) return true
    }
    board.lay(now, edge)
    this.#giveUp(now)
    return false
  }

  /** Lays a way where others lie, if these find others for no more than so much together; else everything is as before, and the edge not laid. */
  #yielded(edge: number, way: Way, holders: readonly number[], most: number): boolean {
    const { board } = this
    const held = holders.map((other) => ({
      other,
      then: nth(this.ways, other),
      cost: board.cost(nth(this.ways, other)),
    }))
    for (const { other } of held) board.lift(other)
    board.lay(way, edge)
    let left = most
    const isMoved = held.every(({ other, cost }) => {
      const best = this.#cheapest(other, cost + left)
      if (!best) return false
      left -= best.cost - cost
      this.#put(other, best.way)
      return true
    })
    if (isMoved) {
      this.ways[edge] = way
      return true
    }
    board.lift(edge)
    for (const { other } of held) board.lift(other)
    for (const { other, then } of held) this.#put(other, then)
    return false
  }

  #giveUp(now: Way, then?: Way): void {
    const known = this.#hopeless.get(now) ?? new Set()
    this.#hopeless.set(now, known.add(then))
  }

  #put(edge: number, way: Way): void {
    this.board.lay(way, edge)
    this.ways[edge] = way
  }

  /** The ways of an edge that are free and cost less than so much, the cheapest first. */
  #free(edge: number, most: number): readonly Priced[] {
    const found: Priced[] = []
    for (const way of nth(this.#choices, edge)) {
      if (way.base >= most) break
      if (this.board.isFree(way)) found.push({ way, cost: this.board.cost(way) })
    }
    return found.sort((a, b) => a.cost - b.cost)
  }

  /** The cheapest way of an edge that is free and costs less than so much. */
  #cheapest(edge: number, most: number): Priced | undefined {
    let best: Priced | undefined
    for (const way of nth(this.#choices, edge)) {
      if (way.base >= (best?.cost ?? most)) break
      if (!this.board.isFree(way)) continue
      const cost = this.board.cost(way)
      if (cost < (best?.cost ?? most)) best = { way, cost }
    }
    return best
  }
}
