import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { sendLeftOver } from '../../src/app/sync/outbox'
import { Sync, type ClashReport, type Standing } from '../../src/app/sync/sync'
import { apply, type Change, type Model } from '../../src/core/model'
import { facts, id, position } from '../facts'

/** The server's side of the conversation, one answer at a time: a test decides what arrives first. */
class Wire {
  readonly sent: {
    id: string
    base: number
    steps: Change['steps']
    takes?: string
    answer: (status: number, body?: unknown) => void
  }[] = []
  changes: Heard[] = []
  onChange: ((event: { data: string }) => void) | undefined
  onTalk: ((event: { data: string }) => void) | undefined
  readonly fetch = (path: string, init: { body?: string }): Promise<unknown> => {
    if (init.body === undefined) {
      const since = Number(new URL(path, 'http://localhost').searchParams.get('since'))
      return Promise.resolve(answerOf(200, { changes: this.changes.filter(({ revision }) => revision > since) }))
    }
    const body = JSON.parse(init.body) as { id: string; base: number; steps: Change['steps']; takes?: string }
    return new Promise((resolve) => {
      this.sent.push({ ...body, answer: (status, answer = {}) => resolve(answerOf(status, answer)) })
    })
  }
  /** Somebody else renames the position. */
  others(revision: number, name: string): void {
    const heard = {
      ...rename(name),
      revision,
      lineage: `m${revision}`,
      id: `other.${revision}`,
      author: 'Somebody',
      at: '',
    }
    this.changes.push(heard)
    this.onChange?.({ data: JSON.stringify(heard) })
  }
}
type Heard = Change & { revision: number; lineage: string; id: string; author: string; at: string }

const answerOf = (status: number, body: unknown) => ({
  ok: status < 400,
  status,
  text: () => Promise.resolve(JSON.stringify(body)),
})
const rename = (value: string): Change => ({
  label: `Write “${value}”`,
  steps: [{ do: 'set-entity', id: id('p'), path: 'name', value }],
})
const clashWith = (revision: number, ...labels: string[]) => ({
  error: {
    message: 'Somebody has changed the same.',
    sides: {
      ours: 'mine',
      theirs: labels.map((label) => ({ label, author: 'Somebody', at: '' })),
      facts: ['p'],
      revision,
    },
  },
})

let wire: Wire
let kept: Map<string, string>
beforeEach(() => {
  vi.useFakeTimers()
  wire = new Wire()
  kept = new Map()
  const storage = (map: Map<string, string>) =>
    new Proxy(
      {
        getItem: (key: string) => map.get(key) ?? null,
        setItem: (key: string, value: string) => void map.set(key, value),
        removeItem: (key: string) => void map.delete(key),
      },
      { ownKeys: () => [...map.keys()], getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }) },
    )
  vi.stubGlobal('localStorage', storage(kept))
  vi.stubGlobal('sessionStorage', storage(new Map()))
  vi.stubGlobal('navigator', {})
  vi.stubGlobal('fetch', wire.fetch)
  const line = wire
  vi.stubGlobal(
    'EventSource',
    class {
      static readonly CLOSED = 2
      readyState = 1
      addEventListener(type: string, told: (event: { data: string }) => void) {
        if (type === 'change') line.onChange = told
        if (type === 'talk') line.onTalk = told
      }
      close() {
        line.onChange = undefined
      }
    },
  )
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

async function page() {
  await sendLeftOver('w', 'Me')
  const shown = {
    model: facts(position('p')),
    standing: 'saved' as Standing,
    question: undefined as ClashReport | undefined,
    held: undefined as readonly Change[] | undefined,
    dropped: [] as readonly Change[],
    talk: -1,
  }
  const sync = new Sync('w', { revision: 1, lineage: 'm1', model: shown.model }, () => 'Me', {
    onFacts: (model: Model) => (shown.model = model),
    onStanding: (standing) => (shown.standing = standing),
    onClash: (question) => (shown.question = question),
    onHeld: (held, dropped) => Object.assign(shown, { held, dropped }),
    onTalk: (talk) => (shown.talk = talk),
  })
  sync.listen()
  const type = (name: string, key?: string) => {
    shown.model = apply(shown.model, rename(name)).model
    sync.add(rename(name), key)
  }
  return { shown, sync, type, name: () => shown.model.entities.get(id('p'))?.name }
}
const moment = (ms = 0) => vi.advanceTimersByTimeAsync(ms)
const outbox = () => [...kept.values()].join()

describe('a page in step with the server', () => {
  it('sends what is typed in one go as one change, and is saved when it is answered', async () => {
    const { shown, type } = await page()
    type('A', 'name')
    type('Ab', 'name')
    expect([shown.standing, wire.sent.length]).toEqual(['saving', 0])
    await moment(400)
    expect(wire.sent.map(({ base, steps }) => [base, steps.length])).toEqual([[1, 1]])
    expect(outbox()).toContain('Ab')
    wire.sent[0]?.answer(200, { revision: 2 })
    await moment()
    expect([shown.standing, outbox()]).toEqual(['saved', ''])
  })

  it('sends what is typed on and on without a pause, from time to time', async () => {
    const { type } = await page()
    for (let more = 1; more <= 12; more++) {
      type('A'.repeat(more), 'name')
      await moment(250)
    }
    expect(wire.sent).toHaveLength(1)
    expect(JSON.stringify(wire.sent[0]?.steps)).toMatch(/"A{5,8}"/)
    wire.sent[0]?.answer(200, { revision: 2 })
    await moment(400)
    expect(JSON.stringify(wire.sent[1]?.steps)).toContain('"AAAAAAAAAAAA"')
  })

  it.each(['send', 'drop'] as const)('asks once about what is typed on while a question waits: %s', async (choice) => {
    const { shown, sync, type, name } = await page()
    type('mine', 'name')
    await moment(400)
    wire.others(2, 'theirs')
    wire.sent[0]?.answer(409, clashWith(2, 'Write “theirs”'))
    await moment()
    type('mine a', 'name')
    type('mine al', 'name')
    await moment(2000)
    expect([shown.question?.pending.label, name()]).toEqual(['Write “mine al”', 'mine al'])
    expect(outbox()).toContain('mine al')
    sync.settle(choice)
    await moment(1000)
    expect([shown.question, name(), wire.sent.length]).toEqual(
      choice === 'send' ? [undefined, 'mine al', 2] : [undefined, 'theirs', 1],
    )
    expect(wire.sent[1]?.base).toBe(choice === 'send' ? 2 : undefined)
  })

  it('tells in a question what others did before the refusal came, and settles on top of all of it', async () => {
    const { shown, sync, type, name } = await page()
    type('mine')
    await moment()
    // Both are heard while the server’s answer, which knows of the first alone, is on its way.
    wire.others(2, 'their')
    wire.others(3, 'theirs')
    wire.sent[0]?.answer(409, clashWith(2, 'Write “their”'))
    await moment()
    expect(shown.question?.sides?.theirs.map(({ label }) => label)).toEqual(['Write “their”', 'Write “theirs”'])
    expect(name()).toBe('mine')
    // Nothing is sent while the question is open; what others do meanwhile is told in it.
    await moment(10_000)
    expect(wire.sent).toHaveLength(1)
    wire.others(4, 'their own')
    expect(shown.question?.sides?.theirs.at(-1)?.label).toBe('Write “their own”')
    sync.settle('send')
    await moment()
    expect([wire.sent[1]?.base, shown.question]).toEqual([4, undefined])
    wire.sent[1]?.answer(200, { revision: 5 })
    await moment()
    expect([shown.standing, name(), outbox()]).toEqual(['saved', 'mine', ''])
  })

  it('keeps the revision a change was made on, whatever is heard before it is sent', async () => {
    const { type } = await page()
    type('mine', 'name')
    wire.others(2, 'theirs')
    await moment(400)
    expect(wire.sent[0]?.base).toBe(1)
  })

  it('fetches what it has not heard of, in order', async () => {
    const { sync, name } = await page()
    const told = wire.onChange
    wire.onChange = undefined
    wire.others(2, 'second')
    wire.onChange = told
    wire.others(3, 'third')
    await moment()
    expect([sync.revision, name()]).toEqual([3, 'third'])
  })

  it('tries again when nobody answers well, and asks after five failures of the server', async () => {
    const { shown, type } = await page()
    type('mine')
    await moment()
    for (let times = 1; times <= 5; times++) {
      expect([wire.sent.length, shown.question]).toEqual([times, undefined])
      wire.sent[times - 1]?.answer(500, { error: { message: 'It failed.' } })
      await moment(4000)
    }
    expect([shown.question?.message, wire.sent.length]).toEqual(['It failed.', 5])
    expect(outbox()).toContain('mine')
  })

  it('drops what is refused only when the person says so', async () => {
    const { shown, sync, type, name } = await page()
    type('mine')
    await moment()
    wire.sent[0]?.answer(400, { error: { message: 'This does not fit.' } })
    await moment()
    expect([shown.question?.message, shown.question?.fits, name()]).toEqual(['This does not fit.', false, 'mine'])
    expect(outbox()).toContain('mine')
    sync.settle('drop')
    await moment()
    expect([name(), outbox(), wire.sent.length]).toEqual(['p', '', 1])
  })
})

describe('what is kept aside', () => {
  const hold = async () => {
    const told = await page()
    told.sync.hold([])
    return told
  }
  it('is sent to nobody, lies on top of what others do, and is gone when it is released', async () => {
    const { shown, sync, type, name } = await hold()
    type('A', 'name')
    type('Ab', 'name')
    await moment(2000)
    expect([wire.sent, shown.standing, outbox()]).toEqual([[], 'saved', ''])
    expect(shown.held?.map(({ label, steps }) => [label, steps.length])).toEqual([['Write “Ab”', 1]])
    wire.others(2, 'theirs')
    await moment()
    expect([name(), sync.shared.entities.get(id('p'))?.name]).toEqual(['Ab', 'theirs'])
    sync.release()
    expect([name(), shown.held]).toEqual(['theirs', undefined])
    type('B')
    await moment()
    expect(wire.sent.map(({ base }) => base)).toEqual([2])
  })
  it('lets what was made before arrive', async () => {
    const { shown, sync, type, name } = await page()
    type('before')
    sync.hold([])
    type('aside')
    await moment()
    expect(wire.sent).toHaveLength(1)
    wire.sent[0]?.answer(200, { revision: 2 })
    await moment()
    expect([shown.standing, name(), sync.shared.entities.get(id('p'))?.name]).toEqual(['saved', 'aside', 'before'])
    expect(sync.revision).toBe(2)
  })
  it('is taken up again after a reload, but for what fits the facts no longer', async () => {
    const { shown, sync, name } = await page()
    const gone: Change = { label: 'Gone', steps: [{ do: 'set-entity', id: id('q'), path: 'name', value: 'x' }] }
    sync.hold([rename('kept'), gone])
    expect(name()).toBe('kept')
    expect(shown.dropped).toEqual([gone])
    expect(shown.held).toEqual([rename('kept')])
  })
})

describe('a change that takes a proposal over', () => {
  it('says so when it is sent, and when it is sent again after a question with what was typed on', async () => {
    const { shown, sync, type } = await page()
    sync.add(rename('proposed'), undefined, 'thread-1')
    await moment()
    expect(wire.sent[0]?.takes).toBe('thread-1')
    wire.others(2, 'theirs')
    wire.sent[0]?.answer(409, clashWith(2, 'theirs'))
    await moment()
    type('proposed, and more')
    sync.settle('send')
    await moment()
    expect(wire.sent[1]?.takes).toBe('thread-1')
    expect(outbox()).toContain('thread-1')
    wire.sent[1]?.answer(200, { revision: 3 })
    await moment()
    expect(shown.standing).toBe('saved')
  })
  it('hears of the talk', async () => {
    const { shown } = await page()
    wire.onTalk?.({ data: '7' })
    expect(shown.talk).toBe(7)
  })
})
