import { afterAll, describe, expect, inject, it } from 'vitest'
import { pause } from '../../scripts/lib/mariadb.mjs'
import type { Step } from '../../src/core/model'
import { openPool } from '../../src/server/db/pool'
import { commitChange } from '../../src/server/services/changes'
import { Astray } from '../../src/server/services/errors'
import { listen, type News } from '../../src/server/services/feed'
import { refuseAstray } from '../../src/server/services/history'
import { storeOn } from '../../src/server/services/store'
import { createWorkspace, loadWorkspace } from '../../src/server/services/workspaces'
import { facts, id, position } from '../facts'

/** Two servers before one database, which is another one after a failover: its last revision is undone. */
const one = storeOn(openPool(inject('databaseUrl')))
const two = storeOn(openPool(inject('databaseUrl')))
afterAll(async () => {
  await one.pool.end()
  await two.pool.end()
})

let sent = 0
const rename = (value: string): Step => ({ do: 'set-entity', id: id('a'), path: 'name', value })
const commit = (store: typeof one, workspace: string, base: number, value: string, lineage?: string) =>
  commitChange(store, workspace, {
    ...{ id: `lineage-${++sent}-${Date.now()}`, base, label: value, author: 'Tester', steps: [rename(value)] },
    ...(lineage === undefined ? {} : { lineage }),
  })
const nameOn = async (store: typeof one, workspace: string) =>
  (await loadWorkspace(store, workspace)).model.entities.get(id('a'))?.name

/** What a replica that had not heard of the last change makes of the rows when it takes over. */
async function undoLast(workspace: string, name: string): Promise<void> {
  const { database } = two
  await database.write('UPDATE entity SET name = ? WHERE workspace_id = ? AND id = ?', [name, workspace, 'a'])
  const [row] = await database.rows<{ revision: number }>('SELECT revision FROM workspace WHERE id = ?', [workspace])
  const revision = row?.revision ?? 0
  await database.write('DELETE FROM `change` WHERE workspace_id = ? AND revision = ?', [workspace, revision])
  await database.write(
    'UPDATE workspace w LEFT JOIN `change` c ON c.workspace_id = w.id AND c.revision = ? SET w.revision = ?, w.lineage = COALESCE(c.lineage, w.origin) WHERE w.id = ?',
    [revision - 1, revision - 1, workspace],
  )
}

describe('a database that has lost its last change', () => {
  it('is read as it is by a server that knew that change, also when another took its number', async () => {
    const workspace = await createWorkspace(one, facts(position('a')))
    await commit(one, workspace, 0, 'First')
    await commit(one, workspace, 1, 'Lost')
    expect(await nameOn(one, workspace)).toBe('Lost')
    await undoLast(workspace, 'First')
    expect(await nameOn(one, workspace)).toBe('First')
    await commit(two, workspace, 1, 'Instead')
    expect([await nameOn(one, workspace), await nameOn(two, workspace)]).toEqual(['Instead', 'Instead'])
  })
  it('is written on by nobody who does not know: what was made on the lost change is refused, and lost facts come back from nowhere', async () => {
    const workspace = await createWorkspace(one, facts(position('a'), position('b')))
    const first = await commit(one, workspace, 0, 'First')
    const lost = await commit(one, workspace, 1, 'Lost')
    await undoLast(workspace, 'First')
    await expect(commit(one, workspace, 2, 'On top', lost.lineage)).rejects.toThrow(Astray)
    await commit(two, workspace, 1, 'Instead', first.lineage)
    await expect(commit(one, workspace, 2, 'On top', lost.lineage)).rejects.toThrow(Astray)
    await commitChange(one, workspace, {
      ...{ id: `lineage-${++sent}`, base: 2, label: 'b', author: 'Tester' },
      steps: [{ do: 'set-entity', id: id('b'), path: 'name', value: 'B' }],
    })
    expect([await nameOn(one, workspace), await nameOn(two, workspace)]).toEqual(['Instead', 'Instead'])
  })
  it('is known by what the beginning was, too; of what is older than the marks nothing is refused', async () => {
    const workspace = await createWorkspace(one, facts(position('a')))
    const { lineage } = await loadWorkspace(one, workspace)
    await refuseAstray(one, workspace, 0, lineage)
    await commit(one, workspace, 0, 'First', lineage)
    await refuseAstray(one, workspace, 0, lineage)
    await expect(refuseAstray(one, workspace, 0, 'another')).rejects.toThrow(Astray)
    await expect(refuseAstray(one, workspace, 7, lineage)).rejects.toThrow(Astray)
    await one.database.write("UPDATE workspace SET origin = '' WHERE id = ?", [workspace])
    await refuseAstray(one, workspace, 0, 'another')
  })
  it.each([
    ['one revision less', 0],
    ['another of the same number', 1],
    ['more', 2],
  ])('is told to who listens: %s', async (_, more) => {
    const workspace = await createWorkspace(one, facts(position('a')))
    await commit(one, workspace, 0, 'First')
    const lost = await commit(one, workspace, 1, 'Lost')
    const news: News[] = []
    const end = listen(one, workspace, { revision: 2, lineage: lost.lineage }, { tell: (told) => void news.push(told) })
    await pause(300)
    expect(news.filter(({ sort }) => sort !== 'talk')).toEqual([])
    await undoLast(workspace, 'First')
    for (let base = 1; base <= more; base++) await commit(two, workspace, base, `Instead ${base}`)
    const deadline = Date.now() + 4000
    while (!news.some(({ sort }) => sort === 'astray') && Date.now() < deadline) await pause(20)
    end()
    expect(news.filter(({ sort }) => sort !== 'talk')).toEqual([{ sort: 'astray' }])
  })
})
