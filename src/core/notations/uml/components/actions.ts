import type { Entity, Fields, Id, Step } from '../../../model'
import {
  addEntity,
  changed,
  GONE,
  removeRelation,
  setEntity,
  setField,
  tie,
  tooLongName,
  type Action,
  type Outcome,
  type Wish,
} from '../../../notation'
import { componentsIn, lastOrder, removeParts } from './edits'

type Selecting = Omit<Wish, 'newId'>

const NOTHING = { refused: 'Select a component or a node first.' }
const of =
  (kind: string) =>
  (wish: Selecting): Entity | undefined => {
    const [id] = wish.selection
    const entity = id === undefined ? undefined : wish.model.entities.get(id)
    return entity?.kind === kind ? entity : undefined
  }
const [component, node, port] = [of('component'), of('deployment-node'), of('component-port')]
const onComponent = (wish: Selecting) => component(wish) !== undefined
const onSource = (wish: Selecting) => component(wish) !== undefined || port(wish) !== undefined

function add(
  wish: Wish,
  kind: string,
  name: string,
  fields: Fields = {},
  tied: (id: Id) => readonly Step[] = () => [],
): Outcome {
  const id = wish.newId()
  const order = lastOrder(wish.model.ofKind(kind)) + 1
  return changed(`“${name}”`, [addEntity({ id, kind, name, fields: { ...fields, order } }), ...tied(id)], {
    select: id,
    edit: 'name',
  })
}

/** A new interface that the selected component, or its port, provides or requires. */
function addInterface(wish: Wish, sort: 'provides' | 'requires'): Outcome {
  const source = component(wish) ?? port(wish)
  return source
    ? add(wish, 'class', 'NewInterface', { form: 'interface' }, (id) => [tie(wish.newId(), sort, source.id, id)])
    : NOTHING
}

/** From a component to an interface or to another component, from a node to what it deploys. */
export function leadTo(wish: Wish, from: Id, to: Id, wanted?: 'provides' | 'requires'): Outcome {
  const [a, b] = [wish.model.entities.get(from), wish.model.entities.get(to)]
  if (!a || !b) return GONE
  if (a === b) return { refused: 'It is the same.' }
  const isSource = a.kind === 'component' || a.kind === 'component-port'
  const sort =
    a.kind === 'deployment-node' && b.kind === 'component'
      ? 'deploys'
      : isSource && b.kind === 'class'
        ? (wanted ?? 'requires')
        : a.kind === 'component' && b.kind === 'component'
          ? 'dependency'
          : undefined
  if (sort === undefined)
    return { refused: 'A component requires an interface or uses another one, and a node deploys components.' }
  if (wish.model.leaving(from).some((one) => one.kind === sort && one.target === to))
    return { refused: `“${a.name}” and “${b.name}” are tied so already.` }
  const id = wish.newId()
  const word = sort === 'dependency' ? 'uses' : sort
  return changed(`“${a.name}” ${word} “${b.name}”`, [tie(id, sort, from, to)], { select: id })
}

/** Components dropped on a node run there; ports dropped on a component are of it; nodes dropped on one stand in it. */
export function dropPart(wish: Wish): Outcome {
  const { model, selection, target } = wish
  const into = target === undefined ? undefined : model.entities.get(target)
  const [first] = selection
  const one = first === undefined ? undefined : model.entities.get(first)
  if (!one) return NOTHING
  if (one.kind === 'component-port' && into?.kind === 'component')
    return changed(`Put “${one.name}” on “${into.name}”`, [setField(one.id, 'component', into.id)])
  if (one.kind === 'component' && into?.kind === 'deployment-node') {
    const old = model.reaching(one.id).filter(({ kind }) => kind === 'deploys')
    return changed(`“${into.name}” deploys “${one.name}”`, [
      ...old.map(({ id }) => removeRelation(id)),
      tie(wish.newId(), 'deploys', into.id, one.id),
    ])
  }
  if (one.kind !== 'deployment-node') return { refused: 'Drop a component on the node that it runs on.' }
  const outer = into?.kind === 'deployment-node' ? into : undefined
  for (let at = outer; at;) {
    if (at.id === one.id) return { refused: 'A node does not stand within itself.' }
    const within = at.fields['within']
    at = typeof within === 'string' ? model.entities.get(within as Id) : undefined
  }
  return changed(outer ? `Put “${one.name}” into “${outer.name}”` : `Take “${one.name}” out`, [
    setField(one.id, 'within', outer?.id ?? null),
  ])
}

export function writeName(wish: Wish, part: string, text: string): Outcome {
  const [id] = wish.selection
  const entity = wish.model.entities.get((part === 'name' ? id : part) as Id)
  const name = text.trim()
  if (!entity || name === '') return { refused: 'It needs a name.' }
  return tooLongName(name) ?? changed(`Rename “${entity.name}” to “${name}”`, [setEntity(entity.id, 'name', name)])
}

const KINDS = new Set([
  'component',
  'component-port',
  'deployment-node',
  'provides',
  'requires',
  'deploys',
  'dependency',
])

const picking = (
  id: string,
  label: string,
  key: string | undefined,
  applies: Action['applies'],
  kinds: readonly string[],
  prompt: string,
  sort?: 'provides' | 'requires',
): Action => ({
  id,
  label,
  ...(key === undefined ? {} : { key, verb: true }),
  applies,
  picks: (wish) => ({
    kinds,
    prompt,
    ...(kinds.includes('class')
      ? { offers: wish.model.ofKind('class').flatMap((one) => (one.fields['form'] === 'interface' ? [one.id] : [])) }
      : {}),
  }),
  run: (wish) => {
    const [from] = wish.selection
    return from === undefined || wish.target === undefined ? NOTHING : leadTo(wish, from, wish.target, sort)
  },
})

export const componentActions: readonly Action[] = [
  {
    id: 'component',
    label: 'Component',
    begins: true,
    applies: () => true,
    run: (wish) => add(wish, 'component', 'New component'),
  },
  {
    id: 'node',
    label: 'Node',
    begins: true,
    applies: () => true,
    run: (wish) => add(wish, 'deployment-node', 'New node'),
  },
  {
    id: 'next',
    label: 'A component it uses',
    key: 'n',
    verb: true,
    applies: onComponent,
    run: (wish) => {
      const from = component(wish)
      return from
        ? add(wish, 'component', 'New component', {}, (id) => [tie(wish.newId(), 'dependency', from.id, id)])
        : NOTHING
    },
  },
  {
    id: 'provided',
    label: 'Provides a new one',
    key: 'k',
    verb: true,
    applies: onSource,
    run: (wish) => addInterface(wish, 'provides'),
  },
  picking('requires', 'Requires…', 't', onSource, ['class'], 'Which interface does it require?', 'requires'),
  picking('provides', 'Provides…', undefined, onSource, ['class'], 'Which interface does it provide?', 'provides'),
  picking('uses', 'Uses…', undefined, onComponent, ['component'], 'Which component does it use?'),
  picking('deploys', 'Deploys…', 't', (wish) => node(wish) !== undefined, ['component'], 'Which component runs on it?'),
  {
    id: 'port',
    label: 'Port',
    key: 'm',
    verb: true,
    applies: onComponent,
    run: (wish) => {
      const owner = component(wish)
      return owner ? add(wish, 'component-port', 'port', { component: owner.id }) : NOTHING
    },
  },
  {
    id: 'inside',
    label: 'A node inside',
    key: 'i',
    verb: true,
    applies: (wish) => node(wish) !== undefined,
    run: (wish) => {
      const outer = node(wish)
      return outer ? add(wish, 'deployment-node', 'New node', { within: outer.id }) : NOTHING
    },
  },
  {
    id: 'remove',
    label: 'Remove',
    key: 'Delete',
    applies: ({ model, selection: [id] }) =>
      id !== undefined && KINDS.has((model.entities.get(id) ?? model.relations.get(id))?.kind ?? ''),
    run: ({ model, selection }) => {
      const steps = removeParts(model, ...selection.filter((id) => model.entities.has(id)))
      const gone = new Set(steps.flatMap((step) => (step.do === 'remove-relation' ? [step.id] : [])))
      const [first] = selection
      const who =
        selection.length === 1 && first
          ? `“${model.entities.get(first)?.name ?? 'a tie'}”`
          : `${selection.length} facts`
      return changed(`Remove ${who}`, [
        ...selection.filter((id) => model.relations.has(id) && !gone.has(id)).map(removeRelation),
        ...steps,
      ])
    },
  },
]

/** How many components run on a node, in words. */
export function nodeWords(wish: Pick<Wish, 'model' | 'day'>, id: Id): string {
  const one = componentsIn(wish).nodes.find((each) => each.id === id)
  const count = one?.deploys.length ?? 0
  return `Node · ${count} ${count === 1 ? 'component' : 'components'}`
}
