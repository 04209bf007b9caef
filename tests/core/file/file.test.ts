import Ajv from 'ajv/dist/2020'
import fc from 'fast-check'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import {
  FileError,
  parseWorkspace,
  photosIn,
  readSteps,
  readWorkspace,
  StepsError,
  writeWorkspace,
} from '../../../src/core/file'
import { workspaceSchema } from '../../../src/core/file/jsonSchema'
import { registry } from '../../../src/core/notations'
import { marramPictures, marramSoundFerries } from '../../../src/demo'
import { SORTS, sorts } from '../../../src/core/model'
import { partsOf } from '../../../src/core/notation'
import { facts, position, reports } from '../../facts'

const file = (more: object = {}) => ({
  format: 'skivel-workspace',
  version: 1,
  name: 'Test',
  settings: {},
  entities: [],
  relations: [],
  views: [],
  ...more,
})
const faults = (json: unknown): string[] => {
  try {
    readWorkspace(json, registry)
    return []
  } catch (error) {
    if (!(error instanceof FileError)) throw error
    return error.faults.map(({ path, message }) => `${path} ${message}`)
  }
}
const a = { id: 'a', kind: 'position', name: 'A', fields: {} }

const [A, B] = ['a'.repeat(40), 'b'.repeat(40)] as const

describe('a workspace file', () => {
  it('gives back what was written, for the demo and for any facts', () => {
    const demo = marramSoundFerries()
    expect(writeWorkspace(readWorkspace(JSON.parse(JSON.stringify(writeWorkspace(demo))), registry))).toEqual(
      writeWorkspace(demo),
    )
    const text = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 30 }).filter((one) => one.trim() !== '')
    const anyPosition = fc.record({ name: text, fte: fc.double({ min: 0, max: 10, noNaN: true }), grade: text })
    fc.assert(
      fc.property(fc.array(anyPosition, { maxLength: 8 }), (list) => {
        const model = facts(
          ...list.map(({ name, fte, grade }, i) =>
            position(`p${i}`, { name, fields: { fte: Object.is(fte, -0) ? 0 : fte, grade } }),
          ),
        )
        const again = readWorkspace(JSON.parse(JSON.stringify(writeWorkspace(model))), registry)
        expect(writeWorkspace(again)).toEqual(writeWorkspace(model))
      }),
    )
  })

  it('takes the title of a position from its name or from its field', () => {
    const read = (entity: object) => readWorkspace(file({ entities: [entity] }), registry).ofKind('position')[0]
    expect(read({ id: 'a', kind: 'position', fields: { title: 'Clerk' } })).toMatchObject({ name: 'Clerk', fields: {} })
    expect(read({ id: 'a', kind: 'position', name: 'Clerk', fields: { title: 'Clerk' } })).toMatchObject({
      name: 'Clerk',
      fields: {},
    })
    expect(read({ id: 'a', kind: 'position', name: 'Clerk' })).toMatchObject({ name: 'Clerk' })
  })

  it.each([
    ['a kind', { entities: [{ ...a, kind: 'dragon' }] }, 'entities[0].kind is not a kind of entity: "dragon"'],
    ['a field', { entities: [{ ...a, fields: { wings: 2 } }] }, 'entities[0].fields.wings is not a known field'],
    ['a key', { entities: [{ ...a, colour: 'red' }] }, 'entities[0].colour is not known here'],
    ['a number', { entities: [{ ...a, fields: { fte: 'one' } }] }, 'entities[0].fields.fte is not a number: "one"'],
    [
      'a day',
      { entities: [{ ...a, from: '2026-02-30' }] },
      'entities[0].from is not a day such as 2026-11-24: "2026-02-30"',
    ],
    [
      'a choice',
      { relations: [{ id: 'r', kind: 'reports-to', source: 'a', target: 'a', fields: { line: 'wavy' } }] },
      'relations[0].fields.line is none of solid, dotted: "wavy"',
    ],
    [
      'a relation',
      { relations: [{ id: 'r', kind: 'likes', source: 'a', target: 'a' }] },
      'relations[0].kind is not a kind of relation: "likes"',
    ],
    ['an id that is there twice', { entities: [a, a] }, 'entities[1].id is there twice: "a"'],
    [
      'a picture',
      { views: [{ id: 'v', notation: 'organisation', picture: 'mobile', title: 'V' }] },
      'views[0].picture is not a picture of organisation: "mobile"',
    ],
    [
      'an option',
      { views: [{ id: 'v', notation: 'organisation', picture: 'tree', title: 'V', options: { levels: '99' } }] },
      'views[0].options.levels is none of all, 1, 2, 3, 4, 5, 6: "99"',
    ],
    [
      'a tone',
      { settings: { look: { tone: 'loud' } } },
      'settings.look.tone is none of light, tinted, dark, strong, grey',
    ],
    ['a look', { settings: { look: { size: 'x' } } }, 'settings.look.size is not known: "size"'],
    [
      'a theme',
      { settings: { themes: { own: ['House', 'red'] } } },
      'settings.themes.own is not a theme: a title of 60 characters at most, one to three colours as #rrggbb, and words that are known',
    ],
    [
      'the themes',
      { settings: { themes: Object.fromEntries(Array.from({ length: 61 }, (_, at) => [`t${at}`, ['T', '#112233']])) } },
      'settings.themes has 61 themes; 60 are the most',
    ],
    [
      'a threshold',
      { settings: { thresholds: { 'org/cycle': 3 } } },
      'settings.thresholds.org/cycle is not a rule with a threshold',
    ],
    [
      'a long name',
      { entities: [{ ...a, name: 'x'.repeat(10_000) }] },
      'entities[0].name has 10000 characters; 400 is the most',
    ],
    ['the format', { format: 'other' }, 'format is not "skivel-workspace": "other"'],
  ])('refuses %s with its path', (_what, more, fault) => expect(faults(file(more))).toContain(fault))

  it('lets a relation lead to nothing: that is a finding, not a fault', () => {
    expect(
      faults(file({ entities: [a], relations: [{ id: 'r', kind: 'reports-to', source: 'a', target: 'gone' }] })),
    ).toEqual([])
  })

  it('says what is wrong with text that is no JSON', () =>
    expect(() => parseWorkspace('{', registry)).toThrow(/not JSON/))
  it.each([null, 5, 'text', [], true])('refuses %j', (json) => expect(faults(json)).toHaveLength(1))

  it('agrees with its JSON Schema in docs/, which is generated from the kinds', () => {
    const written = JSON.parse(readFileSync('docs/workspace-file.schema.json', 'utf8')) as object
    expect(written).toEqual(JSON.parse(JSON.stringify(workspaceSchema(registry))))
    const valid = new Ajv({ strict: false }).compile(written)
    expect(valid(JSON.parse(JSON.stringify(writeWorkspace(marramSoundFerries()))))).toBe(true)
    expect(valid(file({ entities: [{ ...a, fields: { wings: 2 } }] }))).toBe(false)
  })

  it('agrees with its JSON Schema about every part of a view and of a fact, key by key', () => {
    const valid = new Ajv({ strict: false }).compile(workspaceSchema(registry))
    const variants = fc.constantFrom<readonly [list: string, part: string, fact: object]>(
      ...['scope', 'options', 'pins', 'look'].flatMap((part) =>
        registry.notations.flatMap(({ id: notation, pictures }) =>
          pictures.map(
            ({ id: picture }) =>
              ['views', part, { id: 'v', notation, picture, title: 'V' }] as [string, string, object],
          ),
        ),
      ),
      ...[...registry.kinds.keys()].map(
        (kind) => ['entities', 'fields', { id: 'e', kind, name: 'E' }] as [string, string, object],
      ),
      ['relations', 'fields', { id: 'r', kind: 'precedes', source: 'a', target: 'b' }],
    )
    const suffix = fc.constantFrom('', '', ' a', 'a', ' a 3', ' a b', '  ', ' a 123456')
    const value = fc.constantFrom('a', '', 2, 2.5, true, [1, 2], [1], ['a', 'b'], {}, null)
    let [fit, unfit] = [0, 0]
    fc.assert(
      fc.property(variants, fc.nat(), suffix, value, ([list, part, fact], nth, end, held) => {
        const sort = sorts.find((one) => SORTS[one].list === list) ?? 'view'
        const known = ['unknown', ...(partsOf(registry, sort, fact)?.[part] ?? []).map(({ id }) => id)]
        const at = `${known[nth % known.length]}${end}`
        const json = file({ [list]: [{ ...fact, [part]: { [at]: held } }] })
        const fits = faults(json).length === 0
        if (fits) fit++
        else unfit++
        expect(valid(json), JSON.stringify(json[list as 'views'])).toBe(fits)
      }),
      { numRuns: 4000, seed: 10 },
    )
    expect(Math.min(fit, unfit)).toBeGreaterThan(50)
  })

  it('ships as the demo’s file, up to date', () => {
    const [kept, now] = [
      readFileSync('demo/marram-sound-ferries.skivel.json', 'utf8'),
      JSON.stringify(writeWorkspace(marramSoundFerries(), marramPictures())),
    ]
    // Compared as texts, so that a difference does not fill the screen with pictures.
    expect(JSON.stringify(JSON.parse(kept)) === now).toBe(true)
  })

  it('brings the pictures along that its facts name, and no others', () => {
    const model = facts({ ...position('a'), kind: 'person', fields: { photo: A } })
    const pictures = new Map([A, B].map((id) => [id, 'data:image/jpeg;base64,/9j/']))
    const written = writeWorkspace(model, pictures)
    expect([...photosIn(written).keys()]).toEqual([A])
    expect(readWorkspace(written, registry)).toEqual(model)
    expect(parseWorkspace(JSON.stringify(written), registry).pictures.get(A)).toBe('data:image/jpeg;base64,/9j/')
    expect([...photosIn(writeWorkspace(model))]).toEqual([])
    expect(new Ajv({ strict: false }).compile(workspaceSchema(registry))(written)).toBe(true)
  })
  it.each([
    [[], 'pictures'],
    [{ short: 'data:image/jpeg;base64,/9j/' }, 'pictures.short'],
    [{ [A]: 'https://marram.example/x.jpg' }, `pictures.${A}`],
    [{ [A]: 'data:image/svg+xml;base64,PHN2Zy8+' }, `pictures.${A}`],
    [{ [A]: 'data:image/png;base64,<script>' }, `pictures.${A}`],
    [{ [A]: `data:image/png;base64,${'A'.repeat(6_700_001)}` }, `pictures.${A}`],
    [{ [A]: 5 }, `pictures.${A}`],
  ])('refuses pictures that are none, at their path', (pictures, path) => {
    const read = () => readWorkspace({ ...writeWorkspace(facts(position('a'))), pictures }, registry)
    expect(read).toThrow(FileError)
    try {
      read()
    } catch (error) {
      expect((error as FileError).faults.map((fault) => fault.path)).toEqual([path])
    }
  })
})

describe('steps from outside', () => {
  const model = facts(position('a'), position('b'), reports('b', 'a'))
  const fault = (step: unknown): string => {
    try {
      readSteps([step], model, registry)
      return 'none'
    } catch (error) {
      if (!(error instanceof StepsError)) throw error
      return error.message
    }
  }
  it.each([
    [{ do: 'fly' }, 'steps[0].do is not a kind of step: "fly"'],
    [
      { do: 'set-entity', id: 'a', path: 'fields.wings', value: 1 },
      'steps[0].path is not a known field: "fields.wings"',
    ],
    [{ do: 'set-entity', id: 'a', path: 'fields.fte', value: 'x' }, 'steps[0].value is not a number: "x"'],
    [{ do: 'set-entity', id: 'a', path: 'name' }, 'steps[0].value is missing; null clears'],
    [
      { do: 'set-entity', id: 'a', path: 'to', value: 'soon' },
      'steps[0].value is not a day such as 2026-11-24: "soon"',
    ],
    [
      { do: 'set-entity', id: 'a', path: 'name', value: 'x'.repeat(401) },
      'steps[0].value has 401 characters; 400 is the most',
    ],
    [
      { do: 'add-entity', entity: { id: 'a b', kind: 'position', name: 'x', fields: {} } },
      'steps[0].entity.id is not an identity (1 to 64 characters, no spaces or < > / & quotes): "a b"',
    ],
    [
      { do: 'set-view', id: 'view', path: 'options.levels', value: '77' },
      'steps[0].value is none of all, 1, 2, 3, 4, 5, 6: "77"',
    ],
    [
      { do: 'set-workspace', path: 'thresholds.org/cycle', value: 3 },
      'steps[0].path is neither the name nor a threshold: "thresholds.org/cycle"',
    ],
    [
      { do: 'set-workspace', path: 'look.tone', value: 'loud' },
      'steps[0].value is none of light, tinted, dark, strong, grey',
    ],
    [{ do: 'set-workspace', path: 'look.weather', value: 'x' }, 'steps[0].value is not known: "weather"'],
    [
      { do: 'set-workspace', path: 'themes.own', value: ['House'] },
      'steps[0].value is not a theme: a title of 60 characters at most, one to three colours as #rrggbb, and words that are known',
    ],
    ['text', 'steps[0] is not an object'],
  ])('%j: %s', (step, message) => expect(fault(step)).toBe(message))

  it('know the kinds of what earlier steps add', () => {
    const add = { do: 'add-entity', entity: { id: 'c', kind: 'position', name: 'C', fields: {} } }
    expect(
      readSteps([add, { do: 'set-entity', id: 'c', path: 'fields.fte', value: 0.5 }], model, registry),
    ).toHaveLength(2)
  })
})
