import { containerOf, type Field, type Kind, type RelationKind } from '../../notation'

/** What holds the lines of a figure, and the concepts of a map. */
export const figures = containerOf('figure', 'Figure')

const order: Field = { id: 'order', label: 'Order', type: 'number', hidden: true }

export const figure: Kind = {
  id: 'figure',
  title: 'Figure',
  plural: 'Figures',
  nameField: { id: 'title', label: 'Title' },
  fields: [
    { id: 'question', label: 'Focus question', type: 'text' },
    { id: 'across', label: 'Axis across', type: 'text' },
    { id: 'up', label: 'Axis up', type: 'text' },
  ],
}

/** A line of a figure. */
export const part: Kind = {
  id: 'part',
  title: 'Part',
  plural: 'Parts',
  nameField: { id: 'text', label: 'Text', isStyled: true },
  fields: [
    { id: 'image', label: 'Picture', type: 'image', whole: true },
    { id: 'pointAcross', label: 'Seen at, across', type: 'number', unit: '%', min: 0, max: 100 },
    { id: 'pointDown', label: 'Seen at, down', type: 'number', unit: '%', min: 0, max: 100 },
    { id: 'value', label: 'Value', type: 'number' },
    { id: 'unit', label: 'Unit', type: 'text' },
    { id: 'across', label: 'Across', type: 'number', min: 0, max: 10 },
    { id: 'up', label: 'Up', type: 'number', min: 0, max: 10 },
    { id: 'done', label: 'Done', type: 'flag' },
    { id: 'gathers', label: 'Gathers', type: 'text' },
    { id: 'under', label: 'Under', type: 'reference', refers: ['part'], hidden: true },
    figures.field,
    order,
  ],
}

/** What a concept map is made of. */
export const concept: Kind = {
  id: 'concept',
  title: 'Concept',
  plural: 'Concepts',
  fields: [figures.field, order],
}

/** Two concepts and a phrase make a proposition. */
export const links: RelationKind = {
  id: 'links',
  title: 'is linked to',
  sources: ['concept'],
  targets: ['concept'],
  fields: [{ id: 'phrase', label: 'Phrase', type: 'text' }],
}

export const entityKinds: readonly Kind[] = [figure, part, concept]
export const relationKinds: readonly RelationKind[] = [links]

/** A line that nobody has given a text yet. */
export const UNNAMED = 'New part'
