import type { Fields, Id, Model, Step, View } from '../model'
import { addEntity, changed, setView } from './edit'
import type { Field } from './kind'
import type { Action } from './notation'
import type { Wish } from './wish'

/** What holds the facts of a view, as a process holds its steps and a plan its tasks: an entity that the view's scope names. */
export interface Container {
  /** The field of what is held, and the key of a view's scope, that name it. */
  readonly field: Field
  /** The one that a view names, else the first; none yet where it names nobody. */
  readonly of: (model: Model, view: Pick<View, 'scope'> | undefined) => Id | undefined
  /** Whether a view is to show nothing until something is made in it. */
  readonly isBlank: (view: Pick<View, 'scope'>) => boolean
  /** The one that a wish is about, made where there is none yet, with the steps that make it. */
  readonly forWish: (wish: Wish, fields?: Fields, name?: string) => { readonly id: Id; readonly steps: readonly Step[] }
  /** Shows another one in the view; what else the scope says of the one before is cleared. */
  readonly show: Action
}

/** The container of a kind, with the view's other keys of scope that belong to the one shown. */
export function containerOf(kind: string, title: string, within: readonly string[] = []): Container {
  const of: Container['of'] = (model, view) => {
    const named = view?.scope[kind]
    if (named === '') return undefined
    if (typeof named === 'string' && model.entities.get(named as Id)?.kind === kind) return named as Id
    return model.ofKind(kind)[0]?.id
  }
  return {
    field: { id: kind, label: title, type: 'reference', refers: [kind], hidden: true },
    of,
    isBlank: ({ scope }) => scope[kind] === '',
    forWish: (wish, fields = {}, name = `New ${kind}`) => {
      const known = of(wish.model, wish.view)
      if (known !== undefined) return { id: known, steps: [] }
      const id = wish.newId()
      const { title } = wish.view
      const entity = { id, kind, name: title === NEW_VIEW ? name : title, fields }
      return { id, steps: [addEntity(entity), setView(wish.view.id, `scope.${kind}`, id)] }
    },
    show: {
      id: 'show',
      label: `Show another ${kind}…`,
      begins: true,
      picks: { kinds: [kind], prompt: `Show which ${kind}?` },
      applies: ({ model }) => model.ofKind(kind).length > 0,
      run: ({ model, view, target }) =>
        target === undefined
          ? { refused: `Choose a ${kind}.` }
          : changed(`Show “${model.entities.get(target)?.name ?? target}” in “${view.title}”`, [
              setView(view.id, `scope.${kind}`, target),
              ...within.map((key) => setView(view.id, `scope.${key}`, null)),
            ]),
    },
  }
}

/** What a view is called until somebody names it. */
export const NEW_VIEW = 'New view'
