import { trustedWorkspace } from '../core/file'
import { makeChecker, newErrors } from '../core/findings'
import { apply, asId, cut, Model, wordsOf, type Change, type Day, type Id } from '../core/model'
import {
  notationOf,
  pictureOf,
  prepared,
  sheetOf,
  type Finding,
  type ImportOptions,
  type ImportPlan,
  type ImportedFile,
  type ImportRow,
  type Refusal,
  type SheetRow,
  type Table,
} from '../core/notation'
import { registry } from '../core/notations'
import { decodeText, readTable, readXlsx, type Decoded } from '../core/tabular'
import { themeOf, toSvg, type Scene } from '../core/scene'
import { deltaOf, listDelta, type SceneDelta } from './delta'
import { notesOn, type Asked, type Reading } from './reading'

/** The core off the main thread. It keeps its own copy of the facts, so that only changes travel. */
export interface Engine {
  /** Takes a workspace as its file's JSON, as the server or the page says it. */
  load: (workspace: unknown) => void
  /** Applies changes in order. @throws ModelError */
  apply: (changes: readonly Change[]) => void
  /** What the page shows: what has changed of the picture and of the findings since they were last read, and the notes beside them. */
  read: (asked: Asked) => Promise<Reading>
  /** A typed list drawn as SVG, or why it cannot be; undefined for an empty one. */
  drawList: (list: string, day: Day) => { readonly svg: string } | Refusal | undefined
  /** An earlier state of the facts, as its file's JSON, that pictures are compared with from now on; without one they are not. */
  against: (workspace: unknown) => void
  /** A sheet of numbers on a day, by `notation/sheet`. */
  numbers: (path: string, day: Day) => Promise<readonly SheetRow[]>
  /** The facts that a row of a sheet counts. */
  counted: (path: string, day: Day, row: SheetRow) => Promise<readonly Id[]>
  /** The errors that a change would add. */
  newErrors: (change: Change, day: Day) => Promise<Finding[]>
  /** What bringing a table in would do, with the errors that it would add. */
  planImport: (
    request: ImportRequest,
    onPhase?: (phase: string) => void,
  ) => Promise<{ plan: ImportPlan; errors: Finding[] } | undefined>
  /** A file as a table, for the sort of table that the view’s notation takes. */
  readTable: (view: Id, sort: string, file: ChosenFile) => Promise<Table | Refusal>
  /** A file that is read as a whole, such as a process or a calendar. */
  readFile: (view: Id, day: Day, sort: string, file: ChosenFile) => Promise<ImportedFile | Refusal>
}

/** A file as it was chosen: nothing of it is trusted, and reading it may be stopped at any moment. */
export interface ChosenFile {
  readonly name: string
  readonly bytes: ArrayBuffer
}

const TABLES = ['', '.csv', '.tsv', '.txt']

const notesOf = ({ note }: Decoded): readonly string[] => (note === undefined ? [] : [note])

interface ImportRequest {
  readonly view: Id
  readonly day: Day
  /** The sort of table, as the view’s notation names it. */
  readonly sort: string
  readonly rows: readonly ImportRow[]
  readonly options: ImportOptions
}

export function makeEngine(): Engine {
  let model = Model.empty
  let earlier: Model | undefined
  let scene: Scene | undefined
  const check = makeChecker(registry)
  let told: readonly Finding[] = []

  const ready = () => prepared(registry.notations, model)
  const draw = ({ view: id, day, compared }: Asked): SceneDelta | undefined => {
    const view = model.views.get(id)
    const against = earlier ? { model: earlier, day } : compared && { model, day: compared }
    const drawn = view && pictureOf(registry, view)?.draw(model, view, day, against)
    if (!drawn) return undefined
    const delta = deltaOf(scene, drawn)
    scene = drawn
    return delta
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
      await prepared(wants.findings ? registry.notations : shown, model)
      const drawn = wants.scene ? draw(asked) : undefined
      const findings = wants.findings ? find(day) : undefined
      const view = model.views.get(asked.view)
      const notation = view && notationOf(registry, view)
      return {
        ...(drawn && { scene: drawn }),
        ...(findings && { findings }),
        ...(wants.notes && view && notation && { notes: notesOn(model, notation, view, asked, scene, told) }),
      }
    },
    drawList: (list, day) => {
      const notation = registry.notations.find(({ outline }) => outline)
      if (!notation?.outline || list.trim() === '') return undefined
      let count = 0
      const newId = () => asId(`p${++count}`)
      const view = notation.view(newId, 'Typed')
      const empty = Model.of({ views: [view] })
      const outcome = notation.outline.paste({ model: empty, view, day, selection: [], newId }, undefined, list)
      if ('refused' in outcome) return outcome
      const drawn = pictureOf(registry, view)?.draw(apply(empty, outcome.change).model, view, day)
      const theme = themeOf(view.look['theme'])
      return drawn && { svg: toSvg(drawn, { theme, title: 'The list, drawn', transparent: true }) }
    },
    against: (workspace) => {
      earlier = workspace === undefined ? undefined : trustedWorkspace(workspace)
    },
    numbers: async (path, day) => {
      await ready()
      return sheetOf(registry, path)?.rows(model, day) ?? []
    },
    counted: async (path, day, row) => {
      await ready()
      return sheetOf(registry, path)?.counted?.(model, day, row) ?? []
    },
    newErrors: async (change, day) => {
      await ready()
      return newErrors(registry, model, change, day)
    },
    planImport: async ({ view: id, day, sort, rows, options }, onPhase) => {
      await ready()
      const view = model.views.get(id)
      const taken = view && notationOf(registry, view)?.imports.find((one) => one.id === sort)
      if (!view || !taken) return undefined
      const wish = { model, view, day, selection: [], newId: () => asId(crypto.randomUUID()) }
      onPhase?.('Comparing with the facts')
      const plan = taken.plan(wish, rows, options)
      onPhase?.('Looking for contradictions')
      return { plan, errors: newErrors(registry, model, plan.change, day) }
    },
    readTable: async (id, sort, { name, bytes }) => {
      const view = model.views.get(id)
      const taken = view && notationOf(registry, view)?.imports.find((one) => one.id === sort)
      const extension = /\.[^.]+$/.exec(name.toLowerCase())?.[0] ?? ''
      const reader = taken?.readers.find(({ extensions }) => extensions.includes(extension))
      if (!reader && extension === '.xlsx') return guarded(() => readXlsx(bytes))
      if (!reader && !TABLES.includes(extension))
        return { refused: `Files ending in “${cut(extension, 20)}” are not read here.` }
      return guarded(() => {
        const decoded = decodeText(new Uint8Array(bytes))
        if ('refused' in decoded) return decoded
        const table = reader ? reader.read(decoded.text) : readTable(decoded.text)
        return 'refused' in table ? table : { ...table, notes: [...(table.notes ?? []), ...notesOf(decoded)] }
      })
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

async function guarded<T>(read: () => T | Promise<T>): Promise<T | Refusal> {
  try {
    return await read()
  } catch (error) {
    return { refused: `It could not be read: ${wordsOf(error)}.` }
  }
}
