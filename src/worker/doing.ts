import { asId, type Day, type Model, type View } from '../core/model'
import { isRefusal, notationOf, pictureOf, type Outcome, type Pull, type Wish } from '../core/notation'
import { registry } from '../core/notations'
import { registerCells } from '../core/tabular'
import type { Nudge, Reckoned, Wanted } from './contract'

const GONE: Outcome = { refused: 'It is no longer there.' }

function wishIn(model: Model, { view: id, picture, ...more }: Wanted): Wish | undefined {
  const known = model.views.get(id)
  const view = known && picture !== undefined ? { ...known, picture } : known
  return view && { ...more, model, view, newId: () => asId(crypto.randomUUID()) }
}

export function acted(model: Model, action: string, wanted: Wanted): Outcome {
  const wish = wishIn(model, wanted)
  const found = wish && notationOf(registry, wish.view)?.actions.find(({ id }) => id === action)
  return wish && found ? found.run(wish) : GONE
}

export function pulled(model: Model, pull: Pull, wanted: Wanted): Outcome {
  const wish = wishIn(model, wanted)
  return (wish && pictureOf(registry, wish.view)?.pull?.(wish, pull)) ?? GONE
}

/** Undefined where nothing changes however far it is pulled. */
export function nudged(model: Model, { handle, box, from, towards }: Nudge, wanted: Wanted): Outcome | undefined {
  const wish = wishIn(model, wanted)
  const pull = wish && pictureOf(registry, wish.view)?.pull
  if (!wish || !pull) return GONE
  return leastThatChanges((px) => {
    const by = { x: px * towards, y: 0 }
    return pull(wish, { handle, box, by, at: { x: from.x + by.x, y: from.y } })
  })
}

const FARTHEST_PX = 4096

/** The outcome of the shortest pull that changes anything, found by doubling and halving. */
function leastThatChanges(pull: (px: number) => Outcome): Outcome | undefined {
  const changeAt = (px: number): Outcome | undefined => {
    const outcome = pull(px)
    return isRefusal(outcome) || outcome.change.steps.length > 0 ? outcome : undefined
  }
  let far = 1
  let least = changeAt(far)
  while (!least && far < FARTHEST_PX) least = changeAt((far *= 2))
  for (let near = far / 2; least && far - near > 0.5;) {
    const middle = (near + far) / 2
    const nearer = changeAt(middle)
    if (nearer) [far, least] = [middle, nearer]
    else near = middle
  }
  return least
}

/** O(rows), and what they cost to be reckoned. */
export function reckonedIn(model: Model, register: string, view: View, day: Day): Reckoned {
  const found = notationOf(registry, view)?.registers.find(({ id }) => id === register)
  const rows = found?.rows(model, view, day) ?? []
  const columns = (found?.columns ?? [])
    .filter(({ isReckoned }) => isReckoned)
    .map(({ id, read }) => [id, rows.map((row) => read(model, row, day))] as const)
  return { rows, columns: Object.fromEntries(columns) }
}

/** A register with its heading, as it is written into files. O(cells) */
export function cellsIn(model: Model, register: string, view: View, day: Day): ReturnType<typeof registerCells> {
  const found = notationOf(registry, view)?.registers.find(({ id }) => id === register)
  return found ? registerCells(found, model, found.rows(model, view, day), day) : []
}
