import { describe, expect, it } from 'vitest'
import { Gone, Overload } from '../../src/server/services/errors'
import { Joined } from '../../src/server/services/joined'
import { Kept } from '../../src/server/services/kept'
import { askedBy, type Asking } from '../../src/server/threads/asking'
import { carryOut } from '../../src/server/threads/crew'
import { Queue, type Rank, type Waiting } from '../../src/server/threads/queue'
import { asDay } from '../../src/core/model'

const DAY = asDay('2026-11-24')
interface One extends Waiting {
  readonly name: string
}
const room = { all: 100, workspace: 40, address: 40 }
const queueOf = (rooms: Partial<Record<Rank, typeof room>> = {}) =>
  new Queue<One>({ people: room, readers: room, chores: room, ...rooms })
const one = (name: string, workspace: string, address: string, rank: Rank = 'people'): One => ({
  name,
  workspace,
  address,
  rank,
})
const ALL: readonly Rank[] = ['people', 'readers', 'chores']
const drained = (queue: Queue<One>, ranks = ALL) => {
  const names: string[] = []
  for (let next = queue.next(ranks); next; next = queue.next(ranks)) names.push(next.name)
  return names.join(' ')
}

describe('what waits for a thread', () => {
  it('has its turn by workspace, and within one by who asks', () => {
    const queue = queueOf()
    for (const [name, workspace, address] of [
      ['a1', 'A', 'x'],
      ['a2', 'A', 'x'],
      ['a3', 'A', 'y'],
      ['a4', 'A', 'x'],
      ['b1', 'B', 'x'],
      ['b2', 'B', 'x'],
    ] as const)
      queue.add(one(name, workspace, address))
    expect(drained(queue)).toBe('a1 b1 a3 b2 a2 a4')
  })
  it('of who works goes before that of who reads, and both before chores', () => {
    const queue = queueOf()
    queue.add(one('chore', 'A', '', 'chores'))
    queue.add(one('read', 'A', 'x', 'readers'))
    queue.add(one('work', 'B', 'y'))
    expect(queue.next(['people'])?.name).toBe('work')
    expect(queue.next(['people'])).toBeUndefined()
    expect(drained(queue)).toBe('read chore')
  })
  it('is so much in all, of a workspace and of an address, and no rank fills what another needs', () => {
    const queue = queueOf({ readers: { all: 3, workspace: 2, address: 2 } })
    const read = (workspace: string, address: string) => queue.add(one('r', workspace, address, 'readers'))
    expect([read('A', 'x'), read('A', 'y'), read('A', 'z')]).toEqual([true, true, false])
    expect([read('B', 'x'), read('C', 'x')]).toEqual([true, false])
    expect(read('C', 'q')).toBe(false)
    expect(queue.add(one('w', 'A', 'x'))).toBe(true)
  })
  it('is left by who has gone, and by all when there is nothing to wait for', () => {
    const queue = queueOf()
    const [first, second] = [one('first', 'A', 'x'), one('second', 'A', 'x')]
    queue.add(first)
    queue.add(second)
    expect([queue.remove(first), queue.remove(first), queue.length()]).toEqual([true, false, 1])
    expect(queue.drain()).toEqual([second])
    expect([queue.length(), queue.next(ALL)]).toEqual([0, undefined])
  })
})

describe('what was made for one', () => {
  const later = <T>(value: T) => new Promise<T>((resolve) => setTimeout(() => resolve(value), 30))
  it('is there for others: made once, however many ask at once or later', async () => {
    const kept = new Kept<string>(1000, ({ length }) => length)
    let made = 0
    const make = () => later(`made ${++made}`)
    const all = await Promise.all(Array.from({ length: 20 }, () => kept.of('k', make)))
    expect([new Set(all), await kept.of('k', make)]).toEqual([new Set(['made 1']), 'made 1'])
    expect(await kept.of('other', make)).toBe('made 2')
  })
  it('is kept while there is room, and what failed is not kept', async () => {
    const kept = new Kept<string>(100, ({ length }) => length)
    let made = 0
    const make = () => Promise.resolve(`${++made}`.padEnd(24, '.'))
    for (const key of 'abcde') await kept.of(key, make)
    await kept.of('e', make)
    expect(made).toBe(5)
    await kept.of('a', make)
    expect(made).toBe(6)
    await expect(kept.of('x', () => Promise.reject(new Error('no')))).rejects.toThrow('no')
    expect(await kept.of('x', () => Promise.resolve('yes'))).toBe('yes')
    // What is larger than a fourth of the room would drive out all else.
    await kept.of('large', () => Promise.resolve('x'.repeat(60)))
    expect(await kept.of('large', () => Promise.resolve('anew'))).toBe('anew')
  })
  it('is not begun for those who have gone, and is finished for those who have not', async () => {
    const kept = new Kept<string>(1000, ({ length }) => length)
    const [first, second] = [new AbortController(), new AbortController()]
    const who = (signal: AbortSignal): Asking => ({ address: 'x', isReader: true, signal })
    let told: AbortSignal | undefined
    const make = ({ signal }: Asking) => {
      told = signal
      return later('made')
    }
    const one = askedBy(who(first.signal), () => kept.of('k', make))
    const two = askedBy(who(second.signal), () => kept.of('k', make))
    first.abort()
    await expect(one).rejects.toThrow(Gone)
    expect(told?.aborted).toBe(false)
    expect(await two).toBe('made')
    const third = new AbortController()
    const alone = askedBy(who(third.signal), () => kept.of('l', make))
    third.abort()
    await expect(alone).rejects.toThrow(Gone)
    await later(0)
    expect(told?.aborted).toBe(true)
  })
})

describe('a look-up that many ask for', () => {
  it('is made once for those who asked before it began, and anew for those who asked later', async () => {
    const joined = new Joined<number>()
    const ends: (() => void)[] = []
    let stands = 0
    const look = () => {
      const seen = stands
      return new Promise<number>((resolve) => ends.push(() => resolve(seen)))
    }
    const begun = () => new Promise((resolve) => setTimeout(resolve, 0))
    const first = joined.of('a', look)
    stands = 1
    const later = Array.from({ length: 5 }, () => joined.of('a', look))
    const other = joined.of('b', look)
    ends[1]?.()
    expect(await other).toBe(1)
    ends[0]?.()
    expect(await first).toBe(0)
    await begun()
    ends[2]?.()
    expect(await Promise.all(later)).toEqual([1, 1, 1, 1, 1])
    expect(ends).toHaveLength(3)
  })

  it('that fails fails for all who joined, and the next is made', async () => {
    const joined = new Joined<number>()
    const fail = () => Promise.reject(new Error('away'))
    const [first, second] = [joined.of('a', fail), joined.of('a', fail)]
    await expect(first).rejects.toThrow('away')
    await expect(second).rejects.toThrow('away')
    expect(await joined.of('a', () => Promise.resolve(2))).toBe(2)
  })
})

describe('a crew that is asked for more than it can do', () => {
  const list = `Ada — Head\n${'  Ben — Clerk\n'.repeat(2000)}`
  const begin = (who: Partial<Asking> = {}) =>
    carryOut('begin', { beginning: { list }, day: DAY }, undefined, {
      who: { address: 'x', isReader: false, ...who },
    }).then(
      ({ model }) => model.entities.size,
      (error: unknown) => (error instanceof Error ? error.constructor.name : 'what'),
    )
  it('says so to readers, serves who works, and leaves out who has gone', { timeout: 60_000 }, async () => {
    const gone = new AbortController()
    const order: string[] = []
    const readers = Array.from({ length: 120 }, (_, i) =>
      begin({ isReader: true, address: `r${i % 4}` }).then((found) => (order.push('reader'), found)),
    )
    const left = Array.from({ length: 10 }, () => begin({ isReader: false, address: 'gone', signal: gone.signal }))
    gone.abort()
    const worked = await begin({ address: 'colleague' })
    // Of readers one had begun at most: they never have the last hand.
    expect(order.filter((who) => who === 'reader').length).toBeLessThan(100)
    expect(worked).toBeGreaterThan(2000)
    expect(new Set(await Promise.all(left))).toEqual(new Set([Gone.name]))
    const found = await Promise.all(readers)
    expect(found.filter((one) => one === Overload.name).length).toBeGreaterThan(50)
    expect(found.filter((one) => typeof one === 'number').length).toBeGreaterThan(20)
  })
  it('refuses what cannot be handed over, and goes on', async () => {
    const deep = JSON.parse('['.repeat(20_000) + ']'.repeat(20_000)) as object
    const odd = { beginning: { file: { deep } }, day: DAY }
    for (let at = 0; at < 5; at++) await expect(carryOut('begin', odd)).rejects.toThrow()
    await expect(carryOut('begin', { beginning: { list: (() => 1) as never }, day: DAY })).rejects.toThrow()
    expect(await begin()).toBeGreaterThan(2000)
  })
})
