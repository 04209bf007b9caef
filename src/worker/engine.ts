import { assetsIn, parseWorkspace, photosOf, trustedWorkspace, writeWorkspace } from '../core/file'
import { carriedBy } from '../core/file/carried'
import { makeChecker, mendAll, newErrors } from '../core/findings'
import {
  apply,
  asId,
  cut,
  Model,
  ModelError,
  parseJson,
  wordsOf,
  wordsOfTheme,
  type Change,
  type Day,
  type Id,
  type Step,
  type View,
} from '../core/model'
import {
  begunWith,
  broughtIn,
  differencesIn,
  drawn,
  iconsFor,
  notationOf,
  offersOf,
  portionOf,
  prepared,
  sheetOf,
  goesAlong,
  shownPortions,
  shownSince,
  type Handling,
  waysToRead,
  type Finding,
  type Refusal,
  type Table,
  type TableImport,
} from '../core/notation'
import { registry } from '../core/notations'
import {
  decodeText,
  guessMapping,
  readTable,
  readXlsx,
  understand,
  understoodRows,
  type Decoded,
} from '../core/tabular'
import { isOnWhite, themeFor, toSvg, type Scene } from '../core/scene'
import type { Engine, TableSketch } from './contract'
import { deltaOf, listDelta, type SceneDelta } from './delta'
import { acted, cellsIn, nudged, pulled, reckonedIn } from './doing'
import { notesOn, type Asked } from './reading'

const TABLES = ['', '.csv', '.tsv', '.txt']

const notesOf = ({ note }: Decoded): readonly string[] => (note === undefined ? [] : [note])

export function makeEngine(): Engine {
  let model = Model.empty
  let earlier: Model | undefined
  let proposed: Change | undefined
  let scene: Scene | undefined
  const check = makeChecker(registry)
  let told: readonly Finding[] = []
  /** The table that is to be brought in. */
  let desk: { readonly sort: TableImport; readonly table: Table } | undefined

  const ready = () => Promise.all([prepared(registry.notations, model), iconsFor(model)])
  const sceneOf = ({ view: id, picture, day, compared }: Asked, look?: View['look']): Scene | undefined => {
    const known = model.views.get(id)
    const view = known && { ...known, ...(picture === undefined ? {} : { picture }), ...(look ? { look } : {}) }
    const then = proposed && changedBy(model, proposed)
    if (view && then) return drawn(registry, then, then.views.get(view.id) ?? view, day, { model, day })
    const against = earlier ? { model: earlier, day } : compared && { model, day: compared }
    return view && drawn(registry, model, view, day, against)
  }
  const draw = (asked: Asked): SceneDelta | undefined => {
    const now = sceneOf(asked)
    if (!now) return undefined
    const delta = deltaOf(scene, now)
    scene = now
    return delta
  }
  const importOf = (id: Id, sort: string): TableImport | undefined => {
    const view = model.views.get(id)
    return view && notationOf(registry, view)?.imports.find((one) => one.id === sort)
  }
  const take = (id: Id, sort: string, table: Table): TableSketch | Refusal => {
    const taken = importOf(id, sort)
    if (!taken) return { refused: 'This view takes no such table.' }
    desk = { sort: taken, table }
    const { heading, rows, notes = [] } = table
    const mapping = guessMapping(heading, taken.columns)
    return { heading, rows: rows.slice(0, MOST_SKETCHED), count: rows.length, notes, mapping }
  }
  const find = (day: Day) => {
    const found = check(model, day)
    const delta = listDelta(
      told,
      found,
      (finding) => finding,
      () => true,
    )
    told = found
    return delta
  }
  /** What a view draws, or some facts, with all that they name. */
  const partOf = (id: Id | undefined, ids: readonly Id[], day: Day): Model => {
    const view = id === undefined ? undefined : model.views.get(id)
    const shown = view && drawn(registry, model, view, day)
    const facts = shown ? [...shown.items.flatMap((item) => item.facts), ...shown.links.map((link) => link.id)] : ids
    return portionOf(registry, model, facts, view ? [view] : [])
  }
  return {
    load: (workspace) => {
      model = trustedWorkspace(workspace)
    },
    apply: (changes) => {
      for (const change of changes) model = apply(model, change).model
    },
    read: async (asked) => {
      const { wants, day } = asked
      const shown = registry.notations.filter(({ id }) => id === model.views.get(asked.view)?.notation)
      await Promise.all([prepared(wants.findings ? registry.notations : shown, model), iconsFor(model)])
      const changed = wants.scene ? draw(asked) : undefined
      const findings = wants.findings ? find(day) : undefined
      const view = model.views.get(asked.view)
      const notation = view && notationOf(registry, view)
      return {
        ...(changed && { scene: changed }),
        ...(findings && { findings }),
        ...(wants.notes && view && notation && { notes: notesOn(model, notation, view, asked, scene, told) }),
      }
    },
    act: async (action, wanted) => {
      await ready()
      return acted(model, action, wanted)
    },
    pull: async (pull, wanted) => {
      await ready()
      return pulled(model, pull, wanted)
    },
    nudge: async (nudge, wanted) => {
      await ready()
      return nudged(model, nudge, wanted)
    },
    reckoned: async (register, id, day) => {
      await ready()
      const view = model.views.get(id)
      return view && reckonedIn(model, register, view, day)
    },
    cells: async (register, id, day) => {
      await ready()
      const view = model.views.get(id)
      return view ? cellsIn(model, register, view, day) : []
    },
    offers: () => offersOf(registry),
    drawOther: async (workspace, id, day) => {
      const other = trustedWorkspace(workspace)
      await Promise.all([prepared(registry.notations, other), iconsFor(other)])
      const view = (id === undefined ? undefined : other.views.get(id)) ?? [...other.views.values()][0]
      return view && drawn(registry, other, view, day)
    },
    preview: async ({ notation: of, picture: id, starter, view: own }, day) => {
      await ready()
      const again = own === undefined ? undefined : model.views.get(asId(own))
      if (again) {
        const shown = drawn(registry, model, again, day)
        return shown && shown.items.length <= MOST_PREVIEWED ? shown : undefined
      }
      const notation = registry.notations.find((one) => one.id === of)
      const begun = notation?.starters.find((one) => one.id === starter)?.make(numbered(), day)
      const [view] = begun ? begun.views.values() : notation && id ? [newViewOf(notation, id)] : []
      const shown = view && drawn(registry, begun ?? model, view, day)
      return shown && shown.items.length <= MOST_PREVIEWED ? shown : undefined
    },
    suiting: (id, day) => {
      const view = model.views.get(id)
      const pictures = (view && notationOf(registry, view)?.pictures) ?? []
      return pictures
        .flatMap((picture) =>
          view && picture.suits ? [{ picture: picture.id, ...picture.suits(model, view, day) }] : [],
        )
        .sort((a, b) => b.score - a.score)
    },
    arranged: (id, pictures, day) => {
      const view = model.views.get(id)
      if (!view) return []
      return pictures.map((picture) => {
        // One that fails says so in its place: the others are shown.
        try {
          const shown = drawn(registry, model, { ...view, picture }, day)
          if (!shown || shown.items.length > MOST_PREVIEWED)
            return { picture, failure: 'too much for so small a picture' }
          const theme = themeFor(model.settings, view.look)
          const options = { theme, title: picture, transparent: isOnWhite(theme) }
          return { picture, svg: toSvg(shown, options) }
        } catch (error) {
          return { picture, failure: wordsOf(error) }
        }
      })
    },
    themed: (id, type, day) => {
      const view = model.views.get(id)
      if (!view) return undefined
      // As a theme of one's own that is there for this drawing alone: colours are the page's.
      const spec = { title: 'Sizes', hues: [], chroma: 0, colours: ['#000000'], corners: 1, lines: 1, type }
      const words = { ...model.settings.themes, [SIZES]: wordsOfTheme(spec) }
      const settings = { ...model.settings, themes: words }
      const shown = drawn(registry, model.with({ settings }), { ...view, look: { ...view.look, theme: SIZES } }, day)
      return shown && shown.items.length <= MOST_PREVIEWED ? shown : undefined
    },
    drawnIn: async (asked, look) => {
      await ready()
      return sceneOf(asked, look)
    },
    carried: (ids, day, pictures = {}) => {
      const part = shownPortions(
        registry,
        model,
        ids.flatMap((id) => model.views.get(id) ?? []),
        day,
      )
      return {
        text: `${JSON.stringify(writeWorkspace(part, photosOf(part, new Map(Object.entries(pictures)))))}\n`,
        pictures: assetsIn(part),
        along: goesAlong(registry, part),
      }
    },
    factsIn: ({ name, bytes }) => {
      try {
        if (/\.(png|svg|pdf)$/i.test(name)) return carriedBy(new Uint8Array(bytes))
        const decoded = decodeText(new Uint8Array(bytes))
        if ('refused' in decoded) return decoded
        parseJson(decoded.text)
        return decoded.text
      } catch (error) {
        if (error instanceof SyntaxError) return { refused: `it is not JSON (${error.message})` }
        return { refused: wordsOf(error) }
      }
    },
    broughtBack: (text, day) => {
      let carried: Model
      try {
        carried = parseWorkspace(text, registry).model
      } catch (error) {
        return { refused: wordsOf(error) }
      }
      const [id] = carried.views.keys()
      const view = id === undefined ? undefined : model.views.get(id)
      const known = [...carried.entities.values()].filter((one) => model.entities.get(one.id)?.kind === one.kind)
      if (!view || known.length * 2 < carried.entities.size) return undefined
      const now = shownSince(registry, model, view, day, carried)
      // A workspace that is named otherwise, or looks so, is no other fact.
      const { name, settings } = carried
      const told = differencesIn(registry, { model: carried, day }, { model: now.with({ name, settings }), day })
      return { view: view.id, title: view.title, told }
    },
    addStarter: (of, id, day) => {
      const starter = registry.notations.find((one) => one.id === of)?.starters.find((one) => one.id === id)
      if (!starter) return { refused: 'There is no such starter.' }
      const begun = starter.make(() => asId(crypto.randomUUID()), day)
      const [first] = begun.views.keys()
      const order = Math.max(0, ...[...model.views.values()].map((view) => view.order))
      const steps: Step[] = [
        ...[...begun.entities.values()].map((entity): Step => ({ do: 'add-entity', entity })),
        ...[...begun.relations.values()].map((relation): Step => ({ do: 'add-relation', relation })),
        ...[...begun.views.values()].map((view): Step => ({
          do: 'add-view',
          view: { ...view, title: starter.title, order: order + view.order },
        })),
      ]
      return {
        change: { label: `Begin with “${starter.title}”`, steps },
        ...(first === undefined ? {} : { view: first }),
      }
    },
    portion: (id, ids, day, pictures = {}) => {
      const part = partOf(id, ids, day)
      const named = [...photosOf(part, new Map(Object.entries(pictures)))]
      return {
        text: `${JSON.stringify(writeWorkspace(part, new Map(named)))}\n`,
        facts: part.entities.size + part.relations.size,
        pictures: assetsIn(part),
      }
    },
    bring: (text) => {
      try {
        const { model: portion, pictures } = parseWorkspace(text, registry)
        const brought = broughtIn(registry, model, portion, () => asId(crypto.randomUUID()))
        return 'refused' in brought ? brought : { ...brought, pictures: Object.fromEntries(pictures) }
      } catch (error) {
        return { refused: wordsOf(error) }
      }
    },
    repeat: (id, day) => {
      const view = model.views.get(id)
      if (!view) return { refused: 'There is no such view.' }
      const brought = broughtIn(registry, model, partOf(id, [], day), () => asId(crypto.randomUUID()))
      if ('refused' in brought) return brought
      const [first] = brought.views
      return {
        change: { ...brought.change, label: `Begin with “${view.title}”` },
        ...(first === undefined ? {} : { view: first }),
      }
    },
    write: async (id, format, day) => {
      await ready()
      const view = model.views.get(id)
      const written = view && notationOf(registry, view)?.exports.find((one) => one.id === format)
      return view && written?.write(model, view, day)
    },
    drawList: (list, day, as) => {
      if (list.trim() === '') return undefined
      let count = 0
      const begun = begunWith(registry.notations, list, as, () => asId(`p${++count}`), day)
      if ('refused' in begun) return begun
      const { model: made, reading } = begun
      const [view] = made.views.values()
      const shown = view && drawn(registry, made, view, day)
      if (!shown) return undefined
      const svg = toSvg(shown, {
        theme: themeFor(made.settings, view.look),
        title: 'The list, drawn',
        transparent: true,
      })
      return { svg, as: reading.id, ways: waysToRead(registry.notations) }
    },
    against: (workspace) => {
      earlier = workspace === undefined ? undefined : trustedWorkspace(workspace)
    },
    propose: (change) => {
      proposed = change
    },
    judge: async (change, day) => {
      await ready()
      let after
      try {
        after = apply(model, change)
      } catch (error) {
        if (!(error instanceof ModelError)) throw error
        return { refused: `The facts have changed since, and it fits them no longer: ${error.message}` }
      }
      return {
        told: differencesIn(registry, { model }, { model: after.model }),
        added: newErrors(registry, model, change, day),
        mended: newErrors(registry, after.model, { label: change.label, steps: after.inverse.steps }, day),
      }
    },
    numbers: async (path, day) => {
      await ready()
      return sheetOf(registry, path)?.rows(model, day) ?? []
    },
    counted: async (path, day, row) => {
      await ready()
      return sheetOf(registry, path)?.counted?.(model, day, row) ?? []
    },
    ask: async (id, trial, day, values) => {
      await ready()
      const view = model.views.get(id)
      const asked = view && notationOf(registry, view)?.trials?.find((one) => one.id === trial)
      return view && asked ? asked.ask(model, view, day, values) : { refused: 'This cannot be asked here.' }
    },
    newErrors: async (change, day) => {
      await ready()
      return newErrors(registry, model, change, day)
    },
    mendAll: async (id, keys, day) => {
      await ready()
      const rule = registry.rules.get(id)
      if (!rule) return { refused: 'There is no such rule.' }
      const { steps, lines, left } = mendAll(rule, new Set(keys), model, day)
      if (lines.length === 0) return { refused: 'None of them can be mended by a step: each needs a decision.' }
      const label = `Mend ${lines.length.toLocaleString('en')} of “${rule.title}”`
      const rest = left > 0 ? [`${left.toLocaleString('en')} remain: nothing mends them in one step.`] : []
      return { change: { label, steps }, spreads: [...rest, ...lines] }
    },
    readTable: async (id, sort, { name, bytes }) => {
      const taken = importOf(id, sort)
      const extension = /\.[^.]+$/.exec(name.toLowerCase())?.[0] ?? ''
      const reader = taken?.readers.find(({ extensions }) => extensions.includes(extension))
      if (!reader && extension !== '.xlsx' && !TABLES.includes(extension))
        return { refused: `Files ending in “${cut(extension, 20)}” are not read here.` }
      const table = await guarded(async () => {
        if (!reader && extension === '.xlsx') return readXlsx(bytes)
        const decoded = decodeText(new Uint8Array(bytes))
        if ('refused' in decoded) return decoded
        const like = reader ?? taken?.readers.find(({ recognises }) => recognises?.(decoded.text))
        const found = like ? like.read(decoded.text) : readTable(decoded.text)
        return 'refused' in found ? found : { ...found, notes: [...(found.notes ?? []), ...notesOf(decoded)] }
      })
      return 'refused' in table ? table : take(id, sort, table)
    },
    takeTable: take,
    understand: ({ mapping, ways }) => (desk ? understand(desk.table, mapping, desk.sort.columns, ways) : []),
    planImport: async ({ view: id, day, mapping, ways, options }, onPhase) => {
      await ready()
      const view = model.views.get(id)
      if (!view || !desk) return undefined
      const wish = { model, view, day, selection: [], newId: () => asId(crypto.randomUUID()) }
      onPhase?.('Comparing with the facts')
      const { rows } = understoodRows(desk.table, mapping, desk.sort.columns, ways)
      const plan = desk.sort.plan(wish, rows, options)
      onPhase?.('Looking for contradictions')
      return { plan, errors: newErrors(registry, model, plan.change, day) }
    },
    readFile: async (id, day, sort, { bytes }) => {
      const view = model.views.get(id)
      const taken = view && notationOf(registry, view)?.files.find((one) => one.id === sort)
      const decoded = decodeText(new Uint8Array(bytes))
      if ('refused' in decoded) return decoded
      if (!view || !taken) return { refused: 'This view takes no such file.' }
      try {
        const wish = { model, view, day, selection: [], newId: () => asId(crypto.randomUUID()) }
        await ready()
        const found = (await taken.load()).read(wish, decoded.text)
        return 'refused' in found ? found : { ...found, facts: [...found.facts, ...notesOf(decoded)] }
      } catch (error) {
        return { refused: `It could not be read: ${wordsOf(error)}.` }
      }
    },
  }
}

/** The facts with a change; undefined where it fits them no longer. */
function changedBy(model: Model, change: Change): Model | undefined {
  try {
    return apply(model, change).model
  } catch (error) {
    if (error instanceof ModelError) return undefined
    throw error
  }
}

/** Rows that the desk shows. */
const MOST_SKETCHED = 5

/** What is larger would take the page longer to show than anybody looks at it. */
const MOST_PREVIEWED = 1500
/** The id of a theme that is there for one drawing. */
const SIZES = 'sizes'

const numbered = () => {
  let count = 0
  return () => asId(`p${++count}`)
}

const newViewOf = (notation: Handling, picture: string): View => ({
  ...notation.view(numbered(), 'New view'),
  picture,
})

async function guarded<T>(read: () => T | Promise<T>): Promise<T | Refusal> {
  try {
    return await read()
  } catch (error) {
    return { refused: `It could not be read: ${wordsOf(error)}.` }
  }
}
