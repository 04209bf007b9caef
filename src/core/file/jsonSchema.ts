import { fieldsOfKind, fieldsOfRelation, LIMITS, optionsOf, type Field, type Registry } from '../notation'
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
const LOOSE = { type: 'object', additionalProperties: { type: ['string', 'number', 'boolean'] } }

/** The JSON Schema (draft 2020-12) of a workspace file, generated from the kinds of all notations. */
export function workspaceSchema(registry: Registry): object {
  const rules = [...registry.rules.values()].filter(({ threshold }) => threshold)
  const thresholds = Object.fromEntries(
    rules.map(({ id, threshold }) => [
      id,
      { type: 'number', default: threshold?.initial, description: threshold?.label },
    ]),
  )
  const pictures = registry.notations.flatMap((notation) => notation.pictures.map((picture) => ({ notation, picture })))
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
        },
      },
      entities: {
        type: 'array',
        items: {
          oneOf: [...registry.kinds.values()].map((kind) => {
            const alias = kind.nameField && {
              [kind.nameField.id]: { type: 'string', description: 'Stands for the name.' },
            }
            return fact(
              kind.id,
              kind.title,
              { name: { type: 'string', maxLength: LIMITS.name, pattern: WRITABLE } },
              fieldsOfKind(kind),
              alias ? [] : ['name'],
              alias,
            )
          }),
        },
      },
      pictures: {
        type: 'object',
        description: 'Pictures that facts name, by identity.',
        propertyNames: { pattern: '^[0-9a-f]{40}$' },
        additionalProperties: {
          type: 'string',
          pattern: '^data:image/(?:jpeg|png|webp);base64,[A-Za-z0-9+/]+={0,2}$',
        },
      },
      relations: {
        type: 'array',
        items: {
          oneOf: [...registry.relationKinds.values()].map((kind) => {
            const ends = `${kind.sources.join(' or ')} ${kind.title} ${kind.targets.join(' or ')}`
            return fact(kind.id, ends, { source: ID, target: ID }, fieldsOfRelation(kind), ['source', 'target'])
          }),
        },
      },
      views: {
        type: 'array',
        items: {
          oneOf: pictures.map(({ notation, picture }) => ({
            type: 'object',
            required: ['id', 'notation', 'picture', 'title'],
            additionalProperties: false,
            properties: {
              id: ID,
              notation: { const: notation.id },
              picture: { const: picture.id },
              title: { type: 'string', minLength: 1, maxLength: LIMITS.name, pattern: WRITABLE },
              caption: { type: 'string', maxLength: LIMITS.note, pattern: WRITABLE },
              alt: { type: 'string', maxLength: LIMITS.note, pattern: WRITABLE },
              order: { type: 'number' },
              scope: LOOSE,
              options: {
                type: 'object',
                additionalProperties: false,
                properties: fieldSchemas(optionsOf(registry, { notation: notation.id, picture: picture.id })),
              },
              pins: {
                type: 'object',
                additionalProperties: { type: 'array', items: { type: 'number' }, minItems: 2, maxItems: 2 },
              },
              look: LOOSE,
            },
          })),
        },
      },
    },
  }
}

function fact(
  kind: string,
  title: string,
  own: object,
  fields: readonly Field[],
  required: readonly string[],
  alias: object = {},
): object {
  return {
    title,
    type: 'object',
    required: ['id', 'kind', ...required],
    additionalProperties: false,
    properties: {
      id: ID,
      kind: { const: kind },
      ...own,
      fields: { type: 'object', additionalProperties: false, properties: { ...fieldSchemas(fields), ...alias } },
      from: DAY,
      to: DAY,
    },
  }
}

const fieldSchemas = (fields: readonly Field[]): Record<string, object> =>
  Object.fromEntries(fields.map((field) => [field.id, { ...fieldSchema(field), description: describe(field) }]))

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
    case 'list':
      return { type: 'array', items: { type: 'string', maxLength: LIMITS.name, pattern: WRITABLE } }
    case 'note':
      return { type: 'string', maxLength: LIMITS.note, pattern: WRITABLE }
    case 'text':
    case 'image':
    case 'reference':
      return { type: 'string', maxLength: LIMITS.name, pattern: WRITABLE }
  }
}
