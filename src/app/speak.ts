import { flushSync } from 'react-dom'
import { fold } from './store/folds'
import { useWorkspace, type State } from './store/state'

/** Of what something would be said now: the one fact that is selected, or the view. */
export const spokenOf = ({ viewId, selection }: Pick<State, 'viewId' | 'selection'>): string =>
  `${viewId ?? ''} ${selection.length === 1 ? (selection[0] ?? '') : ''}`

/** Takes the keyboard to the margin, to say something about what is selected, or about the view. */
export function speak(): void {
  // At once, so that nothing typed after the key is lost.
  flushSync(() => {
    fold('margin', false)
    useWorkspace.setState({ speaking: spokenOf(useWorkspace.getState()) })
  })
  // Until it is loaded, letters are no verbs of the sheet.
  const places = ['[data-testid=say] textarea', '[data-testid=margin]']
  places
    .map((place) => document.querySelector<HTMLElement>(place))
    .find((place) => place)
    ?.focus()
}
