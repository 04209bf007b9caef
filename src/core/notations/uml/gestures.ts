import type { Id } from '../../model'
import {
  changed,
  setField,
  SPACING,
  tooLongName,
  type Gestures,
  type Outcome,
  type Pull,
  type Wish,
} from '../../notation'
import { moveMembers, writeMember } from './members'
import { isPackageWithin } from './edits'
import { renamed } from './renaming'
import { tieTo } from './ties'

const shown = 'Shown'

/** What is on every picture of classes, or says what is true of what is. */
const CLASSED = ['class', 'package', 'attribute', 'operation', 'literal', 'schema', 'table', 'model-file'] as const

/** Classes with their members, and how they hang together. */
export const classes: Gestures = {
  id: 'classes',
  title: 'Classes',
  good: 'What things there are, what each knows and does, what it is a kind of and made of',
  draws: CLASSED,
  options: [
    SPACING,
    { id: 'attributes', label: 'Attributes', type: 'flag', initial: true, group: shown },
    { id: 'operations', label: 'Operations', type: 'flag', initial: true, group: shown },
    { id: 'private', label: 'Private members', type: 'flag', initial: true, group: shown },
    { id: 'ends', label: 'Roles and multiplicities', type: 'flag', initial: true, group: shown },
    { id: 'packages', label: 'Packages', type: 'flag', initial: true, group: shown },
  ],
  drop: dropOn,
  pull: pullLine,
  write,
}

/** Packages and what they depend on. */
export const packages: Gestures = {
  id: 'packages',
  title: 'Packages',
  good: 'Which package depends on which, and where they depend on each other',
  draws: CLASSED,
  options: [SPACING, { id: 'classes', label: 'Their classes', type: 'flag', initial: true, group: shown }],
  drop: dropOn,
  write,
}

/** A class into a package, or a class onto another one into the package of that; members that are selected into a class. */
function dropOn(wish: Wish): Outcome {
  const { model, selection, target } = wish
  const into = target === undefined ? undefined : model.entities.get(target)
  const kindOf = (id: Id) => model.entities.get(id)?.kind
  const members = selection.filter((id) => ['attribute', 'operation', 'literal'].includes(kindOf(id) ?? ''))
  if (members.length > 0 && into?.kind === 'class') return moveMembers(wish, members, into.id)
  const classes = selection.filter((id) => kindOf(id) === 'class' || kindOf(id) === 'package')
  if (classes.length === 0) return { refused: 'Classes and packages can be moved, and members into another class.' }
  const home = into?.kind === 'class' ? into.fields['package'] : into?.kind === 'package' ? into.id : undefined
  if (into === undefined || (into.kind !== 'class' && into.kind !== 'package'))
    return { refused: 'Drop it into a package.' }
  const moved = classes.filter((id) => id !== home)
  const circle = moved.find((id) => isPackageWithin(model, home as Id | undefined, id))
  if (circle !== undefined) return { refused: 'A package does not stand within one that stands within it.' }
  const [first] = moved
  const name = home === undefined ? undefined : model.entities.get(home as Id)?.name
  const who = moved.length === 1 && first ? `“${model.entities.get(first)?.name ?? first}”` : `${moved.length} classes`
  return changed(
    name === undefined ? `Take ${who} out of its package` : `Put ${who} into “${name}”`,
    moved.map((id) => setField(id, 'package', (home as string | undefined) ?? null)),
  )
}

/** A line drawn from a class to another one: from its lower edge an association, from its upper one what it is a kind of. */
function pullLine(wish: Wish, { handle }: Pull): Outcome {
  const [from] = wish.selection
  if (from === undefined || wish.target === undefined || wish.model.entities.get(wish.target)?.kind !== 'class')
    return changed('', [])
  return tieTo(wish, handle === 'kind' ? 'generalization' : 'association', from, wish.target)
}

/** The name of a class or a package, or a member as the standard writes it. */
function write(wish: Wish, part: string, text: string): Outcome {
  const [id] = wish.selection
  const entity = id === undefined ? undefined : wish.model.entities.get(id)
  if (part !== 'name') return writeMember(wish, part as Id, text)
  const name = text.trim()
  if (!entity || name === '') return { refused: 'It needs a name.' }
  return tooLongName(name) ?? renamed(wish, entity, name)
}
