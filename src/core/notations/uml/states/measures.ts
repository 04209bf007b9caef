import type { Day, Id, Model, View } from '../../../model'
import type { Measure } from '../../../notation'
import { cyclomatic } from './numbers'
import { runsIn } from './runs'
import { isState, machineShown } from './structure'
import { testPaths } from './tour'

/** Figures about the state that is selected, else about the machine that is shown. */
export function stateMeasures(
  model: Model,
  day: Day,
  selected: Id | undefined,
  view: View,
): { of: string; list: readonly Measure[] } {
  const shown = machineShown(model, view, day)
  if (!shown) return { of: '', list: [] }
  const one = selected === undefined ? undefined : shown.byId.get(selected)
  if (one)
    return {
      of: one.name,
      list: [
        { label: 'Led to by', value: String(one.into.length) },
        { label: 'Leads on', value: String(one.out.length) },
        ...(one.regions.length > 0
          ? [{ label: 'In it', value: String(one.regions.reduce((sum, { vertices }) => sum + vertices.length, 0)) }]
          : []),
      ],
    }
  const { standings, isCut } = runsIn(shown)
  return {
    of: shown.name,
    list: [
      { label: 'States', value: shown.vertices.filter(isState).length.toLocaleString('en') },
      { label: 'Transitions', value: shown.transitions.length.toLocaleString('en') },
      { label: 'Cyclomatic', value: String(cyclomatic(shown)) },
      { label: 'Ways it can stand', value: `${standings.length.toLocaleString('en')}${isCut ? ' or more' : ''}` },
      { label: 'Test paths', value: String(testPaths(shown).length) },
    ],
  }
}
