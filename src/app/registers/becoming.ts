import { viewsInOrder } from '../../core/file'
import type { Id, Step } from '../../core/model'
import { begunWith, notationOf, readList, waysToRead, type Handling, type OutlineLine } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import { bringIn, isPortion } from '../portion'
import { carryOut, wish } from '../store/changes'
import { andNaming } from '../store/naming'
import { newId, notify, useWorkspace } from '../store/state'

/** What lines of a notation can become besides what they are: sorts of lists that others take. */
export const becomings = (notation: Handling): readonly { readonly id: string; readonly word: string }[] => {
  const own = new Set(notation.lists.map(({ id }) => id))
  return waysToRead(handlings.notations).filter(({ id }) => !own.has(id))
}

/** The lines of a selected one and of what stands under it; all lines where nothing with lines under it is selected. */
export function chosenLines(lines: readonly OutlineLine[], selection: readonly Id[]): readonly OutlineLine[] {
  const at = lines.findIndex(({ id }) => id === selection[0])
  const one = lines[at]
  if (!one) return lines
  const end = lines.findIndex((line, index) => index > at && line.depth <= one.depth)
  const under = lines.slice(at + 1, end < 0 ? undefined : end)
  return under.length === 0 ? lines : under.map((line) => ({ ...line, depth: line.depth - one.depth - 1 }))
}

/** Reads lines as what somebody says they are, and adds that with a view of its own: one change that keeps the words. */
export function become(text: string, as: string, title?: string): void {
  const { day, model } = useWorkspace.getState()
  const begun = begunWith(handlings.notations, text, as, newId, day, model)
  if ('refused' in begun) return notify(begun.refused, 'refusal')
  const order = (viewsInOrder(model).at(-1)?.order ?? 0) + 1
  const named: Step[] = [
    ...(title === undefined ? [] : [{ do: 'set-view', id: begun.view, path: 'title', value: title } as const]),
    { do: 'set-view', id: begun.view, path: 'order', value: order },
  ]
  const of = title ?? begun.model.views.get(begun.view)?.title ?? ''
  carryOut({
    change: { label: `Make of “${of}”: ${begun.reading.word}`, steps: [...begun.steps, ...named] },
    view: begun.view,
  })
}

/** What lines can always be read as. */
const ANYTHING = 'figure'

/** Lines pasted on a sheet: after what is selected where the view takes any line, else as a figure of their own. */
export function pasteOnSheet(text: string): void {
  if (isPortion(text)) return void bringIn(text)
  const asked = wish()
  const notation = asked && notationOf(handlings, asked.view)
  if (!asked || !notation) return
  if (notation.lists.some(({ id }) => id === ANYTHING) && notation.outline)
    return void carryOut(andNaming(notation.outline.paste(asked, asked.selection[0], text)))
  const lines = readList(text)
  if ('refused' in lines) return notify(lines.refused, 'refusal')
  if (lines.length < 2) return
  become(text, ANYTHING)
  notify('What was pasted is a figure. “Make of it” turns it into something else; Ctrl Z takes it back.')
}
