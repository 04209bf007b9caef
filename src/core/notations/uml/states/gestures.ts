import { changed, SPACING, type Gestures, type Outcome, type Pull, type Wish } from '../../../notation'
import { dropState, leadTo, writeState } from './actions'

/** The states that something goes through, and what leads from one to the next. */
export const stateGestures: Gestures = {
  id: 'states',
  title: 'States',
  good: 'What something goes through, on which event it goes on, and where it may get stuck',
  draws: ['machine', 'state', 'region'],
  options: [SPACING],
  drop: dropState,
  pull: pullLine,
  write: writeState,
}

/** A line drawn from a state to another one. */
function pullLine(wish: Wish, _pull: Pull): Outcome {
  const [from] = wish.selection
  if (from === undefined || wish.target === undefined || wish.model.entities.get(wish.target)?.kind !== 'state')
    return changed('', [])
  return leadTo(wish, from, wish.target)
}
