import type { Day, Id, Model, View } from '../../model'
import type { Measure } from '../../notation'
import { componentsOn } from './components/structure'
import { couplingsOf, depthOf } from './numbers'
import { packageLinks } from './packages'
import { sequenceMeasures } from './sequences/measures'
import { stateMeasures } from './states/measures'
import { classesOn, shownIn } from './structure'
import { casesShown } from './usecases/structure'

const share = (value: number): string => (Math.round(value * 100) / 100).toString()

/** Figures about the class or the package that is selected, else about all that is shown. */
export function measuresOf(
  model: Model,
  day: Day,
  selected: Id | undefined,
  view: View,
): { of: string; list: readonly Measure[] } {
  if (view.picture === 'states') return stateMeasures(model, day, selected, view)
  if (view.picture === 'sequence') return sequenceMeasures(model, day, selected, view)
  if (view.picture === 'use-cases') {
    const { cases, actors, subjects } = casesShown(model, view, day)
    return counted('of these use cases', {
      'Use cases': cases.length,
      Actors: actors.length,
      Subjects: subjects.length,
    })
  }
  if (view.picture === 'components') {
    const { components, nodes, offers } = componentsOn(model, day)
    const interfaces = new Set(offers.map(({ to }) => to)).size
    return counted('of these components', {
      Components: components.length,
      Interfaces: interfaces,
      Nodes: nodes.length,
    })
  }
  const all = classesOn(model, day)
  const fact = selected === undefined ? undefined : model.entities.get(selected)
  const owner = fact?.fields['class']
  const one = all.byId.get((typeof owner === 'string' ? owner : selected) as Id)
  if (one)
    return {
      of: one.name,
      list: [
        { label: 'Depth', value: String(depthOf(one)) },
        { label: 'Children', value: String(one.children.length) },
        { label: 'Coupling', value: String(couplingsOf(all).get(one)?.size ?? 0) },
        {
          label: 'Members',
          value: String(one.attributes.length + one.operations.length + one.literals.length),
        },
      ],
    }
  const home = selected === undefined ? undefined : all.packageById.get(selected)
  if (home) {
    const { afferent, efferent } = packageLinks(all).couplings(home)
    const abstract = home.classes.filter(({ form, isAbstract }) => isAbstract || form === 'interface').length
    return {
      of: home.name,
      list: [
        { label: 'Classes', value: String(home.classes.length) },
        { label: 'Depended on by', value: `${afferent} outside` },
        { label: 'Depends on others', value: `${efferent} of its own` },
        ...(home.classes.length > 0 ? [{ label: 'Abstractness', value: share(abstract / home.classes.length) }] : []),
        ...(afferent + efferent > 0 ? [{ label: 'Instability', value: share(efferent / (afferent + efferent)) }] : []),
      ],
    }
  }
  const shown = shownIn(model, view, day)
  const known = new Map<(typeof shown.classes)[number], number>()
  return {
    of: 'of these classes',
    list: [
      { label: 'Classes', value: shown.classes.length.toLocaleString('en') },
      { label: 'Ties', value: shown.ties.length.toLocaleString('en') },
      {
        label: 'Deepest',
        value: String(shown.classes.reduce((most, each) => Math.max(most, depthOf(each, known)), 0)),
      },
    ],
  }
}

const counted = (of: string, counts: Readonly<Record<string, number>>): { of: string; list: readonly Measure[] } => ({
  of,
  list: Object.entries(counts).map(([label, value]) => ({ label, value: value.toLocaleString('en') })),
})
