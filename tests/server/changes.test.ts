import { afterAll, describe, expect, inject, it } from 'vitest'
import { writeWorkspace } from '../../src/core/file'
import { asDay, stepsBetween, type Step } from '../../src/core/model'
import { marramSoundFerries } from '../../src/demo'
import { openPool } from '../../src/server/db/pool'
import { commitChange } from '../../src/server/services/changes'
import { BadRequest, Clash, NotFound } from '../../src/server/services/errors'
import { listen, type News } from '../../src/server/services/feed'
import { changesSince, historyBefore, modelAt } from '../../src/server/services/history'
import { storeOn } from '../../src/server/services/store'
import {
  binned,
  copyWorkspace,
  createWorkspace,
  destroyWorkspace,
  loadWorkspace,
  removeWorkspace,
  restoreWorkspace,
  workspaceList,
} from '../../src/server/services/workspaces'
import { insertAsset, listAssets } from '../../src/server/repositories/assets'
import { emptyBin } from '../../src/server/repositories/workspaces'
import { lookAtDue } from '../../src/server/services/summaries'
import { DAY, facts, id, person, position, reports, tie } from '../facts'

const store = storeOn(openPool(inject('databaseUrl')))
/** Another server before the same database: it shares nothing with the first but the rows. */
const other = storeOn(openPool(inject('databaseUrl')))
afterAll(async () => {
  await store.pool.end()
  await other.pool.end()
})

let sent = 0
const change = (base: number, steps: readonly Step[], label = 'test') => ({
  id: `change-${++sent}-${Date.now()}`,
  base,
  label,
  author: 'Tester',
  steps,
})
const rename = (key: string, value: string): Step => ({ do: 'set-entity', id: id(key), path: 'name', value })
const small = () => createWorkspace(store, facts(position('a'), position('b'), reports('b', 'a')))

describe('a workspace in the database', () => {
  it('comes back as it was stored, in the order in which it was stated', async () => {
    const demo = marramSoundFerries()
    const workspace = await createWorkspace(store, demo)
    const { model, revision } = await loadWorkspace(other, workspace)
    expect(revision).toBe(0)
    expect(writeWorkspace(model)).toEqual(writeWorkspace(demo))
  })
  it('keeps every letter of names in any script', async () => {
    const names = ['Ørjan “Ø” Čapek', '山田 太郎', '😀 ‮', 'a\\b\'c"d', '<b>&amp;']
    const workspace = await createWorkspace(
      store,
      facts(...names.map((name, i) => position(`p${i}`, { name, fields: { grade: name } }))),
    )
    const { model } = await loadWorkspace(other, workspace)
    expect(model.ofKind('position').map(({ name, fields }) => [name, fields['grade']])).toEqual(
      names.map((name) => [name, name]),
    )
  })
  it('is listed with its chapters and what is wrong in it', async () => {
    const workspace = await createWorkspace(store, marramSoundFerries())
    const listed = async () => (await workspaceList(store)).find((one) => one.id === workspace)
    expect(await listed()).toMatchObject({ chapters: [], isLookedAt: true })
    await lookAtDue(store, DAY)
    const entry = await listed()
    expect(entry).not.toHaveProperty('isLookedAt')
    expect(entry).toMatchObject({
      name: 'Marram Sound Ferries',
      chapters: ['People', 'Work', 'Time', 'Networks', 'Software', 'Figures'],
      tally: { error: 6, warning: 11, note: 0 },
    })
  })
  it('is looked at after each change, and on each day', async () => {
    const workspace = await small()
    const found = async (day = DAY) => {
      await lookAtDue(store, day)
      const { tally } = (await workspaceList(store)).find((one) => one.id === workspace) ?? {}
      const { error = 0, warning = 0, note = 0 } = tally ?? {}
      return error + warning + note
    }
    const vacant = await found()
    expect(vacant).toBeGreaterThan(0)
    const holder: Step[] = [
      { do: 'add-entity', entity: person('ada') },
      { do: 'add-relation', relation: tie('holds', 'ada', 'a', { to: asDay('2027-06-30') }) },
    ]
    await commitChange(other, workspace, change(0, holder))
    expect(await found()).toBeLessThan(vacant)
    expect(await found(asDay('2028-01-01'))).toBe(vacant)
    expect(await found()).toBeLessThan(vacant)
  })
  it('lies in the bin when it is removed, comes back whole, and is gone with all its rows when it is ended there', async () => {
    const workspace = await small()
    const before = (await loadWorkspace(store, workspace)).model
    const rowsOf = () => store.database.rows('SELECT id FROM entity WHERE workspace_id = ?', [workspace])
    const inBin = async () => (await binned(store)).some(({ id }) => id === workspace)
    await expect(destroyWorkspace(store, workspace)).rejects.toThrow(NotFound)
    await removeWorkspace(store, workspace)
    await expect(loadWorkspace(store, workspace)).rejects.toThrow(NotFound)
    await expect(removeWorkspace(store, workspace)).rejects.toThrow(NotFound)
    expect((await workspaceList(store)).some(({ id }) => id === workspace)).toBe(false)
    expect(await inBin()).toBe(true)

    await restoreWorkspace(store, workspace)
    expect(writeWorkspace((await loadWorkspace(store, workspace)).model)).toEqual(writeWorkspace(before))
    await expect(restoreWorkspace(store, workspace)).rejects.toThrow(NotFound)

    await removeWorkspace(store, workspace)
    const put = (days: number) =>
      store.database.write('UPDATE workspace SET deleted_at = CURRENT_TIMESTAMP(3) - INTERVAL ? HOUR WHERE id = ?', [
        days * 24,
        workspace,
      ])
    await put(29.9)
    expect(await inBin()).toBe(true)
    await put(30.1)
    expect(await inBin()).toBe(false)
    expect(await rowsOf()).not.toHaveLength(0)
    await emptyBin(store.database)
    expect(await rowsOf()).toHaveLength(0)

    const other = await small()
    await removeWorkspace(store, other)
    await destroyWorkspace(store, other)
    await expect(restoreWorkspace(store, other)).rejects.toThrow(NotFound)
  })
  it('is copied with its facts and photos, under a name of its own, and found by a part of its name', async () => {
    const photo = Buffer.from('not much of a picture')
    const workspace = await small()
    await insertAsset(store.database, workspace, { id: 'abc', mediaType: 'image/jpeg', content: photo })
    const copy = await copyWorkspace(store, workspace)
    const [from, to] = [(await loadWorkspace(store, workspace)).model, (await loadWorkspace(store, copy)).model]
    expect(to.name).toBe(`${from.name}, copy`)
    expect(writeWorkspace(to.with({ name: from.name }))).toEqual(writeWorkspace(from))
    expect((await listAssets(store.database, copy)).map(({ content }) => content)).toEqual([photo])
    const found = async (named: string) => (await workspaceList(store, named)).map(({ id }) => id)
    expect(await found(', COPY')).toContain(copy)
    expect(await found(', copy')).not.toContain(workspace)
    // What is a sign to the database is none to who searches.
    for (const sign of ['%', '_', '\\']) expect(await found(sign)).not.toContain(copy)
  })
})

describe('a change', () => {
  it('is stored with its history, and answers the next revision', async () => {
    const workspace = await small()
    expect(await commitChange(store, workspace, change(0, [rename('a', 'Head')], 'Rename'))).toMatchObject({
      revision: 1,
    })
    const { model } = await loadWorkspace(other, workspace)
    expect(model.entities.get(id('a'))?.name).toBe('Head')
    expect(await changesSince(store, workspace, 0, 10)).toMatchObject([
      { revision: 1, label: 'Rename', author: 'Tester', steps: [rename('a', 'Head')] },
    ])
  })
  it('of every sort reaches its table', async () => {
    const workspace = await small()
    const steps: Step[] = [
      { do: 'add-entity', entity: position('c', { fields: { fte: 0.5 } }) },
      { do: 'add-relation', relation: reports('c', 'a') },
      { do: 'set-relation', id: reports('b', 'a').id, path: 'target', value: 'c' },
      { do: 'set-entity', id: id('b'), path: 'to', value: '2027-01-31' },
      { do: 'set-view', id: id('view'), path: 'title', value: 'Staff' },
      { do: 'set-workspace', path: 'name', value: 'New name' },
      { do: 'set-workspace', path: 'thresholds.org/wide-span', value: 12 },
    ]
    await commitChange(store, workspace, change(0, steps))
    const { model } = await loadWorkspace(other, workspace)
    expect(model.entities.get(id('c'))?.fields).toEqual({ fte: 0.5 })
    expect(model.relations.get(reports('b', 'a').id)?.target).toBe('c')
    expect(model.entities.get(id('b'))?.to).toBe('2027-01-31')
    expect([model.views.get(id('view'))?.title, model.name, model.settings.thresholds]).toEqual([
      'Staff',
      'New name',
      { 'org/wide-span': 12 },
    ])
    await commitChange(
      store,
      workspace,
      change(1, [
        { do: 'remove-relation', id: reports('c', 'a').id },
        { do: 'remove-view', id: id('view') },
      ]),
    )
    const next = await loadWorkspace(other, workspace)
    expect([next.model.relations.size, next.model.views.size]).toEqual([1, 0])
  })
  it('that is sent twice is made once', async () => {
    const workspace = await small()
    const one = change(0, [rename('a', 'Head')])
    const first = await commitChange(store, workspace, one)
    expect(first.revision).toBe(1)
    expect(await commitChange(other, workspace, one)).toEqual(first)
    expect(await changesSince(store, workspace, 0, 10)).toHaveLength(1)
  })
  it('that is sent again as something else is refused, with what was sent before', async () => {
    const workspace = await small()
    const one = change(0, [rename('a', 'Head o')])
    await commitChange(store, workspace, one)
    const longer = { ...one, steps: [rename('a', 'Head of operations')] }
    const refused = commitChange(other, workspace, longer)
    await expect(refused).rejects.toThrow(Clash)
    await expect(refused).rejects.toMatchObject({ sides: { revision: 1, theirs: [{ label: 'test' }] } })
    expect((await loadWorkspace(other, workspace)).model.entities.get(id('a'))?.name).toBe('Head o')
  })
  it('on an older revision is merged when it touches other facts', async () => {
    const workspace = await small()
    await commitChange(store, workspace, change(0, [rename('a', 'Head')]))
    expect(await commitChange(other, workspace, change(0, [rename('b', 'Clerk')]))).toMatchObject({ revision: 2 })
    const { model } = await loadWorkspace(store, workspace)
    expect(model.ofKind('position').map(({ name }) => name)).toEqual(['Head', 'Clerk'])
  })
  it('of the same fact is refused with both sides, and nothing is written', async () => {
    const workspace = await small()
    await commitChange(store, workspace, change(0, [rename('a', 'Head')], 'Call it Head'))
    const clash = await commitChange(other, workspace, change(0, [rename('a', 'Chair')], 'Call it Chair')).catch(
      (error: unknown) => error,
    )
    expect(clash).toBeInstanceOf(Clash)
    expect((clash as Clash).sides).toMatchObject({
      ours: 'Call it Chair',
      theirs: [{ label: 'Call it Head', author: 'Tester' }],
      facts: ['entity/a/name'],
      revision: 1,
    })
    expect((await loadWorkspace(other, workspace)).revision).toBe(1)
  })
  it('of something that somebody removed meanwhile is a clash too', async () => {
    const workspace = await small()
    await commitChange(
      store,
      workspace,
      change(0, [
        { do: 'remove-relation', id: reports('b', 'a').id },
        { do: 'remove-entity', id: id('b') },
      ]),
    )
    await expect(commitChange(store, workspace, change(0, [rename('b', 'Clerk')]))).rejects.toThrow(Clash)
    await expect(
      commitChange(store, workspace, change(0, [{ do: 'add-relation', relation: reports('a', 'b') }])),
    ).rejects.toThrow(Clash)
  })
  it('that does not fit is refused whole', async () => {
    const workspace = await small()
    const wrong = commitChange(store, workspace, change(0, [rename('a', 'Head'), rename('nobody', 'x')]))
    await expect(wrong).rejects.toThrow(BadRequest)
    await expect(wrong).rejects.toMatchObject({ faults: [{ path: 'steps[1]' }] })
    expect((await loadWorkspace(other, workspace)).model.entities.get(id('a'))?.name).toBe('a')
  })
  it('from a revision that does not exist yet, or of no workspace, is refused', async () => {
    await expect(commitChange(store, await small(), change(7, [rename('a', 'x')]))).rejects.toMatchObject({
      faults: [{ path: 'base' }],
    })
    await expect(commitChange(store, 'none', change(0, [rename('a', 'x')]))).rejects.toThrow(NotFound)
  })
  it('is one of forty made at once by two servers, and none is lost', async () => {
    const list = Array.from({ length: 40 }, (_, i) => position(`p${i}`))
    const workspace = await createWorkspace(store, facts(...list))
    await Promise.all(
      list.map(({ id: key }, i) => commitChange(i % 2 ? store : other, workspace, change(0, [rename(key, `N${i}`)]))),
    )
    const { model, revision } = await loadWorkspace(other, workspace)
    expect(revision).toBe(40)
    expect(model.ofKind('position').map(({ name }) => name)).toEqual(list.map((_, i) => `N${i}`))
  })
  it('of ten thousand steps is stored in one go', async () => {
    const workspace = await createWorkspace(store, facts())
    const steps = Array.from({ length: 10_000 }, (_, i): Step => ({ do: 'add-entity', entity: position(`p${i}`) }))
    await commitChange(store, workspace, change(0, steps))
    expect((await loadWorkspace(other, workspace)).model.entities.size).toBe(10_000)
  })
})

describe('history', () => {
  it('lists changes, the newest first, and shows the facts of any revision', async () => {
    const workspace = await small()
    for (const [base, name] of ['One', 'Two', 'Three'].entries())
      await commitChange(store, workspace, change(base, [rename('a', name)], `Call it ${name}`))
    expect((await historyBefore(store, workspace, 4, 2)).map(({ label }) => label)).toEqual([
      'Call it Three',
      'Call it Two',
    ])
    expect((await historyBefore(store, workspace, 2, 10)).map(({ revision }) => revision)).toEqual([1])
    const names = await Promise.all(
      [0, 1, 2, 3].map(async (revision) => (await modelAt(other, workspace, revision)).entities.get(id('a'))?.name),
    )
    expect(names).toEqual(['a', 'One', 'Two', 'Three'])
    await expect(modelAt(store, workspace, 9)).rejects.toThrow(NotFound)
  })
  it('brings a revision back as a change like any other', async () => {
    const workspace = await small()
    const before = (await loadWorkspace(store, workspace)).model
    await commitChange(
      store,
      workspace,
      change(0, [
        { do: 'remove-relation', id: reports('b', 'a').id },
        { do: 'remove-entity', id: id('b') },
        { do: 'add-entity', entity: position('c') },
      ]),
    )
    const now = (await loadWorkspace(store, workspace)).model
    await commitChange(store, workspace, change(1, stepsBetween(now, await modelAt(store, workspace, 0))))
    const after = (await loadWorkspace(other, workspace)).model
    expect(new Set(after.entities.keys())).toEqual(new Set(before.entities.keys()))
    expect([...after.relations.values()]).toEqual([...before.relations.values()])
  })
})

describe('a feed', () => {
  const heard = async (act: (workspace: string) => Promise<unknown>, most = 2000) => {
    const workspace = await small()
    const news: News[] = []
    const end = listen(store, workspace, { revision: 0, lineage: '' }, { tell: (one) => void news.push(one) })
    await act(workspace)
    const deadline = Date.now() + most
    while (news.length < 2 && Date.now() < deadline) await new Promise((resolve) => setTimeout(resolve, 10))
    end()
    return news.flatMap((one) => (one.sort === 'change' ? one.change.revision : []))
  }
  it('tells of changes in order, each once', async () => {
    expect(
      await heard(async (workspace) => {
        await commitChange(store, workspace, change(0, [rename('a', 'One')]))
        await commitChange(store, workspace, change(1, [rename('a', 'Two')]))
      }),
    ).toEqual([1, 2])
  })
  it('tells nothing more to who has left, though more was read for them', async () => {
    const workspace = await small()
    await commitChange(store, workspace, change(0, [rename('a', 'One')]))
    await commitChange(store, workspace, change(1, [rename('a', 'Two')]))
    const news: News[] = []
    const leave = listen(
      store,
      workspace,
      { revision: 0, lineage: '' },
      {
        tell: (one) => {
          news.push(one)
          leave()
        },
      },
    )
    const other: News[] = []
    const end = listen(store, workspace, { revision: 0, lineage: '' }, { tell: (one) => void other.push(one) })
    while (other.length < 2) await new Promise((resolve) => setTimeout(resolve, 10))
    end()
    expect(news).toHaveLength(1)
  })
  it('tells within a second of changes that another process made', async () => {
    const began = Date.now()
    const revisions = await heard(async (workspace) => {
      // Rows that appear without this process having written them.
      await other.database.write(
        "INSERT INTO `change` (workspace_id, revision, change_id, label, author, steps, inverse) VALUES (?, 1, 'x', 'l', 'a', '[]', '[]'), (?, 2, 'y', 'l', 'a', '[]', '[]')",
        [workspace, workspace],
      )
      await other.database.write('UPDATE workspace SET revision = 2 WHERE id = ?', [workspace])
    })
    expect(revisions).toEqual([1, 2])
    expect(Date.now() - began).toBeLessThan(1500)
  })
})
