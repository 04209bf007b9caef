import { wordsOf } from '../core/model'
import { byWorker, joinTwo, notationOf, type Action, type Handling, type Wish } from '../core/notation'
import { handlings } from '../core/notations/handling'
import { actedBy } from './store/asking'
import { carryOut, wish } from './store/changes'
import { currentView, notify, useWorkspace } from './store/state'

export function currentNotation(): Handling | undefined {
  const view = currentView()
  return view && notationOf(handlings, view)
}

/** What can be done with facts of every notation. */
const SHARED: readonly Action[] = [joinTwo]

/** The actions that can be done with the selection. */
export function offered(): readonly Action[] {
  const asked = wish()
  return asked ? [...(currentNotation()?.actions ?? []), ...SHARED].filter((action) => action.applies(asked)) : []
}

/** Does an action with the selection, asking for the other fact first where it needs one. */
export function act(action: Action): void {
  const asked = wish()
  if (!asked) return
  const picks = typeof action.picks === 'function' ? action.picks(asked) : action.picks
  if (!picks) return void run(action, asked)
  const { kinds, prompt, offers } = picks
  useWorkspace.setState({
    dialog: 'go-to',
    pick: {
      kinds,
      prompt,
      ...(offers ? { offers: new Set(offers) } : {}),
      take: (target) => {
        const now = wish({ selection: asked.selection, target })
        if (now) void run(action, now)
      },
    },
  })
}

/** Runs it here, or has the worker run what takes more than what is stated. */
async function run(action: Action, asked: Wish): Promise<void> {
  if (action.run !== byWorker) return void carryOut(action.run(asked))
  try {
    carryOut(await actedBy(action.id, asked))
  } catch (error) {
    notify(`${action.label}: ${wordsOf(error)}`, 'refusal')
  }
}

/** The name of a key with its modifiers, as actions write it. */
export const keyName = (event: { key: string; altKey: boolean; ctrlKey: boolean; metaKey: boolean }): string =>
  `${event.ctrlKey || event.metaKey ? 'Ctrl+' : ''}${event.altKey ? 'Alt+' : ''}${event.key}`
