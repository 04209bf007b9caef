import type { Day, Entity, Id, Model } from '../../model'
import { plainView, type Column, type Handling } from '../../notation'
import { actions } from './actions'
import { modelIn } from './edits'
import { classes, packages } from './gestures'
import { entityKinds, relationKinds } from './kinds'
import { lists } from './lists'
import { outline } from './outline'
import { packageColumn, registers } from './registers'

const tiesOf = (register: string, ids: readonly string[]): readonly Column[] =>
  registers.find(({ id }) => id === register)?.columns.filter(({ id }) => ids.includes(id)) ?? []

const TIES: Readonly<Record<string, readonly Column[]>> = {
  class: [packageColumn, ...tiesOf('classes', ['system'])],
  attribute: tiesOf('members', ['class', 'text']),
  operation: tiesOf('members', ['class', 'text']),
  literal: tiesOf('members', ['class']),
  package: tiesOf('packages', ['package', 'classes']),
}

/** How it is stated which classes there are, and how they hang together, on any day. */
export const handling: Handling = {
  id: 'uml',
  title: 'UML',
  chapter: 'Software',
  entityKinds,
  relationKinds,
  pictures: [classes, packages],
  scope: [
    { id: 'package', label: 'Package', type: 'reference', refers: ['package'], hidden: true },
    { id: 'class', label: 'Neighbours of', type: 'reference', refers: ['class'], hidden: true },
  ],
  actions,
  registers,
  outline,
  lists,
  describe,
  ties: (_model: Model, { kind }: Entity) => TIES[kind] ?? [],
  view: plainView('uml', 'classes'),
  blank: { package: '' },
}

function describe(model: Model, id: Id, day: Day): string | undefined {
  const entity = model.entities.get(id)
  const all = modelIn({ model, day })
  if (entity?.kind === 'class') {
    const one = all.byId.get(id)
    if (!one) return 'Not in force on the day shown'
    const sort = one.form.charAt(0).toUpperCase() + one.form.slice(1)
    const kinds = one.parents.map(({ name }) => name).join(', ')
    return [`${sort}${one.package ? ` in ${one.package.name}` : ''}`, kinds === '' ? '' : `is a ${kinds}`]
      .filter(Boolean)
      .join(' · ')
  }
  if (entity?.kind === 'package') {
    const count = all.packageById.get(id)?.classes.length ?? 0
    return `Package · ${count} ${count === 1 ? 'class' : 'classes'}`
  }
  if (entity?.kind !== 'attribute' && entity?.kind !== 'operation' && entity?.kind !== 'literal') return undefined
  const owner = model.entities.get(String(entity.fields['class'] ?? '') as Id)
  const sort = entity.kind.charAt(0).toUpperCase() + entity.kind.slice(1)
  return owner ? `${sort} of ${owner.name}` : sort
}
