import type { Action, Handling } from '../core/notation'
import { joinTwo, notationOf } from '../core/notation'
import { handlings } from '../core/notations/handling'
import { carryOut, wish } from './store/changes'
import { currentView, useWorkspace } from './store/state'

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
  if (!picks) return void carryOut(action.run(asked))
  const { kinds, prompt, offers } = picks
  useWorkspace.setState({
    dialog: 'go-to',
    pick: {
      kinds,
      prompt,
      ...(offers ? { offers: new Set(offers) } : {}),
      take: (target) => {
        const now = wish({ selection: asked.selection, target })
        if (now) carryOut(action.run(now))
      },
    },
  })
}

/** The name of a key with its modifiers, as actions write it. */
export const keyName = (event: { key: string; altKey: boolean; ctrlKey: boolean; metaKey: boolean }): string =>
  `${event.ctrlKey || event.metaKey ? 'Ctrl+' : ''}${event.altKey ? 'Alt+' : ''}${event.key}`
