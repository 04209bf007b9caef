import { randomBytes, randomUUID } from 'node:crypto'
import type { Day, View } from '../../core/model'
import type { FileExport } from '../../core/notation'
import { registry } from '../../core/notations'
import { deleteShare, findShare, insertShare, listShares, noteReading, type ShareRow } from '../repositories/shares'
import { inTransaction } from '../db/pool'
import { lockWorkspace } from '../repositories/workspaces'
import { digestOf } from './digest'
import { BadRequest, NotFound } from './errors'
import { carryOut } from '../threads/crew'
import type { Store } from './store'
import { loadWorkspace } from './workspaces'

/** An address that other programs read a view at, without the secret part, which is told once. */
export interface Share {
  readonly id: string
  readonly view: string
  readonly format: string
  readonly madeAt: string
  readonly readAt: string | null
}

const MOST_OF_A_VIEW = 50

const shareOf = ({ id, view_id, format, made_at, read_at }: ShareRow): Share => ({
  id,
  view: view_id,
  format,
  madeAt: made_at.toISOString(),
  readAt: read_at?.toISOString() ?? null,
})

/** What can be subscribed to of a view. */
function formatOf(view: View, format: string): FileExport | undefined {
  const notation = registry.notations.find(({ id }) => id === view.notation)
  return notation?.exports.find(({ id, feed }) => feed && id === format)
}

/**
 * Makes a secret address for a view in a format. The path is told this once: only the digest of its secret is kept.
 * @throws NotFound for the workspace or the view, BadRequest for a format that cannot be subscribed to.
 */
export async function makeShare(
  store: Store,
  workspace: string,
  { view: viewId, format }: { readonly view: string; readonly format: string },
): Promise<{ share: Share; path: string }> {
  const { model } = await loadWorkspace(store, workspace)
  const view = [...model.views.values()].find(({ id }) => id === viewId)
  if (!view) throw new NotFound('There is no such view.')
  const written = formatOf(view, format)
  const refused = (message: string) => new BadRequest(message, [{ path: 'format', message }])
  if (!written) throw refused('This view cannot be subscribed to in that format.')
  const secret = randomBytes(32).toString('base64url')
  const id = randomUUID().slice(0, 13)
  const made = await inTransaction(store.pool, async (database) => {
    // One after another, so that many at once do not pass the limit together.
    await lockWorkspace(database, workspace)
    if ((await listShares(database, workspace, viewId)).length >= MOST_OF_A_VIEW)
      throw refused(`A view has ${MOST_OF_A_VIEW} addresses at most. Withdraw one that is no longer needed.`)
    await insertShare(database, { id, workspace_id: workspace, view_id: viewId, format, digest: digestOf(secret) })
    return (await listShares(database, workspace, viewId)).find((row) => row.id === id)
  })
  if (!made) throw new NotFound('The address was withdrawn at once.')
  return { share: shareOf(made), path: `/feeds/${secret}${written.extension}` }
}

/** The addresses of a view, the first made first. @throws NotFound for the workspace */
export async function sharesOf(store: Store, workspace: string, view: string): Promise<Share[]> {
  await loadWorkspace(store, workspace)
  return (await listShares(store.database, workspace, view)).map(shareOf)
}

/** From now on nobody reads anything there. @throws NotFound */
export async function withdrawShare(store: Store, workspace: string, id: string): Promise<void> {
  if (!(await deleteShare(store.database, workspace, id))) throw new NotFound('There is no such address.')
}

export interface Reading {
  /** Changes whenever what is read may have changed. */
  readonly tag: string
  readonly mediaType: string
  /** Writes it out: not needed when the reader has this tag already. */
  readonly write: () => Promise<string>
}

/** What a secret address tells on a day. @throws NotFound, in the same words whether it never was or is withdrawn */
export async function readShare(store: Store, file: string, day: Day): Promise<Reading> {
  const gone = () => new NotFound('There is nothing at this address, or it was withdrawn.')
  const [, secret = '', extension] = /^([\w-]{20,100})(\.\w{1,12})$/.exec(file) ?? []
  const row = await findShare(store.database, digestOf(secret))
  if (!row) throw gone()
  const snapshot = await loadWorkspace(store, row.workspace_id)
  const { model, revision, lineage } = snapshot
  const view = [...model.views.values()].find(({ id }) => id === row.view_id)
  const format = view && formatOf(view, row.format)
  if (!view || !format || format.extension !== extension) throw gone()
  if (row.read_at === null || Date.now() - row.read_at.getTime() > NOTED_MS) await noteReading(store.database, row.id)
  const tag = tagOf(row.id, revision, lineage, day)
  return {
    tag,
    mediaType: format.mediaType,
    write: () =>
      store.memory.feeds.of(tag, (who) =>
        carryOut('written', { view: view.id, format: format.id, day }, snapshot, { who }),
      ),
  }
}

const NOTED_MS = 60_000

/** What tells one state of what is read from another, and nothing of the workspace: whoever reads two addresses cannot tell whether they are of one. */
const tagOf = (share: string, revision: number, lineage: string, day: Day): string =>
  `"${digestOf(`${share} ${revision} ${lineage} ${day}`).slice(0, 32)}"`
