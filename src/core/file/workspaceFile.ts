import {
  isAsset,
  Model,
  MOST_THEMES,
  parseJson,
  SORTS,
  sorts,
  type Fact,
  type Id,
  type Settings,
  type Sort,
  type View,
} from '../model'
import type { Registry } from '../notation'
import {
  checkAcceptance,
  checkId,
  checkLook,
  checkText,
  checkTheme,
  Faults,
  isRecord,
  onlyKeys,
  quote,
  readFact,
  type Fault,
} from './check'

export const FILE_FORMAT = 'skivel-workspace'
export const FILE_VERSION = 1

/** A file that is not a workspace, with every fault found, each with its path. */
export class FileError extends Error {
  override readonly name = 'FileError'
  constructor(
    readonly faults: readonly Fault[],
    what = 'a workspace file',
  ) {
    const [first] = faults
    const more = faults.length > 1 ? ` (and ${faults.length - 1} more)` : ''
    super(`This is not ${what}: ${first ? `${first.path} ${first.message}` : 'it is empty'}${more}.`)
  }
}

/** Photos that facts name, by identity, each as an address that holds its bytes: `data:image/jpeg;base64,…`. */
export type Photos = ReadonlyMap<string, string>

const PICTURE_ADDRESS = /^data:image\/(?:jpeg|png|webp);base64,[A-Za-z0-9+/]+={0,2}$/
/** Characters of an address: 5 MB of bytes. */
const PICTURE_MOST = 6_700_000

/** Reads the JSON of a `*.skivel.json` file. O(facts). @throws FileError with the paths of all faults; unknown kinds and fields are faults. */
export function readWorkspace(json: unknown, registry: Registry): Model {
  const faults = new Faults()
  if (!isRecord(json)) throw new FileError([{ path: 'file', message: 'is not a JSON object' }])
  onlyKeys(
    json,
    ['format', 'version', 'name', 'settings', ...sorts.map((sort) => SORTS[sort].list), 'pictures'],
    '',
    faults,
  )
  if (json['format'] !== FILE_FORMAT) faults.add('format', `is not "${FILE_FORMAT}": ${quote(json['format'])}`)
  if (json['version'] !== FILE_VERSION) faults.add('version', `is not ${FILE_VERSION}: ${quote(json['version'])}`)
  checkText(json['name'], 'name', 200, faults, true)
  const settings = readSettings(json['settings'], registry, faults)
  const facts = Object.fromEntries(
    sorts.map((sort) => [SORTS[sort].list, readList(sort, json[SORTS[sort].list], registry, faults)]),
  )
  checkPictures(json['pictures'], faults)
  if (faults.list.length > 0) throw new FileError(faults.list)
  return Model.of({ name: json['name'] as string, settings, ...facts })
}

/** A workspace as our own server or page says it: it has passed the gate, and is not checked again. O(facts) */
export function trustedWorkspace(json: unknown): Model {
  const { name, settings, entities, relations, views } = json as ReturnType<typeof writeWorkspace>
  return Model.of({ name, settings, entities, relations, views })
}

/** The pictures of a file that was read as a workspace. */
export function photosIn(json: unknown): Photos {
  const pictures = isRecord(json) ? json['pictures'] : undefined
  return new Map(Object.entries(isRecord(pictures) ? pictures : {}).map(([id, address]) => [id, String(address)]))
}

/** A workspace file as text. @throws FileError, for text that is no JSON as well. */
export function parseWorkspace(text: string, registry: Registry): { model: Model; pictures: Photos } {
  let json: unknown
  try {
    json = parseJson(text)
  } catch (error) {
    throw new FileError([
      { path: 'file', message: `is not JSON: ${error instanceof Error ? error.message : String(error)}` },
    ])
  }
  return { model: readWorkspace(json, registry), pictures: photosIn(json) }
}

/** What may name a picture: what facts hold, what lies behind views, the mark of the house. O(facts) */
const namedIn = (model: Model): ReadonlySet<unknown> =>
  new Set<unknown>([
    ...[...model.entities.values()].flatMap(({ fields }) => Object.values(fields)),
    ...[...model.views.values()].map(({ look }) => look['picture']),
    model.settings.look?.['mark'],
  ])

/** The pictures that facts name. O(facts) */
export const assetsIn = (model: Model): readonly string[] =>
  [...namedIn(model)].filter((value): value is string => typeof value === 'string' && isAsset(value))

/** Those of some pictures that facts name. O(facts) */
export function photosOf(model: Model, pictures: Photos): Photos {
  const named = namedIn(model)
  return new Map([...pictures].filter(([id]) => named.has(id)))
}

/** The JSON of a workspace file, with those of some pictures that its facts name. Views stand in their order; everything else in the order in which it was stated. */
export function writeWorkspace(model: Model, pictures: Photos = new Map()) {
  const own = photosOf(model, pictures)
  return {
    format: FILE_FORMAT,
    version: FILE_VERSION,
    name: model.name,
    settings: model.settings,
    entities: [...model.entities.values()],
    relations: [...model.relations.values()],
    views: viewsInOrder(model),
    ...(own.size > 0 ? { pictures: Object.fromEntries(own) } : {}),
  } as const
}

export const viewsInOrder = (model: Model): View[] => [...model.views.values()].sort((a, b) => a.order - b.order)

function checkPictures(raw: unknown, faults: Faults): void {
  if (raw === undefined) return
  if (!isRecord(raw)) return faults.add('pictures', 'is not an object')
  for (const [id, address] of Object.entries(raw)) {
    const path = `pictures.${id.slice(0, 40)}`
    if (!isAsset(id))
      faults.add(path, 'is not the identity of a picture (40 hexadecimal digits, and its size where it is no square)')
    if (typeof address !== 'string' || address.length > PICTURE_MOST || !PICTURE_ADDRESS.test(address))
      faults.add(path, 'is not a JPEG, PNG or WebP picture of 5 MB at most as a data: address in base64')
  }
}

function readSettings(raw: unknown, registry: Registry, faults: Faults): Settings {
  const { thresholds = {}, accepted = {}, look, themes } = isRecord(raw) ? raw : {}
  if (raw !== undefined && !isRecord(raw)) faults.add('settings', 'is not an object')
  else onlyKeys(raw ?? {}, ['thresholds', 'accepted', 'look', 'themes'], 'settings', faults)
  if (!isRecord(thresholds)) faults.add('settings.thresholds', 'is not an object')
  else
    for (const [rule, value] of Object.entries(thresholds)) {
      const path = `settings.thresholds.${rule}`
      if (!registry.rules.get(rule)?.threshold) faults.add(path, 'is not a rule with a threshold')
      else if (typeof value !== 'number' || !Number.isFinite(value)) faults.add(path, 'is not a number')
    }
  if (!isRecord(accepted)) faults.add('settings.accepted', 'is not an object')
  else
    for (const [finding, value] of Object.entries(accepted))
      checkAcceptance(finding, value, `settings.accepted.${finding}`, registry, faults)
  for (const [part, value] of Object.entries({ look, themes })) {
    if (value === undefined) continue
    const path = `settings.${part}`
    if (!isRecord(value)) faults.add(path, 'is not an object')
    else if (part === 'look')
      for (const [key, one] of Object.entries(value)) checkLook(key, one, `${path}.${key}`, faults)
    else checkThemes(value, path, faults)
  }
  return {
    thresholds: thresholds as Settings['thresholds'],
    accepted: accepted as Settings['accepted'],
    ...(isEmpty(look) ? {} : { look: look as Readonly<Record<string, string>> }),
    ...(isEmpty(themes) ? {} : { themes: themes as Readonly<Record<string, readonly string[]>> }),
  }
}

const isEmpty = (part: unknown): boolean => !isRecord(part) || Object.keys(part).length === 0

function checkThemes(themes: Readonly<Record<string, unknown>>, path: string, faults: Faults): void {
  const all = Object.entries(themes)
  if (all.length > MOST_THEMES) faults.add(path, `has ${all.length} themes; ${MOST_THEMES} are the most`)
  for (const [id, value] of all.slice(0, MOST_THEMES)) {
    checkId(id, `${path}.${id}`, faults)
    checkTheme(id, value, `${path}.${id}`, faults)
  }
}

function readList(sort: Sort, raw: unknown, registry: Registry, faults: Faults): Fact[] {
  const { list } = SORTS[sort]
  if (raw === undefined) return []
  if (!Array.isArray(raw)) return (faults.add(list, 'is not a list'), [])
  const seen = new Set<Id>()
  return raw.flatMap((entry, index) => {
    const fact = readFact(sort, entry, `${list}[${index}]`, registry, faults, index + 1)
    if (!fact) return []
    if (seen.has(fact.id)) faults.add(`${list}[${index}].id`, `is there twice: ${quote(fact.id)}`)
    seen.add(fact.id)
    return [fact]
  })
}
