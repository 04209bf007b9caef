import type { KeyboardEvent } from 'react'
import { factOf, type Item, type Scene } from '../../core/scene'
import { act, keyName, offered } from '../actions'
import { select } from '../store/shown'
import { useWorkspace } from '../store/state'
import { isDirection, neighbour } from './walk'

/** Keys that pull what is selected along the picture. */
const PULLS: Readonly<Record<string, readonly ['item' | 'end', -1 | 1]>> = {
  '<': ['item', -1],
  '>': ['item', 1],
  '{': ['end', -1],
  '}': ['end', 1],
}

/** What a key does on the sheet: walks along the picture, types into the selected item, or asks an action; `leave` ends what is under way. */
export function onSheetKey(
  event: KeyboardEvent,
  scene: Scene | undefined,
  only: Item | undefined,
  leave: () => void,
  nudge: (item: Item, part: 'item' | 'end', towards: -1 | 1) => void,
): void {
  if (keepsAhead(event)) return
  if (event.key === 'Escape') return leave()
  if (event.key === 'Tab' || !scene) return
  if (isDirection(event.key) && !event.altKey) {
    event.preventDefault()
    const next = only ? neighbour(scene.items, only, event.key) : scene.items[0]
    if (next) select([factOf(next)], { reveal: true })
    return
  }
  const pulls = PULLS[event.key]
  if (pulls && only) {
    event.preventDefault()
    return nudge(only, ...pulls)
  }
  const [text] = only?.texts ?? []
  if ((event.key === 'Enter' || event.key === 'F2') && only && text) {
    event.preventDefault()
    useWorkspace.setState({ editing: { item: only.id, part: text.part } })
    return
  }
  const key = event.key === 'Backspace' ? 'Delete' : keyName(event)
  const action = offered().find((one) => one.key === key)
  if (!action) return
  event.preventDefault()
  act(action)
}

/** An item that is made but not drawn yet, else its field had the focus: what is typed meanwhile is kept for it. */
function keepsAhead(event: KeyboardEvent): boolean {
  const awaited = useWorkspace.getState().editing
  if (!awaited) return false
  event.preventDefault()
  event.stopPropagation()
  const ahead = event.key.length === 1 ? (awaited.ahead ?? '') + event.key : awaited.ahead
  useWorkspace.setState({ editing: event.key === 'Escape' ? undefined : { ...awaited, ahead } })
  return true
}
