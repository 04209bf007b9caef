import { trustedWorkspace, viewsInOrder } from '../../core/file'
import { Model, type Change } from '../../core/model'
import { ask, type LoadedWorkspace } from '../sync/api'
import { authorName } from '../sync/author'
import { sendLeftOver } from '../sync/outbox'
import { Sync, type Standing, type Trouble } from '../sync/sync'
import { beginEngine, prepareFor, redraw, tellChange, tellFacts } from './asking'
import { sendBy } from './changes'
import { viewAt } from './shown'
import { useWorkspace } from './state'

const set = useWorkspace.setState
const get = useWorkspace.getState

/** Opens a workspace: what was left unsent is sent first, then the facts are read. @throws ApiError */
export async function openWorkspace(id: string): Promise<void> {
  // The thread loads its program while the facts are on their way.
  const engine = beginEngine()
  const author = authorName()
  const refused = await sendLeftOver(id, author)
  const { revision, workspace } = await ask<LoadedWorkspace>(`/api/workspaces/${id}`)
  // The thread reads the facts while the page does.
  const loaded = engine.load(workspace)
  const model = trustedWorkspace(workspace)
  const sync = new Sync(id, { revision, model }, author, { onFacts, onStanding, onClash: (clash) => set({ clash }) })
  sendBy(sync)
  set({ id, model, viewId: viewAt(model)?.id, selection: [], undoable: [], redoable: [] })
  sync.listen()
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
