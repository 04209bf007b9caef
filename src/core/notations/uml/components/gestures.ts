import { changed, SPACING, type Gestures, type Outcome, type Pull, type Wish } from '../../../notation'
import { dropPart, leadTo, writeName } from './actions'

/** What software consists of, and where it runs. */
export const componentGestures: Gestures = {
  id: 'components',
  title: 'Components',
  good: 'Which parts software consists of, what each offers and needs, and on which machines it runs',
  draws: ['component', 'component-port', 'deployment-node'],
  options: [SPACING, { id: 'nodes', label: 'Nodes', type: 'flag', initial: true, group: 'Shown' }],
  drop: dropPart,
  pull: pullLine,
  write: writeName,
}

function pullLine(wish: Wish, _pull: Pull): Outcome {
  const [from] = wish.selection
  const kind = wish.target === undefined ? undefined : wish.model.entities.get(wish.target)?.kind
  if (from === undefined || wish.target === undefined || !['component', 'class'].includes(kind ?? ''))
    return changed('', [])
  return leadTo(wish, from, wish.target)
}
