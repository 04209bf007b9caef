import { linkOf, viewLinked } from '../core/notation'
import type { Item } from '../core/scene'
import { showView } from './store/shown'
import { notify, useWorkspace } from './store/state'

/** Where an item leads, by the facts as they are now: its picture may be a moment behind. */
export function linkAt({ facts }: Item): string | undefined {
  const { model } = useWorkspace.getState()
  return facts.map((fact) => linkOf(model, fact)).find((link) => link !== undefined)
}

/** Goes where a link leads: to another view here, or to an address in a window of its own. */
export function follow(link: string): void {
  const { model } = useWorkspace.getState()
  const view = viewLinked(model, link)
  if (view) return showView(view.id)
  if (/^(?:https?:\/\/|mailto:)/i.test(link)) window.open(link, '_blank', 'noopener,noreferrer')
  else notify('This leads to a view that is no longer there.', 'refusal')
}
