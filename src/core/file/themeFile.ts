import { readTheme, wordsOfTheme, type ThemeSpec } from '../model'
import { Faults, isRecord, onlyKeys, quote } from './check'
import { FileError } from './workspaceFile'

export const THEME_FORMAT = 'skivel-theme'
export const THEME_VERSION = 1

const CORNERS = { small: 0.5, usual: 1, large: 2 } as const
const LINES = { thin: 0.7, usual: 1, heavy: 1.6 } as const
const TYPE = { even: 0.5, usual: 1, steep: 1.6 } as const
const KEYS = ['format', 'version', 'title', 'colours', 'corners', 'lines', 'type', 'asGiven'] as const

/** A theme of one’s own as the JSON of a file that is handed on. */
export function writeTheme({ title, colours, corners, lines, type, isAsGiven }: ThemeSpec): object {
  const word = (list: Readonly<Record<string, number>>, value: number) =>
    Object.keys(list).find((one) => list[one] === value) ?? 'usual'
  return {
    format: THEME_FORMAT,
    version: THEME_VERSION,
    title,
    colours,
    corners: word(CORNERS, corners),
    lines: word(LINES, lines),
    type: word(TYPE, type),
    asGiven: isAsGiven === true,
  }
}

/** Reads such a file. @throws FileError with the paths of all faults */
export function readThemeFile(json: unknown): ThemeSpec {
  const faults = new Faults()
  if (!isRecord(json)) throw new FileError([{ path: 'file', message: 'is not a JSON object' }], 'a theme file')
  onlyKeys(json, [...KEYS], '', faults)
  if (json['format'] !== THEME_FORMAT) faults.add('format', `is not "${THEME_FORMAT}": ${quote(json['format'])}`)
  if (json['version'] !== THEME_VERSION) faults.add('version', `is not ${THEME_VERSION}: ${quote(json['version'])}`)
  const { title, colours, corners = 'usual', lines = 'usual', type = 'usual', asGiven = false } = json
  if (typeof title !== 'string' || title.trim() === '' || title.length > 60)
    faults.add('title', 'is not a text of 60 characters at most')
  const isColour = (one: unknown) => typeof one === 'string' && /^#[0-9a-f]{6}$/i.test(one)
  if (!Array.isArray(colours) || colours.length < 1 || colours.length > 3 || !colours.every(isColour))
    faults.add('colours', 'are not one to three colours as #rrggbb')
  if (typeof corners !== 'string' || !Object.hasOwn(CORNERS, corners))
    faults.add('corners', `are none of ${Object.keys(CORNERS).join(', ')}`)
  if (typeof lines !== 'string' || !Object.hasOwn(LINES, lines))
    faults.add('lines', `are none of ${Object.keys(LINES).join(', ')}`)
  if (typeof type !== 'string' || !Object.hasOwn(TYPE, type))
    faults.add('type', `is none of ${Object.keys(TYPE).join(', ')}`)
  if (typeof asGiven !== 'boolean') faults.add('asGiven', 'is neither true nor false')
  if (faults.list.length > 0) throw new FileError(faults.list, 'a theme file')
  const spec = {
    title: title as string,
    colours: (colours as readonly string[]).map((one) => one.toLowerCase()),
    hues: [],
    chroma: 0,
    corners: CORNERS[corners as keyof typeof CORNERS],
    lines: LINES[lines as keyof typeof LINES],
    type: TYPE[type as keyof typeof TYPE],
    isAsGiven: asGiven === true,
  }
  const read = readTheme('own', wordsOfTheme(spec))
  if (!read) throw new FileError([{ path: 'file', message: 'is no theme' }], 'a theme file')
  return read
}

/** The schema of such a file, of JSON Schema 2020-12. */
export const themeSchema = (): object => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Skivel theme',
  type: 'object',
  required: ['format', 'version', 'title', 'colours'],
  additionalProperties: false,
  properties: {
    format: { const: THEME_FORMAT },
    version: { const: THEME_VERSION },
    title: { type: 'string', minLength: 1, maxLength: 60 },
    colours: {
      type: 'array',
      description: 'Colours of the house, the foremost first.',
      minItems: 1,
      maxItems: 3,
      items: { type: 'string', pattern: '^#[0-9a-fA-F]{6}$' },
    },
    corners: { enum: Object.keys(CORNERS) },
    lines: { enum: Object.keys(LINES) },
    type: { enum: Object.keys(TYPE), description: 'How far apart the sizes of headings and texts are.' },
    asGiven: { type: 'boolean', description: 'Draw the colours as they are, even where they stand out too little.' },
  },
})
