import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { sendLeftOver } from '../../src/app/sync/outbox'
import { Sync, type ClashReport, type Standing } from '../../src/app/sync/sync'
import { writeWorkspace } from '../../src/core/file'
import { apply, clashes, type Change, type Model, type Step } from '../../src/core/model'
import { facts, id, position } from '../facts'

interface Made extends Change {
  readonly revision: number
  readonly lineage: string
  readonly id: string
  readonly author: string
  readonly at: string
  readonly writer: string
}
interface Sent extends Change {
  readonly id: string
  readonly base: number
  readonly lineage?: string
  readonly author: string
}
type Ear = (event: { data: string }) => void

/** A server as the real one promises to be, and the line to it, which a test cuts where it likes. */
class Server {
  model: Model = facts(position('a'), position('b'))
  made: Made[] = []
  #marks = 0
  origin = 'm0'
  readonly ears = new Set<Map<string, Ear>>()
  /** What becomes of the next messages: arrives, is lost on its way there, or its answer is. */
  readonly fates: ('arrives' | 'lost' | 'unanswered' | 'fails')[] = []
  get revision(): number {
    return this.made.length
  }
  get lineage(): string {
    return this.made.at(-1)?.lineage ?? this.origin
  }
  lineageAt(revision: number): string | undefined {
    return revision === 0 ? this.origin : this.made[revision - 1]?.lineage
  }
  readonly #unheard: string[] = []
  #isDeaf = false
  /** Nobody hears of anything until the line is there again: then all of it, in order. */
  set isDeaf(deaf: boolean) {
    this.#isDeaf = deaf
    this.tell()
  }
  tell(): void {
    if (this.#isDeaf) return
    for (const data of this.#unheard.splice(0)) for (const ears of this.ears) ears.get('change')?.({ data })
  }
  /** The last change is undone, as by a failover to what had not heard of it. */
  lose(count: number): void {
    const kept = this.made.slice(0, this.made.length - count)
    this.made = kept
    this.model = kept.reduce((model, change) => apply(model, change).model, facts(position('a'), position('b')))
    for (const ears of [...this.ears]) ears.get('astray')?.({ data: '' })
  }
  commit(sent: Sent, writer: string): { status: number; body: object } {
    const before = this.made.find((one) => one.id === sent.id)
    if (before) {
      const isSame = JSON.stringify(before.steps) === JSON.stringify(sent.steps)
      return isSame
        ? { status: 200, body: { revision: before.revision, lineage: before.lineage } }
        : clash(sent, [before], this.revision)
    }
    if (sent.lineage !== undefined && this.lineageAt(sent.base) !== sent.lineage)
      return { status: 409, body: { error: { code: 'astray', message: 'astray' } } }
    const since = this.made.slice(sent.base).filter((one) => one.writer !== writer)
    const theirs = since.filter((one) => clashes(sent.steps, one.steps).length > 0)
    if (theirs.length > 0) return clash(sent, theirs, this.revision)
    const made = {
      ...{ id: sent.id, label: sent.label, steps: sent.steps, author: sent.author, at: '', writer },
      revision: this.revision + 1,
      lineage: `m${++this.#marks}`,
    }
    this.model = apply(this.model, sent).model
    this.made = [...this.made, made]
    this.#unheard.push(JSON.stringify(made))
    this.tell()
    return { status: 200, body: { revision: made.revision, lineage: made.lineage } }
  }
  readonly fetch = async (path: string, init: { body?: string; headers?: Record<string, string> } = {}) => {
    await Promise.resolve()
    const url = new URL(path, 'http://localhost')
    if (init.body !== undefined) {
      const fate = this.fates.shift() ?? 'arrives'
      if (fate === 'lost') throw new TypeError('network')
      if (fate === 'fails') return answerOf(500, { error: { message: 'failed' } })
      const { status, body } = this.commit(JSON.parse(init.body) as Sent, init.headers?.['x-skivel-writer'] ?? '')
      if (fate === 'unanswered') throw new TypeError('network')
      return answerOf(status, body)
    }
    if (url.pathname.endsWith('/changes')) {
      const since = Number(url.searchParams.get('since'))
      if (this.lineageAt(since) !== url.searchParams.get('on'))
        return answerOf(409, { error: { code: 'astray', message: 'astray' } })
      return answerOf(200, { changes: this.made.slice(since) })
    }
    if (url.pathname.endsWith('/history')) return answerOf(200, { entries: [...this.made].reverse() })
    return answerOf(200, { revision: this.revision, lineage: this.lineage, workspace: writeWorkspace(this.model) })
  }
}

const answerOf = (status: number, body: unknown) => ({
  ok: status < 400,
  status,
  text: () => Promise.resolve(JSON.stringify(body)),
})
const clash = (sent: Sent, theirs: readonly Made[], revision: number) => ({
  status: 409,
  body: { error: { code: 'clash', message: 'clash', sides: { ours: sent.label, theirs, facts: [], revision } } },
})
const rename = (key: string, value: string): Change => ({
  label: value,
  steps: [{ do: 'set-entity', id: id(key), path: 'name', value }],
})

let server: Server
beforeEach(() => {
  vi.useFakeTimers()
  server = new Server()
  const storage = () => {
    const map = new Map<string, string>()
    return new Proxy(
      {
        getItem: (key: string) => map.get(key) ?? null,
        setItem: (key: string, value: string) => void map.set(key, value),
        removeItem: (key: string) => void map.delete(key),
      },
      { ownKeys: () => [...map.keys()], getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }) },
    )
  }
  vi.stubGlobal('localStorage', storage())
  vi.stubGlobal('sessionStorage', storage())
  vi.stubGlobal('navigator', {})
  vi.stubGlobal('fetch', (path: string, init?: object) => server.fetch(path, init))
  vi.stubGlobal(
    'EventSource',
    class {
      static readonly CLOSED = 2
      readyState = 1
      readonly own = new Map<string, Ear>()
      constructor() {
        server.ears.add(this.own)
      }
      addEventListener(type: string, told: Ear) {
        this.own.set(type, told)
      }
      close() {
        server.ears.delete(this.own)
      }
    },
  )
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})
const moment = (ms = 0) => vi.advanceTimersByTimeAsync(ms)

async function page(author: string) {
  await sendLeftOver('w', author)
  const shown = {
    model: server.model,
    standing: 'saved' as Standing,
    question: undefined as ClashReport | undefined,
    questions: 0,
  }
  const sync = new Sync(
    'w',
    { revision: server.revision, lineage: server.lineage, model: server.model },
    () => author,
    {
      onFacts: (model) => (shown.model = model),
      onStanding: (standing) => (shown.standing = standing),
      onClash: (question) => {
        if (question && question.pending.id !== shown.question?.pending.id) shown.questions++
        shown.question = question
      },
      onHeld: () => undefined,
      onTalk: () => undefined,
    },
  )
  sync.listen()
  const does = (change: Change, coalesce?: string, seen?: number) => {
    shown.model = apply(shown.model, change).model
    sync.add(change, coalesce, undefined, seen)
  }
  return { shown, sync, does, nameOf: (key: string) => shown.model.entities.get(id(key))?.name }
}
type Page = Awaited<ReturnType<typeof page>>

/** Until all is sent and heard, whatever was cut before. */
async function settled(...pages: Page[]): Promise<void> {
  server.fates.length = 0
  server.isDeaf = false
  for (let rounds = 0; rounds < 60; rounds++) {
    await moment(2000)
    for (const { shown, sync } of pages) if (shown.question) sync.settle('send')
    if (pages.every(({ shown }) => shown.standing === 'saved' && !shown.question)) break
  }
  await moment(2000)
}

describe('an answer that is lost on its way', () => {
  it('closes what was sent: what is typed on is another change, and none of it is lost or asked about', async () => {
    const one = await page('A')
    server.fates.push('unanswered')
    server.isDeaf = true
    const type = (text: string) => one.does(rename('a', text), 'name')
    type('Head o')
    await moment(400)
    expect([server.model.entities.get(id('a'))?.name, one.shown.standing]).toEqual(['Head o', 'waiting'])
    type('Head of')
    type('Head of operations')
    await settled(one)
    expect(server.model.entities.get(id('a'))?.name).toBe('Head of operations')
    expect([one.shown.standing, one.shown.questions]).toEqual(['saved', 0])
    expect(server.made.map(({ label }) => label)).toEqual(['Head o', 'Head of operations'])
  })
  it('that turns out to have come to something lets everything that waited go on', async () => {
    const one = await page('A')
    server.fates.push('unanswered', ...Array.from({ length: 5 }, () => 'fails' as const))
    server.isDeaf = true
    one.does(rename('a', 'first'))
    await moment(30_000)
    expect(one.shown.question?.isJudged).toBe(false)
    one.does(rename('b', 'second'))
    // It is heard of before anybody answers the question.
    server.isDeaf = false
    await moment(5000)
    expect(one.shown.question).toBeUndefined()
    expect([one.shown.standing, server.model.entities.get(id('b'))?.name]).toEqual(['saved', 'second'])
  })
  it('leaves “saved” and “waiting” true, also where what was missed cannot be fetched at once', async () => {
    const one = await page('A')
    const real = server.fetch
    let isDeaf = true
    vi.stubGlobal('fetch', (path: string, init?: { body?: string }) =>
      isDeaf && init?.body === undefined ? Promise.reject(new TypeError('network')) : real(path, init),
    )
    const ears = [...server.ears]
    server.ears.clear()
    server.commit({ ...rename('b', 'x'), id: 'o1', base: 0, author: 'B' }, 'other')
    server.commit({ ...rename('b', 'y'), id: 'o2', base: 1, author: 'B' }, 'other')
    for (const own of ears) server.ears.add(own)
    server.commit({ ...rename('b', 'z'), id: 'o3', base: 2, author: 'B' }, 'other')
    await moment(100)
    expect(one.shown.standing).toBe('waiting')
    isDeaf = false
    await moment(4000)
    expect([one.shown.standing, one.nameOf('b')]).toEqual(['saved', 'z'])
  })
})

describe('what somebody saw when they began to write', () => {
  it('is what their change is judged by: another’s that came meanwhile is asked about, not lost', async () => {
    const [one, two] = [await page('A'), await page('B')]
    const seen = one.sync.revision
    two.does(rename('a', 'Theirs'))
    await moment(100)
    expect(one.nameOf('a')).toBe('Theirs')
    one.does(rename('a', 'Mine'), undefined, seen)
    await moment(100)
    expect(one.shown.question?.sides?.theirs.map(({ label }) => label)).toEqual(['Theirs'])
    expect(server.model.entities.get(id('a'))?.name).toBe('Theirs')
    one.sync.settle('drop')
    await settled(one, two)
    expect([one.nameOf('a'), two.nameOf('a'), server.model.entities.get(id('a'))?.name]).toEqual([
      'Theirs',
      'Theirs',
      'Theirs',
    ])
  })
  it('is no question about one’s own', async () => {
    const one = await page('A')
    one.does(rename('a', 'First'))
    await moment(100)
    one.does(rename('a', 'Second'), undefined, 0)
    await settled(one)
    expect([one.shown.questions, server.model.entities.get(id('a'))?.name]).toEqual([0, 'Second'])
  })
})

describe('a server that has lost its last changes', () => {
  it('is followed, and what it lost is brought back when the person says so', async () => {
    const one = await page('A')
    one.does(rename('a', 'Kept'))
    await moment(100)
    one.does(rename('a', 'Lost'))
    one.does(rename('b', 'Lost too'))
    await moment(1000)
    expect(server.revision).toBe(3)
    server.lose(2)
    await moment(1000)
    expect([one.nameOf('a'), one.nameOf('b')]).toEqual(['Kept', 'b'])
    expect(one.shown.question?.message).toContain('lost its last changes')
    one.sync.settle('send')
    await settled(one)
    expect([one.nameOf('a'), one.nameOf('b'), server.model.entities.get(id('a'))?.name]).toEqual([
      'Lost',
      'Lost too',
      'Lost',
    ])
  })
  it('is noticed by who hears of nothing, as soon as they send or ask for anything', async () => {
    const one = await page('A')
    one.does(rename('a', 'Kept'))
    await moment(100)
    one.does(rename('a', 'Lost'))
    await moment(100)
    const ears = [...server.ears]
    server.ears.clear()
    server.lose(1)
    server.commit({ ...rename('a', 'Instead'), id: 'o1', base: 1, author: 'B' }, 'other')
    for (const own of ears) server.ears.add(own)
    one.does(rename('b', 'Mine'))
    await moment(2000)
    expect(one.nameOf('a')).toBe('Instead')
    expect(one.shown.question?.message).toContain('lost its last changes')
    one.sync.settle('drop')
    await settled(one)
    expect([one.nameOf('a'), one.nameOf('b')]).toEqual(['Instead', 'Mine'])
    expect(server.model.entities.get(id('b'))?.name).toBe('Mine')
  })
  it('takes nothing that was made on what it lost without asking', async () => {
    const one = await page('A')
    one.does(rename('a', 'Lost'))
    await moment(100)
    server.fates.push('lost', 'lost', 'lost')
    one.does(rename('a', 'On top'))
    await moment(100)
    server.lose(1)
    server.commit({ ...rename('b', 'Others'), id: 'o1', base: 0, author: 'B' }, 'other')
    await moment(6000)
    expect(server.model.entities.get(id('a'))?.name).toBe('a')
    const asked: (string | undefined)[] = []
    for (let at = 0; at < 3 && one.shown.question; at++) {
      asked.push(one.shown.question.message)
      one.sync.settle('drop')
      await moment(100)
    }
    expect(asked.length).toBe(2)
    await settled(one)
    expect([one.nameOf('a'), one.nameOf('b')]).toEqual(['a', 'Others'])
  })
})

describe('two pages, with answers and requests cut at random while both are typed into', () => {
  const ACT = fc.oneof(
    {
      weight: 5,
      arbitrary: fc.record({ do: fc.constant('type' as const), who: fc.nat(1), letter: fc.constantFrom(...'abcdef') }),
    },
    { weight: 3, arbitrary: fc.record({ do: fc.constant('add' as const), who: fc.nat(1) }) },
    {
      weight: 2,
      arbitrary: fc.record({ do: fc.constant('both' as const), who: fc.nat(1), letter: fc.constantFrom(...'xyz') }),
    },
    {
      weight: 4,
      arbitrary: fc.record({ do: fc.constant('wait' as const), ms: fc.constantFrom(0, 10, 200, 400, 1500, 5000) }),
    },
    { weight: 2, arbitrary: fc.record({ do: fc.constant('deaf' as const), is: fc.boolean() }) },
    {
      weight: 3,
      arbitrary: fc.record({
        do: fc.constant('cut' as const),
        fates: fc.array(fc.constantFrom('lost' as const, 'unanswered' as const, 'fails' as const, 'arrives' as const), {
          maxLength: 3,
        }),
      }),
    },
  )
  it(
    'no word is lost, none is written twice, and what stands beside the page is true',
    { timeout: 120_000 },
    async () => {
      await fc.assert(
        fc.asyncProperty(fc.array(ACT, { minLength: 5, maxLength: 40 }), async (acts) => {
          server = new Server()
          const pages = [await page('A'), await page('B')] as const
          const typed = ['', '']
          const added: string[] = []
          for (const act of acts) {
            if (act.do === 'wait') await moment(act.ms)
            else if (act.do === 'cut') server.fates.push(...act.fates)
            else if (act.do === 'deaf') server.isDeaf = act.is
            else if (act.do === 'type') {
              typed[act.who] += act.letter
              pages[act.who]?.does(rename(act.who === 0 ? 'a' : 'b', typed[act.who] ?? ''), 'name')
            } else if (act.do === 'add') {
              const name = `n${added.length}`
              added.push(name)
              const step: Step = { do: 'add-entity', entity: position(name) }
              pages[act.who]?.does({ label: name, steps: [step] })
            } else
              pages[act.who]?.does({
                label: 'note',
                steps: [{ do: 'set-entity', id: id('a'), path: 'fields.note', value: act.letter }],
              })
            for (const { shown } of pages) if (shown.standing === 'saved') expect(shown.question).toBeUndefined()
          }
          await settled(...pages)
          for (const [at, key] of ['a', 'b'].entries())
            if (typed[at] !== '') expect(server.model.entities.get(id(key))?.name).toBe(typed[at])
          for (const name of added) {
            expect(server.model.entities.has(id(name)), name).toBe(true)
            expect(
              server.made.filter(({ label }) => label === name),
              name,
            ).toHaveLength(1)
          }
          for (const { shown, sync } of pages) {
            expect(shown.standing).toBe('saved')
            expect(writeWorkspace(shown.model)).toEqual(writeWorkspace(server.model))
            sync.close()
          }
        }),
        { numRuns: 150 },
      )
    },
  )
})
