import { ASSET, MOST_THEMES, SORTS, sorts, THEME_WORDS, TONES, type Shape, type Sort } from '../model'
import { LIMITS, partsOf, type Field, type Registry } from '../notation'
import { FILE_FORMAT, FILE_VERSION } from './workspaceFile'

const DAY = {
  type: 'string',
  pattern: '^\\d{4}-\\d{2}-\\d{2}$',
  description: 'A day of the calendar, ISO 8601, both ends inclusive.',
}
/** What no text may hold: control characters but tab and line ends, and halves of characters. */
const WRITABLE = '^[^\\u0000-\\u0008\\u000b\\u000c\\u000e-\\u001f\\ufffe\\uffff]*$'
const ID = {
  type: 'string',
  minLength: 1,
  maxLength: 64,
  pattern: '^[^\\s/<>"\'&\\u0000-\\u001f\\u007f-\\u009f\\ufffe\\uffff]+$',
  description: 'Unique among entities, among relations and among views of a file.',
}
const NAME = { type: 'string', minLength: 1, maxLength: LIMITS.name, pattern: WRITABLE }
const NOTE = { type: 'string', maxLength: LIMITS.note, pattern: WRITABLE }
/** What stands at a path; a picture is one of those of its notation. */
const SHAPES: Readonly<Record<Exclude<Shape, 'picture'>, object>> = {
  name: NAME,
  note: NOTE,
  day: DAY,
  end: ID,
  order: { type: 'number' },
}

/** The JSON Schema (draft 2020-12) of a workspace file, generated from the kinds of all notations. */
export function workspaceSchema(registry: Registry): object {
  const rules = [...registry.rules.values()].filter(({ threshold }) => threshold)
  const thresholds = Object.fromEntries(
    rules.map(({ id, threshold }) => [
      id,
      { type: 'number', default: threshold?.initial, description: threshold?.label },
    ]),
  )
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'Skivel workspace',
    type: 'object',
    required: ['format', 'version', 'name'],
    additionalProperties: false,
    properties: {
      format: { const: FILE_FORMAT },
      version: { const: FILE_VERSION },
      name: { type: 'string', minLength: 1, maxLength: 200, pattern: WRITABLE },
      settings: {
        type: 'object',
        additionalProperties: false,
        properties: {
          thresholds: { type: 'object', additionalProperties: false, properties: thresholds },
          accepted: {
            type: 'object',
            description: 'Findings that are let stand, by rule and subjects.',
            additionalProperties: {
              type: 'object',
              required: ['reason'],
              additionalProperties: false,
              properties: {
                reason: { type: 'string', minLength: 1, maxLength: LIMITS.name, pattern: WRITABLE },
                until: DAY,
              },
            },
          },
          look: {
            type: 'object',
            description: 'How views look that say nothing of their own.',
            additionalProperties: false,
            properties: {
              theme: { type: 'string', minLength: 1, maxLength: 64 },
              tone: { enum: [...TONES] },
              mark: { type: 'string', pattern: ASSET.source, description: 'The mark of one’s own house, a picture.' },
            },
          },
          themes: {
            type: 'object',
            description: 'Themes of one’s own, by id: a title, one to three colours, and what is not usual of it.',
            maxProperties: MOST_THEMES,
            additionalProperties: {
              type: 'array',
              minItems: 2,
              maxItems: 4 + THEME_WORDS.length,
              prefixItems: [{ type: 'string', minLength: 1, maxLength: 60 }],
              items: { anyOf: [{ type: 'string', pattern: '^#[0-9a-f]{6}$' }, { enum: THEME_WORDS.flat() }] },
            },
          },
        },
      },
      ...Object.fromEntries(
        sorts.map((sort) => [
          SORTS[sort].list,
          {
            type: 'array',
            items: { oneOf: variantsOf(registry, sort).map((variant) => factSchema(registry, sort, variant)) },
          },
        ]),
      ),
      pictures: {
        type: 'object',
        description: 'Pictures that facts name, by identity.',
        propertyNames: { pattern: '^[0-9a-f]{40}(?:-[0-9]{1,4}x[0-9]{1,4})?$' },
        additionalProperties: {
          type: 'string',
          pattern: '^data:image/(?:jpeg|png|webp);base64,[A-Za-z0-9+/]+={0,2}$',
        },
      },
    },
  }
}

/** A kind of fact: what is said once of it, and what it is called. */
interface Variant {
  readonly fixed: Readonly<Record<string, string>>
  readonly title?: string
  /** A field that may stand for the name. */
  readonly alias?: string
}

function variantsOf(registry: Registry, sort: Sort): readonly Variant[] {
  switch (sort) {
    case 'entity':
      return [...registry.kinds.values()].map(({ id, title, nameField }) => ({
        fixed: { kind: id },
        title,
        ...(nameField && { alias: nameField.id }),
      }))
    case 'relation':
      return [...registry.relationKinds.values()].map(({ id, title, sources, targets }) => ({
        fixed: { kind: id },
        title: `${sources.join(' or ')} ${title} ${targets.join(' or ')}`,
      }))
    case 'view':
      return registry.notations.flatMap((notation) =>
        notation.pictures.map((picture) => ({ fixed: { notation: notation.id, picture: picture.id } })),
      )
  }
}

function factSchema(registry: Registry, sort: Sort, { fixed, title, alias }: Variant): object {
  const { paths } = SORTS[sort]
  const parts = partsOf(registry, sort, fixed) ?? {}
  const needed = Object.entries(paths).flatMap(([path, { needed: must, shape }]) =>
    must && shape !== 'order' && !(path in fixed) && !(alias !== undefined && path === 'name') ? path : [],
  )
  return {
    ...(title === undefined ? {} : { title }),
    type: 'object',
    required: ['id', ...Object.keys(fixed), ...needed],
    additionalProperties: false,
    properties: {
      id: ID,
      ...Object.fromEntries(
        Object.entries(paths).flatMap(([path, { shape }]) => (shape === 'picture' ? [] : [[path, SHAPES[shape]]])),
      ),
      ...Object.fromEntries(Object.entries(fixed).map(([key, value]) => [key, { const: value }])),
      ...Object.fromEntries(
        Object.entries(parts).map(([part, fields]) => [
          part,
          partSchema(fields, part === 'fields' ? alias : undefined),
        ]),
      ),
    },
  }
}

function partSchema(fields: readonly Field[], alias: string | undefined): object {
  const single = fields.filter(({ each }) => !each)
  const keyed = fields.filter(({ each }) => each)
  const described = (field: Field) => ({ ...fieldSchema(field), description: describe(field) })
  return {
    type: 'object',
    additionalProperties: false,
    properties: {
      ...Object.fromEntries(single.map((field) => [field.id, described(field)])),
      ...(alias === undefined ? {} : { [alias]: { type: 'string', description: 'Stands for the name.' } }),
    },
    ...(keyed.length === 0
      ? {}
      : { patternProperties: Object.fromEntries(keyed.map((field) => [patternOf(field), described(field)])) }),
  }
}

const patternOf = ({ id, each }: Field): string =>
  `^${id === '' ? '' : `${id} `}${ID.pattern.slice(1, -1)}${each === 'point' ? ' \\d{1,4}' : ''}$`

const describe = ({ label, unit }: Field): string => (unit === undefined ? label : `${label}, ${unit}`)

function fieldSchema({ type, choices, min, max }: Field): object {
  switch (type) {
    case 'number':
    case 'integer':
      return { type, ...(min === undefined ? {} : { minimum: min }), ...(max === undefined ? {} : { maximum: max }) }
    case 'flag':
      return { type: 'boolean' }
    case 'day':
      return DAY
    case 'duration':
      return { type: 'string', pattern: '^-?\\d+(\\.\\d+)?(min|h|d|w)$', description: 'Working time' }
    case 'moment':
      return { type: 'string', pattern: '^\\d{4}-\\d{2}-\\d{2}([T ]\\d{2}:\\d{2})?$' }
    case 'when':
      return { type: 'string', pattern: '^-?\\d{4,6}(-\\d{2}(-\\d{2}([T ]\\d{2}:\\d{2})?)?)?$' }
    case 'choice':
      return { enum: choices }
    case 'pair':
      return { type: 'array', items: { type: 'number' }, minItems: 2, maxItems: 2 }
    case 'list':
      return {
        type: 'array',
        items: choices ? { enum: choices } : { type: 'string', maxLength: LIMITS.name, pattern: WRITABLE },
      }
    case 'note':
      return NOTE
    case 'text':
    case 'image':
    case 'reference':
      return { type: 'string', maxLength: LIMITS.name, pattern: WRITABLE }
  }
}
