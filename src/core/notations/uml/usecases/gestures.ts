import { changed, SPACING, type Gestures, type Option, type Outcome, type Pull, type Wish } from '../../../notation'
import { dropCase, leadTo, writeName } from './actions'

/** An actor is a figure, or a rectangle with its keyword (UML 2.5.1, 18.1.4). */
const ACTORS: Option = {
  id: 'actors',
  label: 'Actors',
  type: 'choice',
  choices: ['figures', 'boxes'],
  initial: 'figures',
}

/** Who does what with what. */
export const caseGestures: Gestures = {
  id: 'use-cases',
  title: 'Use cases',
  good: 'Who gets what done with a system, what belongs to it, and what is done only sometimes',
  draws: ['actor', 'use-case', 'subject'],
  options: [SPACING, ACTORS],
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
