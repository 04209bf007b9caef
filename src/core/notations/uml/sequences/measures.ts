import type { Day, Id, Model, View } from '../../../model'
import type { Measure } from '../../../notation'
import { interactionShown } from './structure'

/** Figures about the lifeline that is selected, else about the sequence that is shown. */
export function sequenceMeasures(
  model: Model,
  day: Day,
  selected: Id | undefined,
  view: View,
): { of: string; list: readonly Measure[] } {
  const shown = interactionShown(model, view, day)
  if (!shown) return { of: '', list: [] }
  const one = shown.lifelines.find(({ id }) => id === selected)
  if (one)
    return {
      of: one.name,
      list: [
        { label: 'Class', value: one.class?.name ?? 'none' },
        { label: 'Says', value: String(shown.calls.filter(({ from }) => from === one).length) },
        { label: 'Is told', value: String(shown.calls.filter(({ to }) => to === one).length) },
      ],
    }
  return {
    of: shown.name,
    list: [
      { label: 'Messages', value: shown.calls.length.toLocaleString('en') },
      { label: 'Lifelines', value: shown.lifelines.length.toLocaleString('en') },
      {
        label: 'With a class',
        value: `${shown.lifelines.filter((each) => each.class).length} of ${shown.lifelines.length}`,
      },
    ],
  }
}
