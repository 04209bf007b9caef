import { changed, SPACING, type Gestures, type Outcome, type Pull, type Wish } from '../../../notation'
import { dropCase, leadTo, writeName } from './actions'

/** Who does what with what. */
export const caseGestures: Gestures = {
  id: 'use-cases',
  title: 'Use cases',
  good: 'Who gets what done with a system, what belongs to it, and what is done only sometimes',
  draws: ['actor', 'use-case', 'subject'],
  options: [SPACING],
  drop: dropCase,
  pull: pullLine,
  write: writeName,
}

function pullLine(wish: Wish, _pull: Pull): Outcome {
  const [from] = wish.selection
  const kind = wish.target === undefined ? undefined : wish.model.entities.get(wish.target)?.kind
  if (from === undefined || wish.target === undefined || (kind !== 'use-case' && kind !== 'actor'))
    return changed('', [])
  return leadTo(wish, from, wish.target)
}
