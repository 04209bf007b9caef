import type { Id } from '../../model'
import { changed, GONE, removal, type Action, type Outcome, type Wish } from '../../notation'
import { figures, UNNAMED } from './kinds'
import { outline, pasted } from './outline'
import { linesOn, withBranch, type Part } from './structure'

type Selecting = Omit<Wish, 'newId'>

const partIn = ({ model, view, day, selection: [id] }: Selecting): Part | undefined =>
  id === undefined ? undefined : linesOn(model, view, day).byId.get(id)
const isPart = (wish: Selecting): boolean => partIn(wish) !== undefined

/** A part after the selected one, or the last of all. */
function next(wish: Wish): Outcome {
  const one = partIn(wish)
  const made = pasted(
    wish,
    one?.id,
    [{ depth: 0, text: UNNAMED }],
    one ? `A part after “${one.entity.name}”` : 'A part',
  )
  return 'refused' in made ? made : { ...made, edit: 'name' }
}

/** A line under the selected part, as its last. */
function under(wish: Wish): Outcome {
  const one = partIn(wish)
  if (!one) return GONE
  const last = one.parts.at(-1)
  if (last) return next({ ...wish, selection: [last.id] })
  const id = wish.newId()
  const figure = figures.of(wish.model, wish.view)
  return changed(
    `A line under “${one.entity.name}”`,
    [
      {
        do: 'add-entity',
        entity: { id, kind: 'part', name: UNNAMED, fields: { figure: figure ?? '', under: one.id, order: 1 } },
      },
    ],
    { select: id, edit: 'name' },
  )
}

/** Takes parts away with all that stands under them. */
function remove(wish: Wish): Outcome {
  const lines = linesOn(wish.model, wish.view, wish.day)
  const chosen = wish.selection.flatMap((id) => lines.byId.get(id) ?? [])
  const all = new Set(chosen.flatMap((one) => withBranch(one)))
  if (all.size === 0) return GONE
  const [first] = chosen
  const label = chosen.length === 1 && first ? `Remove “${first.entity.name}”` : `Remove ${chosen.length} parts`
  const more = [...all].filter((one) => !chosen.includes(one))
  return changed(label, removal(wish.model, ...[...all].map(({ id }) => id)), {
    ...(more.length > 0 ? { spreads: more.map(({ entity }) => `“${entity.name}” goes with it.`) } : {}),
  })
}

const lineAction = (id: string, label: string, key: string, run: (wish: Wish, line: Id) => Outcome): Action => ({
  id,
  label,
  key,
  applies: isPart,
  run: (wish) => {
    const one = partIn(wish)
    return one ? run(wish, one.id) : GONE
  },
})

export const actions: readonly Action[] = [
  { id: 'next', label: 'Add a part', key: 'n', verb: true, begins: true, applies: () => true, run: next },
  { id: 'under', label: 'Add a line under it', key: 'u', verb: true, applies: isPart, run: under },
  lineAction('earlier', 'Earlier', 'Alt+ArrowUp', (wish, line) => outline.move(wish, line, -1)),
  lineAction('later', 'Later', 'Alt+ArrowDown', (wish, line) => outline.move(wish, line, 1)),
  lineAction('promote', 'A level up', 'Alt+ArrowLeft', (wish, line) => outline.outdent(wish, line)),
  lineAction('demote', 'A level down', 'Alt+ArrowRight', (wish, line) => outline.indent(wish, line)),
  { id: 'remove', label: 'Remove', key: 'Delete', applies: isPart, run: remove },
  figures.show,
]
