import type { Day, Entity, Id, Model } from '../../model'
import { outlineBy, plainView, type Action, type Column, type Handling, type Outline } from '../../notation'
import { actions } from './actions'
import { modelIn } from './edits'
import { classes, packages } from './gestures'
import { componentActions, nodeWords } from './components/actions'
import { componentGestures } from './components/gestures'
import { componentOutline } from './components/outline'
import { componentRegisters } from './components/registers'
import { entityKinds, relationKinds } from './kinds'
import { lists } from './lists'
import { outline as classOutline } from './outline'
import { packageColumn, registers } from './registers'
import { schemasOn } from './schema/facts'
import { databaseRegister, tableColumns, tableRegister } from './schema/registers'
import { sequenceActions } from './sequences/actions'
import { sequenceGestures } from './sequences/gestures'
import { sequenceOutline } from './sequences/outline'
import { sequenceRegisters } from './sequences/registers'
import { interaction } from './sequences/structure'
import { machineOf, stateActions } from './states/actions'
import { stateGestures } from './states/gestures'
import { stateOutline } from './states/outline'
import { lifeColumn, stateRegisters, withinColumn } from './states/registers'
import { machine } from './states/structure'
import { caseActions } from './usecases/actions'
import { subjects } from './usecases/edits'
import { caseGestures } from './usecases/gestures'
import { caseOutline } from './usecases/outline'
import { caseRegisters } from './usecases/registers'

const tiesOf = (register: string, ids: readonly string[]): readonly Column[] =>
  registers.find(({ id }) => id === register)?.columns.filter(({ id }) => ids.includes(id)) ?? []

const TIES: Readonly<Record<string, readonly Column[]>> = {
  class: [...tiesOf('classes', ['name']), packageColumn, ...tiesOf('classes', ['system'])],
  attribute: tiesOf('members', ['class', 'text']),
  operation: tiesOf('members', ['class', 'text']),
  literal: tiesOf('members', ['class']),
  package: tiesOf('packages', ['package', 'classes']),
  machine: [lifeColumn],
  state: [withinColumn],
  table: tableColumns,
}

/** Every picture is written in its own way. */
const OUTLINES: Readonly<Record<string, Outline>> = {
  states: stateOutline,
  sequence: sequenceOutline,
  'use-cases': caseOutline,
  components: componentOutline,
}
const outlineFor = ({ picture }: { readonly picture: string }): Outline => OUTLINES[picture] ?? classOutline
const outline = outlineBy(outlineFor, classOutline)

/** Actions of some pictures; those of one name in different pictures are told apart. */
const beside = (pictures: readonly string[], list: readonly Action[]): readonly Action[] =>
  list.map((action) => ({
    ...action,
    id: pictures.includes('classes') ? action.id : `${pictures[0] ?? ''}-${action.id}`,
    applies: (wish) => pictures.includes(wish.view.picture) && action.applies(wish),
  }))

/** How it is stated which classes there are, and how they hang together, on any day. */
export const handling: Handling = {
  id: 'uml',
  title: 'UML',
  chapter: 'Software',
  entityKinds,
  relationKinds,
  pictures: [classes, packages, stateGestures, sequenceGestures, caseGestures, componentGestures],
  scope: [
    { id: 'package', label: 'Package', type: 'reference', refers: ['package'], hidden: true },
    { id: 'class', label: 'Neighbours of', type: 'reference', refers: ['class'], hidden: true },
    machine.field,
    interaction.field,
    subjects.field,
  ],
  actions: [
    ...beside(['classes', 'packages'], actions),
    ...beside(['states'], stateActions),
    ...beside(['sequence'], sequenceActions),
    ...beside(['use-cases'], caseActions),
    ...beside(['components'], componentActions),
  ],
  registers: [
    ...registers,
    tableRegister,
    databaseRegister,
    ...stateRegisters,
    ...sequenceRegisters,
    ...caseRegisters,
    ...componentRegisters,
  ],
  outline,
  lists,
  describe,
  ties: (_model: Model, { kind }: Entity) => TIES[kind] ?? [],
  view: plainView('uml', 'classes'),
  blank: { package: '', machine: '', interaction: '', subject: '' },
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
  if (entity?.kind === 'machine') return 'State machine'
  if (entity?.kind === 'interaction') return 'Sequence'
  if (entity?.kind === 'lifeline') return entity.fields['actor'] === true ? 'Actor' : 'Lifeline'
  if (entity?.kind === 'operand') return 'Fragment'
  if (entity?.kind === 'subject') return 'Subject of use cases'
  if (entity?.kind === 'actor') return 'Actor'
  if (entity?.kind === 'component') return 'Component'
  if (entity?.kind === 'component-port') return 'Port of a component'
  if (entity?.kind === 'deployment-node') return nodeWords({ model, day }, id)
  if (entity?.kind === 'schema') {
    const count = schemasOn(model, day).find((one) => one.id === id)?.tables.length ?? 0
    return `Database · ${count} ${count === 1 ? 'table' : 'tables'}`
  }
  if (entity?.kind === 'table') {
    const home = model.entities.get(entity.fields['schema'] as Id)
    return home ? `Table of ${home.name}` : 'Table'
  }
  if (entity?.kind === 'use-case') return 'Use case'
  if (entity?.kind === 'call') {
    const end = (field: string) => model.entities.get(String(entity.fields[field] ?? '') as Id)?.name ?? '…'
    return `Message of ${end('from')} to ${end('to')}`
  }
  if (entity?.kind === 'state' || entity?.kind === 'region') {
    const sort = entity.kind === 'region' ? 'Region' : capital(String(entity.fields['form'] ?? 'state'))
    const home = machineOf({ model, day }, id)
    return home === undefined ? sort : `${sort} of ${home}`
  }
  if (entity?.kind !== 'attribute' && entity?.kind !== 'operation' && entity?.kind !== 'literal') return undefined
  const owner = model.entities.get(String(entity.fields['class'] ?? '') as Id)
  const sort = entity.kind.charAt(0).toUpperCase() + entity.kind.slice(1)
  return owner ? `${sort} of ${owner.name}` : sort
}

const capital = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1)
