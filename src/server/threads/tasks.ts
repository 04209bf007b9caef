import '../../core/calendar/withHolidays'
import '../../core/maps/withLand'
import '../../core/scene/withIcons'
import { findingsOf, tally, type Tally } from '../../core/findings'
import { viewsInOrder } from '../../core/file'
import { asId, type Day, type Id, type Model, type View } from '../../core/model'
import { drawn, likenesses, waysToRead, type ListWay } from '../../core/notation'
import { registry } from '../../core/notations'
import { isOnWhite, openingOf, themeFor, toSvg, type Size } from '../../core/scene'
import { book, delivered, type BookWish, type Delivered, type Delivery } from '../draw/deliver'
import { DeliveryError, PngSizeError } from '../draw/formats'
import { readerPage, type ReaderPage, type ReaderWish } from '../draw/reader'
import { BadRequest, NotFound } from '../services/errors'
import { beginWith, type Beginning } from './begin'
import type { DatabaseAddress, DatabaseTables } from './databaseTables'

export interface PictureWish extends Omit<Delivery, 'onSheet' | 'onFacts' | 'against'> {
  /** Views of a document in their order, one of any other picture; `all` are those of the workspace. */
  readonly views: readonly string[] | 'all'
}

/** What grows with the facts and is done in a thread that can be stopped. Each takes the facts and a wish, and answers plain data. */
export const tasks = {
  picture: async (model: Model, { views, ...wish }: PictureWish): Promise<Delivered> => {
    const shown = views === 'all' ? viewsInOrder(model) : views.map((id) => viewOf(model, id))
    try {
      return await delivered(model, shown, wish)
    } catch (error) {
      if (!(error instanceof PngSizeError || error instanceof DeliveryError)) throw error
      const path = error instanceof PngSizeError ? 'width' : 'paper'
      throw new BadRequest(error.message, [{ path, message: error.message }])
    }
  },

  book: (model: Model, wish: Omit<BookWish, 'onPage'>): Promise<Delivered> => book(model, wish),

  reader: (model: Model, wish: ReaderWish): ReaderPage => readerPage(model, wish),

  summary: (model: Model, day: Day): { chapters: readonly string[]; tally: Tally } => ({
    chapters: chaptersOf(model),
    tally: tally(findingsOf(registry, model, day)),
  }),

  /** The view that a page begins with, drawn as the page will draw it: its SVG, and where it lies on a sheet of a size. */
  first: (model: Model, { day, size }: { readonly day: Day; readonly size: Size }): FirstPicture | undefined => {
    const [view] = viewsInOrder(model)
    const scene = view && drawn(registry, model, view, day)
    if (!view || !scene) return undefined
    const { x, y, k } = openingOf(scene, size)
    const { bounds } = scene
    const theme = themeFor(model.settings, view.look)
    return {
      view: view.id,
      title: view.title,
      headline: scene.headline,
      left: Math.round(bounds.x * k + x),
      top: Math.round(bounds.y * k + y),
      svg: toSvg(scene, {
        theme,
        title: view.title,
        width: bounds.width * k,
        transparent: isOnWhite(theme),
      }),
    }
  },

  /** What the first page shows before anybody has typed: the starters, and an example list, as they are drawn. */
  samples: (_: Model, { day, example }: { readonly day: Day; readonly example: string }): Samples => ({
    starters: registry.notations.flatMap((notation) =>
      notation.starters.map(({ id, title, summary, words, make }) => ({
        path: `${notation.id}/${id}`,
        title,
        summary: `${notation.chapter}: ${summary}`,
        words,
        svg: sampleOf(make(numbered(), day), day, title),
      })),
    ),
    example: sampleOf(beginWith({ list: example }, day).model, day, 'The list, drawn'),
    as: likenesses(registry.notations, example)[0]?.reading.id,
    ways: waysToRead(registry.notations),
  }),

  /** A view in a format of its notation. @throws NotFound */
  written: (
    model: Model,
    { view: id, format, day }: { readonly view: string; readonly format: string; readonly day: Day },
  ): string => {
    const view = viewOf(model, id)
    const found = registry.notations
      .find((notation) => notation.id === view.notation)
      ?.exports.find((one) => one.id === format)
    const written = found?.write(model, view, day)
    // What is subscribed to is written at once.
    if (typeof written !== 'string') throw new NotFound('This view is not written in that format.')
    return written
  },

  databaseTables: async (_: Model, address: DatabaseAddress): Promise<DatabaseTables> =>
    (await import('./databaseTables')).tablesTold(address),

  /** Facts for a new workspace. @throws FileError, BadRequest, NotFound: each in words. */
  begin: (_: Model, { beginning, day }: { readonly beginning: Beginning; readonly day: Day }) =>
    beginWith(beginning, day),
} as const

export type Tasks = typeof tasks

export interface FirstPicture {
  readonly view: string
  readonly title: string
  readonly headline: string
  /** Where its upper left corner lies on the sheet, in px. */
  readonly left: number
  readonly top: number
  readonly svg: string
}

export interface Samples {
  readonly starters: readonly {
    readonly path: string
    readonly title: string
    readonly summary: string
    readonly words: string
    readonly svg: string
  }[]
  readonly example: string
  /** What the example is read as, and what it may be read as. */
  readonly as?: string | undefined
  readonly ways: readonly ListWay[]
}

function numbered(): () => Id {
  let count = 0
  return () => asId(`p${++count}`)
}

function sampleOf(model: Model, day: Day, title: string): string {
  const [view] = model.views.values()
  const scene = view && drawn(registry, model, view, day)
  if (!scene) return ''
  const theme = themeFor(model.settings, view.look)
  return toSvg(scene, { theme, title, transparent: isOnWhite(theme) })
}

function viewOf(model: Model, id: string): View {
  const view = [...model.views.values()].find((one) => one.id === id)
  if (!view) throw new NotFound('There is no such view.')
  return view
}

function chaptersOf(model: Model): string[] {
  const used = new Set([...model.views.values()].map(({ notation }) => notation))
  return registry.notations.filter(({ id }) => used.has(id)).map(({ chapter }) => chapter)
}
