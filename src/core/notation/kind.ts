import { TONES } from '../model'
import { CATEGORIES } from '../scene'

/** What a field holds; registers, forms, body checks, import and export are generated from it. */
export type FieldType =
  | 'text'
  | 'note'
  | 'number'
  | 'integer'
  | 'flag'
  | 'day'
  | 'choice'
  | 'list'
  | 'reference'
  | 'image'
  /** Two numbers, such as a nudge to the right and down. */
  | 'pair'
  /** Working time: `5d`, `4h`, `30min`, `2w`. */
  | 'duration'
  /** A day, or a minute of it: `2026-11-24`, `2026-11-24T13:00`. */
  | 'moment'
  /** A date as exactly as it is known, before our era too: `1887`, `1887-05`, `-0043`. */
  | 'when'

export interface Field {
  readonly id: string
  readonly label: string
  readonly type: FieldType
  readonly unit?: string
  readonly choices?: readonly string[]
  /** Kinds that a reference may name, by id or by name. */
  readonly refers?: readonly string[]
  readonly min?: number
  readonly max?: number
  /** Stands among others under this heading in a form. */
  readonly group?: string
  /** One for each fact, and of a `point` one for each of its points: its key is `ID FACT` or `ID FACT NUMBER`; without an id, `FACT`. */
  readonly each?: 'fact' | 'point'
  /** Says where a fact belongs: another value is a move. */
  readonly place?: true
  /** Of an image: it is kept whole, not cropped to a square. */
  readonly whole?: true
  /** Used by the program itself, shown in no form. */
  readonly hidden?: boolean
  /** Why a text that is typed cannot be read as one of these; undefined where it can. */
  readonly fault?: (text: string) => string | undefined
}

export interface Kind {
  readonly id: string
  readonly title: string
  readonly plural: string
  /** How the name is called, where it is not “Name”. In files a field of this id may stand for it. */
  /** What its name is called; `isStyled` where signs in it say which words are strong or slanted. */
  readonly nameField?: { readonly id: string; readonly label: string; readonly isStyled?: true }
  readonly fields: readonly Field[]
}

export interface RelationKind {
  readonly id: string
  /** Reads between source and target: “reports to”. */
  readonly title: string
  readonly sources: readonly string[]
  readonly targets: readonly string[]
  readonly fields: readonly Field[]
  /** The source answers for the target, until this field of the target is stated. */
  readonly answers?: { readonly until: string }
  /** The rule that speaks of a target that is not in force, where it is a stricter one than `x/dangling`. */
  readonly targetRule?: string
}

/** How something stands out, or stands back, wherever it is drawn. */
export const EMPHASES = [
  'strong',
  'quiet',
  'crossed out',
  ...Array.from({ length: CATEGORIES }, (_, at) => `category ${at + 1}`),
] as const satisfies readonly string[]

/** What a fact says of itself wherever it is drawn. */
export const EMPHASIS = {
  id: 'emphasis',
  label: 'Emphasis',
  type: 'choice',
  choices: EMPHASES,
} as const satisfies Field

/** Fields that every entity and every relation has. */
export const COMMON_FIELDS: readonly Field[] = [{ id: 'note', label: 'Note', type: 'note' }, EMPHASIS]

/** Where an entity keeps which others were joined into it. */
export const JOINED = 'joined'

/** Fields that every entity has besides. */
export const ENTITY_FIELDS: readonly Field[] = [
  ...COMMON_FIELDS,
  { id: 'alt', label: 'Alternative text', type: 'text' },
  { id: 'link', label: 'Link', type: 'text' },
  { id: 'icon', label: 'Icon', type: 'text' },
  { id: 'badge', label: 'Small picture', type: 'image', whole: true },
  { id: JOINED, label: 'Joined from', type: 'list', hidden: true },
]

/** How far apart a picture sets things. */
export const SPACINGS = ['tight', 'normal', 'airy'] as const
export type Spacing = (typeof SPACINGS)[number]
export const SPACING = {
  id: 'room',
  label: 'Spacing',
  type: 'choice',
  choices: SPACINGS,
  initial: 'normal',
} as const satisfies Field & { readonly initial: string }

/** What a view chose. */
export const spacingOf = ({ options }: { readonly options: Readonly<Record<string, unknown>> }): Spacing =>
  SPACINGS.find((one) => one === options['room']) ?? 'normal'

/** Stated of a fact in a view, it stands there as if nothing were said of it. */
export const PLAIN = 'plain'

/** What may lie behind a picture. */
export const GROUNDS = ['none', 'tint', 'ruled', 'dotted', 'picture', 'map'] as const

/** How a view looks, whatever it shows. */
export const LOOK_FIELDS: readonly Field[] = [
  { id: 'theme', label: 'Theme', type: 'text' },
  { id: 'tone', label: 'Tone', type: 'choice', choices: TONES },
  { id: 'paper', label: 'Paper', type: 'text' },
  { id: 'across', label: 'Across', type: 'flag' },
  { id: 'emphasis', label: 'Emphasis', type: 'list', choices: [...EMPHASES, PLAIN], each: 'fact' },
  { id: 'means', label: 'What an emphasis means', type: 'text', each: 'fact' },
  { id: 'rules', label: 'Emphasis by rule', type: 'list' },
  { id: 'letters', label: 'Letters beside colours', type: 'flag' },
  { id: 'heading', label: 'Heading', type: 'flag' },
  { id: 'asOf', label: 'Facts as of', type: 'flag' },
  { id: 'house', label: 'House mark', type: 'flag' },
  { id: 'source', label: 'Source', type: 'text' },
  { id: 'ground', label: 'Ground', type: 'choice', choices: GROUNDS },
  { id: 'picture', label: 'Picture behind', type: 'image', whole: true },
  { id: 'strength', label: 'Strength', type: 'integer', unit: '%', min: 1, max: 100 },
  { id: 'region', label: 'Region', type: 'text' },
  /** What it is good for to somebody who begins with it: it is a starter then. */
  { id: 'starter', label: 'Starter', type: 'text' },
  /** Its place among the notes, its words, and what it is about: a fact, `@x,y`, or nothing. */
  { id: 'note', label: 'Note', type: 'list', each: 'fact' },
]

/** What lies behind a picture as strongly as this, in %, until somebody says otherwise. */
export const STRENGTH = 12

export const sharedKinds: readonly Kind[] = [
  {
    id: 'person',
    title: 'Person',
    plural: 'People',
    fields: [
      { id: 'email', label: 'Email', type: 'text' },
      { id: 'employer', label: 'Employer', type: 'text' },
      { id: 'skills', label: 'Skills', type: 'list' },
      { id: 'photo', label: 'Photo', type: 'image' },
    ],
  },
  {
    id: 'role',
    title: 'Role',
    plural: 'Roles',
    fields: [{ id: 'purpose', label: 'Purpose', type: 'note' }],
  },
  {
    id: 'unit',
    title: 'Unit',
    plural: 'Units',
    fields: [
      { id: 'code', label: 'Code', type: 'text' },
      { id: 'costCentre', label: 'Cost centre', type: 'text' },
    ],
  },
  {
    id: 'system',
    title: 'System',
    plural: 'Systems',
    fields: [{ id: 'owner', label: 'Owner', type: 'reference', refers: ['person', 'position', 'role', 'unit'] }],
  },
  {
    id: 'site',
    title: 'Site',
    plural: 'Sites',
    fields: [
      { id: 'address', label: 'Address', type: 'note' },
      { id: 'latitude', label: 'Latitude', type: 'number', unit: '°', min: -90, max: 90 },
      { id: 'longitude', label: 'Longitude', type: 'number', unit: '°', min: -180, max: 180 },
    ],
  },
  { id: 'document', title: 'Document', plural: 'Documents', fields: [] },
]

/** A field of a kind. @throws RangeError for one that the kind does not have: a register must not invent fields. */
export function fieldOf(
  kinds: readonly { readonly id: string; readonly fields: readonly Field[] }[],
  kind: string,
  id: string,
): Field {
  const field = kinds.find((one) => one.id === kind)?.fields.find((one) => one.id === id)
  if (!field) throw new RangeError(`no field “${id}” of ${kind}`)
  return field
}
