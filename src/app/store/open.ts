import { trustedWorkspace, viewsInOrder } from '../../core/file'
import { Model, type Change } from '../../core/model'
import { ask, type LoadedWorkspace } from '../sync/api'
import { authorName } from '../sync/author'
import { sendLeftOver } from '../sync/outbox'
import { noteSeen } from '../sync/seen'
import { Sync, type Standing, type Trouble } from '../sync/sync'
import { beginEngine, prepareFor, redraw, tellChange, tellFacts } from './asking'
import { hold, sendBy } from './changes'
import { viewAt } from './shown'
import { notify, useWorkspace } from './state'

const set = useWorkspace.setState
const get = useWorkspace.getState

/** Opens a workspace: what was left unsent is sent first, then the facts are read. @throws ApiError */
export async function openWorkspace(id: string): Promise<void> {
  // The thread loads its program while the facts are on their way.
  const engine = beginEngine()
  const refused = await sendLeftOver(id, authorName())
  const { revision, lineage, workspace } = await ask<LoadedWorkspace>(`/api/workspaces/${id}`)
  // The thread reads the facts while the page does.
  const loaded = engine.load(workspace)
  const model = trustedWorkspace(workspace)
  const sync = new Sync(id, { revision, lineage, model }, authorName, {
    onFacts,
    onStanding,
    onClash: (clash) => set({ clash }),
    onHeld: (held, dropped) => onHeld(id, held, dropped),
    onTalk: (talk) => set({ talk }),
  })
  sendBy(sync)
  noteSeen(() => sync.revision)
  set({ id, model, viewId: viewAt(model)?.id, selection: [], undoable: [], redoable: [] })
  sync.listen()
  const left = heldOf(id)
  if (left) hold(left)
  sync.askAbout(refused)
  prepareFor(model)
  redraw()
  await loaded
}

function onFacts(model: Model, news: Change | undefined, rebased: boolean): void {
  set({ model })
  prepareFor(model)
  if (rebased || !news) tellFacts(model)
  else tellChange(news)
  const { selection, viewId } = get()
  const still = selection.filter((id) => model.entities.has(id))
  if (still.length < selection.length) set({ selection: still })
  if (viewId === undefined || !model.views.has(viewId)) set({ viewId: viewsInOrder(model)[0]?.id })
  redraw()
}

const onStanding = (standing: Standing, trouble: Trouble | undefined) => {
  const { waiting = 0, message } = trouble ?? {}
  const before = get()
  if (before.standing === standing && before.trouble?.message === message && (before.trouble?.waiting ?? 0) === waiting)
    return
  set({ standing, trouble })
}

const heldKey = (id: string) => `skivel:held:${id}`

/** What was kept aside stays over a reload of this tab. */
function onHeld(id: string, held: readonly Change[] | undefined, dropped: readonly Change[]): void {
  set({ proposing: held })
  for (const { label } of dropped) notify(`This fits the facts no longer, and is left out: ${label}`, 'refusal')
  try {
    if (held) sessionStorage.setItem(heldKey(id), JSON.stringify(held))
    else sessionStorage.removeItem(heldKey(id))
  } catch (error) {
    if (!(error instanceof DOMException)) throw error
    notify('This browser has no room to keep what is proposed: do not close the page before.', 'refusal')
  }
}

function heldOf(id: string): readonly Change[] | undefined {
  const kept = sessionStorage.getItem(heldKey(id))
  return kept === null ? undefined : (JSON.parse(kept) as readonly Change[])
}
