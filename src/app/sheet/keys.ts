import type { KeyboardEvent } from 'react'
import { isRefusal, type Gestures } from '../../core/notation'
import { factOf, type Item, type Scene } from '../../core/scene'
import { act, keyName, offered } from '../actions'
import { EMPHASIS_KEYS, emphasise } from '../emphasis'
import { follow, linkAt } from '../follow'
import { copyFacts } from '../portion'
import { carryOut, wish } from '../store/changes'
import { select } from '../store/shown'
import { useWorkspace, type Editing } from '../store/state'
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
  picture: Gestures | undefined,
  leave: () => void,
  nudge: (item: Item, part: 'item' | 'end', towards: -1 | 1) => void,
): void {
  if (keepsAhead(event, picture) || emphasises(event)) return
  if (event.key === 'Escape') return leave()
  if (event.key === 'Tab' || !scene) return
  if (isDirection(event.key) && !event.altKey) {
    event.preventDefault()
    const next = only ? neighbour(scene.items, only, event.key) : scene.items[0]
    if (next) select([factOf(next)], { reveal: true })
    return
  }
  const link = only && event.key === 'Enter' && (event.ctrlKey || event.metaKey) ? linkAt(only) : undefined
  if (link !== undefined) {
    event.preventDefault()
    return follow(link)
  }
  const { selection } = useWorkspace.getState()
  if (event.key.toLowerCase() === 'c' && (event.ctrlKey || event.metaKey) && selection.length > 0) {
    event.preventDefault()
    return void copyFacts(selection)
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

/** The row of emphases takes the next keys, until Escape. */
function emphasises(event: KeyboardEvent): boolean {
  const { emphasising, selection } = useWorkspace.getState()
  if (event.altKey || event.ctrlKey || event.metaKey || selection.length === 0) return false
  const show = (next: typeof emphasising) => {
    event.preventDefault()
    useWorkspace.setState({ emphasising: next })
    return true
  }
  if (!emphasising) return event.key === '*' && show('view')
  if (event.key === 'Escape' || event.key === '*') return show(undefined)
  if (event.key === 'w') return show(emphasising === 'view' ? 'everywhere' : 'view')
  const word = EMPHASIS_KEYS.get(event.key)
  if (word === undefined) return false
  event.preventDefault()
  emphasise(word, emphasising)
  return true
}

/** An item that is made but not drawn yet, else its field had the focus: what is typed meanwhile is kept for it, and Enter writes it at once. */
function keepsAhead(event: KeyboardEvent, picture: Gestures | undefined): boolean {
  const awaited = useWorkspace.getState().editing
  if (!awaited) return false
  event.preventDefault()
  event.stopPropagation()
  const ends = event.key === 'Escape' || (event.key === 'Enter' && writeAhead(awaited, picture))
  useWorkspace.setState({ editing: ends ? undefined : { ...awaited, ahead: aheadAfter(awaited.ahead, event.key) } })
  return true
}

function aheadAfter(ahead: string | undefined, key: string): string | undefined {
  if (key === 'Backspace') return ahead?.slice(0, -1)
  return key.length === 1 ? (ahead ?? '') + key : ahead
}

/** Writes what was typed before there was a field for it; answers whether it is taken, or there was nothing to take. */
export function writeAhead({ part, ahead }: Editing, picture: Gestures | undefined): boolean {
  const asked = wish()
  if (!ahead?.trim() || !asked || !picture?.write) return true
  const outcome = picture.write(asked, part, ahead)
  carryOut(outcome)
  return !isRefusal(outcome)
}
