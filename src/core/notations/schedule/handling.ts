import { HOLIDAY_SOURCE, loadHolidays } from '../../calendar'
import type { Id, Model } from '../../model'
import { outlineBy, plainView, type Column, type Handling, type Outline } from '../../notation'
import { actions } from './actions'
import { bars, month, network, timeline } from './gestures'
import { entityKinds, plan, relationKinds } from './kinds'
import { lists } from './lists'
import { outline as workOutline } from './outline'
import { afterColumn, calendarColumns, registers, whoColumn } from './registers'
import { timelineOutline } from './timelineOutline'
import { workerWords } from './edits'

const datedColumns: readonly Column[] =
  registers.find(({ id }) => id === 'tasks')?.columns.filter(({ id }) => ['early', 'finished', 'float'].includes(id)) ??
  []

const TIES: Readonly<Record<string, readonly Column[]>> = {
  task: [...datedColumns, afterColumn, whoColumn],
  milestone: [...datedColumns, afterColumn, whoColumn],
  group: [...datedColumns, afterColumn],
  calendar: calendarColumns,
}

/** Plans and timelines are written each in its own way: the view’s picture says which. */
const outlineFor = ({ picture }: { picture: string }): Outline =>
  picture === 'timeline' ? timelineOutline : workOutline
const outline = outlineBy(outlineFor, workOutline)

/** How it is stated what is done when, on any day. */
export const handling: Handling = {
  id: 'schedule',
  title: 'Schedule',
  chapter: 'Time',
  entityKinds,
  relationKinds,
  pictures: [bars, timeline, network, month],
  scope: [plan],
  actions,
  registers,
  outline,
  lists,
  describe,
  ties: (_model, { kind }) => TIES[kind] ?? [],
  prepare: (model) =>
    model.ofKind('calendar').some(({ fields }) => fields['region'] !== undefined) ? loadHolidays() : undefined,
  view: plainView('schedule', 'bars'),
  blank: { plan: '' },
}

/** What is stated of a fact; with its dates the worker tells it. */
function describe(model: Model, id: Id): string | undefined {
  const entity = model.entities.get(id)
  if (entity?.kind === 'calendar' && typeof entity.fields['region'] === 'string')
    return `Calendar · public holidays of ${entity.fields['region']} by ${HOLIDAY_SOURCE}; its other days go before them`
  if (!entity || !['task', 'milestone', 'group'].includes(entity.kind)) return undefined
  const title = entityKinds.find(({ id: kind }) => kind === entity.kind)?.title
  return [title, workerWords(model, id)].filter(Boolean).join(' · ')
}
