import type { Entity } from '../../model'
import type { Kind, RelationKind } from '../../notation'

/** The text of a position that has not been given a title yet. */
export const UNTITLED = 'Untitled'

/** The title of a position, empty where it has none. */
export const titleIn = ({ name }: Pick<Entity, 'name'>): string => (name === UNTITLED ? '' : name)

export const position: Kind = {
  id: 'position',
  title: 'Position',
  plural: 'Positions',
  nameField: { id: 'title', label: 'Title' },
  fields: [
    { id: 'unit', label: 'Unit', type: 'reference', refers: ['unit'], place: true },
    { id: 'grade', label: 'Grade', type: 'text' },
    { id: 'fte', label: 'Fte', type: 'number', min: 0, max: 100 },
    { id: 'location', label: 'Location', type: 'text' },
    { id: 'cost', label: 'Cost', type: 'number', unit: 'a year', min: 0 },
    { id: 'planned', label: 'Planned', type: 'flag' },
    { id: 'layout', label: 'Reports in', type: 'choice', choices: ['row', 'column', 'two columns'] },
    { id: 'order', label: 'Order', type: 'number', hidden: true },
  ],
}

export const relationKinds: readonly RelationKind[] = [
  {
    id: 'reports-to',
    title: 'reports to',
    sources: ['position'],
    targets: ['position'],
    fields: [{ id: 'line', label: 'Line', type: 'choice', choices: ['solid', 'dotted'] }],
    targetRule: 'org/manager-not-in-force',
  },
  { id: 'assists', title: 'assists', sources: ['position'], targets: ['position'], fields: [] },
  { id: 'part-of', title: 'is part of', sources: ['unit'], targets: ['unit'], fields: [] },
]
