import type { Day, Model, View } from '../../core/model'
import { pictureOf } from '../../core/notation'
import { registry } from '../../core/notations'
import { svgSize, themeOf, toSvg } from '../../core/scene'
import { PngSizeError, toPng } from '../draw/png'
import { BadRequest, NotFound } from './errors'

export interface PictureWish {
  readonly day: Day
  readonly width?: number | undefined
  readonly transparent?: boolean | undefined
}

/** A view of a workspace as SVG text. @throws NotFound */
export function svgOf(
  model: Model,
  viewId: string,
  wish: PictureWish,
  images: ReadonlyMap<string, string> = new Map(),
): { svg: string; width: number; height: number; view: View } {
  const view = [...model.views.values()].find(({ id }) => id === viewId)
  const picture = view && pictureOf(registry, view)
  if (!view || !picture) throw new NotFound('There is no such view.')
  const scene = picture.draw(model, view, wish.day)
  const options = {
    theme: themeOf(view.look['theme']),
    title: view.title,
    images,
    ...(view.caption === undefined ? {} : { caption: view.caption }),
    ...(view.alt === undefined ? {} : { alt: view.alt }),
    ...(wish.width === undefined ? {} : { width: wish.width }),
    ...(wish.transparent ? { transparent: true } : {}),
  }
  return { svg: toSvg(scene, options), ...svgSize(scene, options), view }
}

/** The same as PNG, `width` px wide. @throws NotFound, BadRequest for a size that cannot be drawn. */
export function pngOf(
  model: Model,
  viewId: string,
  wish: PictureWish,
  images?: ReadonlyMap<string, string>,
): { png: Uint8Array; view: View } {
  const { svg, width, height, view } = svgOf(model, viewId, wish, images)
  try {
    return { png: toPng(svg, width, height), view }
  } catch (error) {
    if (error instanceof PngSizeError) throw new BadRequest(error.message, [{ path: 'width', message: error.message }])
    throw error
  }
}
