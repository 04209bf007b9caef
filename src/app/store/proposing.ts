import { cut, stepsBetween, wordsOf, type Change, type Day, type Id } from '../../core/model'
import type { Judged } from '../../worker/contract'
import { judgedBy, redraw, tellProposal } from './asking'
import { hold as holdBack, release, shared } from './changes'
import { compareWithRevision, showView } from './shown'
import { notify, useWorkspace, type Looking } from './state'

const set = useWorkspace.setState
const get = useWorkspace.getState

/** From now on what is changed is kept aside for a proposal; or no longer, and it is taken back from the page. */
export function hold(on: boolean): void {
  if (on === (get().proposing !== undefined)) return
  if (on) {
    void stopLooking()
    holdBack([])
  } else release()
}

/** What was changed since, as one change; undefined where it comes to nothing. */
export function propose(): Change | undefined {
  const { proposing, model } = get()
  const before = shared()
  if (!proposing || !before) return undefined
  const steps = stepsBetween(before, model)
  const labels = [...new Set(proposing.map(({ label }) => label))]
  return steps.length === 0 ? undefined : { label: cut(labels.join('; '), MOST_LABEL), steps }
}

const MOST_LABEL = 400

/** Shows on the sheet what a proposal would change, and works out what it would contradict. */
export async function lookAt(view: Id, { thread, by, change }: Omit<Looking, 'judged'>): Promise<void> {
  if (get().proposing) return notify('First propose what you have changed, or drop it.', 'refusal')
  if (get().model.views.has(view)) showView(view)
  if (get().against) await compareWithRevision(undefined, undefined)
  set({ looking: { thread, by, change, judged: undefined }, compared: undefined })
  await tellProposal(change)
  redraw()
  await judge(get().day)
}

export async function stopLooking(): Promise<void> {
  if (!get().looking) return
  set({ looking: undefined })
  await tellProposal(undefined)
  redraw()
}

/** Works out what the proposal that is looked at comes to on the facts of now. */
async function judge(day: Day): Promise<void> {
  const { looking, model } = get()
  if (!looking) return
  const judged = await judgedBy(looking.change, day).catch((error: unknown): Judged => ({ refused: wordsOf(error) }))
  const now = get()
  if (now.looking?.thread === looking.thread && now.model === model && now.day === day)
    set({ looking: { ...now.looking, judged } })
}
useWorkspace.subscribe(({ model, day, looking, undoable, compared, against }, before) => {
  if (!looking || looking !== before.looking) return
  // What is changed here is changed of the facts as they are: then they are shown.
  if (undoable !== before.undoable || compared !== undefined || against !== undefined) void stopLooking()
  else if (model !== before.model || day !== before.day) void judge(day)
})
