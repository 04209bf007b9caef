import { addEntity, changed, GONE, tie, type Action, type Outcome, type Wish } from '../../../notation'
import { figures } from '../kinds'
import { mapOutline, NEW_CONCEPT, removed } from './outline'
import { mapOn } from './structure'

type Selecting = Omit<Wish, 'newId'>

const conceptIn = ({ model, view, day, selection: [id] }: Selecting) =>
  id === undefined ? undefined : mapOn(model, view, day).byId.get(id)
const isShown = (wish: Selecting): boolean => {
  const map = mapOn(wish.model, wish.view, wish.day)
  return wish.selection.some((id) => map.byId.has(id) || map.links.some(({ relation }) => relation.id === id))
}

/** A concept to which the selected one is linked, or one by itself. */
function next(wish: Wish): Outcome {
  const from = conceptIn(wish)
  const { id: figure, steps } = figures.forWish(wish)
  const { concepts } = mapOn(wish.model, wish.view, wish.day)
  const order = concepts.reduce((most, { entity }) => Math.max(most, Number(entity.fields['order'] ?? 0)), 0) + 1
  const id = wish.newId()
  const made = addEntity({ id, kind: 'concept', name: NEW_CONCEPT, fields: { figure, order } })
  const link = from ? [tie(wish.newId(), 'links', from.id, id)] : []
  return changed(from ? `A concept after “${from.entity.name}”` : 'A concept', [...steps, made, ...link], {
    select: id,
    edit: 'name',
  })
}

/** Links the selected concept to another one. */
function linkTo(wish: Wish): Outcome {
  const from = conceptIn(wish)
  const to = wish.target === undefined ? undefined : wish.model.entities.get(wish.target)
  if (!from || !to) return GONE
  const id = wish.newId()
  return changed(`Link “${from.entity.name}” to “${to.name}”`, [tie(id, 'links', from.id, to.id)], {
    select: id,
    edit: 'phrase',
  })
}

export const mapActions: readonly Action[] = [
  { id: 'next', label: 'Add a concept', key: 'n', verb: true, begins: true, applies: () => true, run: next },
  {
    id: 'link',
    label: 'Link to…',
    key: 'l',
    verb: true,
    applies: (wish) => conceptIn(wish) !== undefined,
    picks: (wish) => {
      const own = conceptIn(wish)
      const { concepts } = mapOn(wish.model, wish.view, wish.day)
      return {
        kinds: ['concept'],
        prompt: 'Link to which concept?',
        offers: concepts.flatMap(({ id }) => (id === own?.id ? [] : [id])),
      }
    },
    run: linkTo,
  },
  {
    id: 'earlier',
    label: 'Earlier',
    key: 'Alt+ArrowUp',
    applies: (wish) => conceptIn(wish) !== undefined,
    run: (wish) => (wish.selection[0] === undefined ? GONE : mapOutline.move(wish, wish.selection[0], -1)),
  },
  {
    id: 'later',
    label: 'Later',
    key: 'Alt+ArrowDown',
    applies: (wish) => conceptIn(wish) !== undefined,
    run: (wish) => (wish.selection[0] === undefined ? GONE : mapOutline.move(wish, wish.selection[0], 1)),
  },
  {
    id: 'remove',
    label: 'Remove',
    key: 'Delete',
    applies: isShown,
    run: ({ model, selection }) => removed(model, selection),
  },
]
