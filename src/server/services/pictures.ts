import type { PictureWish } from '../threads/tasks'
import { carryOut } from '../threads/crew'
import type { Snapshot } from './memory'

export type { PictureWish }

/** A view of a workspace as SVG text. @throws NotFound, TooLong */
export const svgOf = (snapshot: Snapshot, wish: PictureWish): Promise<string> => carryOut('svg', wish, snapshot)

/** The same as PNG, `width` px wide. @throws NotFound, TooLong, BadRequest for a size that cannot be drawn. */
export const pngOf = (snapshot: Snapshot, wish: PictureWish & { readonly width: number }): Promise<Uint8Array> =>
  carryOut('png', wish, snapshot)
