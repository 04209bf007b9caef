import fc from 'fast-check'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { writeWorkspace } from '../../src/core/file'
import { marramSoundFerries } from '../../src/demo'
import { openPool } from '../../src/server/db/pool'
import { asked, startServer, type Running } from './running'

interface Thread {
  readonly id: string
  readonly view: string
  readonly fact?: string
  readonly part?: string
  readonly place?: { x: number; y: number }
  readonly isShared?: boolean
  readonly proposal?: string
  readonly comments: readonly { id: string; author: string; words: string; byReader: boolean; at: string }[]
  readonly resolved?: { by: string; at: string; taken: boolean }
}
interface Answer {
  readonly id: string
  readonly path: string
  readonly talk: number
  readonly revision: number
  readonly threads: Thread[]
  readonly proposal: { label: string; steps: unknown[] }
  readonly reader: { id: string; comments: boolean }
  readonly readers: { id: string; comments: boolean }[]
  readonly letters: { at: string; to: string[]; subject: string; words: string; from: string }[]
  readonly error: { code: string; message: string; faults?: { path: string }[] }
}

let server: Running
let workspace = ''
let ids = 0
const newId = () => `c-${++ids}`
const call = (path: string, method?: string, body?: unknown, at = server) => asked<Answer>(at, path, method, body)
const begun = async () =>
  (await call('/api/workspaces', 'POST', { file: writeWorkspace(marramSoundFerries()) })).body.id
const comments = (of = workspace) => `/api/workspaces/${of}/comments`
const said = (more: object = {}) => ({
  id: newId(),
  view: 'whole-company',
  author: 'Ida',
  words: 'Is this so?',
  ...more,
})
const say = async (more: object = {}) => {
  const body = said(more)
  return { ...(await call(comments(), 'POST', body)), id: body.id }
}
const threads = async (of = workspace) => (await call(comments(of))).body.threads
const page = async (more: object = {}) =>
  (
    await call(`/api/workspaces/${workspace}/readers`, 'POST', {
      reach: 'view',
      of: 'port-services',
      findings: false,
      comments: true,
      ...more,
    })
  ).body
const sayAt = (path: string, more: object = {}) =>
  call(`${path}/comments`, 'POST', { id: newId(), view: 'port-services', author: 'Joss', words: 'Why two?', ...more })
const letters = async () => (await call('/standins/mail/letters')).body.letters
const until = async <T>(look: () => Promise<T>, found: (seen: T) => boolean): Promise<T> => {
  for (let tries = 0; tries < 100; tries++) {
    const seen = await look()
    if (found(seen)) return seen
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  return look()
}

beforeAll(async () => {
  server = await startServer(inject('databaseUrl'), { SKIVEL_ADDRESS: 'https://skivel.example/' })
})
afterAll(() => server.stop())
// What one test says counts for the limits of no other; what is in the bin, the list of all workspaces need not check.
beforeEach(async () => {
  workspace = await begun()
})
afterEach(async () => {
  await call(`/api/workspaces/${workspace}`, 'DELETE')
})

describe('what is said on a page', () => {
  it('is a thread about a view, a fact or a place, answered, resolved with who and when, and opened again', async () => {
    const first = await say({ fact: 'person-lune-aske' })
    expect(first.status).toBe(201)
    const placed = await say({ at: { x: 40, y: -3 } })
    await call(comments(), 'POST', { id: newId(), thread: first.id, author: ' Per ', words: '  It is.\nSince May. ' })
    const [one, other] = await threads()
    expect(one).toMatchObject({ id: first.id, view: 'whole-company', fact: 'person-lune-aske', isShared: false })
    expect(one?.comments.map(({ author, words, byReader }) => [author, words, byReader])).toEqual([
      ['Ida', 'Is this so?', false],
      ['Per', 'It is.\nSince May.', false],
    ])
    expect(Math.abs(Date.parse(one?.comments[0]?.at ?? '') - Date.now())).toBeLessThan(60_000)
    expect(other).toMatchObject({ id: placed.id, place: { x: 40, y: -3 } })
    await call(`${comments()}/${first.id}`, 'PATCH', { resolved: true, author: 'Per' })
    // Who was first stays.
    await call(`${comments()}/${first.id}`, 'PATCH', { resolved: true, author: 'Ida' })
    const resolved = (await threads())[0]?.resolved
    expect(resolved).toMatchObject({ by: 'Per', taken: false })
    expect(Math.abs(Date.parse(resolved?.at ?? '') - Date.now())).toBeLessThan(60_000)
    const opened = await call(`${comments()}/${first.id}`, 'PATCH', { resolved: false, author: 'Ida' })
    expect(opened.body.threads[0]?.resolved).toBeUndefined()
  })
  it('is said once, however often it is sent', async () => {
    const body = said()
    const answers = await Promise.all([1, 2, 3, 4].map(() => call(comments(), 'POST', body)))
    expect(answers.map(({ status }) => status)).toEqual([201, 201, 201, 201])
    expect(await threads()).toHaveLength(1)
  })
  it('is taken away and brought back, a thread with its answers', async () => {
    const first = await say()
    const answer = newId()
    await call(comments(), 'POST', { id: answer, thread: first.id, author: 'Per', words: 'Yes' })
    const hide = (id: string, hidden: boolean) => call(`${comments()}/${id}`, 'PATCH', { hidden, author: 'Ida' })
    expect((await hide(answer, true)).body.threads[0]?.comments).toHaveLength(1)
    await hide(answer, false)
    expect((await hide(first.id, true)).body.threads).toEqual([])
    const late = await call(comments(), 'POST', { id: newId(), thread: first.id, author: 'Per', words: 'And?' })
    expect([late.status, late.body.error.faults?.[0]?.path]).toEqual([400, 'thread'])
    // What was taken away is not said again because it arrives once more.
    const again = await call(comments(), 'POST', said({ id: first.id }))
    expect([again.status, again.body.threads]).toEqual([201, []])
    expect((await hide(first.id, false)).body.threads[0]?.comments).toHaveLength(2)
    expect((await hide('nothing', true)).status).toBe(404)
  })
  it('stays where its fact is gone, and is there again with it', async () => {
    await say({ fact: 'person-lune-aske' })
    await call(`/api/workspaces/${workspace}/changes`, 'POST', {
      id: 'gone-1',
      base: 0,
      label: 'l',
      author: 'a',
      steps: [{ do: 'remove-entity', id: 'person-lune-aske' }],
    })
    expect((await threads())[0]?.fact).toBe('person-lune-aske')
  })
  it.each([
    ['of nothing', { view: 'no-view' }, 'view'],
    ['of a fact that is not there', { fact: 'nobody' }, 'fact'],
    ['in no words', { words: ' \n ' }, 'words'],
    ['in too many words', { words: 'x'.repeat(2001) }, 'words'],
    ['by nobody', { author: '  ' }, 'author'],
    ['with control characters', { words: 'a\u0000b' }, 'words'],
    ['with two addresses', { mail: 'a@b.example, c@d.example' }, 'mail'],
    ['with a line in its address', { mail: 'a@b.example\nBcc: c@d.example' }, 'mail'],
    ['at a place that is none', { at: { x: 1e9, y: 0 } }, 'at.x'],
    ['of a fact and a place', { fact: 'person-lune-aske', at: { x: 1, y: 1 } }, 'body'],
    ['of a thread and a view', { thread: 'x' }, 'body'],
    ['as an answer to nothing', { thread: 'nothing', view: undefined }, 'thread'],
  ])('is refused in words where it is said %s', async (_, more, path) => {
    const { status, body } = await say(more)
    expect([status, body.error.faults?.[0]?.path]).toEqual([400, path])
    expect(await threads()).toEqual([])
  })
  it('is kept as it is, whatever it looks like', async () => {
    const words = '<script>alert(1)</script> **a** &amp; \u202e ’); DROP TABLE comment; --'
    await say({ words, author: '<b>Ida</b>' })
    expect((await threads())[0]?.comments[0]).toMatchObject({ words, author: '<b>Ida</b>' })
  })
  it('has an end: of a thread, of a workspace, and of what is said in a while', async () => {
    const pool = openPool(inject('databaseUrl'))
    const fill = (count: number, thread: string, ago: string, byReader = 0) =>
      pool.query(
        `INSERT INTO comment (workspace_id, id, thread, view_id, author, by_reader, words, made_at)
          SELECT ?, CONCAT('f-', seq, ?), IF(? = '', CONCAT('f-', seq, ?), ?), 'whole-company', 'a', ${byReader}, 'w', CURRENT_TIMESTAMP(3) - INTERVAL ${ago} FROM seq_1_to_${count}`,
        [workspace, thread, thread, thread, thread],
      )
    const first = await say()
    await fill(199, first.id, '1 DAY')
    const full = await call(comments(), 'POST', { id: newId(), thread: first.id, author: 'a', words: 'w' })
    expect([full.status, full.body.error.message]).toEqual([
      400,
      'A thread has 200 comments at most. Begin another one.',
    ])
    await fill(299, '', '1 MINUTE')
    const often = await say()
    expect([often.status, often.body.error.code]).toEqual([429, 'too-many'])
    await pool.query('UPDATE comment SET made_at = made_at - INTERVAL 1 DAY WHERE workspace_id = ?', [workspace])
    expect((await say()).status).toBe(201)
    await pool.query('DELETE FROM comment WHERE workspace_id = ?', [workspace])
    // What readers say fills their own room.
    await fill(1000, '', '1 DAY', 1)
    const { path } = await page()
    expect((await sayAt(path)).body.error.message).toContain('1000 comments at most')
    expect((await say()).status).toBe(201)
    await pool.query('DELETE FROM comment WHERE workspace_id = ?', [workspace])
    await fill(2000, '', '1 DAY')
    expect((await sayAt(path)).status).toBe(201)
    const all = await say()
    expect([all.status, all.body.error.message]).toContain(400)
    expect(all.body.error.message).toContain('2000 comments at most')
    await pool.end()
  })
  it('is gone with the workspace, from the bin on', async () => {
    await say()
    await call(`/api/workspaces/${workspace}`, 'DELETE')
    expect((await call(comments())).status).toBe(404)
    expect((await say()).status).toBe(404)
  })
})

describe('a proposal', () => {
  const renamed = { do: 'set-entity', id: 'person-lune-aske', path: 'name', value: 'Lune Aske-Hurst' }
  const proposal = { label: 'Rename “Lune Aske”', steps: [renamed] }
  const take = (thread: string, id: string, more: object = {}) =>
    call(`/api/workspaces/${workspace}/changes`, 'POST', {
      id,
      base: 0,
      label: 'Take it over',
      author: 'Per',
      steps: [renamed],
      takes: thread,
      ...more,
    })

  it('changes nothing until it is taken over, which resolves it in the same step', async () => {
    const { id } = await say({ proposal })
    expect((await threads())[0]?.proposal).toBe('Rename “Lune Aske”')
    expect((await call(`/api/workspaces/${workspace}`)).body.revision).toBe(0)
    expect((await call(`${comments()}/${id}`)).body.proposal).toEqual(proposal)
    const before = (await call(comments())).body.talk
    expect((await take(id, 't-1')).body.revision).toBe(1)
    const { talk, threads: now } = (await call(comments())).body
    expect(talk).toBe(before + 1)
    expect(now[0]?.resolved).toMatchObject({ by: 'Per', taken: true })
    // Sent again, it is the same; by somebody else, it is told who was first, and nothing is changed.
    expect((await take(id, 't-1')).status).toBe(200)
    const again = await take(id, 't-2', { author: 'Ida', base: 1 })
    expect([again.status, again.body.error.message]).toEqual([400, 'Per has taken this proposal over already.'])
    expect((await call(`/api/workspaces/${workspace}`)).body.revision).toBe(1)
  })
  it('that clashes with what others did is not taken over, and stays open', async () => {
    const { id } = await say({ proposal })
    const other = { id: 'o-1', base: 0, label: 'l', author: 'a', steps: [{ ...renamed, value: 'Lune' }] }
    await call(`/api/workspaces/${workspace}/changes`, 'POST', other)
    expect((await take(id, 't-3')).status).toBe(409)
    expect((await threads())[0]?.resolved).toBeUndefined()
  })
  it('is a change that could be made, or is refused in words', async () => {
    const wrong = async (steps: unknown) => (await say({ proposal: { label: 'l', steps } })).body.error
    expect((await wrong([{ do: 'set-entity', id: 'nobody', path: 'name', value: 'x' }])).code).toBe('bad-request')
    expect((await wrong([{ ...renamed, value: 7 }])).code).toBe('bad-request')
    expect((await wrong([{ do: 'nothing' }])).code).toBe('bad-request')
    const long = Array.from({ length: 1500 }, () => ({ ...renamed, path: 'fields.note', value: 'n'.repeat(300) }))
    expect((await wrong(long)).message).toBe(
      'This is more than a proposal can hold. Propose it in parts, or send it as a file.',
    )
    expect(await threads()).toEqual([])
    const first = await say()
    const answer = { id: newId(), thread: first.id, author: 'a', words: 'w', proposal }
    expect((await call(comments(), 'POST', answer)).status).toBe(400)
  })
})

describe('what readers say', () => {
  const picture = async (path: string) => (await fetch(server.address + path)).text()
  const partOf = async (path: string, name: string) =>
    new RegExp(`data-part="([\\w-]+)" data-name="[^"]*${name}`).exec(await picture(path))?.[1]

  it('is about a part of their picture, is answered from the page, and is seen at their address only', async () => {
    const { path } = await page()
    const part = await partOf(path, 'Lune Aske')
    expect(part).toMatch(/^[\w-]{22}$/)
    const { status, body } = await sayAt(path, { part })
    expect(status).toBe(201)
    expect(body.threads).toMatchObject([{ part, comments: [{ author: 'Joss', byReader: true }] }])
    const [thread] = await threads()
    expect(thread).toMatchObject({ isShared: true, view: 'port-services' })
    expect(JSON.stringify(body)).not.toContain(thread?.fact ?? 'none')
    await call(comments(), 'POST', { id: newId(), thread: thread?.id, author: 'Ida', words: 'One is acting.' })
    await say({ view: 'port-services', words: 'Between us' })
    const seen = (await call(`${path}/comments`)).body.threads
    expect(seen.flatMap((one) => one.comments.map(({ words }) => words))).toEqual(['Why two?', 'One is acting.'])
    const another = await page()
    expect((await call(`${another.path}/comments`)).body.threads).toEqual([])
    const foreign = await sayAt(another.path, { view: undefined, thread: thread?.id })
    expect([foreign.status, foreign.body.error.faults?.[0]?.path]).toEqual([400, 'thread'])
    // The mark of one address is none at another.
    const marked = await sayAt(another.path, { part })
    expect([marked.status, marked.body.error.faults?.[0]?.path]).toEqual([400, 'part'])
  })
  it('is about parts that are called as the picture writes them, and by nothing that it does not show', async () => {
    await call(`/api/workspaces/${workspace}/changes`, 'POST', {
      id: 'bare-1',
      base: 0,
      label: 'l',
      author: 'a',
      steps: [{ do: 'set-view', id: 'port-services', path: 'options.title', value: false }],
    })
    const shown = await picture((await page()).path)
    expect(shown).toContain('data-name="Lune Aske"')
    expect(shown).not.toContain('Berth supervisor')
  })
  it('tells nothing of what else was said: no name is taken for another’s', async () => {
    const theirs = await say({ words: 'Between us' })
    const { path } = await page()
    // The same whether such a thing was said or not.
    const asked = async (id: string) => {
      const { status, body } = await sayAt(path, { id, view: undefined, thread: 'none' })
      return [status, body]
    }
    expect(await asked(theirs.id)).toEqual(await asked('never-said'))
    const own = newId()
    expect((await sayAt(path, { id: own })).status).toBe(201)
    expect((await sayAt(path, { id: own })).body.threads).toHaveLength(1)
    expect((await sayAt(path, { id: own, words: 'Something else' })).status).toBe(400)
  })
  it('is about a place as well, told from where the picture begins, or about all of it', async () => {
    const { path } = await page()
    expect(await picture(path)).toMatch(/data-origin="-?\d+ -?\d+"/)
    await sayAt(path, { at: { x: 12, y: -7 } })
    const [seen] = (await sayAt(path)).body.threads
    expect(seen?.place).toEqual({ x: 12, y: -7 })
    expect((await threads()).map(({ place }) => place)).toEqual([{ x: 12, y: -7 }, undefined])
    const both = await sayAt(path, { at: { x: 1, y: 1 }, part: await partOf(path, 'Lune Aske') })
    expect([both.status, both.body.error.faults?.[0]?.path]).toEqual([400, 'body'])
  })
  it('is said of what they may read, and nowhere where that is switched off, withdrawn or over', async () => {
    const never = (await call(`/read/${'a'.repeat(43)}/comments`)).body
    const { path, reader } = await page()
    expect((await sayAt(path, { view: 'whole-company' })).body.error.faults?.[0]?.path).toBe('view')
    const other = await page({ comments: undefined })
    expect(await picture(other.path)).not.toContain('data-part')
    const closed = [
      await sayAt(other.path),
      await call(`${other.path}/comments`),
      await sayAt((await page({ until: '2020-01-01' })).path),
    ]
    const off = await call(`/api/workspaces/${workspace}/readers/${reader.id}`, 'PATCH', { comments: false })
    expect(off.body).toEqual({ comments: false })
    expect((await call(`/api/workspaces/${workspace}/readers`)).body.readers[0]?.comments).toBe(false)
    closed.push(await sayAt(path))
    await call(`/api/workspaces/${workspace}/readers/${reader.id}`, 'PATCH', { comments: true })
    expect((await sayAt(path)).status).toBe(201)
    await call(`/api/workspaces/${workspace}/readers/${reader.id}`, 'DELETE')
    closed.push(await sayAt(path))
    const bin = await page()
    await call(`/api/workspaces/${workspace}`, 'DELETE')
    closed.push(await sayAt(bin.path), await call(`${bin.path}/comments`))
    for (const { status, body } of closed) expect([status, body]).toEqual([404, never])
  })
  it('is a few things in a while, at each address', async () => {
    const { path } = await page()
    const statuses = []
    for (let said = 0; said < 32; said++) statuses.push((await sayAt(path)).status)
    expect([...new Set(statuses.slice(0, 30)), ...statuses.slice(30)]).toEqual([201, 429, 429])
    expect((await sayAt((await page()).path)).status).toBe(201)
    expect((await say()).status).toBe(201)
  })
  it('changes nothing but what is said, whatever is sent', async () => {
    const { path } = await page()
    const before = (await call(`/api/workspaces/${workspace}`)).body
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom('POST', 'PUT', 'PATCH', 'DELETE'),
        fc.constantFrom(path, `${path}/comments`, `${path}/comments/c-1`),
        fc.oneof(
          fc.jsonValue(),
          fc.record(
            {
              id: fc.string(),
              thread: fc.string(),
              view: fc.constantFrom('port-services', 'x'),
              part: fc.string(),
              author: fc.string(),
              words: fc.string(),
              steps: fc.jsonValue(),
              proposal: fc.jsonValue(),
              resolved: fc.boolean(),
            },
            { requiredKeys: [] },
          ),
        ),
        async (method, address, body) => {
          const { status } = await fetch(server.address + address, {
            method,
            headers: { 'content-type': 'application/json' },
            body: JSON.stringify(body),
          })
          expect(status).toBeLessThan(500)
        },
      ),
      { numRuns: 150 },
    )
    expect((await call(`/api/workspaces/${workspace}`)).body).toEqual(before)
    expect((await threads()).every((one) => one.proposal === undefined && one.resolved === undefined)).toBe(true)
  })
})

describe('letters', () => {
  let began = ''
  beforeEach(() => {
    began = new Date().toISOString()
  })
  /** What this test has sent to somebody, the newest first. */
  const sentTo = (name: string) => async () =>
    (await letters()).filter(({ to, at }) => to.includes(name) && at >= began)
  it('go to whom a comment calls and to who spoke before, with a way back; plain, whatever was said', async () => {
    const [lune, wren] = ['lune.aske@marramsound.example', 'wren.adair@marramsound.example']
    const first = await say({
      fact: 'person-lune-aske',
      author: 'Wren Adair',
      words: 'Ask @lune aske, not nobody@example.org\n.\nBcc: x@example.org <b>',
    })
    const [called] = await until(sentTo(lune), (seen) => seen.length > 0)
    expect(called).toMatchObject({ to: [lune], subject: 'Wren Adair on “Lune Aske” in “Whole company”' })
    expect(called?.words).toContain('> Ask @lune aske, not nobody@example.org\n> .\n> Bcc: x@example.org <b>')
    expect(called?.words).toContain(`https://skivel.example/w/${workspace}#view=whole-company`)
    await call(comments(), 'POST', {
      id: newId(),
      thread: first.id,
      author: 'Per',
      words: 'Done',
      mail: 'per@x.example',
    })
    const [answered] = await until(sentTo(wren), (seen) => seen.length > 0)
    expect(answered?.words).toContain('> Done')
    expect((await letters()).flatMap(({ to }) => to)).not.toContain('x@example.org')
    // What Wren says herself is no news to her; to Per it is.
    await call(comments(), 'POST', { id: newId(), thread: first.id, author: 'Wren Adair', words: 'Thanks' })
    // Per has left an address that the facts do not know: he is asked first, without a word of anybody.
    const [question] = await until(sentTo('per@x.example'), (seen) => seen.length > 0)
    expect(question?.subject).toBe('Letters from Skivel?')
    expect(question?.words).not.toMatch(/Thanks|Wren|Whole company/)
    await wanting(question, 'yes')
    const toPer = await until(sentTo('per@x.example'), (seen) => seen.some(({ words }) => words.includes('> Thanks')))
    expect(toPer).toHaveLength(2)
    expect(await sentTo(wren)()).toHaveLength(1)
  })
  it('tell readers of answers from the page alone, and of nothing that their page does not show', async () => {
    const { path } = await page()
    const part = new RegExp('data-part="([\\w-]+)" data-name="[^"]*Lune Aske').exec(
      await (await fetch(server.address + path)).text(),
    )?.[1]
    const [begun] = (await sayAt(path, { part, mail: 'joss@reader.example', words: 'Hello @Wren Adair' })).body.threads
    const id = begun?.id
    await sayAt(path, { view: undefined, thread: id, author: 'Other', mail: 'victim@reader.example', words: 'Me too' })
    await call(comments(), 'POST', { id: newId(), thread: id, author: 'Ida', words: `An answer in ${workspace}` })
    const [question] = await until(sentTo('joss@reader.example'), (seen) => seen.length > 0)
    await wanting(question, 'yes')
    const [letter, ...more] = await until(sentTo('joss@reader.example'), (seen) => seen.length > 1)
    expect(more).toHaveLength(1)
    expect(letter?.subject).toBe('Ida on “Port services”')
    expect(letter?.words).not.toMatch(/\/w\/|Marram/)
    // Nobody is written to because a reader says so.
    expect((await letters()).filter(({ words }) => /Me too|Hello/.test(words))).toEqual([])
  })
  const wayIn = (letter: { words: string } | undefined) => /\/letters\/[\w-]{43}/.exec(letter?.words ?? '')?.[0] ?? ''
  const wanting = async (letter: { words: string } | undefined, letters: 'yes' | 'no') =>
    (await fetch(server.address + wayIn(letter), { method: 'POST', body: new URLSearchParams({ letters }) })).status
  it('go to no stranger: whoever is called by nobody’s facts is asked once, and gets nothing before they say so', async () => {
    const stranger = `s${Date.now()}@stranger.example`
    const first = await say({ author: 'Head', words: 'I am', mail: stranger })
    const answer = (words: string) =>
      call(comments(), 'POST', { id: newId(), thread: first.id, author: 'IT support', words })
    await answer('Your password, please')
    const [question] = await until(sentTo(stranger), (seen) => seen.length > 0)
    expect(question?.words).not.toMatch(/password|IT support|Head/)
    await answer('At once')
    // A program that follows every address in a letter says nothing by it.
    const looked = await fetch(server.address + wayIn(question))
    expect([looked.status, await looked.text()]).toEqual([200, expect.stringContaining('before you say so')])
    await new Promise((resolve) => setTimeout(resolve, 500))
    expect(await sentTo(stranger)()).toHaveLength(1)
    expect(await wanting(question, 'no')).toBe(200)
    await answer('Now')
    await new Promise((resolve) => setTimeout(resolve, 500))
    expect(await sentTo(stranger)()).toHaveLength(1)
    // What waited is gone with the word that none is wanted; from a later yes on letters come, each with who wrote and a way to stop them.
    expect(await wanting(question, 'yes')).toBe(200)
    await answer('Welcome')
    const [welcome] = await until(sentTo(stranger), (seen) => seen.length > 1)
    expect(welcome?.words).toContain(
      'Written by “IT support”, as they call themselves, in the workspace “Marram Sound Ferries”',
    )
    expect(welcome?.words).not.toContain('Now')
    expect(wayIn(welcome)).toBe(wayIn(question))
    expect((await fetch(`${server.address}/letters/${'a'.repeat(43)}`)).status).toBe(404)
  })
  it('go to addresses that the facts have told for a while, not to those that somebody has just stated', async () => {
    const fresh = `f${Date.now()}@stranger.example`
    const strict = await startServer(inject('databaseUrl'), { SKIVEL_STATED_MINUTES: '10' })
    const lettersOf = async (address: string) =>
      (await call('/standins/mail/letters', 'GET', undefined, strict)).body.letters.filter(({ to }) =>
        to.includes(address),
      )
    const pool = openPool(inject('databaseUrl'))
    await pool.query('UPDATE workspace SET created_at = created_at - INTERVAL 1 DAY WHERE id = ?', [workspace])
    const steps = [{ do: 'set-entity', id: 'person-lune-aske', path: 'fields.email', value: fresh }]
    const revision = Number((await call(`/api/workspaces/${workspace}`)).body.revision)
    const change = { id: `m-${Date.now()}`, base: revision, label: 'l', author: 'a', steps }
    expect((await call(`/api/workspaces/${workspace}/changes`, 'POST', change)).status).toBe(200)
    await call(comments(), 'POST', said({ words: 'Look here @Lune Aske and @Wren Adair' }), strict)
    const [question] = await until(
      () => lettersOf(fresh),
      (seen) => seen.length > 0,
    )
    expect(question?.words).not.toContain('Look here')
    expect(
      (
        await until(
          () => lettersOf('wren.adair@marramsound.example'),
          (seen) => seen.length > 0,
        )
      )[0]?.words,
    ).toContain('Look here')
    await strict.stop()
    await pool.end()
  })
  it('are some to one address in an hour, whatever workspaces they come from', async () => {
    const pool = openPool(inject('databaseUrl'))
    const lune = 'lune.aske@marramsound.example'
    await pool.query('DELETE FROM letter_written')
    const before = (await sentTo(lune)()).length
    const two = [workspace, (await call(`/api/workspaces/${workspace}/copy`, 'POST')).body.id]
    for (let at = 0; at < 40; at++)
      expect((await call(comments(two[at % 2]), 'POST', said({ words: `${at} @Lune Aske` }))).status).toBe(201)
    await until(sentTo(lune), (seen) => seen.length >= before + 30)
    await new Promise((resolve) => setTimeout(resolve, 500))
    expect((await sentTo(lune)()).length - before).toBe(30)
    await pool.query('DELETE FROM letter_written')
    await pool.end()
  })
  it.each(['a\0@x.example', 'a@x.example\0', 'a b@x.example'])('are refused to %j', async (mail) => {
    const { status, body } = await say({ mail })
    expect([status, body.error.faults?.[0]?.path]).toEqual([400, 'mail'])
  })
  it('wait where nobody takes them, and are sent once the mail server answers, by whichever server is there', async () => {
    const url = inject('databaseUrl')
    const deaf = await startServer(url, { SKIVEL_MAIL_URL: 'smtp://127.0.0.1:9', SKIVEL_STATED_MINUTES: '0' })
    const words = `Late @Lune Aske of ${workspace}`
    expect((await call(comments(), 'POST', said({ words }), deaf)).status).toBe(201)
    const pool = openPool(url)
    const waiting = async () =>
      (await pool.query<never[]>('SELECT tries FROM letter WHERE words LIKE ?', [`%${words}%`]))[0] as {
        tries: number
      }[]
    await until(waiting, ([one]) => (one?.tries ?? 0) > 0)
    await deaf.stop()
    await pool.query('UPDATE letter SET try_at = CURRENT_TIMESTAMP(3)')
    // Whoever sends next sends what is due.
    await say({ words: `Now @Wren Adair` })
    await until(sentTo('lune.aske@marramsound.example'), (seen) => seen.length > 0)
    expect(await waiting()).toEqual([])
    await pool.end()
  })
})

describe('those who listen', () => {
  it('hear of what is said, here and by way of another server', async () => {
    const other = await startServer(inject('databaseUrl'))
    const response = await fetch(`${server.address}/api/workspaces/${workspace}/events`)
    const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader()
    let heard = ''
    const hears = async (text: string) => {
      while (!heard.includes(text)) {
        const part = await reader?.read()
        if (!part || part.done) throw new Error('it ended')
        heard += part.value
      }
    }
    await hears('event: talk\ndata: 0')
    await say()
    await hears('event: talk\ndata: 1')
    await call(comments(), 'POST', said(), other)
    await hears('event: talk\ndata: 2')
    await reader?.cancel()
    await other.stop()
  })
})
