import { removeRelation, fix, type Found, type Rule } from '../../../notation'
import { ancestorsOf } from '../structure'
import { componentsOn } from './structure'

export const undeployed: Rule = {
  id: 'uml/undeployed',
  severity: 'note',
  title: 'A component that runs nowhere',
  why: 'Where it is stated on which nodes components run, one that runs on none may have been forgotten.',
  source: 'Common practice (deployment: UML 2.5.1, 19.2)',
  check: (model, day) => {
    const { components, nodes } = componentsOn(model, day)
    if (nodes.length === 0) return []
    return components.flatMap((one): Found[] =>
      one.nodes.length > 0 ? [] : [{ message: `No node deploys “${one.name}”.`, subjects: [one.id], fixes: [] }],
    )
  },
}

export const unprovided: Rule = {
  id: 'uml/interface-unprovided',
  severity: 'warning',
  title: 'An interface that nobody provides',
  why: 'What a component requires, another one provides, or one from outside: else it cannot run.',
  source: 'UML 2.5.1, 11.6.3.2 (provided and required interfaces)',
  check: (model, day) => {
    const { offers } = componentsOn(model, day)
    // What provides an interface provides those that it is a kind of.
    const provided = new Set(offers.flatMap(({ sort, to }) => (sort === 'provides' ? [to, ...ancestorsOf(to)] : [])))
    return offers.flatMap(({ id, sort, component, to }): Found[] =>
      sort === 'provides' || provided.has(to)
        ? []
        : [
            {
              message: `“${component.name}” requires “${to.name}”, which no component provides.`,
              subjects: [component.id, id, to.id],
              fixes: [fix('It does not require it', removeRelation(id))],
            },
          ],
    )
  },
}

export const componentRules: readonly Rule[] = [undeployed, unprovided]
