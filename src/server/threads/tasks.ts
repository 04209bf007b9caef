import '../../core/calendar/holidayList'
import { findingsOf, tally, type Tally } from '../../core/findings'
import type { Day, Model, View } from '../../core/model'
import { pictureOf } from '../../core/notation'
import { registry } from '../../core/notations'
import { svgSize, themeOf, toSvg } from '../../core/scene'
import { PngSizeError, toPng } from '../draw/png'
import { BadRequest, NotFound } from '../services/errors'
import { beginWith, type Beginning } from './begin'

export interface PictureWish {
  readonly view: string
  readonly day: Day
  readonly width?: number | undefined
  readonly transparent?: boolean | undefined
  readonly images?: ReadonlyMap<string, string>
}

/** What grows with the facts and is done in a thread that can be stopped. Each takes the facts and a wish, and answers plain data. */
export const tasks = {
  svg: (model: Model, wish: PictureWish): string => drawn(model, wish).svg,

  png: (model: Model, wish: PictureWish): Uint8Array => {
    const { svg, width, height } = drawn(model, wish)
    try {
      return toPng(svg, width, height)
    } catch (error) {
      if (error instanceof PngSizeError)
        throw new BadRequest(error.message, [{ path: 'width', message: error.message }])
      throw error
    }
  },

  summary: (model: Model, day: Day): { chapters: readonly string[]; tally: Tally } => ({
    chapters: chaptersOf(model),
    tally: tally(findingsOf(registry, model, day)),
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
    if (!found) throw new NotFound('This view is not written in that format.')
    return found.write(model, view, day)
  },

  /** Facts for a new workspace. @throws FileError, BadRequest, NotFound: each in words. */
  begin: (_: Model, { beginning, day }: { readonly beginning: Beginning; readonly day: Day }) =>
    beginWith(beginning, day),
} as const

export type Tasks = typeof tasks

function viewOf(model: Model, id: string): View {
  const view = [...model.views.values()].find((one) => one.id === id)
  if (!view) throw new NotFound('There is no such view.')
  return view
}

function drawn(model: Model, { view: id, day, width, transparent, images = new Map() }: PictureWish) {
  const view = viewOf(model, id)
  const picture = pictureOf(registry, view)
  if (!picture) throw new NotFound('There is no such view.')
  const scene = picture.draw(model, view, day)
  const options = {
    theme: themeOf(view.look['theme']),
    title: view.title,
    images,
    ...(view.caption === undefined ? {} : { caption: view.caption }),
    ...(view.alt === undefined ? {} : { alt: view.alt }),
    ...(width === undefined ? {} : { width }),
    ...(transparent ? { transparent: true } : {}),
  }
  return { svg: toSvg(scene, options), ...svgSize(scene, options) }
}

function chaptersOf(model: Model): string[] {
  const used = new Set([...model.views.values()].map(({ notation }) => notation))
  return registry.notations.filter(({ id }) => used.has(id)).map(({ chapter }) => chapter)
}
