import type { View } from '../model'
import type { Outline } from './notation'
import type { Wish } from './wish'

/** One outline for views that are each written in their own way: which it is, the view says. */
export function outlineBy(outlineFor: (view: View) => Outline, usual: Outline): Outline {
  const by =
    <Rest extends readonly unknown[], Answer>(edit: (outline: Outline) => (wish: Wish, ...rest: Rest) => Answer) =>
    (wish: Wish, ...rest: Rest): Answer =>
      edit(outlineFor(wish.view))(wish, ...rest)
  return {
    hint: usual.hint,
    hintFor: (view) => outlineFor(view).hint,
    lines: (model, view, day) => outlineFor(view).lines(model, view, day),
    write: by(({ write }) => write),
    insert: by(({ insert }) => insert),
    indent: by(({ indent }) => indent),
    outdent: by(({ outdent }) => outdent),
    move: by(({ move }) => move),
    remove: by(({ remove }) => remove),
    paste: by(({ paste }) => paste),
  }
}
