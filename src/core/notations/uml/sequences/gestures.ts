import { changed, SPACING, type Gestures, type Outcome, type Pull, type Wish } from '../../../notation'
import { callTo, dropPart, writePart } from './actions'

/** Who says what to whom, one after the other. */
export const sequenceGestures: Gestures = {
  id: 'sequence',
  title: 'Sequence',
  good: 'Who asks whom for what, in which order, and what is made and ended on the way',
  draws: ['interaction', 'lifeline', 'call', 'operand'],
  options: [SPACING, { id: 'numbers', label: 'Numbers', type: 'flag', initial: false, group: 'Shown' }],
  drop: dropPart,
  pull: pullLine,
  write: writePart,
}

/** A line drawn from a lifeline to another one: a message after all others. */
function pullLine(wish: Wish, _pull: Pull): Outcome {
  const [from] = wish.selection
  if (from === undefined || wish.target === undefined || wish.model.entities.get(wish.target)?.kind !== 'lifeline')
    return changed('', [])
  return callTo(wish, from, wish.target)
}
