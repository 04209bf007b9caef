import type { ImportColumn } from '../../../notation'
import { position } from '../kinds'

function rangeOf(id: string): { min?: number; max?: number } {
  const { min, max } = position.fields.find((field) => field.id === id) ?? {}
  return { ...(min === undefined ? {} : { min }), ...(max === undefined ? {} : { max }) }
}

/** What is known of a person or a post, with the headings by which it goes in other programs’ tables. */
export const staffColumns: readonly ImportColumn[] = [
  {
    id: 'id',
    label: 'Id',
    headings: ['id', 'employee id', 'staff id', 'personnel number', 'number', 'no', 'key', 'employee number'],
  },
  {
    id: 'name',
    label: 'Name',
    headings: ['name', 'full name', 'holder', 'person', 'employee', 'display name', 'employee name'],
    says: 'person',
  },
  { id: 'given', label: 'First name', headings: ['first name', 'given name', 'forename', 'firstname'] },
  { id: 'family', label: 'Last name', headings: ['last name', 'family name', 'surname', 'lastname'] },
  { id: 'title', label: 'Title', headings: ['title', 'job title', 'position', 'post', 'role', 'function'] },
  {
    id: 'manager',
    label: 'Manager',
    headings: [
      'manager id',
      'manager',
      'reports to',
      'reports to id',
      'supervisor',
      'boss',
      'line manager',
      'manager name',
    ],
    says: 'person',
    like: 'name',
  },
  {
    id: 'unit',
    label: 'Unit',
    headings: ['unit', 'department', 'team', 'organisation', 'organization', 'ou', 'division'],
  },
  { id: 'email', label: 'Email', headings: ['email', 'e mail', 'mail', 'email address'] },
  { id: 'grade', label: 'Grade', headings: ['grade', 'band', 'level'] },
  {
    id: 'fte',
    label: 'Fte',
    headings: ['fte', 'full time equivalent', 'workload'],
    says: 'number',
    range: rangeOf('fte'),
  },
  { id: 'location', label: 'Location', headings: ['location', 'site', 'office', 'place'] },
  {
    id: 'cost',
    label: 'Cost',
    headings: ['cost', 'salary', 'annual cost', 'annual salary'],
    says: 'number',
    range: rangeOf('cost'),
  },
  {
    id: 'from',
    label: 'In post from',
    headings: [
      ...[
        'hire date',
        'hired',
        'date of hire',
        'joined',
        'joining date',
        'date joined',
        'in post from',
        'in post since',
      ],
      ...['from', 'start', 'start date', 'since', 'valid from', 'appointed'],
    ],
    says: 'day',
  },
  {
    id: 'to',
    label: 'In post until',
    headings: [
      ...['leaving date', 'left on', 'date of leaving', 'termination date', 'in post until'],
      ...['to', 'end', 'end date', 'until', 'valid to'],
    ],
    says: 'day',
  },
  {
    id: 'postFrom',
    label: 'Post exists from',
    headings: ['post from', 'post exists from', 'position from', 'position start date', 'post created', 'created'],
    says: 'day',
  },
  {
    id: 'postTo',
    label: 'Post exists until',
    headings: ['post until', 'post to', 'post exists until', 'position until', 'position to', 'position end date'],
    says: 'day',
  },
  {
    id: 'active',
    label: 'Active',
    headings: ['active', 'status', 'employed', 'employment status'],
    says: 'flag',
    words: {
      yes: ['active', 'employed', 'current', 'aktiv', 'actif', 'activo', 'attivo', 'actief'],
      no: ['inactive', 'left', 'terminated', 'former', 'ended', 'inaktiv', 'inactif', 'inactivo', 'ausgeschieden'],
    },
  },
]
