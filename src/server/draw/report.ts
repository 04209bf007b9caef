import { findingsOf, isOpen } from '../../core/findings'
import { viewsInOrder } from '../../core/file'
import { dayInWords, wordsOf, type Day, type Id, type Model, type View } from '../../core/model'
import { differencesIn, drawn, notationOf, notesIn, type Against, type Finding } from '../../core/notation'
import { registry } from '../../core/notations'
import { themeFor, type Scene, type Theme } from '../../core/scene'
import { registerCells } from '../../core/tabular'

/** A picture in a text, with its words. */
export interface Picture {
  readonly sort: 'picture'
  readonly view: View
  readonly scene: Scene
  readonly theme: Theme
  readonly alt: string
  readonly caption?: string | undefined
}

export interface Table {
  readonly sort: 'table'
  readonly heading: readonly string[]
  readonly rows: readonly (readonly string[])[]
}

/** What a document is made of, in its order. */
export type Block =
  | { readonly sort: 'heading'; readonly level: 1 | 2 | 3; readonly text: string; readonly id: string }
  | { readonly sort: 'paragraph'; readonly text: string; readonly isQuiet?: boolean }
  | { readonly sort: 'list'; readonly items: readonly string[]; readonly isNumbered?: boolean }
  | Picture
  | Table

export interface Report {
  readonly title: string
  readonly subtitle: string
  /** A book has a title page and contents, and begins chapters on pages of their own. */
  readonly isBook: boolean
  readonly lang: string
  readonly blocks: readonly Block[]
}

/** A table that is longer is told of by its first rows. */
const MOST_ROWS = 500
const MOST_COLUMNS = 9
const MOST_TOLD = 300

export const headingsOf = ({ blocks }: Report): readonly Extract<Block, { sort: 'heading' }>[] =>
  blocks.filter((block): block is Extract<Block, { sort: 'heading' }> => block.sort === 'heading')

/** A view as a document of its own: its picture, its notes, and the registers of what it shows. @throws RangeError for a picture that there is not */
export function viewReport(
  model: Model,
  view: View,
  day: Day,
  { tables = true, against }: { readonly tables?: boolean; readonly against?: Against | undefined } = {},
): Report {
  return {
    title: view.title,
    subtitle: `${model.name}, as of ${dayInWords(day)}${against ? `, compared with ${dayInWords(against.day)}` : ''}`,
    isBook: false,
    lang: 'en',
    blocks: viewBlocks(model, view, day, 2, tables, against),
  }
}

/**
 * The workspace as a book: each view with what is said of it, then registers, what is found, and what has changed since a day. A view that cannot be drawn
 * says why, and stops none of the others. O(all views)
 */
export function bookReport(model: Model, day: Day, since?: Day): Report {
  const views = viewsInOrder(model)
  const chapters = registry.notations.flatMap((notation) => {
    const own = views.filter((view) => view.notation === notation.id)
    return own.length > 0 ? [{ notation, own }] : []
  })
  const blocks: Block[] = []
  chapters.forEach(({ notation, own }, at) => {
    blocks.push({ sort: 'heading', level: 1, text: `${at + 1} ${notation.chapter}`, id: `chapter-${notation.id}` })
    own.forEach((view, place) => {
      blocks.push({ sort: 'heading', level: 2, text: `${at + 1}.${place + 1} ${view.title}`, id: `view-${view.id}` })
      blocks.push(...viewBlocks(model, view, day, 3, false, undefined))
    })
  })
  blocks.push(...appendices(model, blocks, day))
  const findings = findingsOf(registry, model, day)
  blocks.push({ sort: 'heading', level: 1, text: 'Findings', id: 'findings' }, ...findingBlocks(findings))
  if (since !== undefined) {
    blocks.push({ sort: 'heading', level: 1, text: `Changed since ${dayInWords(since)}`, id: 'changed' })
    blocks.push(...changedBlocks(model, since, day))
  }
  return { title: model.name, subtitle: `As of ${dayInWords(day)}`, isBook: true, lang: 'en', blocks }
}

function viewBlocks(
  model: Model,
  view: View,
  day: Day,
  level: 2 | 3,
  tables: boolean,
  against: Against | undefined,
): Block[] {
  const scene = attempt(() => drawn(registry, model, view, day, against))
  if (typeof scene === 'string') return [{ sort: 'paragraph', text: `This view cannot be drawn: ${scene}.` }]
  if (!scene) return [{ sort: 'paragraph', text: `There is no picture “${view.notation}/${view.picture}”.` }]
  const notes = notesIn(view).map(({ words }) => words)
  return [
    {
      sort: 'picture',
      view,
      scene,
      theme: themeFor(model.settings, view.look),
      alt: view.alt ?? scene.summary,
      caption: view.caption,
    },
    ...(notes.length > 0 ? [{ sort: 'list' as const, isNumbered: true, items: notes }] : []),
    ...numberBlocks(model, view, day),
    ...(tables ? registerBlocks(model, [{ view, scene }], day, level) : []),
  ]
}

/** What comes of it, or why nothing does: one part that fails stops none of the others. */
function attempt<T>(work: () => T): T | string {
  try {
    return work()
  } catch (error) {
    return wordsOf(error)
  }
}

function numberBlocks(model: Model, view: View, day: Day): Block[] {
  const measures = attempt(() => notationOf(registry, view)?.measures(model, day, undefined, view))
  if (typeof measures === 'string')
    return [{ sort: 'paragraph', isQuiet: true, text: `Its numbers could not be computed: ${measures}.` }]
  if (!measures || measures.list.length === 0) return []
  const rows = measures.list.map(({ label, value }) => [label, value])
  return [{ sort: 'table', heading: [`Numbers of ${measures.of}`, ''], rows }]
}

/** The registers of what is shown: no rows of facts that are not. */
function registerBlocks(
  model: Model,
  shown: readonly { readonly view: View; readonly scene: Scene }[],
  day: Day,
  level: 2 | 3,
): Block[] {
  const facts = new Set<Id>(
    shown.flatMap(({ scene: { items, links } }) => [
      ...items.flatMap((item) => item.facts),
      ...links.map(({ id }) => id),
    ]),
  )
  const seen = new Set<string>()
  return shown.flatMap(({ view }) => {
    const notation = notationOf(registry, view)
    return (notation?.registers ?? []).flatMap((register): Block[] => {
      const isBeside = !register.pictures || register.pictures.includes(view.picture)
      if (!isBeside || seen.has(register.id)) return []
      seen.add(register.id)
      const head: Block = { sort: 'heading', level, text: register.title, id: `register-${register.id}` }
      const read = attempt(() => {
        const rows = register.rows(model, view, day).filter((id) => facts.has(id))
        return { rows, table: tableOf(registerCells(register, model, rows.slice(0, MOST_ROWS), day)) }
      })
      if (typeof read === 'string') return [head, { sort: 'paragraph', text: `It could not be read: ${read}.` }]
      const { rows, table } = read
      if (rows.length === 0) return []
      const more = rows.length - MOST_ROWS
      return [
        head,
        table,
        ...(more > 0 ? [{ sort: 'paragraph' as const, isQuiet: true, text: `and ${more} rows more.` }] : []),
      ]
    })
  })
}

/** Cells without their identities and without columns that say nothing; of very many columns the first. */
function tableOf([head = [], ...rows]: readonly (readonly (string | number)[])[]): Table {
  const columns = head
    .map((_, at) => at)
    .filter((at) => at > 0 && rows.some((row) => String(row[at] ?? '').trim() !== ''))
    .slice(0, MOST_COLUMNS)
  const cells = (row: readonly (string | number)[]) => columns.map((at) => String(row[at] ?? ''))
  return { sort: 'table', heading: cells(head), rows: rows.map(cells) }
}

/** The registers of all that is shown. */
function appendices(model: Model, blocks: readonly Block[], day: Day): Block[] {
  const shown = blocks.filter((block): block is Picture => block.sort === 'picture')
  const tables = registerBlocks(model, shown, day, 2)
  return tables.length > 0 ? [{ sort: 'heading', level: 1, text: 'Registers', id: 'registers' }, ...tables] : []
}

const SEVERITIES = { error: 'Error', warning: 'Warning', note: 'Note' } as const

function findingBlocks(findings: readonly Finding[]): Block[] {
  const open = findings.filter(isOpen)
  const accepted = findings.filter((one) => !isOpen(one))
  const whose = ({ rule }: Finding) => registry.rules.get(rule)?.source ?? ''
  return [
    ...(open.length === 0 ? [{ sort: 'paragraph' as const, text: 'Nothing contradicts anything.' }] : []),
    ...(open.length > 0
      ? [
          {
            sort: 'table' as const,
            heading: ['', 'What', 'Whose rule'],
            rows: open.slice(0, MOST_ROWS).map((one) => [SEVERITIES[one.severity], one.message, whose(one)]),
          },
        ]
      : []),
    ...(accepted.length > 0
      ? [
          { sort: 'heading' as const, level: 2 as const, text: 'Accepted', id: 'accepted' },
          {
            sort: 'table' as const,
            heading: ['What', 'Why it stands', 'Until'],
            rows: accepted
              .slice(0, MOST_ROWS)
              .map(({ message, accepted: by }) => [
                message,
                by?.reason ?? '',
                by?.until === undefined ? '' : dayInWords(by.until),
              ]),
          },
        ]
      : []),
  ]
}

const WHAT = { new: 'New', gone: 'Gone', changed: 'Otherwise' } as const

function changedBlocks(model: Model, since: Day, day: Day): Block[] {
  const [first, last] = since < day ? [since, day] : [day, since]
  const told = differencesIn(registry, { model, day: first }, { model, day: last })
  if (told.length === 0) return [{ sort: 'paragraph', text: 'Nothing.' }]
  const more = told.length - MOST_TOLD
  return [
    {
      sort: 'table',
      heading: ['', 'Fact', 'What was otherwise'],
      rows: told
        .slice(0, MOST_TOLD)
        .map(({ what, kind, name, was }) => [WHAT[what], `${kind} “${name}”`, was.join('; ')]),
    },
    ...(more > 0 ? [{ sort: 'paragraph' as const, isQuiet: true, text: `and ${more} more.` }] : []),
  ]
}
