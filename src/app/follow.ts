import { viewLinked } from '../core/notation'
import { showView } from './store/shown'
import { notify, useWorkspace } from './store/state'

/** Goes where a link leads: to another view here, or to an address in a window of its own. */
export function follow(link: string): void {
  const { model } = useWorkspace.getState()
  const view = viewLinked(model, link)
  if (view) return showView(view.id)
  if (/^(?:https?:\/\/|mailto:)/i.test(link)) window.open(link, '_blank', 'noopener,noreferrer')
  else notify('This leads to a view that is no longer there.', 'refusal')
}
